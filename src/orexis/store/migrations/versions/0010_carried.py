"""What comes from elsewhere: a teacher's words and pins, guests' reports, practice typed elsewhere;
and which pins were gone back to

Revision: 0010; follows: 0009
"""

import sqlalchemy as sa
from alembic import op

revision = "0010"
down_revision = "0009"
branch_labels = None
depends_on = None


def upgrade() -> None:

    op.add_column("pins", sa.Column("said_by", sa.String(), server_default="", nullable=False))
    op.add_column("pins", sa.Column("gone_back_at", sa.DateTime(), nullable=True))
    op.create_table(
        "words_back",
        sa.Column("key", sa.String(), primary_key=True),
        sa.Column("player_id", sa.Integer(), sa.ForeignKey("players.id"), primary_key=True),
        sa.Column("said_by", sa.String(), nullable=False),
        sa.Column("words", sa.String(), nullable=False),
        sa.Column("arrived_at", sa.DateTime(), nullable=False),
    )
    op.create_table(
        "guests",
        sa.Column("id", sa.String(), primary_key=True),
        sa.Column("opened_at", sa.DateTime(), nullable=False),
        sa.Column("packed", sa.LargeBinary(), nullable=False),
    )
    op.create_table(
        "guest_sounds",
        sa.Column(
            "guest_id",
            sa.String(),
            sa.ForeignKey("guests.id", ondelete="CASCADE"),
            primary_key=True,
        ),
        sa.Column("take_id", sa.String(), primary_key=True),
        sa.Column("flac", sa.LargeBinary(), nullable=False),
    )
    op.create_table(
        "typed_practice",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("player_id", sa.Integer(), sa.ForeignKey("players.id"), nullable=False),
        sa.Column("day", sa.Date(), nullable=False),
        sa.Column("minutes", sa.Double(), nullable=False),
        sa.Column("words", sa.String(), nullable=False),
    )
    op.create_index("typed_practice_by_player", "typed_practice", ["player_id", "day"])


def downgrade() -> None:

    op.drop_table("typed_practice")
    op.drop_table("guest_sounds")
    op.drop_table("guests")
    op.drop_table("words_back")
    op.drop_column("pins", "gone_back_at")
    op.drop_column("pins", "said_by")
