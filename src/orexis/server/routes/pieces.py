"""Pieces of a player's own as they were played: over all the times, and in single recordings."""

from collections.abc import Iterator
from contextlib import contextmanager

from fastapi import APIRouter

from orexis.core.exercises.family import ExerciseRefusedError
from orexis.practice.pieces import NothingToFollowError, own_piece_in, piece_in, piece_over
from orexis.server.problems import ProblemError
from orexis.server.routes.access import (
    Data,
    KeptId,
    PlayerId,
    own_or_404,
    player_or_404,
    recording_or_404,
)
from orexis.server.routes.asked_exercise import ExerciseAsked
from orexis.server.schemas.pieces import PieceOut, PieceOverOut
from orexis.store.pieces import put_in, take_out

router = APIRouter(prefix="/api/players/{player_id}")


@router.get("/book/{family}/pieces/{kept_id}")
def piece(data: Data, player_id: PlayerId, asked: ExerciseAsked, kept_id: KeptId) -> PieceOut:
    """A kept recording of the player's as an exercise played freely, bar by bar."""
    with data.session() as session, _followed():
        player = player_or_404(session, player_id)
        recording = recording_or_404(session, player_id, kept_id)
        found = piece_in(session, player, asked.task, recording)
    return PieceOut.of(found, asked.task.title)


@router.get("/own/{own_id}/times")
def times(data: Data, player_id: PlayerId, own_id: KeptId) -> PieceOverOut:
    """A piece over all the times it was played, bar by bar."""
    with data.session() as session, _followed():
        player, own = player_or_404(session, player_id), own_or_404(session, player_id, own_id)
        return PieceOverOut.over(piece_over(session, player, own), own.name)


@router.put("/own/{own_id}/times/{kept_id}")
def put_time(data: Data, player_id: PlayerId, own_id: KeptId, kept_id: KeptId) -> PieceOut:
    """Says that a piece was played in a recording of the player's; the recording bar by bar."""
    with data.session() as session, _followed():
        player, own = player_or_404(session, player_id), own_or_404(session, player_id, own_id)
        recording = recording_or_404(session, player_id, kept_id)
        put_in(session, own, recording)
        return PieceOut.of(own_piece_in(session, player, own, recording), own.name)


@router.delete("/own/{own_id}/times/{kept_id}", status_code=204)
def remove_time(data: Data, player_id: PlayerId, own_id: KeptId, kept_id: KeptId) -> None:
    """Says that a piece was not played in a recording of the player's."""
    with data.session() as session:
        own = own_or_404(session, player_id, own_id)
        take_out(session, own, recording_or_404(session, player_id, kept_id))


@contextmanager
def _followed() -> Iterator[None]:
    """Says why where there is nothing that can be followed."""
    try:
        yield
    except (ExerciseRefusedError, NothingToFollowError) as error:
        raise ProblemError(422, "There is nothing to follow", str(error)) from error
