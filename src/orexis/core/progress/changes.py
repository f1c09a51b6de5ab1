"""Questions players ask of their weeks, and the answers: what changed, by how much, how sure."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import date
from enum import StrEnum
from itertools import pairwise

from orexis.core.progress.trend import (
    LEAST_DAYS,
    LEAST_WEEKS,
    Cell,
    Curve,
    Point,
    Trend,
    curve_of,
)
from orexis.core.progress.weeks import week_of


class Better(StrEnum):
    """Which way is better."""

    LESS = "less"
    MORE = "more"
    NEITHER = "neither"


@dataclass(frozen=True, slots=True)
class Question:
    """A question of a player's weeks: in what unit it is told, what its values are of, which way
    is better, and what is held against itself. `shows` writes a value."""

    key: str
    words: str
    measure: str
    unit: str
    better: Better
    alike: str
    shows: Callable[[float], str]


def _whole(value: float) -> str:
    return f"{value:.0f}"


def _tenths(value: float) -> str:
    return f"{value:.1f}"


CENTRE, STEADY, RESPONSE, RIGHT, SLURS, MINUTES = QUESTIONS = (
    Question(
        "centre", "Do I sit nearer the middle?", "off the middle of the slot", "cents",
        Better.LESS, "each note against itself", _tenths,
    ),
    Question(
        "steady", "Do I hold steadier?", "spread", "cents",
        Better.LESS, "each note against itself", _tenths,
    ),
    Question(
        "response", "Do notes speak sooner?", "until it speaks", "ms",
        Better.LESS, "each note against itself", _whole,
    ),
    Question(
        "right", "Do I get more of it right?", "of tries pass", "%",
        Better.MORE, "each exercise against itself", _whole,
    ),
    Question(
        "slurs", "Are my slurs cleaner?", "of slurs pass", "%",
        Better.MORE, "each exercise against itself", _whole,
    ),
    Question(
        "minutes", "Do I play more?", "on the face a day of practice", "min",
        Better.NEITHER, "days without practice left out", _whole,
    ),
)  # fmt: skip


BREAK_DAYS = 7
"""So many days without practice and more are a break, which a picture shows."""


@dataclass(frozen=True, slots=True)
class Changed:
    """A question with its answer: its days and the line through them, and both in words."""

    question: Question
    curve: Curve
    answer: str
    words: str

    @property
    def ends(self) -> tuple[Point, ...]:
        """The ends of the line, where there is one."""
        trend = self.curve.trend
        return () if trend is None else (trend.first, trend.last)

    @property
    def breaks(self) -> list[tuple[date, date]]:
        """Each break, by the days of practice it lies between."""
        return [
            (before.on, after.on)
            for before, after in pairwise(self.curve.days)
            if (after.on - before.on).days > BREAK_DAYS
        ]


def changed(question: Question, cells: Sequence[Cell]) -> Changed:
    """The answer that some cells give to a question."""
    curve = curve_of(cells)
    if curve.trend is None:
        weeks = len({week_of(one.on) for one in curve.days})
        words = (
            f"{LEAST_DAYS} days in {LEAST_WEEKS} weeks are needed; "
            f"so far there are {len(curve.days)} in {weeks}."
        )
        return Changed(question, curve, "Too little to tell yet.", words)
    return Changed(question, curve, _answer(question, curve.trend), _words(question, curve.trend))


def _answer(question: Question, trend: Trend) -> str:
    if not trend.sure:
        return "No change that can be told."
    shows = question.shows
    numbers = f"{shows(trend.last.value)} {question.unit} now, {shows(trend.first.value)} at first."
    if question.better is Better.NEITHER:
        return f"{'More' if trend.change > 0 else 'Less'}: {numbers}"
    better = (trend.change > 0) == (question.better is Better.MORE)
    return f"{'Yes' if better else 'No, the other way'}: {numbers}"


def _words(question: Question, trend: Trend) -> str:
    weeks = round((trend.last.on - trend.first.on).days / 7)
    low, high = (question.shows(abs(one)) for one in (trend.low, trend.high))
    if trend.low < 0 < trend.high:
        between = f"between {low} {question.unit} less and {high} more"
    else:
        way = "more" if trend.change > 0 else "less"
        small, large = (low, high) if trend.change > 0 else (high, low)
        between = f"between {small} and {large} {question.unit} {way}"
    return f"Over {weeks} weeks {between} (19 times of 20), {question.alike}."
