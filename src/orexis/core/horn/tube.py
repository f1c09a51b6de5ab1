"""The tube: how long a horn is, the lengths it can take and the slots each one has.

Every length is given as a ratio to the open horn, so slot n of ratio r sounds n·f1/r. The open
acoustic length is L = c/(2·f1) with c = 331.3·√(1 + T/273.15) m/s: a horn with a bell sounds a
full harmonic series, as a tube open at both ends does. Source of c: the ideal-gas law for dry
air; source of the sums: `docs/measures.md`.
"""

from dataclasses import dataclass
from math import sqrt

HIGHEST_PARTIAL = 16
TEMPERATURE_C = 22.0
COLDEST_C, WARMEST_C = -10.0, 45.0


def speed_of_sound_m_s(temperature_c: float) -> float:
    """Speed of sound in air of a temperature in °C, in m/s."""
    return 331.3 * sqrt(1 + temperature_c / 273.15)


def open_length_m(f1_hz: float, temperature_c: float = TEMPERATURE_C) -> float:
    """Acoustic length in metres of an open horn whose fundamental is `f1_hz`."""
    return speed_of_sound_m_s(temperature_c) / (2 * f1_hz)


def extra_length_mm(length_m: float, cents: float) -> float:
    """Tube in mm to add to `length_m` to lower it by `cents` (negative: to take away)."""
    return 1000 * length_m * (2 ** (cents / 1200) - 1)


@dataclass(frozen=True, slots=True)
class Length:
    """One valve combination or slide position.

    `name` is how it is written ("13", "T0", "F+3"), `hand` how it is said. `ratio` is its tube
    over the open horn's. `effort` orders the lengths players learn, least first; `None` for one
    that only serves as an alternate. `extension_mm` is how far the slide is out, and `reaches`
    is false when it does not go that far.
    """

    name: str
    hand: str
    ratio: float
    effort: float | None
    valves: tuple[int, ...] = ()
    valve_count: int = 0
    thumb: bool = False
    position: int | None = None
    triggers: tuple[str, ...] = ()
    extension_mm: float | None = None
    reaches: bool = True

    @property
    def learned(self) -> bool:
        """Whether players learn it, rather than keep it as an alternate or never reach it."""
        return self.effort is not None and self.reaches


@dataclass(frozen=True, slots=True)
class Slot:
    """One partial of one length. `pitch` is where it sounds, as a fractional MIDI number at the
    player's A4."""

    length: Length
    partial: int
    pitch: float

    @property
    def midi(self) -> int:
        """The nearest note."""
        return round(self.pitch)

    @property
    def cents(self) -> float:
        """Cents from the nearest note in equal temperament."""
        return 100 * (self.pitch - self.midi)
