"""Which of a player's pieces were played in a recording, and where in it

Revision: 0018; follows: 0017
"""

import sqlalchemy as sa
from alembic import op

revision = "0018"
down_revision = "0017"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "piece_stretches",
        _of("recording_id", "recordings.id"),
        _of("own_id", "own_exercises.id"),
        sa.Column("start_s", sa.Double(), nullable=False),
        sa.Column("end_s", sa.Double(), nullable=True),
        sa.PrimaryKeyConstraint("recording_id", "own_id", "start_s"),
    )
    op.create_index("piece_stretches_by_piece", "piece_stretches", ["own_id"])


def _of(name: str, whole: str) -> sa.Column[str]:
    key = sa.ForeignKey(whole, ondelete="CASCADE")
    return sa.Column(name, sa.String(), key, nullable=False)


def downgrade() -> None:
    op.drop_table("piece_stretches")
