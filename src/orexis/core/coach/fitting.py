"""An exercise brought to the minutes it has, and what it costs there."""

from collections.abc import Iterator
from dataclasses import dataclass, replace
from functools import lru_cache
from math import ceil
from statistics import fmean

from orexis.core.coach.load import Weights
from orexis.core.exercises.book import find_family
from orexis.core.exercises.family import ExerciseRefusedError
from orexis.core.exercises.practised import AttemptOrder, Value, Values
from orexis.core.exercises.writer import Writer
from orexis.core.parameter import Parameter
from orexis.core.score.steps import Glide, Play, PlayedOn, Role, Score, beats_of
from orexis.core.session.building import Setting, block_of
from orexis.core.session.plan import Block

_SET_REST_S = 10.0
_MOST_SETS, _MOST_NEEDED, _MOST_BREATHS = 5, 40, 12
_FEWEST_STARTS, _MOST_STARTS = 4, 20
_FEWEST_FAILS, _A_MOMENT = 4, 0.15
_SETS_REST_S = 180.0
_LONGEST_REST_S = 120.0
FILLED = frozenset({"times", "starts"})
"""The values that are set by how many minutes there are."""
_MOST_CHANGES, _FEWEST_RUNGS = 40, 1.0


@dataclass(frozen=True, slots=True)
class FittedExercise:
    """An exercise as it is set for its minutes, the block it makes, the lowest and highest note it
    can come to (`None` where nothing sounds), and its load; and whether it was brought down under a
    limit or up over one."""

    setting: Setting
    block: Block
    lowest_midi: int | None
    highest_midi: int | None
    load: float
    is_lowered: bool = False
    is_raised: bool = False


def fitted(
    setting: Setting, writer: Writer, minutes: float, weights: Weights, rests: float = 0.0
) -> FittedExercise:
    """An exercise for so many minutes, rests counted; `rests` is how long is rested after an
    attempt, as a share of what it lasts, where nothing else says so. Raises
    `ExerciseRefusedError`."""
    halves = round(2 * minutes) / 2
    made = _made(setting.family, _row(setting.values), _row(setting.way), writer, halves, rests)
    return FittedExercise(
        replace(setting, values=dict(made.values), way=dict(made.way)),
        made.block,
        made.lowest_midi,
        made.highest_midi,
        _load(made, weights, minutes),
    )


def fitted_within(
    lowest_midi: int,
    highest_midi: int,
    setting: Setting,
    writer: Writer,
    minutes: float,
    weights: Weights,
    rests: float = 0.0,
) -> FittedExercise | None:
    """The same, changed until it asks for no note outside two limits: fewer steps of a ladder, less
    of whatever carries it farther, other notes; `None` where it cannot be. Raises
    `ExerciseRefusedError`."""
    fit = fitted(setting, writer, minutes, weights, rests)
    for _ in range(_MOST_CHANGES):
        over, under = _outside(fit, lowest_midi, highest_midi)
        if not over + under:
            return fit
        for easier in _easier(setting, fit.block, writer, over, under):
            try:
                closer = fitted(easier, writer, minutes, weights, rests)
            except ExerciseRefusedError:
                continue
            if sum(_outside(closer, lowest_midi, highest_midi)) < over + under:
                setting = easier
                fit = replace(
                    closer,
                    is_lowered=fit.is_lowered or over > 0,
                    is_raised=fit.is_raised or under > 0,
                )
                break
        else:
            return None
    return None


def _outside(fit: FittedExercise, lowest_midi: int, highest_midi: int) -> tuple[int, int]:
    """How many half steps an exercise goes over one limit and under another."""
    if fit.lowest_midi is None or fit.highest_midi is None:
        return 0, 0
    return max(fit.highest_midi - highest_midi, 0), max(lowest_midi - fit.lowest_midi, 0)


def _easier(
    setting: Setting, block: Block, writer: Writer, over: int, under: int
) -> Iterator[Setting]:
    """An exercise made easier in one thing at a time, what changes it least first."""
    family = find_family(setting.family)
    if family.practised.from_silence:
        # The note that is picked is the point of it.
        return
    values, way = dict(setting.values), dict(setting.way)
    in_rungs = block.follow in (AttemptOrder.LADDER, AttemptOrder.GROW)
    rungs = float(way.get("rungs", len(block.rungs) if in_rungs else 0))
    if rungs > _FEWEST_RUNGS:
        # A rung of a ladder is a half step; one of what grows is more.
        by = max(over, under) if block.follow is AttemptOrder.LADDER else 1
        fewer = max(rungs - by, _FEWEST_RUNGS)
        yield replace(setting, way={**way, "rungs": fewer})
    parameters = family.parameters(writer)
    notes = [parameter for parameter in parameters if parameter.is_note]

    def moved(by: int) -> dict[str, Value]:
        return {
            parameter.key: _within(parameter, _value(parameter, values) + by) for parameter in notes
        }

    for by in (*range(-over, 0), *range(under, 0, -1)):
        yield replace(setting, values={**values, **moved(by)})
    for parameter in parameters:
        if parameter.key in ("length", family.practised.narrowed_by):
            for other in parameter.choices:
                yield replace(setting, values={**values, parameter.key: other.value})
                if under:
                    yield replace(
                        setting, values={**values, **moved(under), parameter.key: other.value}
                    )
    for parameter in parameters:
        # A step less of whatever can be less; what the notes do not hang on changes nothing.
        if parameter.step and not parameter.is_note and parameter.least is not None:
            less = _value(parameter, values) - parameter.step
            if less >= parameter.least:
                yield replace(setting, values={**values, parameter.key: less})


def _within(parameter: Parameter, value: float) -> float:
    """A value brought into what a parameter can be."""
    least, most = parameter.least, parameter.most
    value = value if least is None else max(value, least)
    return value if most is None else min(value, most)


def _value(parameter: Parameter, values: Values) -> float:
    """What a parameter is set to, or what is usual."""
    usual = parameter.least if parameter.usual is None else parameter.usual
    return float(values.get(parameter.key, usual or 0.0))


_Row = tuple[tuple[str, Value], ...]


def _row(values: Values) -> _Row:
    return tuple(sorted(values.items()))


@dataclass(frozen=True, slots=True)
class _Made:
    """A block, its way and its values, the lowest and highest note of it, and how long one attempt
    at each of its rungs sounds: seconds by note and place of playing, and in all."""

    block: Block
    way: _Row
    values: _Row
    lowest_midi: int | None
    highest_midi: int | None
    on_face: tuple[tuple[int, bool, float], ...]
    all_s: float


@lru_cache(maxsize=4096)
def _made(
    family: str, set_of_it: _Row, set_of_way: _Row, writer: Writer, minutes: float, rests: float
) -> _Made:
    """An exercise as a block for some minutes."""
    values, way = dict(set_of_it), dict(set_of_way)
    block = block_of(family, writer, values, way)
    rest_s = _fives(rests * fmean(rung.task.score.seconds for rung in block.rungs))
    if rest_s and "rest_s" not in way and not block.works and not block.breathing:
        way["rest_s"] = rest_s
        block = block_of(family, writer, values, way)
    seconds = 60 * minutes
    if block.breathing:
        once_s = block.rungs[0].task.score.seconds
        values["times"] = float(min(max(round(seconds / once_s), 1), _MOST_BREATHS))
    elif block.follow is AttemptOrder.REPEAT:
        times = _times((seconds - block.rests.block_s) / block.attempt_s(block.rungs[0]))
        needed = min(times, _MOST_NEEDED)
        # It is there for its time; of hard work it is enough when half of it was missed.
        fails = max(needed // 2, _FEWEST_FAILS) if block.works else _MOST_NEEDED
        way |= {"needed": float(needed), "fails": float(fails)}
    elif find_family(family).practised.from_silence:
        way |= {"sets": 1.0}
    elif block.follow in (AttemptOrder.BREATHS, AttemptOrder.LENGTHS, AttemptOrder.GROW):
        once_s = sum(block.attempt_s(rung) for rung in block.rungs) + _SET_REST_S
        times = _times((seconds - block.rests.block_s) / once_s)
        needed = _times(times / _MOST_SETS)
        sets = min(_times(times / needed), _MOST_SETS)
        way |= {"needed": float(needed), "sets": float(sets), "set_rest_s": _SET_REST_S}
    elif block.follow is AttemptOrder.LADDER:
        # A good one leads a step further; where time is left, it is climbed again.
        once_s = sum(block.attempt_s(rung) for rung in block.rungs) + _SET_REST_S
        sets = min(_times((seconds - block.rests.block_s) / once_s), _MOST_SETS)
        way |= {"sets": float(sets), "set_rest_s": _SET_REST_S}
    elif block.follow is AttemptOrder.SETS:
        # Half of it is rest, after each set as long as the set at least.
        attempt_s = block.attempt_s(block.rungs[0])
        starts = min(max(int(seconds / 2 / block.sets / attempt_s), _FEWEST_STARTS), _MOST_STARTS)
        set_s = starts * attempt_s
        values["starts"] = float(starts)
        way |= {"set_rest_s": _tens(max(set_s, _SETS_REST_S)), "block_rest_s": _tens(set_s)}
    if not block.breathing:
        rest_min = float(way.get("block_rest_s", block.rests.block_s)) / 60
        way["minutes"] = max(round(2 * (minutes - rest_min)) / 2, 0.5)
    block = block_of(family, writer, values, way)
    pitches = [midi for rung in block.rungs for midi in rung.task.score.pitches]
    return _Made(
        block,
        tuple(way.items()),
        tuple(values.items()),
        min(pitches, default=None),
        max(pitches, default=None),
        _on_face(block),
        sum(block.attempt_s(rung) for rung in block.rungs),
    )


def _times(share: float) -> int:
    """How often something is begun in a time that holds it so many times: the time ends the last
    one, which is not begun for a moment's sake."""
    return max(ceil(share - _A_MOMENT), 1)


def _fives(seconds: float) -> float:
    return min(float(round(seconds / 5) * 5), _LONGEST_REST_S)


def _tens(seconds: float) -> float:
    return float(round(seconds / 10) * 10)


def _load(made: _Made, weights: Weights, minutes: float) -> float:
    """About how much load a block is when it is played for so many minutes, rests counted: the
    share of an attempt that sounds does not change with how often it is made."""
    block = made.block
    if block.breathing or not made.all_s:
        return 0.0
    heavy = sum(
        seconds * weights.of_register(midi, on_horn) for midi, on_horn, seconds in made.on_face
    )
    pauses_s = (block.sets - 1) * block.rests.set_s + block.rests.block_s
    playing_min = max(minutes - pauses_s / 60, 0.0)
    return heavy / made.all_s * playing_min


def _on_face(block: Block) -> tuple[tuple[int, bool, float], ...]:
    """How long each note sounds when every rung is played once, with the low note between:
    the note, whether on the horn, seconds."""
    found: dict[tuple[int, bool], float] = {}
    probes = [] if block.probe is None else [block.probe] * len(block.rungs)
    for task in (*(rung.task for rung in block.rungs), *probes):
        for midi, on_horn, seconds in _sounding(task.score):
            found[midi, on_horn] = found.get((midi, on_horn), 0.0) + seconds
    return tuple((midi, on_horn, seconds) for (midi, on_horn), seconds in found.items())


def _sounding(score: Score) -> Iterator[tuple[int, bool, float]]:
    """Every note of a score: at its heaviest where it glides, whether on the horn, seconds."""
    beat_s = 60 / score.bpm
    midi, on_horn = 0, True
    for step in score.steps:
        if isinstance(step, Play):
            if step.role is Role.REFERENCE:
                continue
            midi, on_horn = step.midi, step.on is PlayedOn.HORN
        elif isinstance(step, Glide):
            midi = max(midi, step.to_midi)
        else:
            continue
        yield midi, on_horn, float(beats_of(step)) * beat_s
        if isinstance(step, Glide):
            midi = step.to_midi
