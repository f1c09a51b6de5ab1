"""Two sounds of one passage beside each other: which notes are the same, and what differs."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import pairwise
from statistics import fmean, median

import numpy as np

from orexis.core.arrays import FloatArray, midis_from_hz
from orexis.core.counting import counted
from orexis.core.horn.pitch import A4_HZ
from orexis.core.horn.words import tuned_words
from orexis.core.judging.words import Name
from orexis.core.listening.notes.events import Note
from orexis.core.listening.notes.patterns import SPOKE_WITHIN_CENTS
from orexis.core.listening.notes.warping import warped
from orexis.core.listening.tracking.frames import HOP_S, Frames

_KNOT_FRAMES = 5
_LEAST_OVERLAP = 0.3
_SHORTEST_S = 0.08
_TOLD_CENTS, _TOLD_PERCENT, _TOLD_DB = 2.0, 3.0, 1.5
"""From which difference on one is told."""
_FEWEST_PAIRS = 3


@dataclass(frozen=True, slots=True)
class NotePair:
    """The numbers of a note in one sound and of the same note in the other."""

    one: int
    other: int


@dataclass(frozen=True, slots=True)
class SoundComparison:
    """Where a sound lies in another: at some moments of it (s), which moment of the other (s) is
    the same; and the notes that are the same."""

    at_s: FloatArray
    other_s: FloatArray
    pairs: tuple[NotePair, ...]

    def other_time_s(self, seconds: float) -> float:
        """The moment of the other sound that is the same as one of this, in seconds."""
        return float(np.interp(seconds, self.at_s, self.other_s))


def compare_sounds(
    frames: Frames,
    notes: Sequence[Note],
    other_frames: Frames,
    other_notes: Sequence[Note],
    a4_hz: tuple[float, float] = (A4_HZ, A4_HZ),
) -> SoundComparison:
    """A sound compared with another, both with what was heard of them and what they are tuned to.
    Frames are counted from the beginning of each."""
    if not len(frames) or not len(other_frames):
        return SoundComparison(np.zeros(1), np.zeros(1), ())
    cents = 100 * midis_from_hz(frames.f0_hz, a4_hz[0])
    other_cents = 100 * midis_from_hz(other_frames.f0_hz, a4_hz[1])
    lies = warped(cents, other_cents)
    at = np.unique(np.append(np.arange(0, len(lies), _KNOT_FRAMES), len(lies) - 1))
    comparison = SoundComparison(at * HOP_S, lies[at] * HOP_S, ())
    return SoundComparison(
        comparison.at_s, comparison.other_s, tuple(_pairs(comparison, notes, other_notes))
    )


def _pairs(
    comparison: SoundComparison, notes: Sequence[Note], others: Sequence[Note]
) -> Iterator[NotePair]:
    """The notes that are the same: of one pitch, and at the same place, each of them once."""
    start = 0
    for number, note in enumerate(notes):
        if note.end_s - note.start_s < _SHORTEST_S:
            continue
        span = comparison.other_time_s(note.start_s), comparison.other_time_s(note.end_s)
        best, most = None, 0.0
        for at in range(start, len(others)):
            other = others[at]
            if other.start_s > span[1]:
                break
            overlap_s = min(span[1], other.end_s) - max(span[0], other.start_s)
            shorter_s = max(min(span[1] - span[0], other.end_s - other.start_s), _SHORTEST_S)
            if abs(note.pitch_cents - other.pitch_cents) > SPOKE_WITHIN_CENTS:
                continue
            if overlap_s / shorter_s >= _LEAST_OVERLAP and overlap_s > most:
                best, most = at, overlap_s
        if best is not None:
            yield NotePair(number, best)
            start = best + 1


def comparison_words(
    comparison: SoundComparison, notes: Sequence[Note], others: Sequence[Note], name: Name
) -> Iterator[str]:
    """What differs between two sounds of one passage, in sentences; the first is "this one"."""
    both = [(notes[pair.one], others[pair.other]) for pair in comparison.pairs]
    if len(both) < _FEWEST_PAIRS:
        yield "These two have too few notes in common to be compared. Are they the same passage?"
        return
    alone = (len(notes) - len(both), "this one"), (len(others) - len(both), "the other")
    told = [f"{count} only in {which}" for count, which in alone if count]
    played = counted(len(both), "note")
    yield (
        f"{', '.join([f'{played} are in both', *told])}."
        if told
        else f"The same {played} are in both."
    )
    yield _tuning(both)
    yield from _pace(both)
    yield from _level(both)
    yield from _furthest(both, name)


def _tuning(both: Sequence[tuple[Note, Note]]) -> str:
    off = [fmean(abs(pair[side].measures.centre_cents) for pair in both) for side in (0, 1)]
    if abs(off[0] - off[1]) < _TOLD_CENTS:
        return f"Both are as much in tune: {off[0]:.0f} cents off on average."
    which = "This one" if off[0] < off[1] else "The other"
    return f"{which} is more in tune: {min(off):.0f} cents off on average, against {max(off):.0f}."


def _pace(both: Sequence[tuple[Note, Note]]) -> Iterator[str]:
    """How much faster the middle one of all steps from note to note is; a stop is one of many."""
    ratios = [
        (there[1].start_s - there[0].start_s) / (here[1].start_s - here[0].start_s)
        for here, there in (zip(*two, strict=True) for two in pairwise(both))
        if here[1].start_s > here[0].start_s
    ]
    if not ratios:
        return
    percent = 100 * (median(ratios) - 1)
    if abs(percent) >= _TOLD_PERCENT:
        yield f"This one is {abs(percent):.0f} % {'faster' if percent > 0 else 'slower'}."


def _level(both: Sequence[tuple[Note, Note]]) -> Iterator[str]:
    louder_db = median(note.measures.level_db - other.measures.level_db for note, other in both)
    if abs(louder_db) >= _TOLD_DB:
        way = "louder" if louder_db > 0 else "softer"
        yield f"This one is {abs(louder_db):.0f} dB {way}, or nearer to the microphone."
    clearer_db = median(note.harmonicity_db - other.harmonicity_db for note, other in both)
    if abs(clearer_db) >= _TOLD_DB:
        way = "clearer" if clearer_db > 0 else "airier"
        yield f"Its sound is {abs(clearer_db):.0f} dB {way}."


def _furthest(both: Sequence[tuple[Note, Note]], name: Name) -> Iterator[str]:
    """The note whose tuning differs most."""
    note, other = max(
        both, key=lambda pair: abs(pair[0].measures.centre_cents - pair[1].measures.centre_cents)
    )
    if abs(note.measures.centre_cents - other.measures.centre_cents) >= 2 * _TOLD_CENTS:
        yield (
            f"{name(note.midi)} differs most: {tuned_words(note.measures.centre_cents)} here, "
            f"{tuned_words(other.measures.centre_cents)} there."
        )
