"""Recordings from elsewhere: dropped in, listened to, kept; their page."""

import shutil
import tempfile
from datetime import UTC, datetime
from pathlib import Path
from typing import Annotated

from fastapi import APIRouter, Query, Request
from starlette.concurrency import run_in_threadpool

from orexis.practice.recordings import listen_to_file, newest_recordings, recording_page, want
from orexis.server.problems import ProblemError, is_disk_full
from orexis.server.routes.access import Data, KeptId, PlayerId, kept_or_404, player_or_404
from orexis.server.schemas.base import Time
from orexis.server.schemas.recordings import RecordingDetail, RecordingOut, WantedNotesIn
from orexis.store.database import Database
from orexis.store.horns import horn_of
from orexis.store.models import Recording
from orexis.store.recordings import LONGEST_NAME, save_recording

router = APIRouter(prefix="/api")


@router.get("/players/{player_id}/recordings")
def recordings(
    data: Data,
    player_id: PlayerId,
    before: Time | None = None,
    count: Annotated[int, Query(ge=1, le=200)] = 50,
) -> list[RecordingOut]:
    """A player's recordings, newest first; `before` goes further back."""
    with data.session() as session:
        player_or_404(session, player_id)
        found = newest_recordings(session, player_id, count, before)
        return [RecordingOut.of(recording) for recording in found]


@router.post("/players/{player_id}/recordings", status_code=201)
async def add(
    data: Data,
    request: Request,
    player_id: PlayerId,
    name: Annotated[str, Query(min_length=1, max_length=4 * LONGEST_NAME)],
) -> RecordingOut:
    """Listens to a WAV, FLAC or Ogg file, the request's body, and keeps it."""
    name = _file_name(name)
    with tempfile.TemporaryDirectory(dir=data.path.parent, prefix=_incoming(data.path)) as folder:
        path = Path(folder) / "recording"
        try:
            with path.open("wb") as file:
                async for part in request.stream():
                    await run_in_threadpool(file.write, part)
        except OSError as error:
            if not is_disk_full(error):
                raise
            refused = ProblemError(507, "The disk is full", "Free some space, then try again.")
            raise refused from error
        # The loop goes on serving those who play.
        return await run_in_threadpool(_keep, data, player_id, path, name)


def _incoming(data: Path) -> str:
    return f"{data.name}-incoming-"


def clear_incoming(data: Path) -> None:
    """Removes what a server that was killed left of recordings that were coming in."""
    for folder in data.parent.glob(f"{_incoming(data)}*"):
        shutil.rmtree(folder, ignore_errors=True)


def _keep(data: Database, player_id: int, path: Path, name: str) -> RecordingOut:
    with data.session() as session:
        horn = horn_of(session, player_or_404(session, player_id))
    try:
        sound = listen_to_file(path, name, horn)
    except ValueError as error:
        raise ProblemError(422, "This recording cannot be used", str(error)) from error
    with data.session() as session:
        player = player_or_404(session, player_id)
        return RecordingOut.of(save_recording(session, player, sound, datetime.now(UTC)))


def _file_name(name: str) -> str:
    """The last part of a path, with nothing in it that cannot be shown."""
    last = name.replace("\\", "/").rsplit("/", 1)[-1]
    return "".join(letter for letter in last if letter.isprintable())[:LONGEST_NAME] or "recording"


@router.get("/recordings/{recording_id}")
def recording(data: Data, recording_id: KeptId) -> RecordingDetail:
    """A recording with its ribbon and all that was heard in it."""
    with data.session() as session:
        kept = kept_or_404(session, Recording, recording_id)
        return RecordingDetail.page(recording_page(session, kept))


@router.put("/recordings/{recording_id}/wanted")
def set_wanted_notes(data: Data, recording_id: KeptId, meant: WantedNotesIn) -> RecordingDetail:
    """Keeps what the player meant to play, and holds the recording against it."""
    with data.session() as session:
        kept = kept_or_404(session, Recording, recording_id)
        try:
            want(kept, meant.wanted)
        except ValueError as error:
            raise ProblemError(422, "One of these is no note", str(error)) from error
        return RecordingDetail.page(recording_page(session, kept))
