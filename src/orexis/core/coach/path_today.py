"""Which step of an exercise's path is played today, within the day's notes."""

from functools import lru_cache
from itertools import pairwise

from orexis.core.coach.about import Lips
from orexis.core.coach.known import PlayerFacts
from orexis.core.coach.limits import limits_for
from orexis.core.coach.paths import OnPath
from orexis.core.coach.returning import return_stage
from orexis.core.exercises.book import find_family, task_of
from orexis.core.exercises.family import ExerciseRefusedError, Family
from orexis.core.exercises.practised import Value, Values
from orexis.core.exercises.writer import Writer


def step_today(
    on_path: OnPath, family: Family, values: Values, known: PlayerFacts, lips: Lips
) -> Values:
    """The values of the step a player is at, or of the hardest one before it that asks for no note
    outside what the day allows. Coming back by weeks, one comes back along paths too."""
    returning = return_stage(known)
    share = 1.0 if returning is None else returning[1].share
    for step in reversed(on_path.steps[: int(on_path.at * share) + 1]):
        if is_within(family, {**values, **step.values}, known, lips):
            return step.values
    return {}


def varied(
    on_path: OnPath, family: Family, values: dict[str, Value], known: PlayerFacts, lips: Lips
) -> dict[str, Value]:
    """The same exercise from another note, on another length or in another form of its path, in
    turn each day it is played, so that it does not stay as it is when the path is finished or
    today's notes keep the player from going on."""
    parameters = family.parameters(known.writer)
    forms = {parameter.key for parameter in parameters if parameter.is_note or parameter.choices}
    found = [values]
    for before, step in pairwise(on_path.steps):
        for key in forms:
            if key not in step.values or step.values[key] == before.values.get(key):
                continue
            other = {**values, key: step.values[key]}
            if other not in found and is_within(family, other, known, lips):
                found.append(other)
    days = len({day.day for day in known.history.worked_at.get(family.key, ())})
    return found[days % len(found)]


def is_within(family: Family, values: Values, known: PlayerFacts, lips: Lips) -> bool:
    """Whether an exercise asks for no note outside what the day allows."""
    limits = limits_for(known, lips)
    lowest, highest = limits.lowest_of(family), limits.highest_of(family.practised)
    reach = _reach(family.key, known.writer, tuple(sorted(values.items())))
    return reach is not None and lowest <= reach[0] and reach[1] <= highest


@lru_cache(maxsize=8192)
def _reach(
    family_key: str, writer: Writer, values: tuple[tuple[str, Value], ...]
) -> tuple[int, int] | None:
    """The lowest and highest note of an exercise, `None` where the horn has it not."""
    try:
        task = task_of(find_family(family_key), writer, dict(values))
    except ExerciseRefusedError:
        return None
    pitches = task.score.pitches
    return min(pitches, default=127), max(pitches, default=0)
