"""Why sound that was played on the Stand was kept unjudged

Revision: 0004; follows: 0003
"""

import sqlalchemy as sa
from alembic import op

revision = "0004"
down_revision = "0003"
branch_labels = None
depends_on = None


def upgrade() -> None:

    op.add_column("recordings", sa.Column("reason", sa.String(), server_default="", nullable=False))


def downgrade() -> None:

    op.drop_column("recordings", "reason")
