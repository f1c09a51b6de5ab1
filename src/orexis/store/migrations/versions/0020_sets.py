"""Which set of its session a take is of; until now only its place said so, in words

Revision: 0020; follows: 0019
"""

import sqlalchemy as sa
from alembic import op

revision = "0020"
down_revision = "0019"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column(
        "takes", sa.Column("set_number", sa.Integer(), nullable=False, server_default="0")
    )
    op.execute(
        "UPDATE takes SET set_number = CAST(substr(place, 5, 1) AS INTEGER) - 1"
        " WHERE place GLOB 'set [1-9] of [1-9]*'"
    )


def downgrade() -> None:
    op.drop_column("takes", "set_number")
