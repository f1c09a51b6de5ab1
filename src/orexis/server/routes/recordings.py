"""Recordings from elsewhere: dropped in, listened to, kept; their page and sound."""

import errno
import shutil
import tempfile
from collections.abc import Iterator
from datetime import UTC, datetime
from pathlib import Path
from typing import Annotated

from fastapi import APIRouter, Query, Request, Response
from sqlalchemy.orm import Session
from starlette.concurrency import run_in_threadpool

from orexis.core.horn.pitch import FloatArray
from orexis.core.listening.analysis import analyse
from orexis.formats.analysis import analysis_document
from orexis.formats.audio import FlacWriter, UnreadableSoundError, open_sound
from orexis.server.problems import ProblemError, not_found
from orexis.server.recording_schemas import (
    RecordingDetail,
    RecordingOut,
    WantedIn,
)
from orexis.server.routes.access import Data, player_or_404
from orexis.server.routes.pins import put_pin, take_pin_away
from orexis.server.take_schemas import PinIn, PinOut, notation_for
from orexis.store.database import Database
from orexis.store.models import Recording
from orexis.store.recordings import (
    LONGEST_NAME,
    Heard,
    delete_recording,
    find_recording,
    newest_recordings,
    recorded_sound,
    restore_recording,
    save_recording,
)

router = APIRouter(prefix="/api")

_LONGEST_S = 20 * 60.0


@router.get("/players/{player_id}/recordings")
def recordings(
    data: Data, player_id: int, count: Annotated[int, Query(ge=1, le=200)] = 50
) -> list[RecordingOut]:
    """A player's recordings, newest first."""
    with data.session() as session:
        player_or_404(session, player_id)
        return [RecordingOut.of(one) for one in newest_recordings(session, player_id, count)]


@router.post("/players/{player_id}/recordings", status_code=201)
async def add(
    data: Data,
    request: Request,
    player_id: int,
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
            if error.errno != errno.ENOSPC:
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
        a4_hz = player_or_404(session, player_id).a4_hz
    heard = _listen(path, name, a4_hz)
    with data.session() as session:
        player = player_or_404(session, player_id)
        return RecordingOut.of(save_recording(session, player, heard, datetime.now(UTC)))


def _file_name(name: str) -> str:
    """The last part of a path, with nothing in it that cannot be shown."""
    last = name.replace("\\", "/").rsplit("/", 1)[-1]
    return "".join(letter for letter in last if letter.isprintable())[:LONGEST_NAME] or "recording"


def _listen(path: Path, name: str, a4_hz: float) -> Heard:
    try:
        sound = open_sound(path, name)
        if sound.duration_s > _LONGEST_S:
            raise UnreadableSoundError(
                f"{name} lasts {sound.duration_s / 60:.0f} minutes. Orexis keeps recordings of up "
                f"to {_LONGEST_S / 60:.0f} minutes: cut it, or use orexis analyse in a terminal."
            )
        flac = FlacWriter(sound.sample_rate)
        analysis = analyse(_kept(sound.blocks, flac), sound.sample_rate, a4_hz)
    except ValueError as error:
        raise ProblemError(422, "This recording cannot be used", str(error)) from error
    return Heard(name, flac.finish(), analysis_document(analysis))


def _kept(blocks: Iterator[FloatArray], flac: FlacWriter) -> Iterator[FloatArray]:
    for block in blocks:
        flac.add(block)
        yield block


@router.get("/recordings/{recording_id}")
def recording(data: Data, recording_id: str) -> RecordingDetail:
    """A recording with its ribbon and all that was heard in it."""
    with data.session() as session:
        return RecordingDetail.whole(session, _recording_or_404(session, recording_id))


@router.get("/recordings/{recording_id}/sound", response_class=Response)
def sound(data: Data, recording_id: str) -> Response:
    """A recording's sound as a FLAC file, mono and 16 bit."""
    with data.session() as session:
        kept = _recording_or_404(session, recording_id)
        return Response(recorded_sound(session, kept.id), media_type="audio/flac")


@router.put("/recordings/{recording_id}/wanted")
def want(data: Data, recording_id: str, meant: WantedIn) -> RecordingDetail:
    """Keeps what the player meant to play, and holds the recording against it."""
    with data.session() as session:
        kept = _recording_or_404(session, recording_id)
        try:
            notation_for(kept).parse_row(meant.wanted)
        except ValueError as error:
            raise ProblemError(422, "One of these is no note", str(error)) from error
        kept.wanted = " ".join(meant.wanted.split())
        return RecordingDetail.whole(session, kept)


@router.post("/recordings/{recording_id}/pins", status_code=201)
def pin(data: Data, recording_id: str, new: PinIn) -> PinOut:
    """Puts a pin on a spot of a recording."""
    with data.session() as session:
        return put_pin(session, _recording_or_404(session, recording_id), new)


@router.delete("/recordings/{recording_id}/pins/{pin_id}", status_code=204)
def unpin(data: Data, recording_id: str, pin_id: int) -> None:
    """Takes a pin away."""
    with data.session() as session:
        take_pin_away(session, _recording_or_404(session, recording_id), pin_id)


@router.delete("/recordings/{recording_id}", status_code=204)
def delete(data: Data, recording_id: str) -> None:
    """Deletes a recording; it can be brought back for seven days."""
    with data.session() as session:
        delete_recording(_recording_or_404(session, recording_id))


@router.post("/recordings/{recording_id}/restore")
def restore(data: Data, recording_id: str) -> RecordingOut:
    """Undoes a deletion."""
    with data.session() as session:
        kept = restore_recording(session, recording_id)
        if kept is None:
            raise not_found("recording")
        return RecordingOut.of(kept)


def _recording_or_404(session: Session, recording_id: str) -> Recording:
    found = find_recording(session, recording_id)
    if found is None:
        raise not_found("recording")
    return found
