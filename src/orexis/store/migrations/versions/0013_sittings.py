"""Playing without a task: how it went, note by note, and what happened meanwhile

Revision: 0013; follows: 0012
"""

import sqlalchemy as sa
from alembic import op

revision = "0013"
down_revision = "0012"
branch_labels = None
depends_on = None

_SECONDS = ("low_s", "middle_s", "high_s")


def upgrade() -> None:

    op.create_table(
        "sittings",
        sa.Column("id", sa.String(), primary_key=True),
        sa.Column("player_id", sa.Integer(), sa.ForeignKey("players.id"), nullable=True),
        sa.Column("started_at", sa.DateTime(), nullable=False),
        sa.Column("source", sa.String(), nullable=False),
        sa.Column("instrument_key", sa.String(), nullable=False),
        *(sa.Column(name, sa.Double(), nullable=False) for name in _SECONDS),
    )
    op.create_index("sittings_by_player_and_time", "sittings", ["player_id", "started_at"])
    op.create_table(
        "sitting_notes",
        _of_a_sitting(),
        sa.Column("midi", sa.Integer(), nullable=False),
        sa.Column("times", sa.Integer(), nullable=False),
        sa.Column("seconds", sa.Double(), nullable=False),
        sa.Column("cents", sa.Double(), nullable=False),
        sa.Column("spread_cents", sa.Double(), nullable=False),
        sa.Column("longest_hold_s", sa.Double(), nullable=False),
        sa.PrimaryKeyConstraint("sitting_id", "midi"),
    )
    op.create_table(
        "sitting_log",
        _of_a_sitting(),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("sample", sa.Integer(), nullable=False),
        sa.Column("kind", sa.String(), nullable=False),
        sa.Column("content", sa.JSON(), nullable=False),
        sa.PrimaryKeyConstraint("sitting_id", "number"),
    )


def _of_a_sitting() -> sa.Column[str]:
    whole = sa.ForeignKey("sittings.id", ondelete="CASCADE")
    return sa.Column("sitting_id", sa.String(), whole, nullable=False)


def downgrade() -> None:

    for table in ("sitting_log", "sitting_notes", "sittings"):
        op.drop_table(table)
