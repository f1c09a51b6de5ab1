"""Melodies from elsewhere, brought onto a horn as lines of one's own."""

from collections.abc import Sequence
from dataclasses import dataclass

from orexis.core.counting import counted
from orexis.core.exercises.book import FAMILIES, refusal_of
from orexis.core.exercises.own import FASTEST_BPM, LINE, line_text
from orexis.core.exercises.writer import Writer
from orexis.core.score.steps import Step

_OCTAVES = (0, -1, 1, -2, 2, -3, 3)


@dataclass(frozen=True, slots=True)
class OnHorn:
    """What a melody is set to as an exercise, and how it was `moved` to lie on the horn ("" where
    it does); `refused` says why it cannot be, or ""."""

    values: dict[str, str]
    moved: str
    refused: str


def onto_the_horn(
    writer: Writer, steps: Sequence[Step], tempo_bpm: float | None, beats_in_bar: int
) -> OnHorn:
    """A melody moved by as few octaves as bring it onto the horn."""
    values = {
        "line": line_text(steps),
        "tempo": f"{min(tempo_bpm or 0, FASTEST_BPM):g}",
        "bar": str(beats_in_bar),
    }
    refusals = []
    for octaves in _OCTAVES:
        moved = {**values, "semitones": str(12 * octaves)}
        refusals.append(refusal_of(FAMILIES[LINE], writer, moved))
        if not refusals[-1]:
            return OnHorn(moved, _moved_words(octaves), "")
    return OnHorn(values, "", refusals[0])


def _moved_words(octaves: int) -> str:
    if not octaves:
        return ""
    return f"moved {'up' if octaves > 0 else 'down'} by {counted(abs(octaves), 'octave')}"
