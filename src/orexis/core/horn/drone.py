"""A drone by itself: the notes that sound, and where a note lies against it."""

from dataclasses import dataclass

from orexis.core.horn.intervals import INTERVALS
from orexis.core.horn.notation import note_name
from orexis.core.horn.pitch import A4_HZ, hz_from_midi
from orexis.core.horn.tuning import JUST_RATIOS, Temperament, Tuning
from orexis.core.parameter import Choice, Parameter

LOWEST_DRONE_MIDI, HIGHEST_DRONE_MIDI = 24, 84
_LOWEST_WITH_FIFTH = 36
_FIRST_MIDI = 58
_FIFTH, _OCTAVE = 7, 12
"""How many half steps they have."""

NOTE = Parameter(
    "midi",
    "Note",
    least=LOWEST_DRONE_MIDI,
    most=HIGHEST_DRONE_MIDI,
    step=1,
    usual=_FIRST_MIDI,
    is_note=True,
)
FIFTH = Parameter(
    "fifth", "Fifth", usual="no", choices=(Choice("no", "without"), Choice("yes", "with it"))
)
TUNED = Parameter(
    "temperament",
    "Tuning",
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
            lowest, highest = note_name(LOWEST_DRONE_MIDI), note_name(HIGHEST_DRONE_MIDI)
            raise ValueError(f"A drone can sound from {lowest} to {highest}.")
        if self.fifth and self.midi < _LOWEST_WITH_FIFTH:
            lowest = note_name(_LOWEST_WITH_FIFTH)
            raise ValueError(f"With its fifth a drone can sound from {lowest} up.")

    def hz(self, a4_hz: float = A4_HZ) -> tuple[float, ...]:
        """The pitches that sound, in Hz, the tone itself first."""
        tone = hz_from_midi(self.midi, a4_hz)
        over, under = JUST_RATIOS[_FIFTH]
        return (tone, tone * over / under) if self.fifth else (tone,)

    def common_hz(self, a4_hz: float = A4_HZ) -> float:
        """The pitch that all that sounds is harmonics of, in Hz."""
        tone = hz_from_midi(self.midi, a4_hz)
        return tone / 2 if self.fifth else tone

    def interval(self, midi: int) -> str:
        """What a note is to the drone, octaves left out: "a fifth above the drone"."""
        half_steps = (midi - self.midi) % _OCTAVE
        if not half_steps:
            return "the drone's own note"
        return f"a {INTERVALS[half_steps]} above the drone"

    def offset_cents(self, midi: int) -> float:
        """Where a note is in tune with the drone, in cents from equal temperament."""
        return Tuning(self.temperament, self.midi % _OCTAVE).offset_cents(midi)
