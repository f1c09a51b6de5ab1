"""The registers of a horn, by how hard they are on the lips."""

from enum import StrEnum

from orexis.core.horn.instruments import Instrument


class Register(StrEnum):
    """Where a note lies for its player."""

    BUZZ = "mouthpiece"
    PEDAL = "pedals"
    LOW = "low"
    MIDDLE = "middle"
    HIGH = "high"


def register_of(midi: int, instrument: Instrument, high_midi: int) -> Register:
    """The register of a note on a horn for a player who comes up to `high_midi` with ease: pedals
    up to the fundamental, above them three thirds."""
    if midi <= instrument.fundamental_midi:
        return Register.PEDAL
    third = max(high_midi - instrument.normal_low, 3) / 3
    if midi > high_midi - third:
        return Register.HIGH
    return Register.MIDDLE if midi > instrument.normal_low + third else Register.LOW
