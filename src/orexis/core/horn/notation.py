"""How a player reads and names notes.

A sounding note becomes the written one by the instrument's shift for the clef it is read in;
names use scientific octaves (A4 = 440 Hz) and the signs ♭ ♯.
"""

from dataclasses import dataclass
from enum import StrEnum

_NAMES = ("C", "C♯", "D", "E♭", "E", "F", "F♯", "G", "A♭", "A", "B♭", "B")


class Clef(StrEnum):
    """The clefs brass parts are written in."""

    TREBLE = "treble"
    ALTO = "alto"
    TENOR = "tenor"
    BASS = "bass"


class NoteView(StrEnum):
    """Whether notes are named as the player reads them or as they sound."""

    WRITTEN = "written"
    SOUNDING = "sounding"


@dataclass(frozen=True, slots=True)
class Reading:
    """One convention for an instrument's parts: written = sounding + shift (semitones)."""

    clef: Clef
    shift_semitones: int


@dataclass(frozen=True, slots=True)
class Notation:
    """How one player wants notes named: a reading, seen as written or as sounding."""

    reading: Reading
    view: NoteView

    @property
    def shift_semitones(self) -> int:
        """Semitones from the sounding note to the one that is named."""
        return self.reading.shift_semitones if self.view is NoteView.WRITTEN else 0

    def name(self, sounding_midi: int) -> str:
        """Name of a sounding note (whole MIDI number) in this player's notation."""
        return note_name(sounding_midi + self.shift_semitones)


def note_name(midi: int) -> str:
    """Scientific name of a whole MIDI number, in the spelling wind players meet most."""
    return f"{_NAMES[midi % 12]}{midi // 12 - 1}"
