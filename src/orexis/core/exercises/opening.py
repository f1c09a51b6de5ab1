"""How an exercise begins: the notes it is recognised by in a list."""

from dataclasses import replace

from orexis.core.exercises.task import Task
from orexis.core.score.steps import Breath, Glide, Play, Rest

_MOST_NOTES, _FEWEST_NOTES = 9, 3


def opening_of(task: Task) -> Task:
    """The first notes of one repetition of a task: up to its first rest or breath after three, nine
    at most."""
    notes = 0
    for place, step in enumerate(task.score.steps):
        if isinstance(step, Rest | Breath) and notes >= _FEWEST_NOTES:
            return _cut(task, place)
        notes += isinstance(step, Play | Glide)
        if notes > _MOST_NOTES:
            return _cut(task, place)
    return task.once


def _cut(task: Task, end: int) -> Task:
    return replace(task, score=replace(task.score, steps=task.score.steps[:end], times=1))
