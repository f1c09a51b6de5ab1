"""The long tone: one note, held as steadily as it will go."""

from dataclasses import dataclass

from orexis.core.horn.instruments import Instrument
from orexis.core.horn.pitch import hz_from_midi
from orexis.core.horn.setup import Horn
from orexis.core.horn.tuning import Temperament
from orexis.core.horn.ways import Way, standard_way
from orexis.core.horn.words import correction_words, slot_words
from orexis.core.parameter import Parameter

LONG_TONE = "long-tone"
TITLE = "Long tone"
HOLD_S = 4.0
SHORTEST_HOLD_S, LONGEST_HOLD_S = 1.0, 60.0
HOLD = Parameter("hold_s", "hold", "s", SHORTEST_HOLD_S, LONGEST_HOLD_S, 1)
_NEIGHBOURS = 2
_LOWEST_DRONE_HZ = 100.0


@dataclass(frozen=True, slots=True)
class NearbySlot:
    """A slot of the length in hand: its partial, nearest note (sounding) and where it really
    sounds, in cents from the pitch asked for."""

    partial: int
    midi: int
    cents: float


@dataclass(frozen=True, slots=True)
class LongTone:
    """One note to hold on one player's horn; `midi` is sounding.

    `kept_target_cents` is where the pitch asked for lay when the tone was played, for a take
    from before the horn was tuned otherwise.
    """

    horn: Horn
    midi: int
    hold_s: float
    kept_target_cents: float | None = None

    def __post_init__(self) -> None:
        if not self.instrument.lowest_midi <= self.midi <= self.instrument.highest_midi:
            raise ValueError(f"{self.instrument.name} has no such note here; choose another.")
        if not SHORTEST_HOLD_S <= self.hold_s <= LONGEST_HOLD_S:
            raise ValueError(
                f"Hold for {SHORTEST_HOLD_S:g} to {LONGEST_HOLD_S:g} seconds, not {self.hold_s:g}."
            )

    @property
    def title(self) -> str:
        """What it is called."""
        return TITLE

    @property
    def instrument(self) -> Instrument:
        """What kind of horn it is."""
        return self.horn.instrument

    @property
    def a4_hz(self) -> float:
        """What the horn is tuned to."""
        return self.horn.setup.a4_hz

    @property
    def target_hz(self) -> float:
        """The pitch asked for, in Hz: the player's A4 and tuning."""
        return hz_from_midi(self.midi + self.target_cents / 100, self.a4_hz)

    @property
    def target_cents(self) -> float:
        """The pitch asked for, in cents from equal temperament."""
        if self.kept_target_cents is not None:
            return self.kept_target_cents
        return self.horn.setup.tuning.offset_cents(self.midi)

    @property
    def way(self) -> Way | None:
        """The standard way to play the note."""
        return standard_way(self.horn, self.midi)

    @property
    def hand(self) -> str:
        """What the hand does and which slot it is, in words."""
        if self.way is None:
            return "by ear"
        adjust = correction_words(self.way)
        said = f"{self.way.length.hand}, {slot_words(self.way.partial)}"
        return f"{said}. {adjust}" if adjust else said

    @property
    def slide_share(self) -> float | None:
        """How far the slide is out, as a share of how far it goes; `None` without a slide."""
        return None if self.way is None else self.way.slide_share

    @property
    def slide_marks(self) -> tuple[float, ...]:
        """Where the positions lie with the trigger in hand, as `slide_share`."""
        return () if self.way is None else self.horn.slide_marks(self.way.length)

    @property
    def drone_hz(self) -> float:
        """A tone to play to: the tonic of a just or Scala tuning, else the note itself, in the
        octave at or under the note that a small loudspeaker can still sound."""
        tuning = self.horn.setup.tuning
        below = 0 if tuning.temperament is Temperament.EQUAL else (self.midi - tuning.tonic) % 12
        hz = hz_from_midi(self.midi - below, self.a4_hz)
        while hz < _LOWEST_DRONE_HZ:
            hz *= 2
        return hz

    @property
    def cue(self) -> str:
        """How to play it, in words."""
        return f"breathe, start with air, hold {self.hold_s:g} s"

    @property
    def nearby_slots(self) -> tuple[NearbySlot, ...]:
        """The slots of the same length next to the note, highest first, its own included."""
        way = self.way
        if way is None:
            return (NearbySlot(0, self.midi, 0.0),)
        around = [
            NearbySlot(
                slot.partial,
                self.midi if slot.partial == way.partial else slot.midi,
                100 * (slot.pitch - self.midi) - self.target_cents,
            )
            for slot in self.horn.slots[way.length.name]
            if abs(slot.partial - way.partial) <= _NEIGHBOURS
        ]
        return tuple(reversed(around))
