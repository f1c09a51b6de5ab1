"""What kind of session each is, a checksum for all that is kept packed, and what is kept of a take

Revision: 0011; follows: 0010
"""

import zlib

import sqlalchemy as sa
from alembic import op

revision = "0011"
down_revision = "0010"
branch_labels = None
depends_on = None

_KEYS = {
    "take_sounds": (("take_id",), ("flac",)),
    "take_frames": (("take_id",), ("packed",)),
    "take_events": (("take_id",), ("packed",)),
    "recording_contents": (("recording_id",), ("flac", "packed")),
    "session_memos": (("session_id",), ("flac",)),
    "guests": (("id",), ("packed",)),
    "guest_sounds": (("guest_id", "take_id"), ("flac",)),
}
"""Each table's key, and what of it is packed."""


def upgrade() -> None:

    op.add_column("sessions", sa.Column("kind", sa.String(), server_default="plan", nullable=False))
    op.execute("UPDATE sessions SET kind = 'task' WHERE title = ''")
    op.execute("UPDATE sessions SET kind = 'range' WHERE title = 'Finding your range'")
    connection = op.get_bind()
    for table, (keys, packed) in _KEYS.items():
        for column in packed:
            summed = f"{column}_sum"
            op.add_column(
                table, sa.Column(summed, sa.Integer(), server_default="0", nullable=False)
            )
            where = " AND ".join(f"{key} = :{key}" for key in keys)
            found = connection.exec_driver_sql(f"SELECT {', '.join(keys)} FROM {table}").fetchall()
            for row in found:
                known = dict(zip(keys, row, strict=True))
                content = connection.execute(
                    sa.text(f"SELECT {column} FROM {table} WHERE {where}"), known
                ).scalar_one()
                connection.execute(
                    sa.text(f"UPDATE {table} SET {summed} = :crc WHERE {where}"),
                    {**known, "crc": zlib.crc32(content)},
                )
    for table in ("take_sounds", "take_frames", "take_events"):
        kept = f"has_{table.removeprefix('take_')}"
        op.add_column("takes", sa.Column(kept, sa.Boolean(), server_default="0", nullable=False))
        op.execute(f"UPDATE takes SET {kept} = 1 WHERE id IN (SELECT take_id FROM {table})")


def downgrade() -> None:

    for kept in ("has_events", "has_frames", "has_sounds"):
        op.drop_column("takes", kept)
    for table, (_, packed) in _KEYS.items():
        for column in packed:
            op.drop_column(table, f"{column}_sum")
    op.drop_column("sessions", "kind")
