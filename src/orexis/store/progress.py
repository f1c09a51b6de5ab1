"""What was played of every note, as far back as there is anything: light rows, never sound.

The days before today are remembered for as long as their takes stay as they are; today is read
anew.
"""

from collections.abc import Callable
from datetime import UTC, date, datetime, timedelta
from typing import Any, TypeVar

from sqlalchemy import CTE, ColumnElement, Integer, Select, case, cast, func, select
from sqlalchemy.orm import Session

from orexis.core.coach.standing import Heard
from orexis.core.exercises.book import COLD
from orexis.core.judging.gate import GateLevel
from orexis.core.progress.days import LONG_ENOUGH_S, ExerciseDay, NoteDay
from orexis.core.progress.one_note import NEAR_CENTS, STEADY_CENTS, Day, Time, WorthHearing
from orexis.core.score.steps import On
from orexis.store.history import local_day, midnight, theirs
from orexis.store.models import Player, Take, TakeNote, TakeSound
from orexis.store.remembered import remembered

T = TypeVar("T")
Asked = dict[On, dict[int, list[Heard]]]
"""By where it was asked of, the horn or the mouthpiece, and by note: every day of it, oldest
first, tries of a day that are alike in gate and verdict taken together at their best."""

_EVER = datetime(1, 1, 2, tzinfo=UTC)
_LEVELS = tuple(GateLevel)
_PLACES = tuple(On)
_MIDIS = 128
_JULIAN_DAY_0 = 1_721_424
"""What the whole part of a Julian date at midnight is more than Python's ordinal of the day."""


def asked_of(session: Session, player: Player, today: date) -> Asked:
    """Every note that was ever asked of a player on the horn they play now, up to a day."""
    before, now = _before_and_now(
        session, player, today, "asked", lambda since, until: _asked(session, player, since, until)
    )
    return {
        on: {
            midi: before[on].get(midi, []) + now[on].get(midi, [])
            for midi in before[on].keys() | now[on].keys()
        }
        for on in On
    }


def note_days(session: Session, player: Player, midi: int, on: On, today: date) -> list[Day]:
    """Every day a note was asked for, oldest first."""

    def read(since: datetime, until: datetime) -> list[Day]:
        return _days(session, player, midi, on, since, until)

    before, now = _before_and_now(session, player, today, f"days of {midi} on {on}", read)
    return before + now


def worth_hearing(session: Session, player: Player, midi: int, on: On, today: date) -> WorthHearing:
    """What to hear again of a note."""

    def read(since: datetime, until: datetime) -> WorthHearing:
        return _worth_hearing(session, player, midi, on, since, until)

    before, now = _before_and_now(session, player, today, f"sound of {midi} on {on}", read)
    return before.and_later(now)


def measured_days(
    session: Session, player: Player, today: date
) -> tuple[list[NoteDay], list[ExerciseDay]]:
    """What every day measured of each note on the horn and of each exercise, oldest first."""

    def read(since: datetime, until: datetime) -> tuple[list[NoteDay], list[ExerciseDay]]:
        return _note_days(session, player, since, until), _exercise_days(
            session, player, since, until
        )

    before, now = _before_and_now(session, player, today, "measured", read)
    return before[0] + now[0], before[1] + now[1]


def while_as_it_is(
    session: Session, player: Player, what: str, today: date, make: Callable[[], T]
) -> T:
    """What is made of a player's takes up to a day, remembered while they stay as they are."""
    until = midnight(today + timedelta(days=1))
    return remembered(session, player, what, (today,), until, None, make)


def _before_and_now(
    session: Session,
    player: Player,
    today: date,
    what: str,
    read: Callable[[datetime, datetime], T],
) -> tuple[T, T]:
    """What there is of the days before today, remembered, and of today."""
    begins, ends = midnight(today), midnight(today + timedelta(days=1))
    before = remembered(session, player, what, (today,), begins, None, lambda: read(_EVER, begins))
    return before, read(begins, ends)


def _julian_day() -> ColumnElement[int]:
    """The day a take was played on here, as a whole number: SQLite's Julian day, rounded down."""
    return cast(func.julianday(local_day()), Integer)


def _day_of(julian_day: int) -> date:
    return date.fromordinal(julian_day - _JULIAN_DAY_0)


def _heads(player: Player, head: ColumnElement[int], since: datetime, until: datetime) -> CTE:
    """A player's takes of some time, each with a number that says what it is grouped by."""
    return (
        select(Take.id, head.label("head"))
        .where(*theirs(player), Take.started_at >= since, Take.started_at < until)
        .cte("heads")
        .prefix_with("MATERIALIZED")
    )


def _asked(session: Session, player: Player, since: datetime, until: datetime) -> Asked:
    # Grouped by one number, which SQLite does twice as fast as by what it is made of.
    level = case(*((Take.gate_level == one, number) for number, one in enumerate(_LEVELS)))
    head = _julian_day()
    for digit, base in ((level, len(_LEVELS)), (Take.passed, 2), (Take.exercise_key == COLD, 2)):
        head = head * base + digit
    heads = _heads(player, head, since, until)
    place = case(*((TakeNote.on == one, number) for number, one in enumerate(_PLACES)))
    group = ((heads.c.head * len(_PLACES) + place) * _MIDIS + TakeNote.asked_midi).label("group")
    query = (
        select(
            group,
            func.max(case((TakeNote.spoke, TakeNote.end_s - TakeNote.start_s), else_=0.0)),
            func.max(case((TakeNote.spoke, TakeNote.hold_s), else_=0.0)),
        )
        .join_from(heads, TakeNote, TakeNote.take_id == heads.c.id)
        .group_by(group)
        .order_by(group)
    )
    asked: Asked = {on: {} for on in On}
    for number, sounded_s, held_s in session.execute(query):
        rest, midi = divmod(number, _MIDIS)
        rest, place_at = divmod(rest, len(_PLACES))
        rest, cold = divmod(rest, 2)
        rest, passed = divmod(rest, 2)
        julian_day, level_at = divmod(rest, len(_LEVELS))
        one = Heard(
            _day_of(julian_day),
            sounded_s or 0.0,
            held_s or 0.0,
            bool(passed),
            _LEVELS[level_at],
            bool(cold),
        )
        asked[_PLACES[place_at]].setdefault(midi, []).append(one)
    return asked


def _note_days(session: Session, player: Player, since: datetime, until: datetime) -> list[NoteDay]:
    heads = _heads(player, _julian_day(), since, until)
    group = (heads.c.head * _MIDIS + TakeNote.asked_midi).label("group")
    query = (
        select(
            group,
            func.count(),
            func.avg(func.abs(TakeNote.centre_cents)),
            func.avg(TakeNote.spread_cents),
            func.avg(TakeNote.rise_s),
        )
        .join_from(heads, TakeNote, TakeNote.take_id == heads.c.id)
        .where(
            TakeNote.on == On.HORN,
            TakeNote.spoke,
            TakeNote.end_s - TakeNote.start_s >= LONG_ENOUGH_S,
        )
        .group_by(group)
        .order_by(group)
    )
    found: list[NoteDay] = []
    for number, times, off, spread, rise in session.execute(query):
        julian_day, midi = divmod(number, _MIDIS)
        found.append(NoteDay(_day_of(julian_day), midi, times, off, spread, rise))
    return found


def _exercise_days(
    session: Session, player: Player, since: datetime, until: datetime
) -> list[ExerciseDay]:
    day = local_day()
    query = (
        select(
            day,
            Take.exercise_key,
            func.count(),
            func.count(case((Take.passed, 1))),
            func.sum(Take.sounded_s),
        )
        .where(*theirs(player), Take.started_at >= since, Take.started_at < until)
        .group_by(day, Take.exercise_key)
        .order_by(day)
    )
    rows: Any = session.execute(query)
    return [ExerciseDay(date.fromisoformat(on), *measured) for on, *measured in rows]


def _days(
    session: Session, player: Player, midi: int, on: On, since: datetime, until: datetime
) -> list[Day]:
    day = local_day()
    measured = (
        TakeNote.centre_cents,
        TakeNote.spread_cents,
        TakeNote.rise_s,
        TakeNote.harmonicity_db,
    )
    query = (
        select(
            day,
            func.count(),
            func.count(case((TakeNote.spoke, 1))),
            func.max(case((TakeNote.spoke, TakeNote.hold_s), else_=0.0)),
            # What sounded in its place says nothing of the note.
            *(func.avg(case((TakeNote.spoke, one))) for one in measured),
        )
        .join(Take, Take.id == TakeNote.take_id)
        .where(*_times(player, midi, on, since, until))
        .group_by(day)
        .order_by(day)
    )
    rows: Any = session.execute(query)
    return [
        Day(date.fromisoformat(on_day), asked, spoke, held_s or 0.0, *means)
        for on_day, asked, spoke, held_s, *means in rows
    ]


def _worth_hearing(
    session: Session, player: Player, midi: int, on: On, since: datetime, until: datetime
) -> WorthHearing:
    off = func.abs(TakeNote.centre_cents) / NEAR_CENTS + TakeNote.spread_cents / STEADY_CENTS
    query = (
        select(Take.id, Take.started_at, case((Take.passed, off)))
        .join(TakeNote, TakeNote.take_id == Take.id)
        .join(TakeSound, TakeSound.take_id == Take.id)
        .where(*_times(player, midi, on, since, until), TakeNote.spoke)
        .limit(1)
    )

    def found(chosen: Select[Any]) -> Time | None:
        row = session.execute(chosen).one_or_none()
        if row is None:
            return None
        take_id, at, off_by = row
        return Time(take_id, at.astimezone(), off_by)

    best = query.where(Take.passed, off.is_not(None)).order_by(off, Take.started_at.desc())
    return WorthHearing(
        found(query.order_by(Take.started_at, TakeNote.number)),
        found(best),
        found(query.order_by(Take.started_at.desc(), TakeNote.number.desc())),
    )


def _times(
    player: Player, midi: int, on: On, since: datetime, until: datetime
) -> tuple[ColumnElement[bool], ...]:
    return (
        *theirs(player),
        Take.started_at >= since,
        Take.started_at < until,
        TakeNote.asked_midi == midi,
        TakeNote.on == on,
    )
