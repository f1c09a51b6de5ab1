"""Players and takes

Revision: 0001; follows: nothing
"""

import sqlalchemy as sa
from alembic import op

revision = "0001"
down_revision = None
branch_labels = None
depends_on = None


def upgrade() -> None:

    op.create_table(
        "players",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("instrument_key", sa.String(), nullable=False),
        sa.Column("view", sa.String(), nullable=False),
        sa.Column("clef", sa.String(), nullable=False),
        sa.Column("a4_hz", sa.Double(), nullable=False),
        sa.Column("gate_level", sa.String(), nullable=False),
        sa.Column("created_at", sa.DateTime(), nullable=False),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_table(
        "takes",
        sa.Column("id", sa.String(), nullable=False),
        sa.Column("player_id", sa.Integer(), nullable=False),
        sa.Column("session_id", sa.String(), nullable=False),
        sa.Column("first_frame", sa.Integer(), nullable=False),
        sa.Column("started_at", sa.DateTime(), nullable=False),
        sa.Column("source", sa.String(), nullable=False),
        sa.Column("instrument_key", sa.String(), nullable=False),
        sa.Column("exercise_key", sa.String(), nullable=False),
        sa.Column("asked_midi", sa.Integer(), nullable=False),
        sa.Column("asked_hold_s", sa.Double(), nullable=False),
        sa.Column("a4_hz", sa.Double(), nullable=False),
        sa.Column("gate_level", sa.String(), nullable=False),
        sa.Column("sample_rate", sa.Integer(), nullable=False),
        sa.Column("duration_s", sa.Double(), nullable=False),
        sa.Column("note_start_s", sa.Double(), nullable=False),
        sa.Column("note_end_s", sa.Double(), nullable=False),
        sa.Column("played_midi", sa.Integer(), nullable=False),
        sa.Column("centre_cents", sa.Double(), nullable=False),
        sa.Column("spread_cents", sa.Double(), nullable=False),
        sa.Column("drift_cents_per_s", sa.Double(), nullable=False),
        sa.Column("scoop_cents", sa.Double(), nullable=False),
        sa.Column("settle_s", sa.Double(), nullable=False),
        sa.Column("sag_cents", sa.Double(), nullable=False),
        sa.Column("hold_s", sa.Double(), nullable=False),
        sa.Column("vibrato_rate_hz", sa.Double(), nullable=True),
        sa.Column("vibrato_extent_cents", sa.Double(), nullable=True),
        sa.Column("level_db", sa.Double(), nullable=False),
        sa.Column("level_change_db", sa.Double(), nullable=False),
        sa.Column("harmonicity_db", sa.Double(), nullable=False),
        sa.Column("brightness", sa.Double(), nullable=False),
        sa.Column("rule_results", sa.JSON(), nullable=False),
        sa.Column("passed", sa.Boolean(), nullable=False),
        sa.Column("overruled_passed", sa.Boolean(), nullable=True),
        sa.Column("deleted_at", sa.DateTime(), nullable=True),
        sa.ForeignKeyConstraint(
            ["player_id"],
            ["players.id"],
        ),
        sa.PrimaryKeyConstraint("id"),
        sa.UniqueConstraint("session_id", "first_frame"),
    )
    with op.batch_alter_table("takes", schema=None) as batch_op:
        batch_op.create_index("takes_by_player_and_time", ["player_id", "started_at"], unique=False)

    op.create_table(
        "take_frames",
        sa.Column("take_id", sa.String(), nullable=False),
        sa.Column("packed", sa.LargeBinary(), nullable=False),
        sa.ForeignKeyConstraint(["take_id"], ["takes.id"], ondelete="CASCADE"),
        sa.PrimaryKeyConstraint("take_id"),
    )
    op.create_table(
        "take_sounds",
        sa.Column("take_id", sa.String(), nullable=False),
        sa.Column("flac", sa.LargeBinary(), nullable=False),
        sa.ForeignKeyConstraint(["take_id"], ["takes.id"], ondelete="CASCADE"),
        sa.PrimaryKeyConstraint("take_id"),
    )


def downgrade() -> None:

    op.drop_table("take_sounds")
    op.drop_table("take_frames")
    with op.batch_alter_table("takes", schema=None) as batch_op:
        batch_op.drop_index("takes_by_player_and_time")

    op.drop_table("takes")
    op.drop_table("players")
