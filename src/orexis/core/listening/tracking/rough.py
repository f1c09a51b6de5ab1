"""Rough notes: lips that do not close alike each time, a growl, a flutter of the tongue.

Such a sound repeats only every few swings, and a long window hears that as a pitch of its own,
far under the note. Where the shortest window still hears the note that has been sounding, well
enough, it goes on. A real pedal after a higher note is not taken for it: too much of its sound
lies between that note's harmonics.
"""

import numpy as np

from orexis.core.arrays import FloatArray

MEMORY_FRAMES = 6
"""How many frames back decide which note has been sounding."""

_MOST_OF_THEM = 4
_CLEAR = 0.9
_FAR_UNDER = 1.8
STILL_HEARD = 0.64
"""How clearly the note before must be heard in a frame to go on in it."""

_SAME_NOTE_CENTS = 100.0


def goes_on(
    before_hz: FloatArray,
    f0_hz: FloatArray,
    clarity: FloatArray,
    nearly_hz: FloatArray,
    nearly_clarity: FloatArray,
) -> tuple[np.ndarray, FloatArray]:
    """Which frames belong to the note before them rather than to a pitch far under it or to
    none, and the pitches that count as a note's, NaN where none does.

    Per frame: the pitch decided on, and the one at which the sound nearly repeats in the
    shortest window, each with its clarity (0 to 1).
    `before_hz` are the note's pitches in the `MEMORY_FRAMES` before the first.
    """
    other = np.isnan(f0_hz) | (nearly_hz >= _FAR_UNDER * f0_hz)
    other &= nearly_clarity >= STILL_HEARD
    may_hz = np.where(other, nearly_hz, f0_hz)
    note_hz = np.concatenate((before_hz, f0_hz))
    goes = np.zeros(len(f0_hz), dtype=bool)
    for frame in np.flatnonzero((clarity < _CLEAR) | other).tolist():
        lately_hz = note_hz[frame : frame + MEMORY_FRAMES]
        off_cents = np.abs(1200 * np.log2(lately_hz / may_hz[frame]))
        if np.sum(off_cents <= _SAME_NOTE_CENTS) >= _MOST_OF_THEM:
            goes[frame] = other[frame]
            note_hz[frame + MEMORY_FRAMES] = may_hz[frame]
        elif clarity[frame] < _CLEAR:
            note_hz[frame + MEMORY_FRAMES] = np.nan
    return goes, note_hz[MEMORY_FRAMES:]
