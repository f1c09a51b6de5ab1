"""The note that sounds now: what a tuner shows."""

from dataclasses import dataclass

import numpy as np

from orexis.core.horn.pitch import A4_HZ, midi_from_hz
from orexis.core.listening.tracking.frames import Frames

_LOOKED_AT = 15
_LEAST = 5
_ROOM_DB = -65.0


@dataclass(frozen=True, slots=True)
class NoteNow:
    """A note that sounds: the nearest MIDI number, how far from it in cents (sharp positive), and
    how loud in dB re full scale."""

    midi: int
    cents: float
    level_db: float


def note_now(frames: Frames, a4_hz: float = A4_HZ) -> NoteNow | None:
    """The note sounding in the last 150 ms of some frames; `None` where too few of them have a
    pitch, or all are as soft as the room."""
    f0_hz = frames.f0_hz[-_LOOKED_AT:]
    voiced = ~np.isnan(f0_hz)
    if int(voiced.sum()) < _LEAST or not voiced[-_LEAST:].any():
        return None
    level_db = float(np.median(frames.level_db[-_LOOKED_AT:][voiced]))
    if level_db < _ROOM_DB:
        return None
    pitch = midi_from_hz(float(np.median(f0_hz[voiced])), a4_hz)
    return NoteNow(round(pitch), 100 * (pitch - round(pitch)), level_db)
