"""Players who were deleted, and can be brought back for a while

Revision: 0009; follows: 0008
"""

import sqlalchemy as sa
from alembic import op

revision = "0009"
down_revision = "0008"
branch_labels = None
depends_on = None


def upgrade() -> None:

    op.add_column("players", sa.Column("deleted_at", sa.DateTime(), nullable=True))


def downgrade() -> None:

    op.drop_column("players", "deleted_at")
