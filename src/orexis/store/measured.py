"""What days measured, read from light rows: of notes, of exercises, of what is asked of few.

Rows are grouped by one number, which SQLite does twice as fast as by what it is made of.
"""

from collections.abc import Iterator
from datetime import date, datetime
from itertools import groupby
from typing import Any

from sqlalchemy import CTE, ColumnElement, Integer, and_, case, cast, func, select
from sqlalchemy.orm import Session

from orexis.core.exercises.book import families_that_tell
from orexis.core.exercises.practised import ProgressMeasure
from orexis.core.judging.ear import Rated, Rating
from orexis.core.judging.holds import Hold, SetOfHolds
from orexis.core.listening.tracking.frames import HOP_S
from orexis.core.progress.days import (
    LATE_STEP_MIN,
    DayMost,
    EarDay,
    ExerciseDay,
    LateNote,
    Measured,
    NoteSeconds,
    SetDay,
)
from orexis.core.progress.one_note import LONG_ENOUGH_S, NEAR_CENTS, STEADY_CENTS, NoteDay
from orexis.core.progress.trills import TrillNote, fastest_clear
from orexis.core.score.steps import PlayedOn
from orexis.store.history import local_day, theirs
from orexis.store.models import Player, SessionEntry, Take, TakeNote

MIDIS = 128
OFF = func.abs(TakeNote.centre_cents) / NEAR_CENTS + TakeNote.spread_cents / STEADY_CENTS
"""How far off a note was: see `core.progress.one_note`."""
TIRED = "tired"
"""What an entry of a session's log is called that says so (`formats.session`)."""
_JULIAN_DAY_0 = 1_721_424
"""What the whole part of a Julian date at midnight is more than Python's ordinal of the day."""
_LATE_STEPS = 64
"""Minutes of playing are taken together in up to so many steps."""


def measured(
    session: Session, player: Player, since: datetime, until: datetime, late_since: datetime
) -> Measured:
    """What the days of some time measured on the horn a player plays now, oldest first; what
    becomes of things over a day's minutes from `late_since` on."""
    notes, note_seconds = _notes(session, player, since, until)
    trills = session.execute(_turns(player, since, until))
    return Measured(
        notes,
        list(_exercises(session, player, since, until)),
        list(_late(session, player, max(since, late_since), until)),
        list(_tops(session, player, since, until)),
        list(_trills(trills)),
        list(_ear(session, player, since, until)),
        note_seconds,
        list(_lasted(session, player, since, until)),
        list(_sets(session, player, since, until)),
    )


def julian_day() -> ColumnElement[int]:
    """The day a take was played on here, as a whole number: SQLite's Julian day, rounded down."""
    return cast(func.julianday(local_day()), Integer)


def day_of(julian_day: int) -> date:
    """The day of such a number."""
    return date.fromordinal(julian_day - _JULIAN_DAY_0)


def heads_of(player: Player, head: ColumnElement[int], since: datetime, until: datetime) -> CTE:
    """A player's takes of some time, each with a number that says what it is grouped by."""
    return (
        select(Take.id, head.label("head"))
        .where(*_within(player, since, until))
        .cte("heads")
        .prefix_with("MATERIALIZED")
    )


def _within(player: Player, since: datetime, until: datetime) -> tuple[ColumnElement[bool], ...]:
    return (*theirs(player), Take.started_at >= since, Take.started_at < until)


_MEASURED = and_(
    TakeNote.on == PlayedOn.HORN, TakeNote.spoke, TakeNote.end_s - TakeNote.start_s >= LONG_ENOUGH_S
)


def _notes(
    session: Session, player: Player, since: datetime, until: datetime
) -> tuple[list[NoteDay], list[NoteSeconds]]:
    heads = heads_of(player, julian_day(), since, until)
    on_horn = case((TakeNote.on == PlayedOn.HORN, 1), else_=0)
    group = ((heads.c.head * 2 + on_horn) * MIDIS + TakeNote.asked_midi).label("group")

    def mean(column: Any) -> Any:
        return func.avg(case((_MEASURED, column)))

    query = (
        select(
            group,
            func.sum(TakeNote.end_s - TakeNote.start_s),
            func.count(),
            func.count(case((TakeNote.spoke, 1))),
            func.max(case((TakeNote.spoke, TakeNote.hold_s), else_=0.0)),
            func.count(case((_MEASURED, 1))),
            mean(TakeNote.centre_cents),
            mean(func.abs(TakeNote.centre_cents)),
            mean(TakeNote.spread_cents),
            mean(TakeNote.rise_s),
            mean(TakeNote.harmonicity_db),
            func.count(case((and_(_MEASURED, TakeNote.cracked_from_midi.is_not(None)), 1))),
        )
        .join_from(heads, TakeNote, TakeNote.take_id == heads.c.id)
        .group_by(group)
        .order_by(group)
    )
    notes: list[NoteDay] = []
    note_seconds: list[NoteSeconds] = []
    for number, seconds, asked, spoke, held_s, *found in session.execute(query):
        rest, midi = divmod(number, MIDIS)
        on_day, horn = divmod(rest, 2)
        day = day_of(on_day)
        if seconds:
            note_seconds.append(NoteSeconds(day, midi, bool(horn), seconds))
        if horn:
            notes.append(NoteDay(day, midi, asked, spoke, held_s or 0.0, *found))
    return notes, note_seconds


def _late(session: Session, player: Player, since: datetime, until: datetime) -> Iterator[LateNote]:
    """Notes by how long had been played before them on their day."""
    before = func.coalesce(
        func.sum(Take.sounded_s).over(
            partition_by=local_day(),
            order_by=(Take.started_at, Take.first_frame),
            rows=(None, -1),
        ),
        0.0,
    )
    step = func.min(cast(before / (60 * LATE_STEP_MIN), Integer), _LATE_STEPS - 1)
    heads = heads_of(player, julian_day() * _LATE_STEPS + step, since, until)
    group = (heads.c.head * MIDIS + TakeNote.asked_midi).label("group")
    query = (
        select(group, func.count(), func.avg(TakeNote.spread_cents), func.avg(TakeNote.rise_s))
        .join_from(heads, TakeNote, TakeNote.take_id == heads.c.id)
        .where(_MEASURED)
        .group_by(group)
        .order_by(group)
    )
    for number, times, spread, rise in session.execute(query):
        rest, midi = divmod(number, MIDIS)
        on_day, at = divmod(rest, _LATE_STEPS)
        yield LateNote(day_of(on_day), LATE_STEP_MIN * (at + 0.5), midi, times, spread, rise)


def _exercises(
    session: Session, player: Player, since: datetime, until: datetime
) -> Iterator[ExerciseDay]:
    day = local_day()
    query = (
        select(
            day,
            Take.exercise_key,
            func.count(),
            func.count(case((Take.passed, 1))),
            func.sum(Take.sounded_s),
        )
        .where(*_within(player, since, until))
        .group_by(day, Take.exercise_key)
        .order_by(day)
    )
    rows: Any = session.execute(query)
    for on, *found in rows:
        yield ExerciseDay(date.fromisoformat(on), *found)


def _tops(session: Session, player: Player, since: datetime, until: datetime) -> Iterator[DayMost]:
    """The highest note of the pyramids of each day that passed."""
    query = (
        select(local_day(), func.max(TakeNote.asked_midi), func.count(Take.id.distinct()))
        .join(Take, Take.id == TakeNote.take_id)
        .where(
            *_within(player, since, until),
            Take.exercise_key.in_(families_that_tell(ProgressMeasure.PYRAMID_TOP)),
            Take.passed,
            TakeNote.spoke,
            TakeNote.on == PlayedOn.HORN,
        )
        .group_by(local_day())
        .order_by(local_day())
    )
    rows: Any = session.execute(query)
    for on, midi, times in rows:
        yield DayMost(date.fromisoformat(on), float(midi), times)


def _lasted(
    session: Session, player: Player, since: datetime, until: datetime
) -> Iterator[DayMost]:
    """How many minutes of a session had been played when its notes first showed that the player
    tired; of several sessions of a day the fewest."""
    tired = (
        select(SessionEntry.session_id, func.min(SessionEntry.sample).label("sample"))
        .where(SessionEntry.kind == TIRED)
        .group_by(SessionEntry.session_id)
        .cte("tired")
    )
    played = (
        select(local_day().label("day"), func.sum(Take.sounded_s).label("seconds"))
        .join(tired, tired.c.session_id == Take.session_id)
        .where(
            *_within(player, since, until),
            Take.first_frame * Take.sample_rate * HOP_S < tired.c.sample,
        )
        .group_by(local_day(), Take.session_id)
        .subquery()
    )
    query = (
        select(played.c.day, func.min(played.c.seconds), func.count())
        .group_by(played.c.day)
        .order_by(played.c.day)
    )
    rows: Any = session.execute(query)
    for on, seconds, times in rows:
        yield DayMost(date.fromisoformat(on), seconds / 60, times)


def _sets(session: Session, player: Player, since: datetime, until: datetime) -> Iterator[SetDay]:
    """How long the notes of each set were held."""
    query = (
        select(
            Take.session_id,
            Take.set_number,
            local_day(),
            TakeNote.asked_midi,
            case((TakeNote.spoke, TakeNote.hold_s), else_=0.0),
        )
        .join(TakeNote, TakeNote.take_id == Take.id)
        .where(
            *_within(player, since, until),
            Take.exercise_key.in_(families_that_tell(ProgressMeasure.HOLDS)),
        )
        .order_by(Take.started_at, Take.first_frame, TakeNote.number)
    )
    rows: Any = session.execute(query)
    for (*_, on, midi), of_set in groupby(rows, key=lambda row: tuple(row[:4])):
        found = SetOfHolds(tuple(Hold(midi, hold_s or 0.0) for *_, hold_s in of_set))
        if found.held_s:
            yield SetDay(
                date.fromisoformat(on),
                midi,
                len(found.holds),
                found.typical_s,
                found.second_of_first_percent,
            )


def _turns(player: Player, since: datetime, until: datetime) -> Any:
    return (
        select(
            local_day(),
            Take.id,
            TakeNote.start_s,
            case((TakeNote.spoke, TakeNote.centre_cents)),
        )
        .join(Take, Take.id == TakeNote.take_id)
        .where(
            *_within(player, since, until),
            Take.exercise_key.in_(families_that_tell(ProgressMeasure.TRILL_SPEED)),
        )
        .order_by(Take.started_at, Take.first_frame, Take.id, TakeNote.number)
    )


def _trills(rows: Any) -> Iterator[DayMost]:
    """The fastest clear trill of each day, and of how many attempts."""
    for on, of_day in groupby(rows, key=lambda row: row[0]):
        rates = [
            fastest_clear([TrillNote(start_s, off_cents) for _, _, start_s, off_cents in notes])
            for _, notes in groupby(of_day, key=lambda row: row[1])
        ]
        known = [rate for rate in rates if rate is not None]
        if known:
            yield DayMost(date.fromisoformat(on), max(known), len(rates))


def _ear(session: Session, player: Player, since: datetime, until: datetime) -> Iterator[EarDay]:
    query = (
        select(local_day(), Take.rating, Take.passed)
        .where(*_within(player, since, until), Take.rating.is_not(None))
        .order_by(Take.started_at)
    )
    rows: Any = session.execute(query)
    for on, of_day in groupby(rows, key=lambda row: row[0]):
        rated = [Rated(Rating(rating), bool(passed)) for _, rating, passed in of_day]
        yield EarDay(date.fromisoformat(on), len(rated), sum(rating.agrees for rating in rated))
