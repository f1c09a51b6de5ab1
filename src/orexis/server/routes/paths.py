"""The path of an exercise: where the player is on it, and going to another step by hand."""

from typing import Annotated

from fastapi import APIRouter, Path

from orexis.core.exercises.book import FAMILIES
from orexis.core.exercises.family import Family
from orexis.practice.coaching import known_of
from orexis.practice.paths import StepUnknownError, move_on_path
from orexis.server.problems import ProblemError, not_found
from orexis.server.routes.access import Data, PlayerId, local_today, player_or_404
from orexis.server.schemas.paths import PathOut, StepIn

router = APIRouter(prefix="/api/players/{player_id}/paths")

FamilyKey = Annotated[str, Path(max_length=40)]


@router.get("/{family}")
def path(data: Data, player_id: PlayerId, family: FamilyKey) -> PathOut:
    """Where the player is on the path of an exercise."""
    found = _family(family)
    with data.session() as session:
        known = known_of(session, player_or_404(session, player_id), local_today())
        return PathOut.of(found, known.on_path(found))


@router.put("/{family}")
def move(data: Data, player_id: PlayerId, family: FamilyKey, asked: StepIn) -> PathOut:
    """Goes to a step of the path by hand; today is planned anew."""
    found = _family(family)
    with data.session() as session:
        player = player_or_404(session, player_id)
        known = known_of(session, player, local_today())
        try:
            return PathOut.of(found, move_on_path(session, player, found, asked.step, known))
        except StepUnknownError as error:
            raise ProblemError(422, "There is no such step", str(error)) from error


def _family(key: str) -> Family:
    if key not in FAMILIES:
        raise not_found("exercise")
    return FAMILIES[key]
