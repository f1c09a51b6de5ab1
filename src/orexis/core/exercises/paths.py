"""Paths: what gets harder in an exercise, one thing at a time, written out for a horn."""

from dataclasses import dataclass
from functools import lru_cache

from orexis.core.exercises.book import find_family, task_of
from orexis.core.exercises.family import ExerciseRefusedError
from orexis.core.exercises.practised import Value, Values
from orexis.core.exercises.words import value_words
from orexis.core.exercises.writer import Writer

Fixed = tuple[tuple[str, Value], ...]
"""Values that are set whatever the step of the path, such as what a player's approach says."""


@dataclass(frozen=True, slots=True)
class PathStep:
    """A step of a path: the values that are set there, and what of them differs from the step
    before, in words."""

    values: Values
    words: str

    def was_played(self, given: Values) -> bool:
        """Whether an exercise with these values is at this step."""
        return all(given.get(key) == value for key, value in self.values.items())


@lru_cache(maxsize=1024)
def path_of(family_key: str, writer: Writer, fixed: Fixed = ()) -> tuple[PathStep, ...]:
    """The steps of an exercise's path on a horn, the easiest first; what the horn does not have is
    left out. Empty where the exercise has no path. Raises `ExerciseRefusedError` for a family there
    is not."""
    family = find_family(family_key)
    if family.practised.path is None:
        return ()
    parameters = {parameter.key: parameter for parameter in family.parameters(writer)}
    changes = iter(family.practised.path(writer))
    given = dict(fixed)
    now = {**next(changes), **given}
    found: list[PathStep] = []
    for change in changes:
        values = {**now, **change, **given}
        changed = [key for key in parameters if key in values and now.get(key) != values[key]]
        if found and not changed:
            continue
        try:
            task_of(family, writer, values)
        except ExerciseRefusedError:
            continue
        now = values
        words = ", ".join(value_words(parameters[key], values[key], writer.name) for key in changed)
        found.append(PathStep(values, words))
    return tuple(found)
