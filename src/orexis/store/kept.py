"""Sound that was kept, takes and recordings alike: found, listed, deleted, brought back."""

from datetime import UTC, datetime, timedelta
from enum import StrEnum
from typing import Any, TypeVar

from sqlalchemy import delete, select
from sqlalchemy.orm import Session, joinedload

from orexis.store.models import (
    OwnExercise,
    Recording,
    RecordingContent,
    Take,
    TakeEvents,
    TakeFrames,
    TakeSound,
)
from orexis.store.packed import unpack

KEPT_AFTER_DELETION = timedelta(days=7)

Kept = Take | Recording


class Kind(StrEnum):
    """The kinds of sound that are kept, as they stand in an address."""

    TAKES = "takes"
    RECORDINGS = "recordings"

    @property
    def model(self) -> type[Take] | type[Recording]:
        """The table they are in."""
        return Take if self is Kind.TAKES else Recording

    @staticmethod
    def of(kept: Kept) -> "Kind":
        """Which kind one is of."""
        return Kind.TAKES if isinstance(kept, Take) else Kind.RECORDINGS


K = TypeVar("K", bound=Take | Recording)


def find_kept(session: Session, kind: type[K], kept_id: str) -> K | None:
    """One that has not been deleted, with its player."""
    found = session.get(kind, kept_id, options=[joinedload(kind.player)])
    if found is None or found.deleted_at is not None or found.player.deleted_at is not None:
        return None
    return found


def newest_kept(
    session: Session, kind: type[K], player_id: int, count: int, before: datetime | None = None
) -> list[K]:
    """A player's, newest first, at most `count`, all from before a time if given."""
    query = (
        select(kind)
        .where(kind.player_id == player_id, kind.deleted_at.is_(None))
        .order_by(kind.started_at.desc(), kind.id)
        .limit(count)
        .options(joinedload(kind.player))
    )
    if before is not None:
        query = query.where(kind.started_at < before)
    return list(session.scalars(query))


def delete_kept(kept: Kept) -> None:
    """Takes it off the record; `restore_kept` brings it back for seven days."""
    kept.deleted_at = datetime.now(UTC)


def restore_kept(session: Session, kind: type[K], kept_id: str) -> K | None:
    """Undoes a deletion; `None` when it is gone for good."""
    found = session.get(kind, kept_id, options=[joinedload(kind.player)])
    if found is not None:
        found.deleted_at = None
    return found


def purge_deleted(session: Session, now: datetime) -> None:
    """Removes for good what was deleted more than seven days ago."""
    for kind in (Take, Recording, OwnExercise):
        session.execute(delete(kind).where(kind.deleted_at < now - KEPT_AFTER_DELETION))


def sound_of(session: Session, kept: Kept) -> bytes | None:
    """Its FLAC file; `None` for a take of which only the measures are kept."""
    if isinstance(kept, Take):
        sound = session.get(TakeSound, kept.id)
        return None if sound is None else sound.flac
    return session.get_one(RecordingContent, kept.id).flac


def has_sound(session: Session, take: Take) -> bool:
    """Whether a take's sound is kept."""
    query = select(TakeSound.take_id).where(TakeSound.take_id == take.id)
    return session.scalar(query) is not None


def frames_of(session: Session, kept: Kept) -> dict[str, Any] | None:
    """Its frames, as in the analysis document; `None` where only its measures are kept."""
    if isinstance(kept, Take):
        packed = session.get(TakeFrames, kept.id)
        return None if packed is None else unpack(packed.packed)
    frames: dict[str, Any] = document_of(session, kept)["frames"]
    return frames


def events_of(session: Session, kept: Kept) -> dict[str, Any] | None:
    """All that was heard in it, as in the analysis document; `None` for an old take,
    or one of which only the measures are kept."""
    if isinstance(kept, Recording):
        return document_of(session, kept)
    events = session.get(TakeEvents, kept.id)
    return None if events is None else unpack(events.packed)


def document_of(session: Session, recording: Recording) -> dict[str, Any]:
    """A recording's whole analysis document."""
    return unpack(session.get_one(RecordingContent, recording.id).packed)
