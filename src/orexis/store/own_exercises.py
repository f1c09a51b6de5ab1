"""Exercises that players keep under names of their own."""

import uuid
from datetime import UTC, datetime

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from orexis.core.exercises.own import MOST_OWN
from orexis.core.exercises.task import Task
from orexis.store.models import OwnExercise

LONGEST_NAME = 60


class OwnExerciseRefusedError(ValueError):
    """An own exercise that cannot be kept; the message says what to change."""


def own_exercises(session: Session, player_id: int) -> list[OwnExercise]:
    """A player's own exercises by name."""
    query = select(OwnExercise).where(
        OwnExercise.player_id == player_id, OwnExercise.deleted_at.is_(None)
    )
    return list(session.scalars(query.order_by(func.lower(OwnExercise.name), OwnExercise.id)))


def find_own(session: Session, player_id: int, own_id: str) -> OwnExercise | None:
    """One of a player's own exercises that has not been deleted."""
    found = session.get(OwnExercise, own_id)
    if found is None or found.player_id != player_id or found.deleted_at is not None:
        return None
    return found


def keep_own(
    session: Session, player_id: int, name: str, task: Task, kept: OwnExercise | None = None
) -> OwnExercise:
    """Keeps an exercise under a name, or changes one that is kept. Raises
    `OwnExerciseRefusedError`; nothing changes then."""
    name = " ".join(name.split())
    if not 1 <= len(name) <= LONGEST_NAME:
        raise OwnExerciseRefusedError(f"Give it a name of 1 to {LONGEST_NAME} letters.")
    others = own_exercises(session, player_id)
    if any(
        exercise.name.casefold() == name.casefold() for exercise in others if exercise is not kept
    ):
        raise OwnExerciseRefusedError(f"There is one called {name} already. Choose another name.")
    if kept is None:
        if len(others) >= MOST_OWN:
            raise OwnExerciseRefusedError(f"There are {MOST_OWN} already; delete one first.")
        kept = OwnExercise(
            id=uuid.uuid4().hex,
            player_id=player_id,
            name=name,
            family_key=task.family_key,
            version=task.version,
            parameters={},
            changed_at=datetime.now(UTC),
        )
        session.add(kept)
    kept.name, kept.changed_at = name, datetime.now(UTC)
    kept.parameters = dict(task.given.values)
    session.flush()
    return kept


def delete_own(kept: OwnExercise) -> None:
    """Takes it out of the book; `restore_own` brings it back for seven days."""
    kept.deleted_at = datetime.now(UTC)


def restore_own(session: Session, player_id: int, own_id: str) -> OwnExercise | None:
    """Undoes a deletion; `None` when it is gone for good."""
    found = session.get(OwnExercise, own_id)
    if found is None or found.player_id != player_id:
        return None
    found.deleted_at = None
    return found
