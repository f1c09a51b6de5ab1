"""How an exercise is practised, as plain data of its family: what sessions, the coach and progress
need to know of a kind of exercise, so that none of them knows one by its key."""

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, field
from enum import StrEnum

from orexis.core.exercises.writer import Writer

Value = float | str
Values = Mapping[str, Value]
MOST_VALUES = 20
"""No exercise has more to set."""


class AttemptOrder(StrEnum):
    """How one attempt leads to the next."""

    REPEAT = "repeat"
    LADDER = "ladder"
    LENGTHS = "lengths"
    GROW = "grow"
    BREATHS = "breaths"
    SETS = "sets"


class ProgressMeasure(StrEnum):
    """What a player's weeks of an exercise tell of them, beside its notes."""

    PYRAMID_TOP = "pyramid top"
    TRILL_SPEED = "trill speed"
    SKIPS = "skips"
    LENGTHS = "lengths"
    HOLDS = "holds"


class Buzzes(StrEnum):
    """What an exercise on the mouthpiece stands in for when the horn has to be quiet."""

    NOTE = "note"
    SLUR = "slur"
    INTERVAL = "interval"


@dataclass(frozen=True, slots=True)
class Answer:
    """What an answer to a question that players differ on changes in an exercise: values that are
    set, that it is left out, or that it comes first; and what of that is said as a fact."""

    values: Values = field(default_factory=dict)
    left_out: bool = False
    first: bool = False
    said: str = ""


@dataclass(frozen=True, slots=True)
class PracticeRules:
    """How an exercise is practised.

    `follow` is how its attempts usually follow each other. The coach plans it in its `turn` among
    those of its group (0: never by itself), with a beginner in the turn `in_first_weeks`, and at
    the end of a day in the turn `warm_down`. `climbs` tells that it goes a note higher with each
    attempt, so that it begins under what is secure and ends a little above; `descends`
    that it goes a half step lower with its path, as low work does; `alone` are the values
    that make it one step of that, `in_steps` that it comes round sooner for being small, and
    `whole_line` that it starts from its own bottom each time. `from_silence` tells that it picks
    notes from silence, `recovers` that it is played to recover and not to build.

    What the coach sets of it: `planned` for a writer and a day's number, `in_first_weeks_set` for
    a beginner besides, `coming_down` at the end of a day; `answers` are by question and answer.
    `path` is what gets harder with it, written for a horn: first the values that all of it shares,
    then what changes with each step. `reason` says why it is there where that is more than its
    group's, `coming_down_reason` at the end of a day. `narrowed_by` is the choice of which another
    has fewer notes, for a day that has no room for all of them.
    """

    follow: AttemptOrder = AttemptOrder.REPEAT
    turn: int = 0
    in_first_weeks: int = 0
    warm_down: int = 0
    climbs: bool = False
    descends: bool = False
    in_steps: bool = False
    whole_line: bool = False
    alone: Values = field(default_factory=dict)
    from_silence: bool = False
    recovers: bool = False
    planned: Callable[[Writer, int], Values] | None = None
    path: Callable[[Writer], Iterable[Values]] | None = None
    in_first_weeks_set: Values = field(default_factory=dict)
    coming_down: Values = field(default_factory=dict)
    answers: Mapping[tuple[str, str], Answer] = field(default_factory=dict)
    reason: str = ""
    coming_down_reason: str = ""
    narrowed_by: str = ""
    tells: ProgressMeasure | None = None
    buzzes: Buzzes | None = None
