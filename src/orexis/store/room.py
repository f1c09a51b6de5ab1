"""What takes the room in a data file, and letting go of some: the sound of old takes."""

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import ColumnElement, delete, func, select, update
from sqlalchemy.orm import InstrumentedAttribute, Session

from orexis.store.database import Database
from orexis.store.models import (
    Bookmark,
    GuestSound,
    RecordingContent,
    SessionMemo,
    Take,
    TakeEvents,
    TakeFrames,
    TakeSound,
)
from orexis.store.remembered import forget


@dataclass(frozen=True, slots=True)
class Room:
    """How many bytes a data file takes for what."""

    whole: int
    sound: int
    measured: int
    recordings: int
    memos: int
    guests: int

    @property
    def rest(self) -> int:
        """All that is none of those: rows, and what is free in it."""
        said = self.sound + self.measured + self.recordings + self.memos + self.guests
        return max(self.whole - said, 0)


def room_of(session: Session, whole: int) -> Room:
    """How the space in a file of `whole` bytes is used, in bytes by what it holds."""

    def size(*columns: InstrumentedAttribute[bytes]) -> int:
        return sum(
            session.scalar(select(func.sum(func.length(instrumented_attribute)))) or 0
            for instrumented_attribute in columns
        )

    return Room(
        whole,
        size(TakeSound.flac),
        size(TakeFrames.packed, TakeEvents.packed),
        size(RecordingContent.flac, RecordingContent.packed),
        size(SessionMemo.flac),
        size(GuestSound.flac),
    )


def old_sound(session: Session, before: datetime) -> tuple[int, int]:
    """The sound that may be let go of: of how many takes, and how many bytes. It is that of takes
    from before a time, but for those with a bookmark."""
    takes, size = session.execute(
        select(func.count(), func.sum(func.length(TakeSound.flac)))
        # Far fewer takes have their sound than there are.
        .select_from(TakeSound)
        .join(Take, Take.id == TakeSound.take_id)
        .where(*_old(before))
    ).one()
    return takes, size or 0


def let_go(database: Database, before: datetime) -> None:
    """Lets go of old sound for good; every measure stays. Then the file is written anew, as small
    as it can be; without room for that it keeps its size, and uses what is free again."""
    with database.session() as session:
        takes = select(Take.id).where(*_old(before))
        session.execute(delete(TakeSound).where(TakeSound.take_id.in_(takes)))
        session.execute(update(Take).where(*_old(before)).values(has_sounds=False))
        forget(session)
    database.shrink()


def _old(before: datetime) -> tuple[ColumnElement[bool], ...]:
    return (Take.started_at < before, Take.id.not_in(_BOOKMARKED))


_BOOKMARKED = select(Bookmark.take_id).where(Bookmark.take_id.is_not(None))
