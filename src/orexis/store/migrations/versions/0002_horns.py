"""Players' horns, and what a take was asked, how it began and how its player heard it

Revision: 0002; follows: 0001
"""

import sqlalchemy as sa
from alembic import op

revision = "0002"
down_revision = "0001"
branch_labels = None
depends_on = None


def upgrade() -> None:

    op.create_table(
        "horn_setups",
        sa.Column("player_id", sa.Integer(), nullable=False),
        sa.Column("instrument_key", sa.String(), nullable=False),
        sa.Column("f1_hz", sa.Double(), nullable=True),
        sa.Column("main_pull_mm", sa.Double(), nullable=False),
        sa.Column("valve_cents", sa.JSON(), nullable=False),
        sa.Column("valve_pull_mm", sa.JSON(), nullable=False),
        sa.Column("trigger_cents", sa.JSON(), nullable=False),
        sa.Column("slide_reach", sa.Double(), nullable=False),
        sa.Column("temperature_c", sa.Double(), nullable=False),
        sa.Column("temperament", sa.String(), nullable=False),
        sa.Column("tonic", sa.Integer(), nullable=False),
        sa.Column("scale", sa.JSON(none_as_null=True), nullable=True),
        sa.ForeignKeyConstraint(["player_id"], ["players.id"]),
        sa.PrimaryKeyConstraint("player_id", "instrument_key"),
    )
    op.add_column(
        "takes", sa.Column("target_cents", sa.Double(), server_default="0", nullable=False)
    )
    op.add_column("takes", sa.Column("length_name", sa.String(), nullable=True))
    op.add_column("takes", sa.Column("cracked_from_midi", sa.Integer(), nullable=True))
    op.add_column("takes", sa.Column("rise_s", sa.Double(), nullable=True))
    op.add_column("takes", sa.Column("shape", sa.String(), nullable=True))
    op.add_column("takes", sa.Column("rating", sa.Integer(), nullable=True))


def downgrade() -> None:

    with op.batch_alter_table("takes") as batch_op:
        for column in ("rating", "shape", "rise_s", "cracked_from_midi", "length_name"):
            batch_op.drop_column(column)
        batch_op.drop_column("target_cents")
    op.drop_table("horn_setups")
