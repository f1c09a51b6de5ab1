"""Questions players ask of their weeks, and the answers: what changed, by how much, how sure."""

from collections.abc import Callable, Collection, Sequence
from dataclasses import dataclass
from datetime import date
from enum import StrEnum
from itertools import pairwise

from orexis.core.progress.trend import (
    LEAST_DAYS,
    LEAST_MINUTES,
    LEAST_WEEKS,
    Cell,
    Cells,
    Curve,
    MinuteCell,
    Trend,
    curve_of,
    late_curve_of,
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
    is better, and what is held against itself. `shows` writes a value; where a value is a note it
    is written as the player calls it (`is_note`)."""

    key: str
    words: str
    measure: str
    unit: str
    better: Better
    alike: str
    shows: Callable[[float], str]
    is_note: bool = False

    @property
    def scale(self) -> str:
        """What stands along its values."""
        return self.measure if self.is_note else f"{self.unit}, {self.measure}"


def _whole(value: float) -> str:
    return f"{value:.0f}"


def _tenths(value: float) -> str:
    return f"{value:.1f}"


_NOTES, _EXERCISES = "each note against itself", "each exercise against itself"
_ON_A_DAY = "each note against itself on the same day"
CENTRE = Question(
    "centre", "Am I more in tune?", "off on average", "cents",
    Better.LESS, _NOTES, _tenths,
)  # fmt: skip
STEADY = Question("steady", "Do I hold steadier?", "spread", "cents", Better.LESS, _NOTES, _tenths)
RESPONSE = Question(
    "response", "Do notes speak sooner?", "until it speaks", "ms", Better.LESS, _NOTES, _whole
)
CRACKS = Question(
    "cracks", "Do fewer notes crack?", "of notes crack", "%", Better.LESS, _NOTES, _whole
)
RIGHT = Question(
    "right", "Do I get more of it right?", "of attempts good", "%", Better.MORE, _EXERCISES, _whole
)
SLURS = Question(
    "slurs", "Are my slurs cleaner?", "of slurs good", "%", Better.MORE, _EXERCISES, _whole
)
SKIPS = Question(
    "skips", "Do I skip partials more cleanly?", "of skip slurs good", "%",
    Better.MORE, "only skip slurs", _whole,
)  # fmt: skip
LENGTHS = Question(
    "lengths", "Are my slurs good on every fingering or position?",
    "of slurs through fingerings or positions good", "%",
    Better.MORE, "only slurs through fingerings or positions", _whole,
)  # fmt: skip
PYRAMID = Question(
    "pyramid", "Does the pyramid go higher?", "highest note of a good pyramid", "half steps",
    Better.MORE, "only pyramids", _whole, is_note=True,
)  # fmt: skip
TRILL = Question(
    "trill", "Is my clear trill faster?", "fastest eight notes that were clear", "notes a second",
    Better.MORE, "only slurs to a trill", _tenths,
)  # fmt: skip
HOLD = Question("hold", "Do I hold longer?", "longest hold", "s", Better.MORE, _NOTES, _tenths)
SET_HOLDS = Question(
    "set-holds", "Do the notes of a set last longer?", "median hold of a set", "s",
    Better.MORE, "each note against itself, only sets", _tenths,
)  # fmt: skip
SET_FADES = Question(
    "set-fades", "Do the notes of a set last to its end?", "second half, in % of the first", "%",
    Better.MORE, "each note against itself, only sets", _whole,
)  # fmt: skip
MINUTES = Question(
    "minutes", "Do I play more?", "of playing a day of practice", "min",
    Better.NEITHER, "days without practice left out", _whole,
)  # fmt: skip
ENDURANCE = Question(
    "endurance", "Do I last longer?", "of playing until your notes showed that you tired", "min",
    Better.MORE, "only days on which they did", _whole,
)  # fmt: skip
EAR = Question(
    "ear", "Does my ear hear what the meter does?", "of takes ear and meter agree on", "%",
    Better.MORE, "takes you said something of", _whole,
)  # fmt: skip
STEADY_LATE = Question(
    "steady-late", "Do I stay steady as I go on?", "spread", "cents",
    Better.LESS, _ON_A_DAY, _tenths,
)  # fmt: skip
RESPONSE_LATE = Question(
    "response-late", "Do notes still speak as I go on?", "until it speaks", "ms",
    Better.LESS, _ON_A_DAY, _whole,
)  # fmt: skip

BREAK_DAYS = 7
"""So many days without practice and more are a break, which a picture shows."""
Name = Callable[[int], str]


@dataclass(frozen=True, slots=True)
class AnsweredQuestion:
    """A question with its answer: its days and the line through them, and both in words."""

    question: Question
    curve: Curve[date]
    answer: str
    words: str

    @property
    def notes(self) -> range:
        """The notes its values lie among, where they are notes."""
        if not self.question.is_note or not self.curve.values:
            return range(0)
        values = [value.value for value in self.curve.values]
        return range(round(min(values)), round(max(values)) + 1)

    def breaks(self, elsewhere: Collection[date] = ()) -> list[tuple[date, date]]:
        """Each break from its first day to its last, by the days of practice it lies between, days
        that were practised `elsewhere` among them."""
        own = [value.at for value in self.curve.values]
        between = {day for day in elsewhere if own and own[0] < day < own[-1]}
        return [
            (before, after)
            for before, after in pairwise(sorted({*own, *between}))
            if (after - before).days > BREAK_DAYS
        ]


@dataclass(frozen=True, slots=True)
class MinutesTrend:
    """What becomes of something over the minutes of a day: values by minutes of playing before,
    the line through them, and both in words."""

    question: Question
    curve: Curve[float]
    answer: str
    words: str


def changed(
    question: Question, cells: Sequence[Cell] | Cells, name: Name = str
) -> AnsweredQuestion:
    """The answer that some cells give to a question; `name` is what a player calls a note."""
    curve = curve_of(cells)
    if curve.trend is None:
        weeks = len({week_of(value.at) for value in curve.values})
        words = (
            f"{LEAST_DAYS} days in {LEAST_WEEKS} weeks are needed; "
            f"so far there are {len(curve.values)} in {weeks}."
        )
        return AnsweredQuestion(question, curve, _TOO_LITTLE, words)
    answer = _answer(question, curve.trend, name)
    return AnsweredQuestion(question, curve, answer, _words(question, curve.trend))


_TOO_LITTLE = "Too little to tell yet."


def _answer(question: Question, trend: Trend[date], name: Name) -> str:
    if not trend.sure:
        return "No change that can be told."
    now, then = trend.last.value, trend.first.value
    if question.is_note:
        numbers = f"{name(round(now))} now, {name(round(then))} at first."
    else:
        numbers = f"{question.shows(now)} {question.unit} now, {question.shows(then)} at first."
    if question.better is Better.NEITHER:
        return f"{'More' if trend.change > 0 else 'Less'}: {numbers}"
    better = (trend.change > 0) == (question.better is Better.MORE)
    return f"{'Yes' if better else 'No, the other way'}: {numbers}"


def _words(question: Question, trend: Trend[date]) -> str:
    weeks = round((trend.last.at - trend.first.at).days / 7)
    between = _between(question, trend.change, trend.low, trend.high)
    return f"Over {weeks} weeks {between} (19 times of 20), {question.alike}."


def _between(question: Question, change: float, least: float, most: float) -> str:
    low, high = (question.shows(abs(one)) for one in (least, most))
    if least < 0 < most:
        return f"between {low} {question.unit} less and {high} more"
    way = "more" if change > 0 else "less"
    small, large = (low, high) if change > 0 else (high, low)
    return f"between {small} and {large} {question.unit} {way}"


def lasting(question: Question, cells: Sequence[MinuteCell]) -> MinutesTrend:
    """The answer that some cells give to what becomes of something over the minutes of a day."""
    curve = late_curve_of(cells)
    trend = curve.trend
    if trend is None:
        days = len({cell.on for cell in cells})
        words = (
            f"{LEAST_DAYS} days are needed, some with more than {LEAST_MINUTES:.0f} min of "
            f"playing; so far there are {days}."
        )
        return MinutesTrend(question, curve, _TOO_LITTLE, words)
    after, unit = f"{trend.last.at:.0f} min", question.unit
    between = _between(question, trend.change, trend.low, trend.high)
    words = f"After {after} {between} than at the start (19 times of 20), {question.alike}."
    if not trend.sure:
        return MinutesTrend(question, curve, "No difference that can be told.", words)
    numbers = (
        f"{question.shows(trend.last.value)} {unit} after {after}, "
        f"{question.shows(trend.first.value)} at the start."
    )
    better = (trend.change > 0) == (question.better is Better.MORE)
    return MinutesTrend(
        question, curve, f"{'It gets better' if better else 'No'}: {numbers}", words
    )
