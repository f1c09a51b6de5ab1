"""What notes are called in a player's country, and how their octaves are told apart.

English names are letters and signs (B♭, B). German ones are letters with *is* and *es*, where B♭ is
B and B is H. Solfège has fixed do. Octaves are numbered as everywhere in Orexis (A4 = 440 Hz), or
told by capitals and strokes: great octave C (C2), small octave c (C3), c’ (C4), c’’; contra octave
C₁ (C1).
"""

import re
from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum

SIGNS = {-2: "𝄫", -1: "♭", 0: "", 1: "♯", 2: "𝄪"}
_LETTERS = "CDEFGAB"
_GERMAN_ENDINGS = {-2: "eses", -1: "es", 0: "", 1: "is", 2: "isis"}
_GERMAN_FLATS = {
    **{("E", -1): "Es", ("E", -2): "Eses", ("A", -1): "As", ("A", -2): "Ases"},
    **{("B", 0): "H", ("B", -1): "B", ("B", -2): "Heses", ("B", 1): "His", ("B", 2): "Hisis"},
}
_SYLLABLES = dict(zip(_LETTERS, ("Do", "Re", "Mi", "Fa", "Sol", "La", "Si"), strict=True))
_ALSO_TYPED = {"ré": "re", "ut": "do"}
_TYPED_SIGNS = {
    **dict.fromkeys(("", "n", "♮", "natural"), 0),
    **dict.fromkeys(("b", "♭", "flat"), -1),
    **dict.fromkeys(("bb", "♭♭", "𝄫"), -2),
    **dict.fromkeys(("#", "♯", "sharp"), 1),
    **dict.fromkeys(("##", "♯♯", "x", "𝄪"), 2),
}
_STROKES = "'’′"
_DOUBLE_STROKES = {"″": 2, "‴": 3, '"': 2}
_TYPED = re.compile(
    rf"(?P<pitch>[^\d{_STROKES}″‴\"₁₂₃]+?)\s*"
    rf"(?:(?P<octave>-1|1[01]|\d)|(?P<strokes>[{_STROKES}″‴\"]+)|(?P<low>[₁₂₃]))?"
)
_LOW = dict(zip("₁₂₃", (1, 0, -1), strict=True))
_GREAT, _SMALL = 2, 3
_STROKE = "’"


class NoteNames(StrEnum):
    """What notes are called."""

    ENGLISH = "english"
    GERMAN = "german"
    SOLFEGE = "solfege"


class Octaves(StrEnum):
    """How octaves are told apart."""

    NUMBERS = "numbers"
    STROKES = "strokes"


@dataclass(frozen=True, slots=True)
class Naming:
    """A way to name notes."""

    names: NoteNames = NoteNames.ENGLISH
    octaves: Octaves = Octaves.NUMBERS

    def pitch_name(self, letter: str, alter: int) -> str:
        """The name without an octave: "B♭", "B" (German) or "Si♭" for ("B", −1)."""
        match self.names:
            case NoteNames.GERMAN:
                return _GERMAN_FLATS.get((letter, alter), letter + _GERMAN_ENDINGS[alter])
            case NoteNames.SOLFEGE:
                return _SYLLABLES[letter] + SIGNS[alter]
            case _:
                return letter + SIGNS[alter]

    def name(self, letter: str, alter: int, octave: int) -> str:
        """The whole name: "B♭3", "B3" or "b", "Si♭3"."""
        pitch = self.pitch_name(letter, alter)
        if self.octaves is Octaves.NUMBERS:
            return f"{pitch}{octave}"
        if octave >= _SMALL:
            return pitch.lower() + _STROKE * (octave - _SMALL)
        return pitch if octave == _GREAT else f"{pitch}{'₁₂₃'[min(1 - octave, 2)]}"

    def read(self, text: str) -> tuple[str, int, int | None] | None:
        """Letter, alteration and octave of a typed name, the octave `None` where it was not typed;
        `None` for what is no name."""
        if self.octaves is Octaves.NUMBERS:
            # Strokes are of the other kind, or an apostrophe that came along.
            text = text.strip().rstrip(_STROKES)
        found = _TYPED.fullmatch(text.strip())
        if found is None:
            return None
        pitch = re.sub(r"[\s-]", "", found["pitch"])
        known = _PITCHES[self.names].get(pitch.lower())
        if known is None:
            return None
        return *known, self._octave(found, is_small=pitch[0].islower())

    def _octave(self, found: re.Match[str], *, is_small: bool) -> int | None:
        if found["octave"] is not None:
            return int(found["octave"])
        if found["low"] is not None:
            return _LOW[found["low"]]
        if self.octaves is Octaves.NUMBERS:
            return None
        strokes = sum(_DOUBLE_STROKES.get(stroke, 1) for stroke in found["strokes"] or "")
        return _SMALL + strokes if is_small or strokes else _GREAT

    @property
    def asks(self) -> str:
        """What to type for a note."""
        say, examples = {
            NoteNames.ENGLISH: ("a letter A to G, then ♭ or ♯ (b or #) if it has one", "Bb, C#"),
            NoteNames.GERMAN: ("a letter A to H, then es or is if it has one", "Es, Fis, B"),
            NoteNames.SOLFEGE: ("Do to Si, then ♭ or ♯ (b or #) if it has one", "Sib, Do#"),
        }[self.names]
        if self.octaves is Octaves.NUMBERS:
            first, second = examples.split(", ")[:2]
            return f"Type {say}, then the octave: {first}3, {second}4."
        first, second = (one.lower() for one in examples.split(", ")[:2])
        return f"Type {say}, small with its strokes: {first}, {second}'."


def _pitches(names: NoteNames) -> Mapping[str, tuple[str, int]]:
    """Letter and alteration of all that is typed for a pitch, in small letters."""
    naming = Naming(names)
    found: dict[str, tuple[str, int]] = {}
    for letter in _LETTERS:
        natural = naming.pitch_name(letter, 0).lower()
        found.update({natural + sign: (letter, alter) for sign, alter in _TYPED_SIGNS.items()})
    for typed, syllable in _ALSO_TYPED.items():
        also = {typed + sign: f"{syllable}{sign}" for sign in _TYPED_SIGNS}
        found.update({new: found[old] for new, old in also.items() if old in found})
    # Last: what is a name of its own is not a letter and a sign.
    for letter in _LETTERS:
        for alter in SIGNS:
            found[naming.pitch_name(letter, alter).lower()] = (letter, alter)
    return found


_PITCHES = {names: _pitches(names) for names in NoteNames}

USUAL_NAMING = Naming()
