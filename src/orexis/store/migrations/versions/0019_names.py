"""Standards, approaches, bookmarks and results of sessions by the names players read, and exercises
and questions by the keys they have now

Revision: 0019; follows: 0018
"""

import json

import sqlalchemy as sa
from alembic import op

revision = "0019"
down_revision = "0018"
branch_labels = None
depends_on = None

_COLUMNS = (
    ("players", "gate_level", "standard"),
    ("sessions", "gate_level", "standard"),
    ("takes", "gate_level", "standard"),
    ("sessions", "went", "results"),
    ("player_abouts", "schools", "approaches"),
)
_TABLES = (("pins", "bookmarks"), ("school_trials", "approach_trials"))
_KEYS = (
    ("slot-slur", "lip-slur"),
    ("slot-pattern", "partial-pattern"),
    ("through-the-lengths", "through-the-fingerings"),
)
_KEYED = (("takes", "exercise_key"), ("own_exercises", "family_key"), ("path_moves", "family"))
_QUESTION = ("between-tries", "between-attempts")


def upgrade() -> None:
    for table, before, now in _COLUMNS:
        op.execute(f"ALTER TABLE {table} RENAME COLUMN {before} TO {now}")
    for before, now in _TABLES:
        op.rename_table(before, now)
    op.drop_index("school_trials_by_player", "approach_trials")
    op.create_index("approach_trials_by_player", "approach_trials", ["player_id"])
    _rename_keys(_KEYS)
    _rename_question(*_QUESTION)


def downgrade() -> None:
    _rename_question(*reversed(_QUESTION))
    _rename_keys([(now, before) for before, now in _KEYS])
    op.drop_index("approach_trials_by_player", "approach_trials")
    op.create_index("school_trials_by_player", "approach_trials", ["player_id"])
    for before, now in _TABLES:
        op.rename_table(now, before)
    for table, before, now in _COLUMNS:
        op.execute(f"ALTER TABLE {table} RENAME COLUMN {now} TO {before}")


def _rename_keys(keys: tuple[tuple[str, str], ...] | list[tuple[str, str]]) -> None:
    connection = op.get_bind()
    for table, column in _KEYED:
        for before, now in keys:
            connection.execute(
                sa.text(f"UPDATE {table} SET {column} = :now WHERE {column} = :before"),
                {"now": now, "before": before},
            )


def _rename_question(before: str, now: str) -> None:
    connection = op.get_bind()
    connection.execute(
        sa.text("UPDATE approach_trials SET question = :now WHERE question = :before"),
        {"now": now, "before": before},
    )
    kept = connection.exec_driver_sql("SELECT player_id, approaches FROM player_abouts").fetchall()
    for player_id, text in kept:
        approaches = json.loads(text or "{}")
        if before in approaches:
            approaches[now] = approaches.pop(before)
            connection.execute(
                sa.text("UPDATE player_abouts SET approaches = :text WHERE player_id = :id"),
                {"text": json.dumps(approaches), "id": player_id},
            )
