"""The exercise that an address asks for, for whom it is."""

from dataclasses import dataclass
from typing import Annotated

from fastapi import Depends, Path, Query
from pydantic import StringConstraints

from orexis.core.exercises.book import FAMILIES, current_key, task_of
from orexis.core.exercises.own import LONGEST_LINE
from orexis.core.exercises.practised import MOST_VALUES
from orexis.core.exercises.task import Task
from orexis.core.exercises.typed import values_of
from orexis.core.exercises.writer import Writer
from orexis.core.horn.notation import Notation
from orexis.core.judging.standard import Standard
from orexis.practice.exercises import writer_for
from orexis.server.problems import ProblemError, not_found
from orexis.server.routes.access import Data, PlayerId, player_or_404
from orexis.store.players import notation_of

FamilyKey = Annotated[str, Path(max_length=40)]
Setting = Annotated[str, StringConstraints(max_length=LONGEST_LINE + 40)]
Set = Annotated[
    list[Setting] | None,
    Query(alias="set", max_length=MOST_VALUES, description="What is set, as key=value."),
]
Typed = Annotated[bool, Query(description="Whether notes are named as the player types them.")]


@dataclass(frozen=True, slots=True)
class AskedExercise:
    """An exercise somebody asked for, with whom it is for and the standard they are held to."""

    task: Task
    writer: Writer
    notation: Notation
    level: Standard


def _asked(
    data: Data, player_id: PlayerId, family: FamilyKey, given: Set = None, typed: Typed = False
) -> AskedExercise:
    """The exercise of an address. Raises the problem that says why it cannot be."""
    with data.session() as session:
        player = player_or_404(session, player_id)
        writer, notation = writer_for(session, player), notation_of(player)
        level = Standard(player.standard)
    family = current_key(family)
    if family not in FAMILIES:
        raise not_found("exercise")
    try:
        values = (
            values_of(FAMILIES[family], writer, notation, given or [])
            if typed
            else {key: value for key, _, value in (one.partition("=") for one in given or [])}
        )
        task = task_of(FAMILIES[family], writer, values)
    except ValueError as error:
        raise ProblemError(422, "This cannot be practised so", str(error)) from error
    return AskedExercise(task, writer, notation, level)


ExerciseAsked = Annotated[AskedExercise, Depends(_asked)]
