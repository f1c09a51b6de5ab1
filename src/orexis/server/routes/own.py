"""Exercises of one's own: kept under a name, and melodies that come in from files."""

from typing import Annotated

from fastapi import APIRouter, Query, Request
from fastapi.concurrency import run_in_threadpool
from sqlalchemy.orm import Session

from orexis.core.exercises.book import FAMILIES
from orexis.core.exercises.family import ExerciseRefusedError
from orexis.formats.melody import MelodyPart
from orexis.practice.exercises import writer_for
from orexis.practice.own import keep_exercise, offered_parts, own_of
from orexis.server import worker
from orexis.server.problems import ProblemError, not_found
from orexis.server.routes.access import Data, KeptId, PlayerId, own_or_404, player_or_404
from orexis.server.schemas.book import MelodyPartOut, OwnIn, OwnLine
from orexis.store.models import OwnExercise
from orexis.store.own_exercises import (
    OwnExerciseRefusedError,
    delete_own,
    restore_own,
)
from orexis.store.players import notation_of

router = APIRouter(prefix="/api/players/{player_id}")

_LONGEST_FILE_NAME = 120


@router.get("/own")
def own(data: Data, player_id: PlayerId) -> list[OwnLine]:
    """A player's own exercises by name."""
    with data.session() as session:
        player = player_or_404(session, player_id)
        return [OwnLine.of(kept, refused) for kept, refused in own_of(session, player)]


@router.post("/own", status_code=201)
def add(data: Data, player_id: PlayerId, asked: OwnIn) -> OwnLine:
    """Keeps an exercise under a name."""
    with data.session() as session:
        return _keep(session, player_id, asked, None)


@router.put("/own/{own_id}")
def change(data: Data, player_id: PlayerId, own_id: KeptId, asked: OwnIn) -> OwnLine:
    """Changes an exercise that is kept, or its name."""
    with data.session() as session:
        kept = own_or_404(session, player_id, own_id)
        if asked.family != kept.family_key:
            raise ProblemError(
                422, "It could not be kept", "This is another exercise: keep it by a new name."
            )
        return _keep(session, player_id, asked, kept)


@router.delete("/own/{own_id}", status_code=204)
def delete(data: Data, player_id: PlayerId, own_id: KeptId) -> None:
    """Takes an own exercise out of the book; it can be brought back for seven days."""
    with data.session() as session:
        delete_own(own_or_404(session, player_id, own_id))


@router.post("/own/{own_id}/restore")
def restore(data: Data, player_id: PlayerId, own_id: KeptId) -> OwnLine:
    """Brings back an own exercise that was deleted."""
    with data.session() as session:
        kept = restore_own(session, player_id, own_id)
        if kept is None:
            raise not_found("exercise")
        return OwnLine.of(kept)


@router.post("/melodies")
async def melodies(
    data: Data,
    request: Request,
    player_id: PlayerId,
    name: Annotated[str, Query(min_length=1, max_length=4 * _LONGEST_FILE_NAME)],
) -> list[MelodyPartOut]:
    """Reads a MusicXML (plain or compressed) or MIDI file, the request's body: its parts as
    exercises. Nothing is kept."""
    content, name = await request.body(), name[:_LONGEST_FILE_NAME]
    try:
        parts = await worker.read("melody", content, name, gone=request.is_disconnected)
    except ValueError as error:
        raise ProblemError(422, "This melody cannot be read", str(error)) from error
    return await run_in_threadpool(_offered, data, player_id, parts)


def _offered(data: Data, player_id: int, parts: list[MelodyPart]) -> list[MelodyPartOut]:
    with data.session() as session:
        player = player_or_404(session, player_id)
        writer, notation = writer_for(session, player), notation_of(player)
    return [MelodyPartOut.of(part, notation) for part in offered_parts(parts, writer)]


def _keep(session: Session, player_id: int, asked: OwnIn, kept: OwnExercise | None) -> OwnLine:
    player = player_or_404(session, player_id)
    if asked.family not in FAMILIES:
        raise not_found("exercise")
    try:
        return OwnLine.of(
            keep_exercise(session, player, asked.name, asked.family, asked.values, kept)
        )
    except (OwnExerciseRefusedError, ExerciseRefusedError) as error:
        raise ProblemError(422, "It could not be kept", str(error)) from error
