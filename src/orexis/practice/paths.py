"""Where a player is on the path of an exercise, and going to another step of it by hand."""

from sqlalchemy.orm import Session

from orexis.core.coach.known import PlayerFacts
from orexis.core.coach.paths import OnPath, StepByHand
from orexis.core.exercises.family import Family
from orexis.store.coaching import forget_plan, keep_move
from orexis.store.models import Player


class StepUnknownError(ValueError):
    """A step that a path does not have; the message says how many it has."""


def move_on_path(
    session: Session, player: Player, family: Family, step: int, known: PlayerFacts
) -> OnPath:
    """Goes to a step of a path (from 0), from today on, and plans today anew; where the player is
    then. Raises `StepUnknownError`."""
    on_path = known.on_path(family)
    if on_path is None:
        raise StepUnknownError(f"{family.title} has no path on this horn.")
    if not 0 <= step < len(on_path.steps):
        raise StepUnknownError(f"This path has {len(on_path.steps)} steps.")
    keep_move(session, player, family.key, StepByHand(known.today, step))
    forget_plan(session, player.id, known.today)
    return OnPath(on_path.steps, step, 0)
