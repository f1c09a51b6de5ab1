"""Whether takes are still those they were is seen from an index alone

Revision: 0014; follows: 0013
"""

from alembic import op

revision = "0014"
down_revision = "0013"
branch_labels = None
depends_on = None

_BEFORE = ["player_id", "started_at"]


def upgrade() -> None:
    op.drop_index("takes_by_player_and_time", "takes")
    seen = [*_BEFORE, "deleted_at", "overruled_passed"]
    op.create_index("takes_by_player_and_time", "takes", seen)


def downgrade() -> None:
    op.drop_index("takes_by_player_and_time", "takes")
    op.create_index("takes_by_player_and_time", "takes", _BEFORE)
