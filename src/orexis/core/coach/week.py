"""The shape of a week: hard and easy days take turns, and a rest day comes at least every seven."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date, timedelta
from enum import StrEnum

from orexis.core.coach.known import EventKind, PlayerFacts
from orexis.core.counting import counted
from orexis.core.exercises.family import WORKS, Group

_OFTEN_DAYS = 5
"""Days of practice a week from which on two hard days may follow each other."""
_MOST_RUNNING = 6
"""Days in a row after which a day is for rest."""
_RESTS_BEFORE = 2
"""So many days before a concert the rest comes that would fall on it, or just before it."""
_DAY = timedelta(days=1)
_SHOWN_BEFORE, _SHOWN_AFTER = 6, 7


def is_easy_day(known: PlayerFacts) -> bool:
    """Whether the days before leave this one for easy playing: one hard day just before it, or two
    with somebody who practises nearly every day."""
    most = 2 if known.about.days_a_week >= _OFTEN_DAYS else 1
    return _running(known.hard_days, known.today) >= most


def why_rest_day(known: PlayerFacts) -> str:
    """Why a day is for rest: there was none among the last ones, or there would be none before a
    concert; "" where it is not."""
    concert, running = known.next_concert, _running(known.days_played, known.today)
    away = None if concert is None else (concert.day - known.today).days
    if away == _RESTS_BEFORE and running >= _MOST_RUNNING - _RESTS_BEFORE:
        return (
            f"The concert is in {counted(away, 'day')} and you have played {running} days running, "
            "so today is for rest."
        )
    if away != 0 and running >= _MOST_RUNNING:
        return f"You have played {running} days running, so today is for rest."
    return ""


def _running(days: frozenset[date], today: date) -> int:
    """How many days in a row up to yesterday are among some."""
    count = 0
    while today - (count + 1) * _DAY in days:
        count += 1
    return count


class DayKind(StrEnum):
    """What a day was, is or will be; of a day to come, only what is in the calendar is known."""

    HARD = "hard"
    EASY = "easy"
    REST = "rest"
    REHEARSAL = "rehearsal"
    CONCERT = "concert"
    OPEN = "open"

    @property
    def words(self) -> str:
        """The kind of day in words."""
        return _DAY_WORDS[self]


_DAY_WORDS = {
    DayKind.HARD: "a hard day",
    DayKind.EASY: "an easy day",
    DayKind.REST: "nothing played",
    DayKind.REHEARSAL: "a rehearsal",
    DayKind.CONCERT: "a concert",
    DayKind.OPEN: "nothing in the calendar",
}


@dataclass(frozen=True, slots=True)
class WeekDay:
    """A day of the weeks about today, and what it is."""

    day: date
    kind: DayKind


def days_about(known: PlayerFacts, today: DayKind) -> tuple[WeekDay, ...]:
    """The six days before today, today as it is planned, and the seven days after it."""
    days = (known.today + by * _DAY for by in range(-_SHOWN_BEFORE, _SHOWN_AFTER + 1))
    return tuple(WeekDay(day, _kind_of(day, known, today)) for day in days)


def _kind_of(day: date, known: PlayerFacts, today: DayKind) -> DayKind:
    coming = {event.kind for event in known.events if event.day == day}
    if EventKind.CONCERT in coming:
        return DayKind.CONCERT
    if day == known.today:
        return today
    if EventKind.REHEARSAL in coming:
        return DayKind.REHEARSAL
    if day > known.today:
        return DayKind.OPEN
    if day in known.hard_days:
        return DayKind.HARD
    return DayKind.EASY if day in known.days_played else DayKind.REST


def kind_of_plan(groups: Iterable[Group]) -> DayKind:
    """What a day is by what its plan trains."""
    planned = set(groups)
    if planned & WORKS:
        return DayKind.HARD
    return DayKind.EASY if planned - {Group.BREATH} else DayKind.REST
