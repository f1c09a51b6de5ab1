"""The ribbon: frames as they are drawn, each at its pitch in cents (100 a MIDI number)."""

from dataclasses import dataclass

from orexis.core.arrays import FloatArray, cents_between
from orexis.core.horn.pitch import hz_from_midi
from orexis.core.listening.tracking.frames import Frames


@dataclass(frozen=True, slots=True)
class Ribbon:
    """Frames from number `first` on: pitch in cents (NaN where not voiced), level in dB and
    harmonicity in dB, one value each."""

    first: int
    pitch_cents: FloatArray
    level_db: FloatArray
    harmonicity_db: FloatArray


def ribbon_of(frames: Frames, a4_hz: float) -> Ribbon:
    """Frames as the ribbon shows them, at a tuning."""
    pitch_cents = cents_between(frames.f0_hz, hz_from_midi(0, a4_hz))
    return Ribbon(frames.first, pitch_cents, frames.level_db, frames.harmonicity_db)
