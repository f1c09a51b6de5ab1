"""The ribbon: frames as they are drawn, in cents from the pitch asked for."""

from dataclasses import dataclass

from orexis.core.arrays import FloatArray, cents_between
from orexis.core.listening.tracking.frames import Frames


@dataclass(frozen=True, slots=True)
class Ribbon:
    """Frames from number `first` on: cents from a pitch (NaN where not voiced), level in dB and
    harmonicity in dB, one value each."""

    first: int
    cents: FloatArray
    level_db: FloatArray
    harmonicity_db: FloatArray


def ribbon_of(frames: Frames, from_hz: float) -> Ribbon:
    """Frames against a pitch in Hz."""
    cents = cents_between(frames.f0_hz, from_hz)
    return Ribbon(frames.first, cents, frames.level_db, frames.harmonicity_db)
