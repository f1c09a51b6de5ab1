"""Exercises of a player's own: kept under names, and melodies that come in from files."""

from collections.abc import Iterable
from dataclasses import dataclass

from sqlalchemy.orm import Session

from orexis.core.exercises.book import find_family, refusal_of, task_of
from orexis.core.exercises.melodies import OnHorn, onto_the_horn
from orexis.core.exercises.practised import Values
from orexis.core.exercises.writer import Writer
from orexis.formats.melody import MelodyPart
from orexis.practice.exercises import writer_for
from orexis.store.models import OwnExercise, Player
from orexis.store.own_exercises import keep_own, own_exercises


@dataclass(frozen=True, slots=True)
class OfferedPart:
    """A part of a melody from elsewhere, and what it is as an exercise."""

    part: MelodyPart
    on_horn: OnHorn


def offered_parts(parts: Iterable[MelodyPart], writer: Writer) -> list[OfferedPart]:
    """The parts of a melody from elsewhere as exercises."""
    return [
        OfferedPart(part, onto_the_horn(writer, part.steps, part.tempo_bpm, part.beats_in_bar))
        for part in parts
    ]


def own_of(session: Session, player: Player) -> list[tuple[OwnExercise, str]]:
    """A player's own exercises by name, each with why it cannot be on their horn, or ""."""
    writer = writer_for(session, player)
    return [
        (kept, refusal_of(find_family(kept.family_key), writer, kept.parameters))
        for kept in own_exercises(session, player.id)
    ]


def keep_exercise(
    session: Session,
    player: Player,
    name: str,
    family_key: str,
    values: Values,
    kept: OwnExercise | None = None,
) -> OwnExercise:
    """Keeps an exercise under a name, or changes one that is kept. Raises `ExerciseRefusedError`
    and `OwnExerciseRefusedError`; nothing changes then."""
    task = task_of(find_family(family_key), writer_for(session, player), values)
    return keep_own(session, player.id, name, task, kept)
