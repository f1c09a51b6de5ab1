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

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Generic, TypeVar

import numpy as np

from orexis.core.arrays import FloatArray, IntArray
from orexis.core.progress.weeks import week_at

LEAST_WEEKS, LEAST_DAYS = 6, 12
"""So many weeks with practice, and days in them, are the least that anything is told from."""
LEAST_MINUTES = 10.0
"""So far in minutes of playing has some day to go, for what changes with them to be told."""
_ALIKE = 4.0
_LINE_Z, _CHANGE_Z = 1.959964, 2.326348
"""A line is told within 95 %; that something has changed is said where 98 % agree on it."""


@dataclass(frozen=True, slots=True)
class Cell:
    """The mean of `times` values of one thing (a note, an exercise) on a day."""

    on: date
    thing: str
    value: float
    times: int


@dataclass(frozen=True, slots=True)
class MinuteCell:
    """The mean of `times` values of one thing on a day after so many minutes of playing."""

    on: date
    minutes: float
    thing: str
    value: float
    times: int


@dataclass(frozen=True, slots=True)
class Cells:
    """Many cells as columns of one length: the day (its ordinal), the thing (any number for each),
    the value (NaN where nothing was measured) and how many times it is the mean of."""

    day: IntArray
    thing: IntArray
    value: FloatArray
    times: FloatArray

    @classmethod
    def of(cls, cells: Sequence[Cell] | Sequence[MinuteCell]) -> "Cells":
        """The same cells by columns."""
        things: dict[str, int] = {}
        return cls(
            np.array([cell.on.toordinal() for cell in cells], dtype=np.int64),
            np.array(
                [things.setdefault(cell.thing, len(things)) for cell in cells], dtype=np.int64
            ),
            np.array([cell.value for cell in cells], dtype=np.float64),
            np.array([cell.times for cell in cells], dtype=np.float64),
        )

    @property
    def measured(self) -> "Cells":
        """Those of which anything was measured."""
        known = ~np.isnan(self.value)
        return Cells(self.day[known], self.thing[known], self.value[known], self.times[known])


X = TypeVar("X")


@dataclass(frozen=True, slots=True)
class Point(Generic[X]):
    """A place on the line with what it lies between."""

    at: X
    value: float
    low: float
    high: float


@dataclass(frozen=True, slots=True)
class Value(Generic[X]):
    """A day's value (or a minute's), as it would be if everything had been played then alike, and
    of how many times it is made."""

    at: X
    value: float
    times: int


@dataclass(frozen=True, slots=True)
class Trend(Generic[X]):
    """The line through some values from the first to the last, and what has changed between them:
    `low` to `high` is where the change lies, by 95 %. `sure` where it is not nothing, by 98 %."""

    first: Point[X]
    last: Point[X]
    change: float
    low: float
    high: float
    sure: bool


@dataclass(frozen=True, slots=True)
class Curve(Generic[X]):
    """Values, like for like, and what changed over them, `None` where there are too few to tell."""

    values: tuple[Value[X], ...] = ()
    trend: Trend[X] | None = None

    @property
    def ends(self) -> tuple[Point[X], ...]:
        """The ends of the line, where there is one."""
        return () if self.trend is None else (self.trend.first, self.trend.last)


def curve_of(cells: Sequence[Cell] | Cells) -> Curve[date]:
    """The days that some cells make, and what changed over them: nothing is told from too few days
    or weeks, or where nothing was played on two of them."""
    columns = (cells if isinstance(cells, Cells) else Cells.of(cells)).measured
    if not len(columns.day):
        return Curve()
    weeks = week_at(columns.day)
    fitted = _Fitted(columns.day.astype(np.float64), columns.thing, weeks, columns)
    enough = len(fitted.places) >= LEAST_DAYS and fitted.groups >= LEAST_WEEKS
    return fitted.curve(lambda at: date.fromordinal(round(at)), enough)


def late_curve_of(cells: Sequence[MinuteCell]) -> Curve[float]:
    """The minutes that some cells make, each thing held against itself on the same day, and what
    changes over them: nothing is told from too few days, or where they are all as short."""
    if not cells:
        return Curve()
    columns = Cells.of(cells)
    minutes = np.array([cell.minutes for cell in cells], dtype=np.float64)
    on_its_day = columns.day * (1 + int(columns.thing.max())) + columns.thing
    fitted = _Fitted(minutes, on_its_day, columns.day, columns)
    span = fitted.places[-1] - fitted.places[0]
    return fitted.curve(float, fitted.groups >= LEAST_DAYS and span >= LEAST_MINUTES)


class _Fitted:
    """One slope along `at` through all cells, each thing at its own height; the errors of a group
    are taken together."""

    def __init__(self, at: FloatArray, thing: IntArray, group: IntArray, cells: Cells) -> None:
        self.places, self._place = np.unique(at, return_inverse=True)
        found, self._group = np.unique(group, return_inverse=True)
        self.groups = len(found)
        _, of_thing = np.unique(thing, return_inverse=True)
        self._times = cells.times
        # Ten times of a day say little more than five.
        self._weight = self._times / (self._times + _ALIKE)
        weights = np.bincount(of_thing, self._weight)

        def within(values: FloatArray) -> FloatArray:
            means = np.bincount(of_thing, self._weight * values) / weights
            apart: FloatArray = values - means[of_thing]
            return apart

        self._at = within(at)
        moved = within(cells.value)
        self._spread = float(np.sum(self._weight * self._at**2))
        along = float(np.sum(self._weight * self._at * moved))
        self.slope = along / self._spread if self._spread > 0 else 0.0
        self._error = moved - self.slope * self._at
        self._total = float(np.sum(self._weight))
        self._middle_at = float(np.sum(self._weight * at) / self._total)
        self._middle = float(np.sum(self._weight * cells.value) / self._total)

    def curve(self, named: Callable[[float], X], enough: bool) -> Curve[X]:
        """Every place: the line there, and how far its cells lie from their own lines; and the line
        itself, where there is enough to tell it. `named` says what a place is called."""
        weights = np.bincount(self._place, self._weight)
        off = np.bincount(self._place, self._weight * self._error) / weights
        times = np.bincount(self._place, self._times)
        values = [
            Value(named(float(at)), self._level(float(at)) + float(by), int(count))
            for at, by, count in zip(self.places, off, times, strict=True)
        ]
        return Curve(tuple(values), self._trend(named) if enough and self._spread > 0 else None)

    def _level(self, at: float) -> float:
        return self._middle + self.slope * (at - self._middle_at)

    def _trend(self, named: Callable[[float], X]) -> Trend[X]:
        slope_error = self._standard_error(self._weight * self._at, self._spread)
        middle_error = self._standard_error(self._weight, self._total)
        free = self.groups - 2
        by_95, by_98 = _students(_LINE_Z, free), _students(_CHANGE_Z, free)

        def point(at: float) -> Point[X]:
            from_middle = at - self._middle_at
            reach = by_95 * float(np.hypot(middle_error, slope_error * from_middle))
            level = self._level(at)
            return Point(named(at), level, level - reach, level + reach)

        first, last = float(self.places[0]), float(self.places[-1])
        span = last - first
        change, error = self.slope * span, slope_error * span
        return Trend(
            point(first),
            point(last),
            change,
            change - by_95 * error,
            change + by_95 * error,
            abs(change) > by_98 * error,
        )

    def _standard_error(self, pull: FloatArray, total: float) -> float:
        """The error of a weighted sum of the cells' errors over a total, those of a group taken
        together."""
        # What a group pulls the fit towards itself is missing from its own error.
        own = np.bincount(self._group, self._weight * self._at**2) / self._spread
        score = np.bincount(self._group, pull * self._error) / np.maximum(1 - own, 0.5)
        return float(np.sqrt(score @ score * self.groups / (self.groups - 2))) / total


def _students(z: float, free: int) -> float:
    """The quantile of Student's t for that of the normal distribution."""
    first = (z**3 + z) / 4
    second = (5 * z**5 + 16 * z**3 + 3 * z) / 96
    third = (3 * z**7 + 19 * z**5 + 17 * z**3 - 15 * z) / 384
    return z + first / free + second / free**2 + third / free**3
