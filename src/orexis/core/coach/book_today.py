"""The book as one player finds it today: what each exercise asks for, where they are on its path,
when they last played it, and whether today's notes have room for it."""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import groupby
from math import ceil

from orexis.core.coach.about import Lips
from orexis.core.coach.known import PlayerFacts
from orexis.core.coach.limits import limits_for
from orexis.core.counting import days_ago_words
from orexis.core.exercises.book import FAMILIES, task_of
from orexis.core.exercises.family import ExerciseRefusedError, Family, Group
from orexis.core.exercises.practised import Values
from orexis.core.exercises.task import Task
from orexis.core.horn.registers import Register, register_of
from orexis.core.score.steps import PlayedOn

_NOT_LATELY = "not played in the last six weeks"


@dataclass(frozen=True, slots=True)
class BookLine:
    """An exercise in the list, as it is set where the player is on its path: the step in words (""
    where it has no path), when it was last played, what it needs, the register of its highest note
    (`None` where nothing sounds), how many minutes it takes once, and why it is not for today ("":
    it is). `refused` says why it cannot be on this horn at all."""

    family: Family
    values: Values
    place: str = ""
    played: str = ""
    needs: str = ""
    register: Register | None = None
    minutes: float = 0.0
    not_today: str = ""
    refused: str = ""


def book_of(known: PlayerFacts, lips: Lips = Lips.NORMAL) -> list[tuple[Group, list[BookLine]]]:
    """Every family by what it trains, in the order of a day; in each group what today has room for
    comes first, and what this horn has not comes last."""
    lines = [_line(family, known, lips) for family in FAMILIES.values()]
    return [
        (group, sorted(found, key=lambda line: (line.refused != "", line.not_today != "")))
        for group, found in groupby(lines, key=lambda line: line.family.group)
    ]


def _line(family: Family, known: PlayerFacts, lips: Lips) -> BookLine:
    on_path = known.on_path(family)
    steps: list[Values] = [{}] if on_path is None else [on_path.now.values, {}]
    refused = ""
    for values in steps:
        try:
            task = task_of(family, known.writer, values)
        except ExerciseRefusedError as error:
            refused = str(error)
            continue
        return _line_of(task, family, values, known, lips)
    return BookLine(family, {}, refused=refused)


def _line_of(
    task: Task, family: Family, values: Values, known: PlayerFacts, lips: Lips
) -> BookLine:
    on_path = known.on_path(family)
    pitches = _on_horn(task)
    return BookLine(
        family,
        values,
        place="" if on_path is None else f"step {on_path.at + 1} of {len(on_path.steps)}",
        played=_played(family, known),
        needs=_needs(task, known),
        register=register_of(max(pitches), known.instrument, known.weights.secure_midi)
        if pitches
        else None,
        minutes=ceil(task.score.seconds * task.score.times / 30) / 2,
        not_today=_not_today(pitches, family, known, lips),
    )


def _played(family: Family, known: PlayerFacts) -> str:
    """When an exercise was last played; what is breathed leaves no take to tell of."""
    if family.group is Group.BREATH:
        return ""
    since = known.history.days_since(family.key, known.today)
    return _NOT_LATELY if since is None else f"played {days_ago_words(since)}"


def _on_horn(task: Task) -> tuple[int, ...]:
    """The notes of a task that is played on the horn, none of one on the mouthpiece alone."""
    on_horn = any(note.on is PlayedOn.HORN for note in task.score.notes)
    return task.score.pitches if on_horn else ()


def _needs(task: Task, known: PlayerFacts) -> str:
    """What it is played on, and how high it goes."""
    if not task.score.pitches:
        return "without the horn"
    highest = f"up to {known.writer.name(max(task.score.pitches))}"
    return highest if _on_horn(task) else f"on the mouthpiece, {highest}"


def _not_today(pitches: Sequence[int], family: Family, known: PlayerFacts, lips: Lips) -> str:
    """Why an exercise is not for today, where it asks for a note past today's limits."""
    if not pitches:
        return ""
    limits, name = limits_for(known, lips), known.writer.name
    highest, lowest = limits.highest_of(family.practised), limits.lowest_of(family)
    if max(pitches) > highest:
        return f"It goes up to {name(max(pitches))}; today ends at {name(highest)}."
    if min(pitches) < lowest:
        return f"It goes down to {name(min(pitches))}; today ends at {name(lowest)}."
    return ""
