"""Sessions with their plan and log; what hurt; where in its session and how in time a take was

Revision: 0007; follows: 0006
"""

import sqlalchemy as sa
from alembic import op

revision = "0007"
down_revision = "0006"
branch_labels = None
depends_on = None


def upgrade() -> None:

    op.create_table(
        "sessions",
        sa.Column("id", sa.String(), nullable=False),
        sa.Column("player_id", sa.Integer(), nullable=False),
        sa.Column("started_at", sa.DateTime(), nullable=False),
        sa.Column("title", sa.String(), nullable=False),
        sa.Column("source", sa.String(), nullable=False),
        sa.Column("sample_rate", sa.Integer(), nullable=False),
        sa.Column("instrument_key", sa.String(), nullable=False),
        sa.Column("gate_level", sa.String(), nullable=False),
        sa.Column("plan", sa.JSON(), nullable=False),
        sa.Column("setup", sa.JSON(), nullable=False),
        sa.Column("latency_s", sa.Double(), nullable=True),
        sa.Column("drone_hz", sa.Double(), nullable=True),
        sa.Column("heard_until", sa.Integer(), nullable=False),
        sa.Column("ended", sa.String(), nullable=True),
        sa.Column("ended_at", sa.DateTime(), nullable=True),
        sa.Column("note", sa.String(), nullable=False),
        sa.ForeignKeyConstraint(["player_id"], ["players.id"]),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index("sessions_by_player_and_time", "sessions", ["player_id", "started_at"])
    op.create_table(
        "session_log",
        sa.Column("session_id", sa.String(), nullable=False),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("sample", sa.Integer(), nullable=False),
        sa.Column("kind", sa.String(), nullable=False),
        sa.Column("content", sa.JSON(), nullable=False),
        sa.ForeignKeyConstraint(["session_id"], ["sessions.id"], ondelete="CASCADE"),
        sa.PrimaryKeyConstraint("session_id", "number"),
    )
    op.create_table(
        "session_memos",
        sa.Column("session_id", sa.String(), nullable=False),
        sa.Column("flac", sa.LargeBinary(), nullable=False),
        sa.ForeignKeyConstraint(["session_id"], ["sessions.id"], ondelete="CASCADE"),
        sa.PrimaryKeyConstraint("session_id"),
    )
    op.create_table(
        "hurts",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("player_id", sa.Integer(), nullable=False),
        sa.Column("at", sa.DateTime(), nullable=False),
        sa.Column("session_id", sa.String(), nullable=True),
        sa.Column("cleared_at", sa.DateTime(), nullable=True),
        sa.ForeignKeyConstraint(["player_id"], ["players.id"]),
        sa.PrimaryKeyConstraint("id"),
    )
    op.add_column("takes", sa.Column("place", sa.String(), nullable=False, server_default=""))
    op.add_column("takes", sa.Column("timing", sa.JSON(), nullable=True))


def downgrade() -> None:

    op.drop_column("takes", "timing")
    op.drop_column("takes", "place")
    for table in ("hurts", "session_memos", "session_log", "sessions"):
        op.drop_table(table)
