"""Recordings: sound that no exercise judged, kept with its analysis."""

import uuid
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from sqlalchemy.orm import Session

from orexis.store.models import Player, Recording, RecordingContent
from orexis.store.packed import pack

LONGEST_NAME = 120
LONGEST_WANTED = 400


@dataclass(frozen=True, slots=True)
class AnalysedSound:
    """What is kept: a name, the sound as a FLAC file, its analysis document, and why it was not
    judged, where it was played on the Stand."""

    name: str
    flac: bytes
    document: dict[str, Any]
    reason: str = ""


def save_recording(
    session: Session, player: Player, sound: AnalysedSound, started_at: datetime
) -> Recording:
    """Keeps a recording for a player on the horn they play now."""
    take = sound.document["take"]
    recording = Recording(
        id=uuid.uuid4().hex,
        player_id=player.id,
        started_at=started_at,
        name=sound.name[:LONGEST_NAME],
        instrument_key=player.instrument_key,
        a4_hz=player.a4_hz,
        sample_rate=take["sample_rate"],
        duration_s=take["duration_s"],
        clipped=take["clipped"],
        note_count=len(sound.document["notes"]),
        reason=sound.reason,
    )
    recording.player = player
    session.add(recording)
    session.flush()
    session.add(
        RecordingContent(recording_id=recording.id, flac=sound.flac, packed=pack(sound.document))
    )
    return recording
