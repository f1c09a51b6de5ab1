"""Programmes: work that grows over weeks. A programme is a row of stages, what earns the next one
and what sets it back; where one is in it is read off what was played, never stored.
"""

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, field, replace
from datetime import date, timedelta
from itertools import pairwise
from types import MappingProxyType

from orexis.core.coach.about import About, Experience
from orexis.core.coach.history import History, Tried
from orexis.core.counting import counted
from orexis.core.horn.intervals import INTERVALS
from orexis.core.session.building import Setting

_GAP_BACK = timedelta(days=14)
"""So long without any practice sets a programme back by a stage."""
_GOOD_SHARE = 0.5


@dataclass(frozen=True, slots=True)
class Stage:
    """A stage: its name, what is done, the exercise it asks for (none where it only sets the
    measure of the day) and another that takes turns with it, which tries count for it, and the
    share of the usual time. `no_high` leaves high and pedal work out, and `below` is how many half
    steps under the usual top it stays."""

    name: str
    words: str
    setting: Setting | None = None
    counts: Callable[[Tried], bool] = field(default=lambda _: False, repr=False)
    share: float = 1.0
    no_high: bool = False
    below: int = 0
    or_else: Setting | None = None


@dataclass(frozen=True, slots=True)
class Programme:
    """Stages from first to last. A stage is earned by `earn_days` days on which at least half of
    its tries passed, and no sooner than `least_days` after it began (`first_days`: the first one).
    `rest_days` is how many days lie between two of it."""

    key: str
    title: str
    why: str
    stages: Callable[[int], tuple[Stage, ...]]
    earn_days: int = 2
    least_days: int = 0
    first_days: int | None = None
    rest_days: int = 0
    caution: str = ""

    def earns(self) -> str:
        """What earns the next stage, in words."""
        days = f"{self.earn_days} good days" if self.earn_days > 1 else "a good day"
        if not self.earn_days:
            return f"{self.least_days} days earn the next stage."
        if self.least_days:
            return f"{days.capitalize()}, and {self.least_days} days in all, earn the next stage."
        return f"{days.capitalize()} earn the next stage."

    def rests(self) -> str:
        """How often it comes, in words."""
        if not self.rest_days:
            return "It can come every day."
        between = "a day" if self.rest_days == 1 else f"{self.rest_days} days"
        return f"At least {between} of rest between two of it."


@dataclass(frozen=True, slots=True)
class Following:
    """A programme somebody follows: since when, from which note (sounding), and since when it is
    paused. Begun again it follows from that day."""

    key: str
    since: date
    base_midi: int
    paused: date | None = None

    def pausing(self, today: date) -> "Following":
        """The same, paused."""
        return replace(self, paused=self.paused or today)

    def gone_on(self, today: date) -> "Following":
        """The same, gone on with. Days paused are not days of a programme that goes by the
        calendar; others count what is played."""
        by_calendar = not PROGRAMMES[self.key].earn_days
        rested = today - self.paused if self.paused is not None and by_calendar else timedelta()
        return replace(self, since=self.since + rested, paused=None)


@dataclass(frozen=True, slots=True)
class Place:
    """Where somebody is: the stage and since when, whether it is due today and done, and all of
    that in words."""

    programme: Programme
    stages: tuple[Stage, ...]
    stage: int
    since: date
    due: bool
    done: bool
    words: str

    @property
    def now(self) -> Stage:
        """The present stage."""
        return self.stages[self.stage]


def place_of(following: Following, history: History, today: date) -> Place:
    """Where a programme is on a day, read off what was played since it began."""
    programme = PROGRAMMES[following.key]
    stages = programme.stages(following.base_midi)
    walk = _Walk(programme, stages, following.since)
    by_day: dict[date, list[Tried]] = {}
    for one in history.tries:
        if following.since <= one.day < today:
            by_day.setdefault(one.day, []).append(one)
    hurts = {one.day for one in history.hurts}
    for day in sorted({*by_day, *(day for day in hurts if following.since <= day < today)}):
        walk.practised(day, by_day.get(day, []), day in hurts)
    walk.until(today)
    due = following.paused is None and walk.due(today)
    return Place(
        programme,
        stages,
        walk.stage,
        walk.stage_since,
        due,
        walk.stage == len(stages) - 1 and walk.earned(today),
        walk.words(today, following.paused),
    )


class _Walk:
    """Days of practice, one after the other, through the stages."""

    def __init__(self, programme: Programme, stages: tuple[Stage, ...], since: date) -> None:
        self._programme, self._stages = programme, stages
        self.stage, self.stage_since, self.good_days = 0, since, 0
        self._last: date | None = None
        self._last_of_it: date | None = None
        self._back = ""

    def practised(self, day: date, tries: list[Tried], hurt: bool) -> None:
        """A day on which something was played, or hurt."""
        self.until(day)
        if self._last is not None and day - self._last > _GAP_BACK:
            self._set_back(day, "two weeks without playing")
        self._last = day
        if hurt:
            self._set_back(day, "something hurt")
            return
        of_it = [one for one in tries if self._stages[self.stage].counts(one)]
        if of_it:
            self._last_of_it = day
            good = sum(one.count for one in of_it if one.passed)
            self.good_days += good >= _GOOD_SHARE * sum(one.count for one in of_it)

    def until(self, day: date) -> None:
        """Goes on to the stages that are earned by a day."""
        while self.stage < len(self._stages) - 1 and self.earned(day):
            # It was earned when its time was over, or by the last day of practice.
            on_time = self.stage_since + timedelta(days=self._least_days())
            by_days = self._last if self._programme.earn_days else None
            self.stage_since = max(on_time, by_days or on_time)
            self.stage, self.good_days, self._back = self.stage + 1, 0, ""

    def earned(self, day: date) -> bool:
        """Whether the present stage is earned by a day."""
        long_enough = (day - self.stage_since).days >= self._least_days()
        return long_enough and self.good_days >= self._programme.earn_days

    def due(self, today: date) -> bool:
        """Whether it comes today."""
        if self._last_of_it is None:
            return True
        return (today - self._last_of_it).days > self._programme.rest_days

    def words(self, today: date, paused: date | None) -> str:
        """Where one is."""
        stage = self._stages[self.stage]
        said = f"Stage {self.stage + 1} of {len(self._stages)}: {stage.name}."
        if paused is not None:
            return f"{said} Paused since {paused:%d.%m.}"
        if self._back:
            return f"{said} One back, since {self._back}."
        wanted = self._programme.earn_days
        if self.stage == len(self._stages) - 1 and self.earned(today):
            return f"{said} The whole of it is done."
        if wanted:
            return f"{said} {min(self.good_days, wanted)} of {wanted} good days."
        left = self._least_days() - (today - self.stage_since).days
        return f"{said} {max(left, 0)} days left of it."

    def _least_days(self) -> int:
        first = self._programme.first_days
        return first if first is not None and not self.stage else self._programme.least_days

    def _set_back(self, day: date, why: str) -> None:
        self.stage, self.stage_since, self.good_days = max(self.stage - 1, 0), day, 0
        self._back = why


def _of(*families: str) -> Callable[[Tried], bool]:
    return lambda one: one.family in families


def _pedal_sets(base: int) -> tuple[Stage, ...]:
    return tuple(
        Stage(
            f"{sets} sets of 20",
            f"{sets} sets of 20 air attacks on the highest pedal that speaks without a shift.",
            Setting("pedal-sets", {}, {"sets": float(sets)}),
            _of("pedal-sets"),
        )
        for sets in (2, 3, 4, 5)
    )


def _chain(interval: int, notes: int) -> Callable[[Tried], bool]:
    def counts(one: Tried) -> bool:
        asked = [note.asked_midi for note in one.notes]
        steps = {above - below for above, below in pairwise(asked)}
        return one.family == "chained-intervals" and len(asked) >= notes and steps == {interval}

    return counts


def _low_intervals(base: int) -> tuple[Stage, ...]:
    # First longer, then wider; wide ones stay short, or they would leave the horn.
    steps = [(1, 5), (1, 6), (1, 7), (1, 8), (2, 5), (2, 6), (2, 7), (3, 5), (3, 6), (4, 5), (5, 5)]
    return tuple(
        Stage(
            f"{notes} notes, {INTERVALS[interval]}s",
            f"{notes} notes in {INTERVALS[interval]}s down, one breath, one set.",
            Setting("chained-intervals", {"semitones": float(interval), "notes": float(notes)}, {}),
            _chain(interval, notes),
        )
        for interval, notes in steps
    )


def _up_from(base: int) -> tuple[Stage, ...]:
    def counts(at: int) -> Callable[[Tried], bool]:
        def is_it(one: Tried) -> bool:
            if one.family == "two-octave-scale":
                return (one.top or 0) >= at
            return one.family == "rising-triads" and (one.top or 0) >= at

        return is_it

    return tuple(
        Stage(
            "where it is comfortable" if not step else f"{counted(step, 'half step')} above it",
            "A scale over two octaves and rising triads, to that note.",
            Setting("two-octave-scale", {"from_midi": float(base - 24 + step)}, {}),
            counts(base + step),
            or_else=Setting("rising-triads", {"from_midi": float(base + step - 7)}, {}),
        )
        for step in range(13)
    )


def _pyramid(base: int) -> tuple[Stage, ...]:
    def counts(slots: int) -> Callable[[Tried], bool]:
        return lambda one: (
            one.family in ("pyramid", "light-hold-pyramid")
            and len({note.asked_midi for note in one.notes}) >= slots
        )

    return tuple(
        Stage(
            f"{slots} partials",
            f"From the lowest partial up {slots} and back, without resetting the embouchure.",
            Setting("pyramid", {"slots": float(slots)}, {}),
            counts(slots),
        )
        for slots in range(3, 9)
    )


def _first_buzz(base: int) -> tuple[Stage, ...]:
    first = _of("first-buzz")
    return (
        Stage(
            "with rests",
            "High for four counts, rest, low for four, rest.",
            Setting("first-buzz", {"step": "1"}, {}),
            first,
        ),
        Stage(
            "without rests",
            "High and low in turn.",
            Setting("first-buzz", {"step": "2"}, {}),
            first,
        ),
        Stage("two counts each", "Quicker turns.", Setting("first-buzz", {"step": "3"}, {}), first),
        Stage("sirens", "Up and down without a break.", Setting("siren", {}, {}), _of("siren")),
    )


_SHARES = ((0.3, 12), (0.5, 9), (0.7, 7), (0.85, 4), (1.0, 0))
"""Of the usual time, and half steps under the usual top, by weeks."""


def _graded(base: int) -> tuple[Stage, ...]:
    return tuple(
        Stage(
            f"{100 * share:.0f} %",
            f"{100 * share:.0f} % of your usual time"
            + (", and nothing high." if share < 0.7 else "."),
            share=share,
            no_high=share < 0.7,
            below=below,
        )
        for share, below in _SHARES
    )


def _braces(base: int) -> tuple[Stage, ...]:
    return (
        Stage("the middle, softly", "Short and soft in the middle.", share=0.5, no_high=True),
        Stage("slurs again", "Slurs and low work; still nothing high.", share=0.7, no_high=True),
        Stage("slowly up", "High work again, with a light hold.", share=0.85),
        Stage("as usual", "As usual, pressing as little as you can.", share=1.0),
    )


_ALL = (
    Programme(
        "pedal-sets",
        "Pedal sets",
        "Strength with your normal embouchure: full breath, air attack, held as long as it is "
        "good, louder through the second half.",
        _pedal_sets,
        earn_days=3,
        least_days=10,
        first_days=28,
        rest_days=1,
        caution="Rest three to five minutes between sets. Never a note that needs a shift.",
    ),
    Programme(
        "low-intervals",
        "Low intervals",
        "The same sound and the same set, a little wider every week.",
        _low_intervals,
        earn_days=2,
    ),
    Programme(
        "two-octaves",
        "Two octaves and triads",
        "A planted bottom, and a half step more at the top once it was good on two days.",
        _up_from,
        earn_days=2,
        rest_days=1,
        caution="Stop for today when a note will not lock.",
    ),
    Programme(
        "slur-pyramid",
        "Slur pyramid",
        "One more partial, from the bottom and back, without a reset.",
        _pyramid,
        earn_days=2,
    ),
    Programme(
        "first-buzz",
        "First buzz",
        "Five minutes a day on the mouthpiece, until high and low speak equally well.",
        _first_buzz,
        earn_days=3,
    ),
    Programme(
        "graded-return",
        "Graded return",
        "After a break or a change of teeth: 30, 50, 70, 85, then 100 % of your usual, by weeks.",
        _graded,
        earn_days=0,
        least_days=7,
        caution="The tool is no doctor or dentist: what they say comes first.",
    ),
    Programme(
        "braces",
        "Braces",
        "The lips find their way over something new; that takes weeks, and no pressing.",
        _braces,
        earn_days=0,
        least_days=14,
        caution="Pressing can hurt the lips and move teeth. Ask your dentist what is allowed.",
    ),
)
RETURN = _graded(0)
"""The weeks of a return, whatever it is from."""
PROGRAMMES: Mapping[str, Programme] = MappingProxyType({one.key: one for one in _ALL})


def exercises_of(followings: Iterable[Following]) -> frozenset[str]:
    """The keys of the exercises that some programmes ask for."""
    return frozenset(
        stage.setting.family
        for one in followings
        for stage in PROGRAMMES[one.key].stages(one.base_midi)
        if stage.setting is not None
    )


class ProgrammeUnknownError(ValueError):
    """A programme there is not; the message names those there are."""


def find_programme(key: str) -> Programme:
    """The programme of a key. Raises `ProgrammeUnknownError`."""
    if key not in PROGRAMMES:
        known = ", ".join(PROGRAMMES)
        raise ProgrammeUnknownError(f"There is no programme {key}; there are {known}.")
    return PROGRAMMES[key]


_RETURN_WEEKS = 3


def wanted_by(about: About) -> frozenset[str]:
    """The programmes that follow from what a player says of themselves: a return after some weeks
    off, braces, the first weeks."""
    wanted = {
        "graded-return": about.weeks_off >= _RETURN_WEEKS,
        "braces": about.braces,
        "first-buzz": about.experience is Experience.FIRST_WEEKS,
    }
    return frozenset(key for key, follows in wanted.items() if follows)
