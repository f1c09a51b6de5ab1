"""What a player has kept, row by row, to be carried elsewhere: all horns, all sources."""

from collections import defaultdict
from collections.abc import Iterator
from datetime import date, timedelta
from typing import Any

from sqlalchemy import ColumnElement, Select, func, select
from sqlalchemy.orm import Session

from orexis.core.session.plan import SessionKind
from orexis.core.times import EARLIEST, LATEST
from orexis.store.diary import diary_of, spans_of
from orexis.store.history import midnight
from orexis.store.models import Player, PracticeSession, Take, TakeNote, TakeSound
from orexis.store.typed import typed_rows

FIRST, LAST = EARLIEST.date(), LATEST.date()
"""Days before and after anything that was kept."""
_DAY = timedelta(days=1)
_ROWS_AT_ONCE = 500
_MEASURED = (
    *("target_cents", "centre_cents", "spread_cents", "level_db", "hold_s", "rise_s"),
    *("harmonicity_db", "brightness"),
)


def _read(session: Session, query: Select[*tuple[Any, ...]]) -> Iterator[Any]:
    return iter(session.execute(query.execution_options(yield_per=_ROWS_AT_ONCE)))


def _theirs(player: Player, first: date, last: date) -> tuple[ColumnElement[bool], ...]:
    return (
        Take.player_id == player.id,
        Take.deleted_at.is_(None),
        Take.started_at >= midnight(first),
        Take.started_at < midnight(last + _DAY),
    )


def take_rows(
    session: Session, player: Player, first: date = FIRST, last: date = LAST
) -> Iterator[dict[str, Any]]:
    """A player's takes of some days, oldest first."""
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
            Take.standard.label("standard"),
            Take.passed.label("passed"),
            Take.judged_passed.label("judged_passed"),
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
        .where(*_theirs(player, first, last))
        .order_by(Take.started_at, Take.first_frame, Take.id)
    )
    for row in _read(session, query):
        told = row._asdict()
        results = told.pop("verdict").get("results", ())
        told["failed"] = " ".join(result["aim"] for result in results if not result["passed"])
        told["started_at"] = told["started_at"].astimezone()
        yield told


def note_rows(
    session: Session, player: Player, first: date = FIRST, last: date = LAST
) -> Iterator[dict[str, Any]]:
    """The notes that were asked for in a player's takes of some days, in order of playing."""
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
        .where(*_theirs(player, first, last))
        .order_by(Take.started_at, Take.first_frame, Take.id, TakeNote.number)
    )
    for row in _read(session, query):
        yield row._asdict()


def log_rows(
    session: Session, player: Player, first: date = FIRST, last: date = LAST
) -> Iterator[dict[str, Any]]:
    """What a player has written down elsewhere, oldest first."""
    for row in typed_rows(session, player, first, last):
        yield {"date": row.day, "minutes": row.minutes, "words": row.words}


def day_rows(
    session: Session, player: Player, first: date = FIRST, last: date = LAST
) -> Iterator[dict[str, Any]]:
    """A player's days, oldest first: what was played, what hurt, and what they wrote down."""
    spans = spans_of(session, player, first, last, with_stand_in=True)
    notes: dict[date, list[str]] = defaultdict(list)
    for at, note in session.execute(
        select(PracticeSession.started_at, PracticeSession.note)
        .where(
            PracticeSession.player_id == player.id,
            PracticeSession.kind != SessionKind.TASK,
            PracticeSession.note != "",
            PracticeSession.started_at >= midnight(first),
            PracticeSession.started_at < midnight(last + _DAY),
        )
        .order_by(PracticeSession.started_at)
    ):
        notes[at.astimezone().date()].append(note)
    for day in diary_of(session, player, first, last, with_stand_in=True):
        if not (day.practised or day.sessions or day.hurt):
            continue
        lowest, highest = spans.get(day.on, (None, None))
        yield {
            "date": day.on,
            "sessions": day.sessions,
            "attempts": day.attempts,
            "passed": day.passed,
            "sounded_s": round(day.sounded_s, 2),
            "free_s": round(day.free_s, 2),
            "lowest_midi": lowest,
            "highest_midi": highest,
            "hurt": day.hurt,
            "notes_to_self": "\n".join(notes[day.on]),
        }
