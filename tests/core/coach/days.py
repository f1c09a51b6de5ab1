"""Players and their past, made by hand for the coach's tests."""

from datetime import date, timedelta

from orexis.core.coach.about import About, Experience, Lips, Wish
from orexis.core.coach.day import DayPlan, PlanRequest
from orexis.core.coach.following import Following
from orexis.core.coach.history import History, HurtPeriod, NoteRow, PastAttempt, Sitting
from orexis.core.coach.known import Event, EventKind, PlayerFacts
from orexis.core.coach.planning import plan_day
from orexis.core.exercises.family import Group
from orexis.core.judging.standard import Standard
from orexis.core.session.state import BlockEnd
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
    level: Standard = Standard.NORMAL,
) -> PastAttempt:
    rows = tuple(note(midi, seconds) for midi in midis)
    return PastAttempt(back(days_ago), family, passed, level, rows)


def minutes_of(days_ago: int, minutes: float, midi: int = 60) -> PastAttempt:
    """A day with so many minutes on a middling note."""
    return tried(days_ago, midi, seconds=60 * minutes)


def regular(minutes: float = 10, days: int = 28) -> tuple[PastAttempt, ...]:
    """The same every day up to yesterday but one a week, oldest first."""
    return tuple(minutes_of(one, minutes) for one in range(days, 0, -1) if one % 7 != 5)


def ended_high(days_ago: int, close: BlockEnd) -> Sitting:
    return Sitting(back(days_ago), ((Group.SLURS, BlockEnd.DONE), (Group.HIGH, close)))


def known(
    *attempts: PastAttempt,
    about: About | None = None,
    instrument: str = "cornet-bb",
    sittings: tuple[Sitting, ...] = (),
    hurts: tuple[HurtPeriod, ...] = (),
    cold: frozenset[int] = frozenset(),
    events: tuple[Event, ...] = (),
    followings: tuple[Following, ...] = (),
    approaches: dict[str, str] | None = None,
    today: date = TODAY,
) -> PlayerFacts:
    history = History(
        tuple(sorted(attempts, key=lambda attempt: attempt.day)), sittings, hurts, cold
    )
    about = about or About(Experience.SOME_YEARS, Wish.FIT, 40)
    return PlayerFacts(
        today, about, approaches or {}, history, writer(instrument), events, followings
    )


def planned(
    known: PlayerFacts, minutes: int = 40, lips: Lips = Lips.NORMAL, *, quiet: bool = False
) -> DayPlan:
    return plan_day(known, PlanRequest(minutes, lips, quiet))


def concert(days_ahead: int) -> Event:
    return Event(TODAY + timedelta(days=days_ahead), EventKind.CONCERT, "The centenary")
