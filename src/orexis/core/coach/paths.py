"""Where a player is on an exercise's path: read off what was played, day by day, never stored.

A step is earned by two good days and lost by two bad days running. A good day has at least three
attempts at the step, or beyond it, of which two thirds are good; on a bad day fewer are. Where an
exercise is played from a small one up to as far as it goes, one good attempt at the step is a good
day; where it is played in sets, a day has as many as it has room for.
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date
from itertools import groupby

from orexis.core.coach.about import Experience
from orexis.core.coach.history import DayAttempts
from orexis.core.exercises.family import Family
from orexis.core.exercises.paths import PathStep
from orexis.core.exercises.practised import AttemptOrder, Value, Values

_GOOD_DAYS, _BAD_DAYS, _STUCK_DAYS = 2, 2, 3
_GOOD_SHARE = 2 / 3
_LEAST_ATTEMPTS = 3
_BEGINS_AT_FIRST = frozenset({Experience.FIRST_WEEKS, Experience.FIRST_YEAR})

_EARNS = (
    "Two good days earn the next step: two thirds of at least three attempts good. "
    "Two bad days running go one step back."
)
_EARNS_GROWING = (
    "Two days on which this step is good once earn the next one. "
    "Two days running without go one step back."
)


@dataclass(frozen=True, slots=True)
class StepByHand:
    """A step of a path (its place, from 0) that a player went to by hand on a day."""

    day: date
    step: int


@dataclass(frozen=True, slots=True)
class OnPath:
    """Where a player is on a path: all its steps, the place of theirs (from 0), and how many good
    days they have had at it; `is_stuck` tells that the first one was not good on some days."""

    steps: tuple[PathStep, ...]
    at: int
    good_days: int
    is_stuck: bool = False

    @property
    def now(self) -> PathStep:
        """The step they are at."""
        return self.steps[self.at]

    @property
    def is_last(self) -> bool:
        """Whether there is nothing beyond it."""
        return self.at == len(self.steps) - 1

    @property
    def is_finished(self) -> bool:
        """Whether its last step has been earned."""
        return self.is_last and self.good_days >= _GOOD_DAYS

    def earns(self, family: Family) -> str:
        """What earns the next step of an exercise, in words, "" where there is none."""
        if self.is_last:
            return ""
        return _EARNS_BY.get(family.practised.follow, _EARNS)

    def words(self) -> str:
        """Where they are: "Step 3 of 12: hold 8 s. 1 of 2 good days."."""
        said = f"Step {self.at + 1} of {len(self.steps)}: {self.now.words}."
        if self.is_finished:
            return f"{said} You have come to the end of this path."
        return f"{said} {min(self.good_days, _GOOD_DAYS)} of {_GOOD_DAYS} good days."


def place_on(
    steps: Sequence[PathStep],
    family: Family,
    usual: Values,
    experience: Experience,
    worked: Iterable[DayAttempts],
    moved: StepByHand | None = None,
) -> OnPath:
    """Where a player is after what they have worked on, oldest first.

    They begin at the first step with a beginner's experience, else at the one that is as the
    exercise usually is (`usual`), or where they moved to by hand.
    """
    walk = _Walk(tuple(steps), family, _begins(steps, usual, experience))
    if moved is not None:
        walk.at = min(moved.step, len(steps) - 1)
    for day, rows in groupby(worked, key=lambda day: day.day):
        if moved is None or day > moved.day:
            walk.practised(list(rows))
    return OnPath(walk.steps, walk.at, len(walk.good), not walk.at and walk.bad_days >= _STUCK_DAYS)


def _begins(steps: Sequence[PathStep], usual: Values, experience: Experience) -> int:
    if experience in _BEGINS_AT_FIRST:
        return 0
    places = (place for place, step in enumerate(steps) if step.was_played(usual))
    return next(places, 0)


_EARNS_SETS = (
    "Two good days earn the next step: two thirds of the sets good. "
    "Two bad days running go one step back."
)
_EARNS_BY = {AttemptOrder.GROW: _EARNS_GROWING, AttemptOrder.SETS: _EARNS_SETS}
"""What earns a step where a day has fewer than three attempts."""


def _grows_by_itself(family: Family) -> bool:
    return family.practised.follow is AttemptOrder.GROW


class _Walk:
    """Days of practice, one after the other, along a path."""

    def __init__(self, steps: tuple[PathStep, ...], family: Family, at: int) -> None:
        self.steps, self.at = steps, at
        self.good: list[int] = []
        """The steps that good days since it was reached were played at, theirs or beyond."""
        self._bad = self.bad_days = 0
        self._once = _grows_by_itself(family)
        self._least = 1 if family.practised.follow in _EARNS_BY else _LEAST_ATTEMPTS
        self._keys = tuple({key: None for step in steps for key in step.values})
        self._found: dict[tuple[Value | None, ...], int | None] = {}

    def practised(self, rows: Sequence[DayAttempts]) -> None:
        """A day on which the exercise was played."""
        attempts, good, easiest = 0, 0, len(self.steps) - 1
        for row in rows:
            step = self._step_of(row.values)
            if step is None or step < self.at:
                continue
            attempts, good = attempts + row.attempts, good + row.good
            if row.good:
                easiest = min(easiest, step)
        if attempts < self._least:
            return
        is_good = good > 0 if self._once else good >= _GOOD_SHARE * attempts
        self._bad = 0 if is_good else self._bad + 1
        self.bad_days += not is_good
        if is_good:
            self.good.append(easiest)
        if len(self.good) >= _GOOD_DAYS and self.at < len(self.steps) - 1:
            self._go(min(max(min(self.good), self.at) + 1, len(self.steps) - 1))
        elif self._bad >= _BAD_DAYS and self.at:
            self._go(self.at - 1)

    def _go(self, step: int) -> None:
        self.bad_days = 0
        self.at, self.good, self._bad = step, [], 0

    def _step_of(self, values: Values) -> int | None:
        """The hardest step that some values are at. Years hold the same few again and again."""
        asked = tuple(map(values.get, self._keys))
        if asked not in self._found:
            places = range(len(self.steps) - 1, -1, -1)
            at = (place for place in places if self.steps[place].was_played(values))
            self._found[asked] = next(at, None)
        return self._found[asked]
