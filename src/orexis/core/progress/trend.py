"""What changed over days, like for like, and how sure that is.

A day's value is made of cells: one for each thing that was measured on it (a note, an exercise),
with how often. Things differ, and which of them are played changes from day to day; so each is held
against itself: cells are taken relative to their thing's own line, and one slope is fitted through
all of them (least squares with fixed effects). Times of a day are alike, and days that follow each
other are somewhat so: errors are taken together by day, and days up to three apart as correlated.
Sources: J. M. Wooldridge, "Econometric Analysis of Cross Section and Panel Data", within estimator
and cluster-robust variance; W. K. Newey and K. D. West, Econometrica 55 (1987), for the days;
M. Abramowitz and I. A. Stegun, "Handbook of Mathematical Functions", 26.7.5, for Student's t.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

import numpy as np

from orexis.core.arrays import FloatArray
from orexis.core.progress.weeks import week_of

LEAST_WEEKS, LEAST_DAYS = 6, 12
"""So many weeks with practice, and days in them, are the least that anything is told from."""
_ALIKE = 4.0
_LINE_Z, _CHANGE_Z = 1.959964, 2.326348
"""A line is told within 95 %; that something has changed is said where 98 % agree on it."""


@dataclass(frozen=True, slots=True)
class Cell:
    """What one thing measured on a day: the mean of so many times."""

    on: date
    thing: str
    value: float
    times: int


@dataclass(frozen=True, slots=True)
class Point:
    """A day, as it would be if everything had been played on it alike; or a place on the line with
    what it lies between."""

    on: date
    value: float
    low: float
    high: float


@dataclass(frozen=True, slots=True)
class DayValue:
    """A day's value, like for like, and of how many times it is made."""

    on: date
    value: float
    times: int


@dataclass(frozen=True, slots=True)
class Trend:
    """The line through some days from its first to its last, and what has changed between them:
    `low` to `high` is where the change lies, by 95 %. `sure` where it is not nothing, by 98 %."""

    first: Point
    last: Point
    change: float
    low: float
    high: float
    sure: bool


@dataclass(frozen=True, slots=True)
class Curve:
    """Days, like for like, and what changed over them, `None` where there are too few to tell."""

    days: tuple[DayValue, ...] = ()
    trend: Trend | None = None


def curve_of(cells: Sequence[Cell]) -> Curve:
    """The days that some cells make, and what changed over them."""
    if not cells:
        return Curve()
    fitted = _Fitted(cells)
    return Curve(tuple(fitted.days()), fitted.trend())


class _Fitted:
    """One slope through all cells, each thing at its own height."""

    def __init__(self, cells: Sequence[Cell]) -> None:
        days = [one.on.toordinal() for one in cells]
        self._days, self._day = np.unique(days, return_inverse=True)
        weeks, self._week = np.unique([week_of(one.on) for one in cells], return_inverse=True)
        self._weeks = len(weeks)
        _, thing = np.unique([one.thing for one in cells], return_inverse=True)
        self._times = np.array([one.times for one in cells], dtype=np.float64)
        # Ten times of a day say little more than five.
        self._weight = self._times / (self._times + _ALIKE)
        at = self._days[self._day].astype(np.float64)
        value = np.array([one.value for one in cells], dtype=np.float64)
        weights = np.bincount(thing, self._weight)

        def within(values: FloatArray) -> FloatArray:
            means = np.bincount(thing, self._weight * values) / weights
            apart: FloatArray = values - means[thing]
            return apart

        self._at = within(at)
        moved = within(value)
        self._spread = float(np.sum(self._weight * self._at**2))
        along = float(np.sum(self._weight * self._at * moved))
        self.slope = along / self._spread if self._spread > 0 else 0.0
        self._error = moved - self.slope * self._at
        self._total = float(np.sum(self._weight))
        self._middle_at = float(np.sum(self._weight * at) / self._total)
        self._middle = float(np.sum(self._weight * value) / self._total)

    def days(self) -> list[DayValue]:
        """Each day: the line there, and how far its cells lie from their own lines."""
        weights = np.bincount(self._day, self._weight)
        off = np.bincount(self._day, self._weight * self._error) / weights
        times = np.bincount(self._day, self._times)
        return [
            DayValue(date.fromordinal(int(day)), self._level(float(day)) + float(by), int(count))
            for day, by, count in zip(self._days, off, times, strict=True)
        ]

    def _level(self, at: float) -> float:
        return self._middle + self.slope * (at - self._middle_at)

    def trend(self) -> Trend | None:
        """The line from the first day to the last; `None` where there are too few days or weeks, or
        nothing was played on two of them."""
        few = len(self._days) < LEAST_DAYS or self._weeks < LEAST_WEEKS
        if few or self._spread <= 0:
            return None
        slope_error = self._standard_error(self._weight * self._at, self._spread)
        middle_error = self._standard_error(self._weight, self._total)
        free = self._weeks - 2
        by_95, by_98 = _students(_LINE_Z, free), _students(_CHANGE_Z, free)

        def point(day: int) -> Point:
            from_middle = day - self._middle_at
            reach = by_95 * float(np.hypot(middle_error, slope_error * from_middle))
            level = self._level(float(day))
            return Point(date.fromordinal(day), level, level - reach, level + reach)

        span = int(self._days[-1] - self._days[0])
        change, error = self.slope * span, slope_error * span
        return Trend(
            point(int(self._days[0])),
            point(int(self._days[-1])),
            change,
            change - by_95 * error,
            change + by_95 * error,
            abs(change) > by_98 * error,
        )

    def _standard_error(self, pull: FloatArray, total: float) -> float:
        """The error of a weighted sum of the cells' errors over a total, those of a
        week taken together."""
        # What a week pulls the fit towards itself is missing from its own error.
        own = np.bincount(self._week, self._weight * self._at**2) / self._spread
        score = np.bincount(self._week, pull * self._error) / np.maximum(1 - own, 0.5)
        return float(np.sqrt(score @ score * self._weeks / (self._weeks - 2))) / total


def _students(z: float, free: int) -> float:
    """The quantile of Student's t for that of the normal distribution."""
    first = (z**3 + z) / 4
    second = (5 * z**5 + 16 * z**3 + 3 * z) / 96
    third = (3 * z**7 + 19 * z**5 + 17 * z**3 - 15 * z) / 384
    return z + first / free + second / free**2 + third / free**3
