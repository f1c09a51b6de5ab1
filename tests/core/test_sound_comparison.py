"""Two sounds beside each other; truths by how they were put together."""

from dataclasses import replace

import numpy as np
import pytest

from orexis.core.arrays import FloatArray
from orexis.core.horn.notation import note_name
from orexis.core.judging.sound_comparison import (
    NotePair,
    SoundComparison,
    compare_sounds,
    comparison_words,
)
from orexis.core.listening.notes.events import Note
from orexis.core.listening.notes.warping import warped
from orexis.core.listening.tracking.frames import Frames
from tests.core.test_following import note

_MELODY = (60, 62, 64, 65, 67, 65, 64, 62, 60, 67)


def contour(lengths: FloatArray, off_cents: float = 0.0, silence: int = 0) -> FloatArray:
    """The melody in cents, each note so many frames long, with silence before it."""
    notes = [np.full(int(n), 100.0 * midi + off_cents) for midi, n in zip(_MELODY, lengths)]  # noqa: B905
    return np.concatenate((np.full(silence, np.nan), *notes))


LENGTHS = np.array([40, 30, 50, 40, 60, 30, 40, 50, 40, 80])
SLOWER = np.round(LENGTHS * np.linspace(0.8, 1.5, len(LENGTHS)))


def test_every_note_begins_where_it_begins_other_time_s() -> None:
    one, other = contour(LENGTHS, 6.0, silence=35), contour(SLOWER, -9.0, silence=80)
    lies = warped(one, other)
    begins = 35 + np.cumsum(LENGTHS)[:-1]
    other_begins = 80 + np.cumsum(SLOWER)[:-1]
    # 50 ms: a fine step is three frames.
    assert np.abs(lies[begins] - other_begins).max() <= 5
    assert (np.diff(lies) >= 0).all()


def test_a_long_sound_is_first_looked_at_coarsely_and_found_as_exactly() -> None:
    random = np.random.default_rng(2)
    midis = 55 + np.cumsum(random.integers(-4, 5, 600)) % 24
    lengths = random.integers(25, 60, len(midis))
    slower = np.round(lengths * random.uniform(0.8, 1.3, len(midis))).astype(int)
    one = np.concatenate([np.full(n, 100.0 * m) for m, n in zip(midis, lengths, strict=True)])
    other = np.concatenate([np.full(n, 100.0 * m) for m, n in zip(midis, slower, strict=True)])
    lies = warped(one, other)
    changes = np.flatnonzero(np.diff(midis)) + 1
    off = np.abs(lies[np.cumsum(lengths)[changes - 1]] - np.cumsum(slower)[changes - 1])
    assert np.percentile(off, 95) <= 10


@pytest.mark.parametrize("count", [1, 2, 5])
def test_the_shortest_sounds_lie_beside_each_other_too(count: int) -> None:
    assert len(warped(np.full(count, 6000.0), np.full(3, 6000.0))) == count
    assert len(warped(np.full(count, np.nan), np.full(90, np.nan))) == count


def frames_of(cents: FloatArray) -> Frames:
    hz = 440 * 2 ** ((cents - 6900) / 1200)
    one = np.full(len(cents), 20.0)
    return Frames(0, hz, one - 40, one, one / 10)


def played(lengths: FloatArray, cents: float = 0.0) -> list[Note]:
    starts = np.concatenate(([0], np.cumsum(lengths)[:-1])) / 100
    return [
        note(midi, float(start), float(length) / 100, cents)
        for midi, start, length in zip(_MELODY, starts, lengths, strict=True)
    ]


def comparison(one: list[Note], other: list[Note]) -> SoundComparison:
    return compare_sounds(frames_of(contour(LENGTHS)), one, frames_of(contour(SLOWER)), other)


def test_the_same_notes_are_found_in_both_and_what_differs_is_said() -> None:
    one, other = played(LENGTHS, 4.0), played(SLOWER, -16.0)
    found = comparison(one, other)
    assert found.pairs == tuple(NotePair(number, number) for number in range(10))
    words = list(comparison_words(found, one, other, note_name))
    assert words[0] == "The same 10 notes are in both."
    assert words[1] == "This one is more in tune: 4 cents off on average, against 16."
    # The middle of nine steps, of which each is a little slower there than the one before.
    percent = 100 * (np.median(SLOWER[:-1] / LENGTHS[:-1]) - 1)
    assert words[2] == f"This one is {percent:.0f} % faster."
    assert words[-1] == "C4 differs most: 4 cents sharp here, 16 cents flat there."


def test_a_note_that_is_in_one_alone_is_counted() -> None:
    one, other = played(LENGTHS), played(SLOWER)
    # One is played a third too high there.
    other[4] = replace(other[4], midi=other[4].midi + 4)
    found = comparison(one, other)
    assert [pair.one for pair in found.pairs] == [0, 1, 2, 3, 5, 6, 7, 8, 9]
    words = next(comparison_words(found, one, other, note_name))
    assert words == "9 notes are in both, 1 only in this one, 1 only in the other."


def test_other_music_is_not_compared() -> None:
    one = played(LENGTHS)
    other = [replace(each, midi=each.midi + 14) for each in played(SLOWER)]
    (words,) = comparison_words(comparison(one, other), one, other, note_name)
    assert words.endswith("Are they the same passage?")


def test_nothing_beside_something_is_nothing() -> None:
    found = compare_sounds(Frames.none(), [], frames_of(contour(LENGTHS)), played(LENGTHS))
    assert found.pairs == ()
