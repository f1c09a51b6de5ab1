"""Breath: before any note."""

from fractions import Fraction

from orexis.core.exercises.family import Family, FamilyWords, Group, ParameterValues
from orexis.core.exercises.practised import PracticeRules, Values
from orexis.core.exercises.writer import Writer
from orexis.core.parameter import Choice, Parameter
from orexis.core.score.steps import Breath, BreathKind, Rest, Score, Step

_DIZZY = "Full breaths can make you dizzy: sit down, and pause as soon as they do."

_WAYS = (
    Choice("two-stage", "in two stages"),
    Choice("silent", "round and silent"),
    Choice("low-to-high", "out from low to high"),
    Choice("paced", "paced in counts"),
)
_IN = {
    "two-stage": "fill up low, then top up",
    "silent": "in through a round, open mouth, without a sound",
    "low-to-high": "in, low and wide",
    "paced": "in, evenly over the counts",
}
_OUT = {
    "two-stage": "out, unforced",
    "silent": "out, as round as it came in",
    "low-to-high": "out from low to high, as if up through the horn",
    "paced": "out, evenly over the counts",
}


def _parameters(writer: Writer) -> tuple[Parameter, ...]:
    return (
        Parameter("way", "breath", choices=_WAYS),
        Parameter("counts_in", "beats in", "", 1, 12, 1, usual=4.0),
        Parameter("counts_out", "beats out", "", 1, 24, 1, usual=8.0),
        writer.times(4),
        writer.tempo(60),
    )


def _write(writer: Writer, given: ParameterValues) -> Score:
    way = given.word("way")
    kind = BreathKind.TWO_STAGE if way == "two-stage" else BreathKind.MOUTH
    steps: tuple[Step, ...] = (
        Rest(Fraction(given.whole("counts_in")), _IN[way]),
        Breath(kind),
        Rest(Fraction(given.whole("counts_out")), _OUT[way]),
    )
    return Score(steps, tempo_bpm=given.number("tempo"), times=given.whole("times"))


def _way_of_the_day(writer: Writer, day: int) -> Values:
    return {"way": _WAYS[day % len(_WAYS)].value}


FAMILIES = (
    Family(
        "breath",
        "Full breath",
        Group.BREATH,
        _parameters,
        _write,
        (),
        FamilyWords(
            why="Everything you play today goes on this breath.",
            listen="If you can hear the breath in, the throat is tight.",
            wrong="The shoulders rise, and the breath is shallow or hisses.",
            remedy="Breathe in lower and slower through a round mouth, and top up at the end.",
            caution=_DIZZY,
        ),
        leads_to=("first-buzz", "long-tone"),
        practised=PracticeRules(turn=1, planned=_way_of_the_day),
    ),
)
