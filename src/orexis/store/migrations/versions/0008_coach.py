"""What players say to the coach; how exercises of a session ended; tasks kept once

Revision: 0008; follows: 0007
"""

import json
from hashlib import sha256

import sqlalchemy as sa
from alembic import op

revision = "0008"
down_revision = "0007"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "player_abouts",
        _player(),
        sa.Column("experience", sa.String(), nullable=False),
        sa.Column("wish", sa.String(), nullable=False),
        sa.Column("minutes", sa.Integer(), nullable=False),
        sa.Column("days_a_week", sa.Integer(), nullable=False),
        sa.Column("low_midi", sa.Integer(), nullable=True),
        sa.Column("high_midi", sa.Integer(), nullable=True),
        sa.Column("braces", sa.Boolean(), nullable=False),
        sa.Column("weeks_off", sa.Integer(), nullable=False),
        sa.Column("quiet_from", sa.Time(), nullable=True),
        sa.Column("quiet_until", sa.Time(), nullable=True),
        sa.Column("schools", sa.JSON(), nullable=False),
        sa.ForeignKeyConstraint(["player_id"], ["players.id"]),
        sa.PrimaryKeyConstraint("player_id"),
    )
    op.create_table(
        "school_trials",
        sa.Column("id", sa.Integer(), nullable=False),
        _player(),
        sa.Column("question", sa.String(), nullable=False),
        sa.Column("first", sa.String(), nullable=False),
        sa.Column("second", sa.String(), nullable=False),
        sa.Column("begins", sa.Date(), nullable=False),
        sa.Column("ends", sa.Date(), nullable=False),
        sa.ForeignKeyConstraint(["player_id"], ["players.id"]),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index("school_trials_by_player", "school_trials", ["player_id"])
    op.create_table(
        "programmes",
        _player(),
        sa.Column("key", sa.String(), nullable=False),
        sa.Column("since", sa.Date(), nullable=False),
        sa.Column("base_midi", sa.Integer(), nullable=False),
        sa.Column("paused", sa.Date(), nullable=True),
        sa.ForeignKeyConstraint(["player_id"], ["players.id"]),
        sa.PrimaryKeyConstraint("player_id", "key"),
    )
    op.create_table(
        "day_plans",
        _player(),
        sa.Column("day", sa.Date(), nullable=False),
        sa.Column("plan", sa.JSON(), nullable=False),
        sa.Column("changed", sa.Boolean(), nullable=False),
        sa.ForeignKeyConstraint(["player_id"], ["players.id"]),
        sa.PrimaryKeyConstraint("player_id", "day"),
    )
    op.create_table(
        "coming_dates",
        sa.Column("id", sa.Integer(), nullable=False),
        _player(),
        sa.Column("day", sa.Date(), nullable=False),
        sa.Column("kind", sa.String(), nullable=False),
        sa.Column("words", sa.String(), nullable=False),
        sa.ForeignKeyConstraint(["player_id"], ["players.id"]),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index("coming_dates_by_player", "coming_dates", ["player_id", "day"])
    op.add_column("sessions", sa.Column("went", sa.JSON(), nullable=True))
    _keep_tasks_once()
    # What is asked of every note of weeks is not looked for in JSON.
    op.add_column("take_notes", sa.Column("hold_s", sa.Double(), nullable=True))
    op.add_column("take_notes", sa.Column("rise_s", sa.Double(), nullable=True))
    op.execute(
        "UPDATE take_notes SET hold_s = json_extract(measures, '$.hold_s'),"
        " rise_s = json_extract(measures, '$.rise_s'),"
        " measures = json_remove(measures, '$.hold_s', '$.rise_s') WHERE measures IS NOT NULL"
    )
    # How long a take sounded was in the log of its session; before logs, what its notes took.
    op.add_column("takes", sa.Column("sounded_s", sa.Double(), nullable=False, server_default="0"))
    op.execute(
        "UPDATE takes SET sounded_s = coalesce("
        "(SELECT json_extract(content, '$.seconds') FROM session_log WHERE kind = 'judged'"
        " AND session_log.session_id = takes.session_id"
        " AND json_extract(content, '$.take_id') = takes.id),"
        " (SELECT sum(end_s - start_s) FROM take_notes WHERE take_id = takes.id), 0)"
    )
    op.create_index("takes_by_player_and_exercise", "takes", ["player_id", "exercise_key"])


def _keep_tasks_once() -> None:
    """The same task was kept with every take of it."""
    op.create_table(
        "tasks",
        sa.Column("key", sa.String(), nullable=False),
        sa.Column("document", sa.JSON(), nullable=False),
        sa.PrimaryKeyConstraint("key"),
    )
    op.add_column("takes", sa.Column("task_key", sa.String(), nullable=False, server_default=""))
    connection = op.get_bind()
    known: set[str] = set()
    for take_id, kept in connection.execute(sa.text("SELECT id, task FROM takes")).all():
        said = json.dumps(json.loads(kept), sort_keys=True, ensure_ascii=False)
        key = sha256(said.encode()).hexdigest()[:32]
        if key not in known:
            known.add(key)
            connection.execute(
                sa.text("INSERT INTO tasks (key, document) VALUES (:key, :said)"),
                {"key": key, "said": said},
            )
        connection.execute(
            sa.text("UPDATE takes SET task_key = :key WHERE id = :id"), {"key": key, "id": take_id}
        )
    op.drop_column("takes", "task")


def _player() -> sa.Column[int]:
    return sa.Column("player_id", sa.Integer(), nullable=False)
