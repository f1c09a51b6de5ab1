"""Phones and tablets of the house that may use Orexis

Revision: 0016; follows: 0015
"""

import sqlalchemy as sa
from alembic import op

revision = "0016"
down_revision = "0015"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "paired_devices",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("token_sha256", sa.LargeBinary(), nullable=False, unique=True),
        sa.Column("may_play", sa.Boolean(), nullable=False),
        sa.Column("paired_at", sa.DateTime(), nullable=False),
        sa.Column("last_seen_at", sa.DateTime(), nullable=False),
    )


def downgrade() -> None:
    op.drop_table("paired_devices")
