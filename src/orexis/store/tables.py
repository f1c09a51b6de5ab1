"""What a player has kept, row by row, to be carried elsewhere: all horns, all sources."""

from collections.abc import Iterator
from datetime import date
from typing import Any

from sqlalchemy import ColumnElement, Select, case, func, select
from sqlalchemy.orm import Session

from orexis.store.history import local_day
from orexis.store.models import Hurt, Player, PracticeSession, Take, TakeNote, TakeSound

_ROWS_AT_ONCE = 500
_MEASURED = (
    *("target_cents", "centre_cents", "spread_cents", "level_db", "hold_s", "rise_s"),
    *("harmonicity_db", "brightness"),
)


def _read(session: Session, query: Select[*tuple[Any, ...]]) -> Iterator[Any]:
    return iter(session.execute(query.execution_options(yield_per=_ROWS_AT_ONCE)))


def _theirs(player: Player) -> tuple[ColumnElement[bool], ...]:
    return (Take.player_id == player.id, Take.deleted_at.is_(None))


def take_rows(session: Session, player: Player) -> Iterator[dict[str, Any]]:
    """A player's takes, oldest first."""
    query = (
        select(
            Take.id,
            Take.started_at,
            Take.session_id,
            func.coalesce(PracticeSession.title, "").label("session"),
            Take.place,
            Take.source,
            Take.instrument_key.label("instrument"),
            Take.exercise_key.label("exercise"),
            Take.gate_level.label("gate"),
            Take.passed.label("passed"),
            Take.gate_passed.label("gate_passed"),
            Take.overruled_passed.is_not(None).label("overruled"),
            Take.verdict,
            Take.rating,
            Take.duration_s,
            Take.sounded_s,
            Take.a4_hz,
            TakeSound.take_id.is_not(None).label("has_sound"),
        )
        .outerjoin(PracticeSession, PracticeSession.id == Take.session_id)
        .outerjoin(TakeSound, TakeSound.take_id == Take.id)
        .where(*_theirs(player))
        .order_by(Take.started_at, Take.first_frame, Take.id)
    )
    for row in _read(session, query):
        told = row._asdict()
        results = told.pop("verdict").get("results", ())
        told["failed"] = " ".join(one["aim"] for one in results if not one["passed"])
        told["started_at"] = told["started_at"].astimezone()
        yield told


def note_rows(session: Session, player: Player) -> Iterator[dict[str, Any]]:
    """The notes that were asked for in a player's takes, in order of playing."""
    query = (
        select(
            TakeNote.take_id,
            TakeNote.number,
            TakeNote.on,
            TakeNote.asked_midi,
            TakeNote.length_name.label("length"),
            TakeNote.partial,
            TakeNote.spoke,
            TakeNote.played_midi,
            TakeNote.start_s,
            TakeNote.end_s,
            *(getattr(TakeNote, name) for name in _MEASURED),
            TakeNote.cracked_from_midi,
        )
        .join(Take, Take.id == TakeNote.take_id)
        .where(*_theirs(player))
        .order_by(Take.started_at, Take.first_frame, Take.id, TakeNote.number)
    )
    for row in _read(session, query):
        yield row._asdict()


def day_rows(session: Session, player: Player) -> Iterator[dict[str, Any]]:
    """A player's days, oldest first: what was played, what hurt, and what they wrote down."""
    day = local_day()
    takes = (
        select(day, func.count(), func.count(case((Take.passed, 1))), func.sum(Take.sounded_s))
        .where(*_theirs(player))
        .group_by(day)
    )
    reached = (
        select(day, func.min(TakeNote.asked_midi), func.max(TakeNote.asked_midi))
        .join(TakeNote, TakeNote.take_id == Take.id)
        .where(*_theirs(player), TakeNote.spoke, TakeNote.on == "horn")
        .group_by(day)
    )
    days: dict[str, dict[str, Any]] = {}

    def on(which: str) -> dict[str, Any]:
        empty: dict[str, Any] = {
            "date": date.fromisoformat(which), "sessions": 0, "tries": 0, "passed": 0,
            "sounded_s": 0.0, "lowest_midi": None, "highest_midi": None, "hurt": False,
            "notes_to_self": "",
        }  # fmt: skip
        return days.setdefault(which, empty)

    for which, tries, passed, sounded_s in session.execute(takes):
        on(which).update(tries=tries, passed=passed, sounded_s=round(sounded_s, 2))
    for which, lowest, highest in session.execute(reached):
        on(which).update(lowest_midi=lowest, highest_midi=highest)
    sessions = session.execute(
        select(PracticeSession.started_at, PracticeSession.note)
        .where(PracticeSession.player_id == player.id, PracticeSession.title != "")
        .order_by(PracticeSession.started_at)
    )
    for at, note in sessions:
        row = on(at.astimezone().date().isoformat())
        row["sessions"] += 1
        row["notes_to_self"] = "\n".join(filter(None, (row["notes_to_self"], note)))
    for at in session.scalars(select(Hurt.at).where(Hurt.player_id == player.id)):
        on(at.astimezone().date().isoformat())["hurt"] = True
    for which in sorted(days):
        yield days[which]
