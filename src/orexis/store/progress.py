"""What was played of every note, as far back as there is anything: light rows, never sound.

The days before today are remembered for as long as their takes stay as they are; today is read
anew.
"""

from collections.abc import Callable
from dataclasses import replace
from datetime import UTC, date, datetime, timedelta
from typing import Any, TypeVar

from sqlalchemy import ColumnElement, Select, case, func, select
from sqlalchemy.orm import Session

from orexis.core.coach.standing import NoteOutcome
from orexis.core.exercises.book import FROM_SILENCE
from orexis.core.judging.standard import Standard
from orexis.core.progress.days import LATE_WEEKS, Measured
from orexis.core.progress.one_note import Time, WorthHearing
from orexis.core.score.steps import PlayedOn
from orexis.store.history import midnight, theirs
from orexis.store.measured import MIDIS, OFF, day_of, heads_of, julian_day, measured
from orexis.store.models import Player, Take, TakeNote, TakeSound
from orexis.store.remembered import remembered

T = TypeVar("T")
OutcomesByNote = dict[PlayedOn, dict[int, list[NoteOutcome]]]
"""By where it was asked of, the horn or the mouthpiece, and by note: every day of it, oldest
first, attempts of a day that are alike in standard and verdict taken together at their best."""

_EVER = datetime(1, 1, 2, tzinfo=UTC)
_LEVELS = tuple(Standard)
_PLACES = tuple(PlayedOn)


def asked_of(session: Session, player: Player, today: date) -> OutcomesByNote:
    """Every note that was ever asked of a player on the horn they play now, up to a day."""

    def read(since: datetime, until: datetime) -> OutcomesByNote:
        return _asked(session, player, since, until)

    def join(before: OutcomesByNote, now: OutcomesByNote) -> OutcomesByNote:
        return {
            on: {
                midi: before[on].get(midi, []) + now[on].get(midi, [])
                for midi in before[on].keys() | now[on].keys()
            }
            for on in PlayedOn
        }

    return _joined(session, player, today, "asked", read, join)


def worth_hearing(
    session: Session, player: Player, midi: int, on: PlayedOn, today: date
) -> WorthHearing:
    """What to hear again of a note."""

    def read(since: datetime, until: datetime) -> WorthHearing:
        return _worth_hearing(session, player, midi, on, since, until)

    what = f"sound of {midi} on {on}"
    return _joined(session, player, today, what, read, WorthHearing.and_later)


def measured_days(session: Session, player: Player, today: date) -> Measured:
    """What every day measured of each note and of each exercise, oldest first."""

    late_first = today - timedelta(weeks=LATE_WEEKS)

    def read(since: datetime, until: datetime) -> Measured:
        return measured(session, player, since, until, midnight(late_first))

    found = _joined(session, player, today, "measured", read, Measured.and_later)
    # What is remembered may be from some days earlier on.
    return replace(found, late=[note for note in found.late if note.on >= late_first])


def remembered_while_unchanged(
    session: Session, player: Player, what: str, today: date, make: Callable[[], T]
) -> T:
    """What is made of a player's takes up to a day, remembered while they stay as they are."""
    until = midnight(today + timedelta(days=1))
    return remembered(session, player, what, (today,), until, None, make)


def _joined(
    session: Session,
    player: Player,
    today: date,
    what: str,
    read: Callable[[datetime, datetime], T],
    join: Callable[[T, T], T],
) -> T:
    """What there is up to a day. What was played long ago is remembered for as long as it stays as
    it is, the days since then for a day, and today is read anew."""
    # It ends with the month before the last, and so stays as it is for a month.
    month = today.year * 12 + today.month - 1 - 2
    long_ago = midnight(date(month // 12, month % 12 + 1, 1))
    begins, ends = midnight(today), midnight(today + timedelta(days=1))
    old = remembered(
        session, player, f"{what}, long ago", (long_ago,), long_ago, None,
        lambda: read(_EVER, long_ago),
    )  # fmt: skip
    recent = remembered(
        session, player, f"{what}, recent", (today,), begins, long_ago,
        lambda: read(long_ago, begins),
    )  # fmt: skip
    return join(join(old, recent), read(begins, ends))


def _asked(session: Session, player: Player, since: datetime, until: datetime) -> OutcomesByNote:
    # Grouped by one number, which SQLite does twice as fast as by what it is made of.
    level = case(*((Take.standard == standard, number) for number, standard in enumerate(_LEVELS)))
    head = julian_day()
    for digit, base in (
        (level, len(_LEVELS)),
        (Take.passed, 2),
        (Take.exercise_key.in_(FROM_SILENCE), 2),
    ):
        head = head * base + digit
    heads = heads_of(player, head, since, until)
    place = case(*((TakeNote.on == on, number) for number, on in enumerate(_PLACES)))
    group = ((heads.c.head * len(_PLACES) + place) * MIDIS + TakeNote.asked_midi).label("group")
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
    asked: OutcomesByNote = {on: {} for on in PlayedOn}
    for number, sounded_s, held_s in session.execute(query):
        rest, midi = divmod(number, MIDIS)
        rest, place_at = divmod(rest, len(_PLACES))
        rest, cold = divmod(rest, 2)
        rest, passed = divmod(rest, 2)
        on_day, level_at = divmod(rest, len(_LEVELS))
        note = NoteOutcome(
            day_of(on_day),
            sounded_s or 0.0,
            held_s or 0.0,
            bool(passed),
            _LEVELS[level_at],
            bool(cold),
        )
        asked[_PLACES[place_at]].setdefault(midi, []).append(note)
    return asked


def _worth_hearing(
    session: Session, player: Player, midi: int, on: PlayedOn, since: datetime, until: datetime
) -> WorthHearing:
    query = (
        select(Take.id, Take.started_at, case((Take.passed, OFF)))
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

    best = query.where(Take.passed, OFF.is_not(None)).order_by(OFF, Take.started_at.desc())
    return WorthHearing(
        found(query.order_by(Take.started_at, TakeNote.number)),
        found(best),
        found(query.order_by(Take.started_at.desc(), TakeNote.number.desc())),
    )


def _times(
    player: Player, midi: int, on: PlayedOn, since: datetime, until: datetime
) -> tuple[ColumnElement[bool], ...]:
    return (
        *theirs(player),
        Take.started_at >= since,
        Take.started_at < until,
        TakeNote.asked_midi == midi,
        TakeNote.on == on,
    )
