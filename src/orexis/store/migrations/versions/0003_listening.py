"""What was heard in a take, recordings from elsewhere, and pins to come back to

Revision: 0003; follows: 0002
"""

import sqlalchemy as sa
from alembic import op

revision = "0003"
down_revision = "0002"
branch_labels = None
depends_on = None


def upgrade() -> None:

    op.create_table(
        "take_events",
        sa.Column("take_id", sa.String(), nullable=False),
        sa.Column("packed", sa.LargeBinary(), nullable=False),
        sa.ForeignKeyConstraint(["take_id"], ["takes.id"], ondelete="CASCADE"),
        sa.PrimaryKeyConstraint("take_id"),
    )
    op.create_table(
        "recordings",
        sa.Column("id", sa.String(), nullable=False),
        sa.Column("player_id", sa.Integer(), nullable=False),
        sa.Column("started_at", sa.DateTime(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("instrument_key", sa.String(), nullable=False),
        sa.Column("a4_hz", sa.Double(), nullable=False),
        sa.Column("sample_rate", sa.Integer(), nullable=False),
        sa.Column("duration_s", sa.Double(), nullable=False),
        sa.Column("clipped", sa.Boolean(), nullable=False),
        sa.Column("note_count", sa.Integer(), nullable=False),
        sa.Column("wanted", sa.String(), nullable=False),
        sa.Column("deleted_at", sa.DateTime(), nullable=True),
        sa.ForeignKeyConstraint(["player_id"], ["players.id"]),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index("recordings_by_player_and_time", "recordings", ["player_id", "started_at"])
    op.create_table(
        "recording_contents",
        sa.Column("recording_id", sa.String(), nullable=False),
        sa.Column("flac", sa.LargeBinary(), nullable=False),
        sa.Column("packed", sa.LargeBinary(), nullable=False),
        sa.ForeignKeyConstraint(["recording_id"], ["recordings.id"], ondelete="CASCADE"),
        sa.PrimaryKeyConstraint("recording_id"),
    )
    op.create_table(
        "pins",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("take_id", sa.String(), nullable=True),
        sa.Column("recording_id", sa.String(), nullable=True),
        sa.Column("at_s", sa.Double(), nullable=False),
        sa.Column("words", sa.String(), nullable=False),
        sa.ForeignKeyConstraint(["take_id"], ["takes.id"], ondelete="CASCADE"),
        sa.ForeignKeyConstraint(["recording_id"], ["recordings.id"], ondelete="CASCADE"),
        sa.PrimaryKeyConstraint("id"),
    )


def downgrade() -> None:

    for table in ("pins", "recording_contents", "recordings", "take_events"):
        op.drop_table(table)
