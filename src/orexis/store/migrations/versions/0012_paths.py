"""Steps of paths that players went to by hand, on which horn a range was said, how long notes were
asked to be, and reaching beyond the top as a question of its own

Revision: 0012; follows: 0011
"""

import json

import sqlalchemy as sa
from alembic import op

revision = "0012"
down_revision = "0011"
branch_labels = None
depends_on = None


def upgrade() -> None:

    op.create_table(
        "path_moves",
        sa.Column("player_id", sa.Integer(), sa.ForeignKey("players.id"), nullable=False),
        sa.Column("instrument_key", sa.String(), nullable=False),
        sa.Column("family", sa.String(), nullable=False),
        sa.Column("step", sa.Integer(), nullable=False),
        sa.Column("day", sa.Date(), nullable=False),
        sa.PrimaryKeyConstraint("player_id", "instrument_key", "family"),
    )
    op.add_column("take_notes", sa.Column("asked_s", sa.Double(), nullable=True))
    op.add_column(
        "player_abouts", sa.Column("range_on", sa.String(), server_default="", nullable=False)
    )
    # What was said before was said of the horn that is played now, as far as anybody knows.
    op.execute(
        "UPDATE player_abouts SET range_on = "
        "(SELECT instrument_key FROM players WHERE players.id = player_abouts.player_id)"
    )
    connection = op.get_bind()
    kept = connection.exec_driver_sql("SELECT player_id, schools FROM player_abouts").fetchall()
    for player_id, text in kept:
        schools = json.loads(text or "{}")
        if schools.get("after-failure") == "beyond":
            del schools["after-failure"]
            moved = {"schools": json.dumps({**schools, "after-top": "reach"}), "id": player_id}
            connection.execute(
                sa.text("UPDATE player_abouts SET schools = :schools WHERE player_id = :id"), moved
            )
    op.execute(
        "DELETE FROM school_trials WHERE question = 'after-failure' AND 'beyond' IN (first, second)"
    )


def downgrade() -> None:

    op.drop_column("player_abouts", "range_on")
    op.drop_column("take_notes", "asked_s")
    op.drop_table("path_moves")
