"""A written part as it is played: its notes in playing order, repeats unfolded, with their bars.

MusicXML, plain or compressed, is read as `formats.melody` reads it, bounded in the same way.
"""

from collections.abc import Sequence
from fractions import Fraction
from typing import Any

from orexis.core.judging.following import WrittenNote
from orexis.formats.melody import MelodyUnreadableError, musicxml_text

_MOST_UNFOLDED = 20_000


def written_notes(content: bytes, name: str, number: int = 1) -> list[WrittenNote]:
    """The notes of one part (from 1) of a MusicXML file, sounding, as they are played. Of a chord
    the highest is taken, of several voices the first; grace notes are left out. Raises
    `MelodyUnreadableError`."""
    text = musicxml_text(content, name)
    # Loaded when it is first wanted: it takes a second.
    from music21 import converter, stream

    try:
        read = converter.parseData(text, format="musicxml")
        parts: Sequence[Any] = list(read.parts) if isinstance(read, stream.Score) else []
    except Exception as error:
        raise MelodyUnreadableError(
            f"{name} is no MusicXML that can be read. Export it again as MusicXML."
        ) from error
    if not 1 <= number <= len(parts):
        there = "one part" if len(parts) == 1 else f"{len(parts)} parts"
        raise MelodyUnreadableError(f"{name} has {there}; there is no part {number}.")
    found = _notes(_unfolded(parts[number - 1]))
    if not found:
        raise MelodyUnreadableError(f"Part {number} of {name} has no notes. Choose another one.")
    if len(found) > _MOST_UNFOLDED:
        raise MelodyUnreadableError(
            f"With its repeats part {number} of {name} has more than {_MOST_UNFOLDED} notes."
        )
    return found


def _unfolded(part: Any) -> Any:
    """A part with its repeats written out, as far as its repeats make sense."""
    try:
        return part.expandRepeats()
    except Exception:
        return part


def _notes(part: Any) -> list[WrittenNote]:
    sounding = part.toSoundingPitch().stripTies()
    found: list[WrittenNote] = []
    now = Fraction(0)
    for bar in sounding.getElementsByClass("Measure"):
        start = Fraction(bar.offset)
        for note in bar.flatten().notes:
            at = start + Fraction(note.offset)
            length = Fraction(note.quarterLength)
            if at < now or length <= 0:
                continue
            beat = 1 + float(note.offset)
            found.append(WrittenNote(bar.number, beat, int(max(note.pitches).midi), at, length))
            now = at + length
    return found
