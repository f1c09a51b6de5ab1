"""The book as one player finds it today: what each exercise asks for, where they are on its path,
when they last played it, and whether today's notes have room for it."""

from collections.abc import Iterator
from dataclasses import dataclass
from itertools import groupby
from math import ceil

from orexis.core.coach.about import Lips
from orexis.core.coach.known import Known
from orexis.core.coach.limits import limits_for
from orexis.core.exercises.book import FAMILIES, task_of
from orexis.core.exercises.family import ExerciseRefusedError, Family, Group
from orexis.core.exercises.practised import Values
from orexis.core.exercises.task import Task
from orexis.core.horn.registers import Register, register_of
from orexis.core.score.steps import On

_LOOKED_BACK = "not in the last six weeks"


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


def book_of(known: Known, lips: Lips = Lips.NORMAL) -> list[tuple[Group, list[BookLine]]]:
    """Every family by what it trains, in the order of a day; in each group what today has room for
    comes first, and what this horn has not comes last."""
    lines = [_line(family, known, lips) for family in FAMILIES.values()]
    return [
        (group, sorted(found, key=lambda one: (one.refused != "", one.not_today != "")))
        for group, found in groupby(lines, key=lambda one: one.family.group)
    ]


def _line(family: Family, known: Known, lips: Lips) -> BookLine:
    on_path = known.on_path(family)
    values = {} if on_path is None else on_path.now.values
    try:
        task = task_of(family, known.writer, values)
    except ExerciseRefusedError:
        values = {}
        try:
            task = task_of(family, known.writer, values)
        except ExerciseRefusedError as error:
            return BookLine(family, values, refused=str(error))
    place = "" if on_path is None else f"step {on_path.at + 1} of {len(on_path.steps)}"
    highest = max(_on_horn(task), default=None)
    return BookLine(
        family,
        values,
        place,
        _played_words(known.history.days_since(family.key, known.today)),
        _needs(task, known),
        None if highest is None else register_of(
            highest, known.instrument, known.weights.secure_midi
        ),
        ceil(task.score.seconds * task.score.times / 30) / 2,
        _not_today(task, family, known, lips),
    )  # fmt: skip


def _played_words(days: int | None) -> str:
    if days is None:
        return _LOOKED_BACK
    return ("today", "yesterday")[days] if days <= 1 else f"{days} days ago"


def _on_horn(task: Task) -> Iterator[int]:
    on_horn = any(note.on is On.HORN for note in task.score.notes)
    return iter(task.score.pitches if on_horn else ())


def _needs(task: Task, known: Known) -> str:
    """What it is played on, and how high it goes."""
    if not task.score.pitches:
        return "without the horn"
    highest = known.writer.name(max(task.score.pitches))
    if any(note.on is On.HORN for note in task.score.notes):
        return f"up to {highest}"
    return f"on the mouthpiece, up to {highest}"


def _not_today(task: Task, family: Family, known: Known, lips: Lips) -> str:
    """Why an exercise is not for today, where it asks for a note past today's limits."""
    pitches = list(_on_horn(task))
    if not pitches:
        return ""
    limits, name = limits_for(known, lips), known.writer.name
    highest, lowest = limits.highest_of(family.practised), limits.lowest_of(family)
    if max(pitches) > highest:
        return f"It goes up to {name(max(pitches))}; today ends at {name(highest)}."
    if min(pitches) < lowest:
        return f"It goes down to {name(min(pitches))}; today ends at {name(lowest)}."
    return ""
