"""How a player reads and names notes.

A sounding note becomes the written one by the instrument's shift for the clef it is read in.
Names use scientific octaves (A4 = 440 Hz, C4 = middle C) and the signs ♭ ♯. A name's octave
goes with its letter: B♯3 is C4, and C♭4 is B3.
"""

from dataclasses import dataclass
from enum import StrEnum

from orexis.core.horn.naming import SIGNS, USUAL_NAMING, Naming

_LETTERS = "CDEFGAB"
_LETTER_SEMITONES = dict(zip(_LETTERS, (0, 2, 4, 5, 7, 9, 11), strict=True))
_FIFTHS = "FCGDAEB"
_USUAL_LOWEST_FIFTH, _USUAL_HIGHEST_FIFTH = -4, 7
"""The names wind players meet most, on the line of fifths from C: A♭ to C♯."""

_MOST_FLAT_FIFTH, _MOST_SHARP_FIFTH = -8, 12
"""F♭ and B♯: the ends of the line of fifths with one sign."""

_OCTAVE_WORDS = {
    **{0: "sub-contra octave", 1: "contra octave", 2: "great octave", 3: "small octave"},
    **{4: "one-line octave", 5: "two-line octave", 6: "three-line octave", 7: "four-line octave"},
}


class Clef(StrEnum):
    """The clefs brass parts are written in."""

    TREBLE = "treble"
    ALTO = "alto"
    TENOR = "tenor"
    BASS = "bass"


_BOTTOM_LINE = {Clef.TREBLE: ("E", 4), Clef.ALTO: ("F", 3), Clef.TENOR: ("D", 3)} | {
    Clef.BASS: ("G", 2)
}
_LOWEST_IN_TREBLE = 57


class NoteView(StrEnum):
    """Whether notes are named as the player reads them or as they sound."""

    WRITTEN = "written"
    SOUNDING = "sounding"


class NoteUnreadableError(ValueError):
    """Typed text that is no note or key; the message says what to type."""


@dataclass(frozen=True, slots=True)
class Spelling:
    """A note as it is spelled: letter, alteration (−2 to 2 semitones) and its letter's octave."""

    letter: str
    alter: int
    octave: int

    @property
    def midi(self) -> int:
        """The whole MIDI number it stands for."""
        return 12 * (self.octave + 1) + _LETTER_SEMITONES[self.letter] + self.alter

    @property
    def name(self) -> str:
        """As it is written: B♭4."""
        return self.named(USUAL_NAMING)

    def named(self, naming: Naming) -> str:
        """As a player says it."""
        return naming.name(self.letter, self.alter, self.octave)

    @property
    def begins_octave(self) -> bool:
        """Whether octaves are counted from it: a natural C."""
        return self.letter == "C" and self.alter == 0

    @property
    def is_landmark(self) -> bool:
        """Whether a scale is read by it: every natural C, and the G between."""
        return self.letter in "CG" and self.alter == 0

    @property
    def octave_words(self) -> str:
        """The name of its octave: "small octave"."""
        return _OCTAVE_WORDS.get(self.octave, f"octave {self.octave}")

    def staff_steps(self, clef: Clef) -> int:
        """Lines and spaces above the bottom line of the staff (0 to 8 lie on the staff)."""
        letter, octave = _BOTTOM_LINE[clef]
        bottom = 7 * octave + _LETTERS.index(letter)
        return 7 * self.octave + _LETTERS.index(self.letter) - bottom


@dataclass(frozen=True, slots=True)
class Reading:
    """One convention for an instrument's parts: written = sounding + shift (semitones)."""

    clef: Clef
    shift_semitones: int

    def written(self, sounding_midi: int) -> int:
        """The note read for a sounding one (MIDI numbers)."""
        return sounding_midi + self.shift_semitones

    def sounding(self, written_midi: int) -> int:
        """The note that sounds for one read (MIDI numbers)."""
        return written_midi - self.shift_semitones


@dataclass(frozen=True, slots=True)
class Notation:
    """How one player wants notes named: a reading, seen as written or as sounding, a key, and what
    notes are called where they play.

    `key_fifths` counts sharps (+) or flats (−) of the key signature as the player sees it;
    `None` spells as wind players mostly do.
    """

    reading: Reading
    view: NoteView
    key_fifths: int | None = None
    naming: Naming = USUAL_NAMING

    @property
    def shift_semitones(self) -> int:
        """Semitones from the sounding note to the one that is named."""
        return self.reading.shift_semitones if self.view is NoteView.WRITTEN else 0

    def spelling(self, sounding_midi: int) -> Spelling:
        """A sounding note (whole MIDI number) as it is spelled for this player."""
        return spell(sounding_midi + self.shift_semitones, self.key_fifths)

    def name(self, sounding_midi: int) -> str:
        """Name of a sounding note (whole MIDI number) in this player's notation."""
        return self.spelling(sounding_midi).named(self.naming)

    def sounding_name(self, sounding_midi: int) -> str:
        """Name of a sounding note as it sounds, whatever is read for it."""
        return spell(sounding_midi).named(self.naming)

    def tonic_name(self, tonic: int) -> str:
        """Name of a sounding pitch class (0 = C) in this player's notation, without an octave."""
        spelling = self.spelling(60 + tonic)
        return self.naming.pitch_name(spelling.letter, spelling.alter)

    def key_name(self, key: str) -> str:
        """What a major key of `MAJOR_KEYS` is called."""
        spelling = parse_note(key, 60)
        return self.naming.pitch_name(spelling.letter, spelling.alter)

    def parse(self, text: str, near_midi: int | None = None) -> int:
        """The sounding note of a name typed in this notation; `near_midi` (sounding) decides
        the octave when none was typed. Raises `NoteUnreadableError`."""
        near = None if near_midi is None else near_midi + self.shift_semitones
        return parse_note(text, near, self.naming).midi - self.shift_semitones

    def parse_row(self, text: str) -> list[int]:
        """The sounding notes of a row of names typed in this notation, as `parse_row`."""
        return [midi - self.shift_semitones for midi in parse_row(text, naming=self.naming)]


def note_name(midi: int) -> str:
    """Scientific name of a whole MIDI number, in the spelling wind players meet most."""
    return spell(midi).name


def spell(midi: int, key_fifths: int | None = None) -> Spelling:
    """A note spelled for a key of so many sharps (+) or flats (−), −7 to 7.

    Notes of the key are spelled as its signature has them; the others lie as near to it on the
    line of fifths as one sign allows, five fifths below the tonic to six above.
    """
    if key_fifths is None:
        lowest, highest = _USUAL_LOWEST_FIFTH, _USUAL_HIGHEST_FIFTH
    else:
        lowest = max(key_fifths - 5, _MOST_FLAT_FIFTH)
        highest = min(max(key_fifths + 6, lowest + 11), _MOST_SHARP_FIFTH)
    fifth = (7 * midi) % 12
    if fifth > highest or fifth - 12 >= lowest:
        fifth -= 12
    elif fifth < lowest and fifth + 12 <= _MOST_SHARP_FIFTH:
        fifth += 12
    alter, index = divmod(fifth + 1, 7)
    letter = _FIFTHS[index]
    octave = (midi - alter - _LETTER_SEMITONES[letter]) // 12 - 1
    return Spelling(letter, alter, octave)


def clef_for(sounding_midi: int) -> Clef:
    """The clef a sounding note is best shown in: treble from the A below middle C up."""
    return Clef.TREBLE if sounding_midi >= _LOWEST_IN_TREBLE else Clef.BASS


def enharmonics(midi: int) -> tuple[Spelling, ...]:
    """Every spelling of a note with at most one sign, the usual one first."""
    usual = spell(midi)
    found = [usual]
    for alter in (-1, 0, 1):
        for letter, semitones in _LETTER_SEMITONES.items():
            octave, rest = divmod(midi - alter - semitones, 12)
            spelling = Spelling(letter, alter, octave - 1)
            if rest == 0 and spelling != usual:
                found.append(spelling)
    return tuple(found)


def parse_note(text: str, near_midi: int | None = None, naming: Naming = USUAL_NAMING) -> Spelling:
    """What people type for a note: `Bb3`, `b♭`, `C#4`, `E flat 2`, `f##5`.

    Without an octave it is the one nearest to `near_midi`. Raises `NoteUnreadableError`.
    """
    found = naming.read(text)
    if found is None:
        raise NoteUnreadableError(f"“{text.strip()[:20]}” is not a note. {naming.asks}")
    letter, alter, octave = found
    if octave is not None:
        return Spelling(letter, alter, octave)
    if near_midi is None:
        example = naming.name(letter, 0, 4)
        raise NoteUnreadableError(f"Say which octave of {text.strip()}: {example}, for example.")
    lowest = Spelling(letter, alter, -1)
    octaves = round((near_midi - lowest.midi) / 12)
    return Spelling(letter, alter, octaves - 1)


def parse_row(text: str, near_midi: int | None = None, naming: Naming = USUAL_NAMING) -> list[int]:
    """The notes of a row of names, parted by spaces or commas. One without an octave is the
    nearest to the one before, the first to `near_midi`. Raises `NoteUnreadableError`."""
    notes: list[int] = []
    for word in text.replace(",", " ").split():
        notes.append(parse_note(word, notes[-1] if notes else near_midi, naming).midi)
    return notes


def parse_key(text: str) -> int:
    """Sharps (+) or flats (−) of a major key as people type it: `Eb`, `F#`, `c`.

    Raises `NoteUnreadableError`.
    """
    spelling = parse_note(text, 60)
    fifths = _FIFTHS.index(spelling.letter) - 1 + 7 * spelling.alter
    if not -7 <= fifths <= 7:
        raise NoteUnreadableError(
            f"There is no key signature for {text.strip()} major. Use keys from C♭ to C♯."
        )
    return fifths


def _major_keys() -> tuple[str, ...]:
    """C and the sharp keys, then the flat ones, as players learn them."""
    names = [
        f"{_FIFTHS[index]}{SIGNS[alter]}"
        for fifths in (*range(8), *range(-1, -8, -1))
        for alter, index in [divmod(fifths + 1, 7)]
    ]
    return tuple(names)


MAJOR_KEYS = _major_keys()
"""The keys that have a signature; `parse_key` reads them."""


CONCERT = Notation(Reading(Clef.TREBLE, 0), NoteView.SOUNDING)
"""Notes named as they sound."""
