"""What notes are called where a player plays, and how octaves are told apart

Revision: 0017; follows: 0016
"""

import sqlalchemy as sa
from alembic import op

revision = "0017"
down_revision = "0016"
branch_labels = None
depends_on = None


def upgrade() -> None:
    for name, usual in (("note_names", "english"), ("octaves", "numbers")):
        op.add_column("players", sa.Column(name, sa.String(), nullable=False, server_default=usual))


def downgrade() -> None:
    for name in ("octaves", "note_names"):
        op.drop_column("players", name)
