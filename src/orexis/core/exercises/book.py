"""The book: every family there is, and the task that an exercise is on a horn."""

from collections.abc import Callable, Mapping
from difflib import get_close_matches
from functools import lru_cache
from types import MappingProxyType

from orexis.core.exercises import (
    breath,
    buzz,
    high,
    interval_ladder,
    intervals,
    ladders,
    long_tones,
    low,
    music,
    octave_down,
    own,
    pedals,
    scales,
    slurs,
    trills,
)
from orexis.core.exercises.family import ExerciseRefusedError, Family, Group, complete
from orexis.core.exercises.practised import Buzzes, ProgressMeasure, Value, Values
from orexis.core.exercises.task import Task, ending_of
from orexis.core.exercises.words import setting_words
from orexis.core.exercises.writer import Writer
from orexis.core.score.steps import PlayedOn, Score, in_one_breath

_LONGEST_BREATH_S = 30.0
_ROOMS = (
    *(breath, buzz, long_tones, slurs, trills, octave_down, intervals, scales),
    interval_ladder,
    *(low, pedals, ladders, high, music, own),
)

_IN_ORDER = sorted(
    (family for room in _ROOMS for family in room.FAMILIES),
    key=lambda family: tuple(Group).index(family.group),
)
FAMILIES: Mapping[str, Family] = MappingProxyType({family.key: family for family in _IN_ORDER})
"""All families by key, in the order of a day."""

ONE_NOTE, ONE_NOTE_KEY = "long-tone", "from_midi"
"""The family that a single note is practised by, and its value that is the note."""

FROM_SILENCE = frozenset(key for key, family in FAMILIES.items() if family.practised.from_silence)
"""The keys of what asks for notes from silence."""
TO_RECOVER = frozenset(key for key, family in FAMILIES.items() if family.practised.recovers)
"""The keys of what is played loose and short, to recover."""


_FORMER_KEYS: Mapping[str, str] = MappingProxyType(
    {
        "slot-slur": "lip-slur",
        "slot-pattern": "partial-pattern",
        "through-the-lengths": "through-the-fingerings",
    }
)
"""Keys that families had once; files and commands of that time name them."""


def current_key(key: str) -> str:
    """The key a family has now, by that or by one it had before; any other key stays as it is."""
    return _FORMER_KEYS.get(key, key)


def find_family(key: str) -> Family:
    """The family of a key, also of one it had before. Raises `ExerciseRefusedError` that names the
    nearest keys."""
    key = current_key(key)
    if key in FAMILIES:
        return FAMILIES[key]
    near = get_close_matches(key, FAMILIES, n=3)
    hint = f"Did you mean {' or '.join(near)}?" if near else "See `orexis exercise list`."
    raise ExerciseRefusedError(f"There is no exercise {key}. {hint}")


def task_of(family: Family, writer: Writer, values: Values) -> Task:
    """The exercise of some values (what is usual for those not given) on a horn.

    Raises `ExerciseRefusedError` with the reason and the nearest that can be.
    """
    return _task_of(family, writer, tuple(values.items()))


@lru_cache(maxsize=4096)
def _task_of(family: Family, writer: Writer, values: tuple[tuple[str, Value], ...]) -> Task:
    """A coach looks at the same exercise many times before a day is planned."""
    given = complete(family, writer, dict(values))
    score = family.write(writer, given)
    if not family.lips_alone:
        _there(writer, score)
    _breathable(score)
    return Task(
        family.key,
        family.version,
        given,
        family.title,
        setting_words(family.parameters(writer), given),
        score,
        family.aims,
        ending_of(score),
    )


def planned_in(group: Group) -> tuple[Family, ...]:
    """What a coach may choose of a group, in turn."""
    return _in_turn(lambda family: family.practised.turn, group)


def for_first_weeks(group: Group) -> tuple[Family, ...]:
    """What a coach chooses of a group for a beginner, in turn."""
    return _in_turn(lambda family: family.practised.in_first_weeks, group)


def easing_families() -> tuple[Family, ...]:
    """What is played at the end of a day, what comes first first."""
    return _in_turn(lambda family: family.practised.warm_down)


def _in_turn(turn: Callable[[Family], int], group: Group | None = None) -> tuple[Family, ...]:
    found = [
        family
        for family in FAMILIES.values()
        if turn(family) and (group is None or family.group is group)
    ]
    return tuple(sorted(found, key=turn))


def on_the_mouthpiece(stands_for: Buzzes) -> Family:
    """What stands in for notes, a slur or an interval on the mouthpiece."""
    return next(family for family in FAMILIES.values() if family.practised.buzzes is stands_for)


def families_that_tell(of: ProgressMeasure) -> frozenset[str]:
    """The keys of exercises that tell something of a player's weeks."""
    return frozenset(key for key, family in FAMILIES.items() if family.practised.tells is of)


def refusal_of(family: Family, writer: Writer, values: Values | None = None) -> str:
    """Why some values (those not given as usual) cannot be on a horn; "" where they can."""
    try:
        task_of(family, writer, values or {})
    except ExerciseRefusedError as error:
        return str(error)
    return ""


def check_heard(task: Task) -> None:
    """Raises `ExerciseRefusedError` for a task that makes no sound to listen to."""
    if not task.score.pitches:
        raise ExerciseRefusedError(
            f"{task.title} is done by breathing alone: there is nothing to listen to. "
            "Read it in the book, or choose another."
        )


def _there(writer: Writer, score: Score) -> None:
    """Refuses notes that the horn has not."""
    for note in score.notes:
        if note.on is PlayedOn.HORN and not writer.has(note.midi):
            nearest = min(writer.notes, key=lambda midi: abs(midi - note.midi))
            raise ExerciseRefusedError(
                f"The horn has no {writer.name(note.midi)}; the nearest it has is "
                f"{writer.name(nearest)}. Move the exercise, or take less of it."
            )


def _breathable(score: Score) -> None:
    """Refuses more notes than a breath holds; one alone is held for as long as one likes."""
    breaths = [part for part in in_one_breath(score.steps) if len(part) > 1]
    longest_s = max(map(score.seconds_of, breaths), default=0.0)
    if longest_s > _LONGEST_BREATH_S:
        raise ExerciseRefusedError(
            f"That takes {longest_s:.0f} s on one breath, and a breath lasts "
            f"{_LONGEST_BREATH_S:g}. Take fewer notes, shorter ones, or a quicker tempo."
        )
