"""A drone by itself: the notes that sound, and where a note lies against it."""

from dataclasses import dataclass

from orexis.core.horn.pitch import A4_HZ, hz_from_midi
from orexis.core.horn.tuning import Temperament, Tuning
from orexis.core.parameter import Choice, Parameter

LOWEST_DRONE_MIDI, HIGHEST_DRONE_MIDI = 24, 84
_LOWEST_WITH_FIFTH = 36
_PURE_FIFTH = 3 / 2
_INTERVALS = (
    "the drone's own note",
    "a minor second above the drone",
    "a whole step above the drone",
    "a minor third above the drone",
    "a major third above the drone",
    "a fourth above the drone",
    "a tritone above the drone",
    "a fifth above the drone",
    "a minor sixth above the drone",
    "a major sixth above the drone",
    "a minor seventh above the drone",
    "a major seventh above the drone",
)

NOTE = Parameter(
    "midi", "Note", least=LOWEST_DRONE_MIDI, most=HIGHEST_DRONE_MIDI, step=1, is_note=True
)
FIFTH = Parameter(
    "fifth", "With the fifth", usual="no", choices=(Choice("no", "no"), Choice("yes", "yes"))
)
TUNED = Parameter(
    "tuning",
    "Your notes against it",
    usual=Temperament.JUST.value,
    choices=(Choice("just", "pure intervals"), Choice("equal", "equal temperament")),
)
LOUDNESS = Parameter("loudness", "Loudness", "%", least=5, most=100, step=5, usual=50)
DRONE = (NOTE, FIFTH, TUNED, LOUDNESS)


@dataclass(frozen=True, slots=True)
class Drone:
    """A tone that sounds: its sounding MIDI number, whether its pure fifth sounds too, and which
    intervals against it are in tune. Raises `ValueError` for one that cannot be told from a
    player's sound."""

    midi: int
    fifth: bool = False
    temperament: Temperament = Temperament.JUST

    def __post_init__(self) -> None:
        if not LOWEST_DRONE_MIDI <= self.midi <= HIGHEST_DRONE_MIDI:
            raise ValueError("A drone sounds from C1 to C6.")
        if self.fifth and self.midi < _LOWEST_WITH_FIFTH:
            raise ValueError("With its fifth a drone sounds from C2 up.")

    def hz(self, a4_hz: float = A4_HZ) -> tuple[float, ...]:
        """The pitches that sound, in Hz, the tone itself first."""
        tone = hz_from_midi(self.midi, a4_hz)
        return (tone, tone * _PURE_FIFTH) if self.fifth else (tone,)

    def common_hz(self, a4_hz: float = A4_HZ) -> float:
        """The pitch that all that sounds is harmonics of, in Hz."""
        tone = hz_from_midi(self.midi, a4_hz)
        return tone / 2 if self.fifth else tone

    def interval(self, midi: int) -> str:
        """What a note is to the drone, octaves left out."""
        return _INTERVALS[(midi - self.midi) % 12]

    def offset_cents(self, midi: int) -> float:
        """Where a note is in tune with the drone, in cents from equal temperament."""
        return Tuning(self.temperament, self.midi % 12).offset_cents(midi)
