"""Rough notes: lips that do not close alike each time, a growl, a flutter of the tongue.

Such a sound repeats only every few swings, and a long window hears that as a pitch of its own,
far under the note. Where the shortest window still hears the note that has been sounding, well
enough, it goes on. A real pedal after a higher note is not taken for it: too much of its sound
lies between that note's harmonics.
"""

import math

import numpy as np

from orexis.core.arrays import FloatArray
from orexis.core.compiled import compiled

MEMORY_FRAMES = 6
"""How many frames back decide which note has been sounding."""

_MOST_OF_THEM = 4
_CLEAR = 0.9
_FAR_UNDER = 1.8
STILL_HEARD = 0.64
"""How clearly the note before must be heard in a frame to go on in it."""

_SAME_NOTE_CENTS = 100.0


@compiled
def goes_on(before_hz: FloatArray, frames: np.ndarray) -> tuple[np.ndarray, FloatArray]:
    """Which frames belong to the note before them rather than to a pitch far under it or to
    none, and the pitch (Hz) at which the note is heard in each.

    `before_hz` are the note's pitches in the `MEMORY_FRAMES` before the first, NaN where none
    sounded; they are moved on to those before what follows. `frames` are `PENDING` ones: the
    pitch decided on, and the one at which the sound nearly repeats in the shortest window, each
    with its clarity (0 to 1).
    """
    goes, heard_hz = np.zeros(len(frames), np.bool_), np.empty(len(frames))
    for place in range(len(frames)):
        frame = frames[place]
        note_hz = f0_hz = frame["f0_hz"]
        heard_hz[place] = f0_hz if frame["lone"] else frame["nearly_hz"]
        other = math.isnan(f0_hz) or heard_hz[place] >= _FAR_UNDER * f0_hz
        other = other and frame["nearly_clarity"] >= STILL_HEARD
        if other or frame["clarity"] < _CLEAR:
            may_hz = heard_hz[place] if other else f0_hz
            on_it = 0
            for lately_hz in before_hz:
                if abs(1200 * np.log2(lately_hz / may_hz)) <= _SAME_NOTE_CENTS:
                    on_it += 1
            if on_it >= _MOST_OF_THEM:
                goes[place], note_hz = other, may_hz
            elif frame["clarity"] < _CLEAR:
                note_hz = np.nan
        for back in range(len(before_hz) - 1):
            before_hz[back] = before_hz[back + 1]
        before_hz[-1] = note_hz
    return goes, heard_hz
