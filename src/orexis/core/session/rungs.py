"""The rungs of a block: an exercise as a row of tasks, for every way that attempts can follow."""

from collections.abc import Callable, Iterator, Mapping
from dataclasses import replace
from itertools import islice

from orexis.core.exercises.book import task_of
from orexis.core.exercises.family import ExerciseRefusedError, Family
from orexis.core.exercises.practised import AttemptOrder, Value
from orexis.core.exercises.task import Task, ending_of
from orexis.core.exercises.writer import Writer
from orexis.core.parameter import Parameter
from orexis.core.score.steps import Breath, Play, Rest, Role, Score, Step
from orexis.core.session.plan import Rung

MOST_RUNGS = 12
_GROWING = ("slots", "notes", "widest", "semitones", "tempo")
_TEMPO_STEP = 6
_BOUNDED = frozenset({AttemptOrder.REPEAT, AttemptOrder.LADDER, AttemptOrder.GROW})
"""What goes on for so many steps at most; what else there is goes once through all of it."""


def rungs_of(
    follow: AttemptOrder, family: Family, writer: Writer, task: Task, most: int, *, down: bool
) -> tuple[Rung, ...]:
    """The rungs of a task, at most so many where it has no end of its own; a ladder goes up, or
    `down`."""
    if follow is AttemptOrder.LADDER:
        found = _ladder(family, writer, task, down=down)
    else:
        found = _RUNGS[follow](family, writer, task)
    return tuple(islice(found, most if follow in _BOUNDED else None))


def growing(parameters: tuple[Parameter, ...]) -> Parameter | None:
    """What grows from one attempt to the next, where an exercise has such a thing."""
    there = {parameter.key: parameter for parameter in parameters}
    return next((there[key] for key in _GROWING if key in there), None)


def _repeated(family: Family, writer: Writer, task: Task) -> Iterator[Rung]:
    yield Rung("", task.once if task.score.pitches else task)


def _ladder(family: Family, writer: Writer, task: Task, *, down: bool) -> Iterator[Rung]:
    """A half step further with each, all of its notes, up to where the horn or the family ends."""
    keys = [parameter.key for parameter in family.parameters(writer) if parameter.is_note]
    by = -1 if down else 1
    for number in range(MOST_RUNGS):
        moved: dict[str, Value] = {key: task.given.number(key) + by * number for key in keys}
        rung = _tried(family, writer, task, moved, not number)
        if rung is None:
            return
        alone = _without_low_note(rung.once)
        yield Rung(_reached(alone, writer), alone)


def _lengths(family: Family, writer: Writer, task: Task) -> Iterator[Rung]:
    """The same on every length from the one set, as far as it can be had there."""
    length = next(parameter for parameter in family.parameters(writer) if parameter.key == "length")
    names = [choice.value for choice in length.choices]
    first = names.index(task.given.word("length"))
    labels = {choice.value: choice.label for choice in length.choices}
    for name in names[first:]:
        rung = _tried(family, writer, task, {"length": name}, name == names[first])
        if rung is not None:
            yield Rung(labels[name], rung.once)


def _grown(family: Family, writer: Writer, task: Task) -> Iterator[Rung]:
    """From a small one to the one that is set, then on."""
    parameter = growing(family.parameters(writer))
    assert parameter is not None
    most, is_tempo = task.given.number(parameter.key), parameter.key == "tempo"
    by = _TEMPO_STEP if is_tempo else parameter.step or 1.0
    least = most if is_tempo or parameter.least is None or parameter.least < 0 else parameter.least
    for number in range(MOST_RUNGS):
        value = least + number * by
        rung = _tried(family, writer, task, {parameter.key: value}, not number)
        if rung is None:
            return
        name = f"{value:g} {'a minute' if is_tempo else parameter.unit or parameter.key}"
        yield Rung(name, rung.once)


def _breaths(family: Family, writer: Writer, task: Task) -> Iterator[Rung]:
    """Every breath of it by itself; what is only there to be heard stays with what follows."""
    score = task.once.score
    now: list[Step] = []
    rest_s, words = 0.0, ""
    for step in (*score.steps, Breath()):
        if not isinstance(step, Breath | Rest):
            now.append(step)
            continue
        if _sounds(now):
            part = replace(score, steps=(*now, Breath()))
            alone = replace(task, score=part, ending=ending_of(part))
            yield Rung(_reached(alone, writer), alone, rest_s, words)
            now, rest_s, words = [], 0.0, ""
        if isinstance(step, Rest):
            rest_s += score.seconds_of((step,))
            words = step.words or words


def _sets(family: Family, writer: Writer, task: Task) -> Iterator[Rung]:
    """Every start of a set; where it is one, as often as it is to be played."""
    rungs = list(_breaths(family, writer, task))
    times = task.score.times if len(rungs) == 1 else 1
    for number, rung in enumerate(rungs * times, start=1):
        yield replace(rung, name=f"start {number}")


_RUNGS: Mapping[AttemptOrder, Callable[[Family, Writer, Task], Iterator[Rung]]] = {
    AttemptOrder.REPEAT: _repeated,
    AttemptOrder.LENGTHS: _lengths,
    AttemptOrder.GROW: _grown,
    AttemptOrder.BREATHS: _breaths,
    AttemptOrder.SETS: _sets,
}


def _sounds(steps: list[Step]) -> bool:
    return any(isinstance(step, Play) and step.role is not Role.REFERENCE for step in steps)


def _tried(
    family: Family, writer: Writer, task: Task, values: dict[str, Value], first: bool
) -> Task | None:
    """The task with other values, if there is such a one; the first has to be."""
    try:
        return task_of(family, writer, {**task.given.values, **values})
    except ExerciseRefusedError:
        if first:
            raise
        return None


def _without_low_note(task: Task) -> Task:
    """An attempt without the low note after it, which a session asks for by itself."""
    notes = [step for step in task.score.steps if isinstance(step, Play)]
    if len(notes) < 2 or notes[-1].role is not Role.RE_CENTRE:
        return task
    last = max(place for place, step in enumerate(task.score.steps) if step is notes[-1])
    steps = task.score.steps[:last]
    score: Score = replace(task.score, steps=steps)
    return replace(task, score=score, ending=ending_of(score))


def _reached(task: Task, writer: Writer) -> str:
    """A task by the note it is about: the highest, or the lowest where it goes down."""
    pitches = task.score.pitches
    far = max(pitches, key=lambda midi: abs(midi - pitches[0])) if pitches else 0
    return writer.name(far) if pitches else ""
