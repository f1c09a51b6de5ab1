"""Families of exercises: what can be set, what is written from it, and what it is for.

A family and its parameters are an exercise; on a horn it gives a task. All that is particular to
a kind of exercise lives in its family.
"""

import math
from collections.abc import Callable
from dataclasses import dataclass, field
from enum import StrEnum
from fractions import Fraction

from orexis.core.exercises.practised import PracticeRules, Value, Values
from orexis.core.exercises.writer import Writer
from orexis.core.parameter import Parameter
from orexis.core.score.steps import PlayedOn, Score


class ExerciseRefusedError(ValueError):
    """An exercise that cannot be: the message gives the reason and the nearest sensible one."""


class Group(StrEnum):
    """What exercises train and which part of the day they are, in the order of a day."""

    BREATH = "breath"
    COLD = "from cold"
    BUZZ = "buzz"
    LONG = "long tones"
    SLURS = "slurs"
    INTERVALS = "intervals"
    LOW = "low"
    PEDALS = "pedals"
    HIGH = "high"
    MUSIC = "music"
    WARM_DOWN = "warm-down"


WORKS = frozenset({Group.PEDALS, Group.HIGH})
"""What is hard on the lips: one rests from it for as long as one plays, and it waits when something
hurts."""


class Aim(StrEnum):
    """What counts in an attempt. The value is its name in what is kept; how it is measured and
    said stands in `core.judging`."""

    CENTRE = "centre"
    STEADY = "steady"
    START = "start"
    END = "end"
    HELD = "held"
    SPEAKS = "speaks"
    TONE = "tone"
    LEVEL = "level"
    GAP = "gap"
    TOUCHED = "touched"
    FLIPPED = "flipped"
    WANING = "waning"
    SPOKE = "spoke"
    EXTRA = "extra"
    SMEARED = "smeared"
    TEMPO = "tempo"
    FLOW = "flow"
    ONE_BREATH = "one_breath"
    SAME_SOUND = "same_sound"
    SAME_TONE = "same_tone"
    EVEN = "even"
    CLEAR = "clear"
    BREAKS = "breaks"
    SPAN = "span"
    GLIDED = "glided"
    NO_CATCH = "no_catch"
    ENDS_ALIKE = "ends_alike"
    BENT = "bent"
    CAME_BACK = "came_back"
    SHAPE = "shape"


@dataclass(frozen=True, slots=True)
class FamilyWords:
    """Why an exercise is there, what to listen for, what usually goes wrong, what to do then,
    and what to be careful of ("" for nothing)."""

    why: str
    listen: str
    wrong: str
    remedy: str
    caution: str = ""


@dataclass(frozen=True, slots=True, eq=False)
class Family:
    """One kind of exercise, which is equal to itself alone.

    `parameters` are what can be set on a horn, with what is usual there; `write` makes the score
    of a whole set of values and raises `ExerciseRefusedError` for one that cannot be.
    `practised` is all that sessions, the coach and progress need to know of it.
    `leads_to` and `falls_back_to` are keys of other families. `lips_alone` says that its notes
    need no slot. `version` goes up when the same values come to mean other music.
    """

    key: str
    title: str
    group: Group
    parameters: Callable[[Writer], tuple[Parameter, ...]]
    write: Callable[[Writer, "ParameterValues"], Score]
    aims: tuple[Aim, ...]
    words: FamilyWords
    leads_to: tuple[str, ...] = ()
    falls_back_to: tuple[str, ...] = ()
    lips_alone: bool = False
    version: int = 1
    practised: PracticeRules = field(default_factory=PracticeRules)


@dataclass(frozen=True, slots=True)
class ParameterValues:
    """A whole set of values, checked against their parameters."""

    values: Values

    def number(self, key: str) -> float:
        """A number."""
        return float(self.values[key])

    def whole(self, key: str) -> int:
        """A whole number."""
        return round(float(self.values[key]))

    def beats(self, key: str) -> Fraction:
        """A length in beats."""
        return Fraction(self.number(key)).limit_denominator(12)

    @property
    def played_on(self) -> PlayedOn:
        """What a buzz is played on; the mouthpiece alone where there is nothing to choose."""
        return PlayedOn(str(self.values.get("on", PlayedOn.MOUTHPIECE)))

    def word(self, key: str) -> str:
        """A choice or a text."""
        return str(self.values[key])


def complete(family: Family, writer: Writer, values: Values) -> ParameterValues:
    """Values with what is usual for those that are not given.

    Raises `ExerciseRefusedError` for one the family does not know or that is out of bounds.
    """
    parameters = {parameter.key: parameter for parameter in family.parameters(writer)}
    for key in values:
        if key not in parameters:
            known = ", ".join(parameters) or "nothing"
            raise ExerciseRefusedError(f"{family.title} has no {key} to set; it has {known}.")
    return ParameterValues(
        {
            key: checked(writer, parameter, values[key]) if key in values else _usual(parameter)
            for key, parameter in parameters.items()
        }
    )


def usual_values(family: Family, writer: Writer) -> Values:
    """The values an exercise has where nothing is set."""
    return {parameter.key: _usual(parameter) for parameter in family.parameters(writer)}


def _usual(parameter: Parameter) -> Value:
    return parameter.choices[0].value if parameter.usual is None else parameter.usual


def checked(writer: Writer, parameter: Parameter, value: Value) -> Value:
    """A value brought into the form of its parameter. Raises `ExerciseRefusedError`."""
    if parameter.choices:
        if value not in {choice.value for choice in parameter.choices}:
            listed = ", ".join(choice.value for choice in parameter.choices)
            raise ExerciseRefusedError(f"{parameter.label}: choose {listed}, not {value}.")
        return value
    if parameter.longest is not None:
        text = str(value).strip()
        if not text or len(text) > parameter.longest:
            raise ExerciseRefusedError(
                f"{parameter.label}: 1 to {parameter.longest} characters, please."
            )
        return text
    least, most = parameter.least, parameter.most
    try:
        number = float(value)
    except (ValueError, OverflowError):
        number = None
    if number is None or (not math.isfinite(number) and (least is None or most is None)):
        raise ExerciseRefusedError(f"{parameter.label}: “{value}” is not a number.")
    inside = (least is None or number >= least) and (most is None or number <= most)
    if not inside:
        if parameter.is_note:
            low, high = writer.name(round(least or 0)), writer.name(round(most or 0))
            raise ExerciseRefusedError(
                f"{parameter.label}: from {low} to {high} here, not {writer.name(round(number))}."
            )
        raise ExerciseRefusedError(
            f"{parameter.label}: {least:g} to {most:g} {parameter.unit}".rstrip()
            + f", not {number:g}."
        )
    return number
