"""Where everything is kept, what takes the room, and letting go of the sound of old takes."""

from datetime import UTC, datetime, timedelta
from pathlib import Path

from fastapi import APIRouter, Request
from sqlalchemy.orm import Session

from orexis.server.problems import ProblemError
from orexis.server.routes.access import Data
from orexis.server.schemas.carrying import CopyOut, LetGoIn, OldSoundOut, PartOut, StorageOut
from orexis.store.copies import copies_folder, copies_of
from orexis.store.database import Database
from orexis.store.room import let_go, old_sound, room_of

router = APIRouter(prefix="/api/storage")

_AGES = {30: "a month", 91: "three months", 182: "half a year", 365: "a year"}


@router.get("")
def storage(data: Data) -> StorageOut:
    """Where everything is kept and what takes the room."""
    return _storage(data)


@router.post("/let-go")
def let_old_sound_go(data: Data, request: Request, asked: LetGoIn) -> StorageOut:
    """Lets go of the sound of old takes for good; every measure of them stays."""
    if asked.days not in _AGES:
        ages = ", ".join(str(days) for days in _AGES)
        raise ProblemError(422, "Choose how old", f"One of these, in days: {ages}.")
    if request.app.state.live_sessions.playing:
        raise ProblemError(
            409, "Somebody is playing", "Stop on the Stand, then let go of old sound."
        )
    let_go(data, _before(asked.days))
    return _storage(data)


def _before(days: int) -> datetime:
    return datetime.now(UTC) - timedelta(days=days)


def _storage(data: Database) -> StorageOut:
    size = sum(_size(path) for path in (data.path, data.path.with_name(f"{data.path.name}-wal")))
    with data.session() as session:
        return StorageOut(
            path=str(data.path.absolute()),
            size=size,
            parts=_parts(session, size),
            copies_folder=str(copies_folder(data.path).absolute()),
            copies=[
                CopyOut(
                    name=copy.name,
                    size=_size(copy),
                    at=datetime.fromtimestamp(copy.stat().st_mtime, UTC),
                )
                for copy in copies_of(data.path)
            ],
            old=[_old(session, days, words) for days, words in _AGES.items()],
        )


def _parts(session: Session, size: int) -> list[PartOut]:
    room = room_of(session, size)
    named = (
        ("the sound of takes", room.sound),
        ("what was heard in them, frame by frame", room.measured),
        ("recordings", room.recordings),
        ("spoken notes to yourself", room.memos),
        ("guests' reports", room.guests),
        ("everything else: takes, notes, sessions, plans", room.rest),
    )
    return [PartOut(name=name, size=part) for name, part in named]


def _old(session: Session, days: int, words: str) -> OldSoundOut:
    found = old_sound(session, _before(days))
    return OldSoundOut(days=days, words=words, takes=found.takes, size=found.size)


def _size(path: Path) -> int:
    return path.stat().st_size if path.exists() else 0
