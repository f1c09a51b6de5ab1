"""What a take was played to, whole, and a row for every note that was asked for in it

Until here every take was one held note, and its columns were that note's.

Revision: 0005; follows: 0004
"""

import json
from typing import Any

import sqlalchemy as sa
from alembic import op

revision = "0005"
down_revision = "0004"
branch_labels = None
depends_on = None

_MEASURES = (
    "drift_cents_per_s",
    "scoop_cents",
    "settle_s",
    "sag_cents",
    "hold_s",
    "level_change_db",
)
_DROPPED = (
    *("asked_midi", "asked_hold_s", "note_start_s", "note_end_s", "played_midi", "centre_cents"),
    *("spread_cents", *_MEASURES, "vibrato_rate_hz", "vibrato_extent_cents", "level_db"),
    *("harmonicity_db", "brightness", "rule_results", "target_cents", "length_name"),
    *("cracked_from_midi", "rise_s", "shape"),
)


def upgrade() -> None:

    op.create_table(
        "take_notes",
        sa.Column("take_id", sa.String(), nullable=False),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("step", sa.Integer(), nullable=False),
        sa.Column("time", sa.Integer(), nullable=False),
        sa.Column("on", sa.String(), nullable=False),
        sa.Column("asked_midi", sa.Integer(), nullable=False),
        sa.Column("target_cents", sa.Double(), nullable=False),
        sa.Column("length_name", sa.String(), nullable=True),
        sa.Column("partial", sa.Integer(), nullable=True),
        sa.Column("spoke", sa.Boolean(), nullable=False),
        sa.Column("played_midi", sa.Integer(), nullable=True),
        sa.Column("start_s", sa.Double(), nullable=True),
        sa.Column("end_s", sa.Double(), nullable=True),
        sa.Column("centre_cents", sa.Double(), nullable=True),
        sa.Column("spread_cents", sa.Double(), nullable=True),
        sa.Column("level_db", sa.Double(), nullable=True),
        sa.Column("harmonicity_db", sa.Double(), nullable=True),
        sa.Column("brightness", sa.Double(), nullable=True),
        sa.Column("cracked_from_midi", sa.Integer(), nullable=True),
        sa.Column("measures", sa.JSON(none_as_null=True), nullable=True),
        sa.ForeignKeyConstraint(["take_id"], ["takes.id"], ondelete="CASCADE"),
        sa.PrimaryKeyConstraint("take_id", "number"),
    )
    op.create_index("take_notes_by_asked", "take_notes", ["asked_midi"])
    for column in ("task", "verdict"):
        op.add_column("takes", sa.Column(column, sa.JSON(), server_default="{}", nullable=False))
    connection = op.get_bind()
    notes, takes = sa.table("take_notes", *_columns(_NOTE)), sa.table("takes", *_columns(_TAKE))
    for row in connection.execute(sa.text("SELECT * FROM takes")).mappings().all():
        connection.execute(sa.insert(notes).values(_note(row)))
        kept = {"task": json.dumps(_task(row)), "verdict": json.dumps(_verdict(row))}
        connection.execute(sa.update(takes).where(takes.c.id == row["id"]).values(kept))
    # Each by itself: to make the table anew would delete the sound that hangs on it.
    for column in _DROPPED:
        op.execute(f"ALTER TABLE takes DROP COLUMN {column}")


_TAKE = ("id", "task", "verdict")
_NOTE = (
    *("take_id", "number", "step", "time", "on", "asked_midi", "target_cents", "length_name"),
    *("partial", "spoke", "played_midi", "start_s", "end_s", "centre_cents", "spread_cents"),
    *("level_db", "harmonicity_db", "brightness", "cracked_from_midi", "measures"),
)


def _columns(names: tuple[str, ...]) -> list[Any]:
    return [sa.column(name) for name in names]


def _note(row: Any) -> dict[str, Any]:
    """The one note of a take."""
    measures = {name: row[name] for name in _MEASURES}
    if row["vibrato_rate_hz"] is not None:
        measures["vibrato"] = {
            "rate_hz": row["vibrato_rate_hz"],
            "extent_cents": row["vibrato_extent_cents"],
        }
    measures["rise_s"] = row["rise_s"] or 0.0
    measures["shape"] = row["shape"] or "steady"
    same = ("played_midi", "centre_cents", "spread_cents", "level_db", "harmonicity_db")
    return {
        "take_id": row["id"],
        "number": 0,
        "step": 0,
        "time": 0,
        "on": "horn",
        "asked_midi": row["asked_midi"],
        "target_cents": row["target_cents"],
        "length_name": row["length_name"],
        "spoke": row["played_midi"] == row["asked_midi"],
        "start_s": row["note_start_s"],
        "end_s": row["note_end_s"],
        **{name: row[name] for name in (*same, "brightness", "cracked_from_midi")},
        "measures": json.dumps(measures),
    }


def _task(row: Any) -> dict[str, Any]:
    """The held note that a take was played to."""
    hold_s = row["asked_hold_s"]
    note = {
        "kind": "play",
        "midi": row["asked_midi"],
        "beats": hold_s,
        "articulation": "tongued",
        "length": None,
        "partial": None,
        "dynamic": "mf",
        "grows_to": None,
        "on": "horn",
        "role": "asked",
        "as_long_as_good": False,
    }
    return {
        "family": "long-tone",
        "version": 1,
        "values": {"from_midi": float(row["asked_midi"]), "hold_s": hold_s, "times": 1.0},
        "title": "Long tone",
        "setting": f"hold {hold_s:g} s",
        "score": {
            "steps": [note, {"kind": "breath", "breath": "mouth"}],
            "tempo_bpm": None,
            "beats_in_bar": 4,
            "times": 1,
            "tonic": None,
        },
        "aims": [result["rule"] for result in json.loads(row["rule_results"])],
        "ending": {"silence_s": 0.5, "done_s": 0.5},
    }


def _verdict(row: Any) -> dict[str, Any]:
    """What the gate said, rule by rule."""
    results = [
        {
            "aim": result["rule"],
            "measured": result["measured"],
            "limit": result["limit"],
            "passed": result["passed"],
            "at": [0, 0],
            "missed": [] if result["passed"] else [[0, 0]],
            "right": int(result["passed"]),
            "chances": 1,
            "untold": result.get("untold", ""),
        }
        for result in json.loads(row["rule_results"])
    ]
    wrong = row["played_midi"] != row["asked_midi"]
    silent = [{"at": [0, 0], "heard_midi": row["played_midi"]}] if wrong else []
    return {"results": results, "silent": silent}


def downgrade() -> None:

    raise NotImplementedError("Takes of more than one note do not fit the columns of before.")
