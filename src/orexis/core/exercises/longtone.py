"""The long tone: one note, held as steadily as it will go."""

from dataclasses import dataclass

from orexis.core.horn.instruments import Instrument
from orexis.core.horn.pitch import hz_from_midi
from orexis.core.horn.tube import Way, slots, standard_way

LONG_TONE = "long-tone"
HOLD_S = 4.0
SHORTEST_HOLD_S, LONGEST_HOLD_S = 1.0, 60.0
_NEIGHBOURS = 2
_ORDINALS = (
    "pedal",
    *("second", "third", "fourth", "fifth", "sixth", "seventh", "eighth"),
    *("ninth", "tenth", "eleventh", "twelfth", "thirteenth", "fourteenth"),
    *("fifteenth", "sixteenth"),
)


@dataclass(frozen=True, slots=True)
class NearbySlot:
    """A slot of the length in hand: its partial, nearest note (sounding) and where it really
    sounds, in cents from the note asked for."""

    partial: int
    midi: int
    cents: float


@dataclass(frozen=True, slots=True)
class LongTone:
    """One note to hold on one instrument; `midi` is sounding, `a4_hz` the tuning."""

    instrument: Instrument
    midi: int
    hold_s: float
    a4_hz: float

    def __post_init__(self) -> None:
        if not self.instrument.lowest_midi <= self.midi <= self.instrument.highest_midi:
            raise ValueError(f"{self.instrument.name} has no such note here; choose another.")
        if not SHORTEST_HOLD_S <= self.hold_s <= LONGEST_HOLD_S:
            raise ValueError(
                f"Hold for {SHORTEST_HOLD_S:g} to {LONGEST_HOLD_S:g} seconds, not {self.hold_s:g}."
            )

    @property
    def target_hz(self) -> float:
        """The pitch asked for, in Hz."""
        return hz_from_midi(self.midi, self.a4_hz)

    @property
    def way(self) -> Way | None:
        """The standard way to play the note."""
        return standard_way(self.instrument.lengths, self.midi - self.instrument.fundamental_midi)

    @property
    def hand(self) -> str:
        """What the hand does and which slot it is, in words."""
        if self.way is None:
            return "by ear"
        slot = _ORDINALS[self.way.partial - 1]
        return f"{self.way.length.hand}, {slot if self.way.partial == 1 else slot + ' slot'}"

    @property
    def cue(self) -> str:
        """How to play it, in words."""
        return f"breathe, start with air, hold {self.hold_s:g} s"

    @property
    def nearby_slots(self) -> tuple[NearbySlot, ...]:
        """The slots of the same length next to the note, highest first, its own included."""
        if self.way is None:
            return (NearbySlot(0, self.midi, 0.0),)
        asked = self.midi - self.instrument.fundamental_midi
        partial = self.way.partial
        around = [
            NearbySlot(
                slot.partial,
                self.instrument.fundamental_midi + round(slot.semitones),
                100 * (slot.semitones - asked),
            )
            for slot in slots(self.way.length)
            if abs(slot.partial - partial) <= _NEIGHBOURS
        ]
        return tuple(reversed(around))
