"""Where everything is kept, what takes the room, and letting go of the sound of old takes."""

from datetime import UTC, datetime

from fastapi import APIRouter, Request

from orexis.practice.storage import AgeRefusedError, let_old_sound_go, storage_of
from orexis.server.problems import ProblemError
from orexis.server.routes.access import Data
from orexis.server.schemas.carrying import LetGoIn, StorageOut

router = APIRouter(prefix="/api/storage")


@router.get("")
def storage(data: Data) -> StorageOut:
    """Where everything is kept and what takes the room."""
    return StorageOut.model_validate(storage_of(data, datetime.now(UTC)))


@router.post("/let-go")
def let_go(data: Data, request: Request, asked: LetGoIn) -> StorageOut:
    """Lets go of the sound of old takes for good; every measure of them stays."""
    if request.app.state.live_sessions.playing:
        raise ProblemError(409, "Somebody is playing", "Stop on the Stand, then delete old sound.")
    now = datetime.now(UTC)
    try:
        let_old_sound_go(data, asked.days, now)
    except AgeRefusedError as error:
        raise ProblemError(422, "Choose how old", str(error)) from error
    return StorageOut.model_validate(storage_of(data, now))
