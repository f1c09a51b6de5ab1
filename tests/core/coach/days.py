"""Players and their past, made by hand for the coach's tests."""

from datetime import date, timedelta

from orexis.core.coach.about import About, Experience, Lips, Wish
from orexis.core.coach.day import Asked, DayPlan
from orexis.core.coach.following import Following
from orexis.core.coach.history import History, Hurting, NoteRow, Sitting, Tried
from orexis.core.coach.known import Event, EventKind, Known
from orexis.core.coach.planning import plan_day
from orexis.core.exercises.family import Group
from orexis.core.judging.gate import GateLevel
from orexis.core.session.state import Close
from tests.core.exercises.writing import writer

TODAY = date(2026, 5, 29)
"""A Friday."""

# A B♭ cornet: open fundamental 46, parts from 52 to 82, easy note 65 (sounding).
EASY, COMFORTABLE = 65, 77


def back(days: int) -> date:
    return TODAY - timedelta(days=days)


def note(
    midi: int, seconds: float = 3.0, *, held_s: float | None = None, on_horn: bool = True
) -> NoteRow:
    held = seconds if held_s is None else held_s
    return NoteRow(midi, on_horn, seconds > 0, midi, seconds, held)


def tried(
    days_ago: int,
    *midis: int,
    family: str = "long-tone",
    passed: bool = True,
    seconds: float = 3.0,
    level: GateLevel = GateLevel.NORMAL,
) -> Tried:
    rows = tuple(note(midi, seconds) for midi in midis)
    return Tried(back(days_ago), family, passed, level, rows)


def minutes_of(days_ago: int, minutes: float, midi: int = 60) -> Tried:
    """A day with so many minutes on a middling note."""
    return tried(days_ago, midi, seconds=60 * minutes)


def regular(minutes: float = 10, days: int = 28) -> tuple[Tried, ...]:
    """The same every day up to yesterday but one a week, oldest first."""
    return tuple(minutes_of(one, minutes) for one in range(days, 0, -1) if one % 7 != 5)


def ended_high(days_ago: int, close: Close) -> Sitting:
    return Sitting(back(days_ago), ((Group.SLURS, Close.DONE), (Group.HIGH, close)))


def known(
    *tries: Tried,
    about: About | None = None,
    instrument: str = "cornet-bb",
    sittings: tuple[Sitting, ...] = (),
    hurts: tuple[Hurting, ...] = (),
    cold: frozenset[int] = frozenset(),
    events: tuple[Event, ...] = (),
    followings: tuple[Following, ...] = (),
    schools: dict[str, str] | None = None,
    today: date = TODAY,
) -> Known:
    history = History(tuple(sorted(tries, key=lambda attempt: attempt.day)), sittings, hurts, cold)
    about = about or About(Experience.SOME_YEARS, Wish.FIT, 40)
    return Known(today, about, schools or {}, history, writer(instrument), events, followings)


def planned(
    known: Known, minutes: int = 40, lips: Lips = Lips.NORMAL, *, quiet: bool = False
) -> DayPlan:
    return plan_day(known, Asked(minutes, lips, quiet))


def concert(days_ahead: int) -> Event:
    return Event(TODAY + timedelta(days=days_ahead), EventKind.CONCERT, "The centenary")
