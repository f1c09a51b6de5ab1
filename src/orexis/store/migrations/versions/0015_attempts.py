"""Where in its session an attempt was played is said in today's words

Revision: 0015; follows: 0014
"""

from alembic import op

revision = "0015"
down_revision = "0014"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.execute(
        "UPDATE takes SET place = replace(place, 'try ', 'attempt ') WHERE place LIKE '%try %'"
    )


def downgrade() -> None:
    op.execute(
        "UPDATE takes SET place = replace(place, 'attempt ', 'try ') WHERE place LIKE '%attempt %'"
    )
