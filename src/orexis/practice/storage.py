"""Where everything is kept: what takes the room, which copies there are, and what may be let go."""

from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from pathlib import Path

from sqlalchemy.orm import Session

from orexis.store.copies import copies_folder, copies_of
from orexis.store.database import Database
from orexis.store.room import Room, let_go, old_sound, room_of

AGES = {30: "a month", 91: "three months", 182: "half a year", 365: "a year"}
"""How old sound may be that is let go of: so many days, in words."""


@dataclass(frozen=True, slots=True)
class Part:
    """Something that takes room in the data file."""

    name: str
    size: int


@dataclass(frozen=True, slots=True)
class Copy:
    """A copy that Orexis keeps by itself."""

    name: str
    size: int
    at: datetime


@dataclass(frozen=True, slots=True)
class OldSound:
    """The sound of takes older than so many days, but for those with a bookmark."""

    days: int
    words: str
    takes: int
    size: int


@dataclass(frozen=True, slots=True)
class Storage:
    """The data file, its parts, its copies and where they lie, and what may be let go of."""

    path: str
    size: int
    parts: tuple[Part, ...]
    copies_folder: str
    copies: tuple[Copy, ...]
    old: tuple[OldSound, ...]


class AgeRefusedError(ValueError):
    """An age that cannot be let go of; the message says which can."""


def storage_of(database: Database, now: datetime) -> Storage:
    """Where everything is kept and what takes the room."""
    path = database.path
    size = sum(_size(one) for one in (path, path.with_name(f"{path.name}-wal")))
    with database.session() as session:
        return Storage(
            str(path.absolute()),
            size,
            _parts(room_of(session, size)),
            str(copies_folder(path).absolute()),
            tuple(
                Copy(copy.name, _size(copy), datetime.fromtimestamp(copy.stat().st_mtime, UTC))
                for copy in copies_of(path)
            ),
            tuple(_old(session, days, words, now) for days, words in AGES.items()),
        )


def let_old_sound_go(database: Database, days: int, now: datetime) -> None:
    """Lets go of the sound of takes older than so many days, for good; every measure of them
    stays. Raises `AgeRefusedError`."""
    if days not in AGES:
        raise AgeRefusedError(f"One of these, in days: {', '.join(map(str, AGES))}.")
    let_go(database, now - timedelta(days=days))


def _parts(room: Room) -> tuple[Part, ...]:
    return (
        Part("the sound of takes", room.sound),
        Part("what was heard in them, frame by frame", room.measured),
        Part("recordings", room.recordings),
        Part("spoken notes to yourself", room.memos),
        Part("guests' reports", room.guests),
        Part("everything else: takes, notes, sessions, plans", room.rest),
    )


def _old(session: Session, days: int, words: str, now: datetime) -> OldSound:
    takes, size = old_sound(session, now - timedelta(days=days))
    return OldSound(days, words, takes, size)


def _size(path: Path) -> int:
    return path.stat().st_size if path.exists() else 0
