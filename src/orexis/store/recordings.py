"""Recordings from elsewhere: kept with their analysis, listed, deleted and brought back."""

import uuid
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any

from sqlalchemy import delete, select
from sqlalchemy.orm import Session, joinedload

from orexis.store.models import Player, Recording, RecordingContent
from orexis.store.packed import pack, unpack
from orexis.store.takes import KEPT_AFTER_DELETION

LONGEST_NAME = 120
LONGEST_WANTED = 400


@dataclass(frozen=True, slots=True)
class Heard:
    """What came in: a name, the sound as a FLAC file, and the analysis document."""

    name: str
    flac: bytes
    document: dict[str, Any]


def save_recording(session: Session, player: Player, heard: Heard, now: datetime) -> Recording:
    """Keeps a recording for a player on the horn they play now."""
    take = heard.document["take"]
    recording = Recording(
        id=uuid.uuid4().hex,
        player_id=player.id,
        started_at=now,
        name=heard.name[:LONGEST_NAME],
        instrument_key=player.instrument_key,
        a4_hz=player.a4_hz,
        sample_rate=take["sample_rate"],
        duration_s=take["duration_s"],
        clipped=take["clipped"],
        note_count=len(heard.document["notes"]),
    )
    recording.player = player
    session.add(recording)
    session.flush()
    session.add(
        RecordingContent(recording_id=recording.id, flac=heard.flac, packed=pack(heard.document))
    )
    return recording


def newest_recordings(session: Session, player_id: int, count: int) -> list[Recording]:
    """A player's recordings, newest first."""
    return list(
        session.scalars(
            select(Recording)
            .where(Recording.player_id == player_id, Recording.deleted_at.is_(None))
            .order_by(Recording.started_at.desc())
            .limit(count)
        )
    )


def find_recording(session: Session, recording_id: str) -> Recording | None:
    """A recording that has not been deleted, with its player."""
    found = session.get(Recording, recording_id, options=[joinedload(Recording.player)])
    return None if found is None or found.deleted_at is not None else found


def recorded_sound(session: Session, recording_id: str) -> bytes:
    """A recording's FLAC file."""
    return session.get_one(RecordingContent, recording_id).flac


def document_of(session: Session, recording_id: str) -> dict[str, Any]:
    """A recording's analysis document."""
    return unpack(session.get_one(RecordingContent, recording_id).packed)


def delete_recording(recording: Recording) -> None:
    """Takes it off the record; `restore_recording` brings it back for seven days."""
    recording.deleted_at = datetime.now(UTC)


def restore_recording(session: Session, recording_id: str) -> Recording | None:
    """Undoes a deletion; `None` when the recording is gone for good."""
    found = session.get(Recording, recording_id, options=[joinedload(Recording.player)])
    if found is not None:
        found.deleted_at = None
    return found


def purge_recordings(session: Session, now: datetime) -> None:
    """Removes for good what was deleted more than seven days ago."""
    session.execute(delete(Recording).where(Recording.deleted_at < now - KEPT_AFTER_DELETION))
