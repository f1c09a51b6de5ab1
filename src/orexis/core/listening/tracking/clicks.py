"""Clicks: a metronome, a valve or a chair, louder than the note for a moment.

In a window that a click fills, some other pitch may be the best there is. Such frames are few,
unclear (or on a pitch that the note is a multiple of, which click and note together may make),
and the note goes on after them where it was before; a slot that really speaks is clear or stays.
Which frames they are depends on the frames around them alone.
"""

import numpy as np

from orexis.core.arrays import FloatArray
from orexis.core.compiled import compiled

_LONGEST_RUN = 3
_OFF_CENTS, _BACK_CENTS, _STEADY_CENTS = 35.0, 40.0, 25.0
UNCLEAR = 0.93
"""A frame less clear than this may be a click."""

_NOWHERE = -1


@compiled
def without_clicks(
    before_hz: tuple[float, float], f0_hz: FloatArray, clarity: FloatArray, final: bool
) -> tuple[FloatArray, int]:
    """The pitches with clicks bridged, and how many of them can be told already.

    `before_hz` are the two pitches before the first, as they were told; NaN is not voiced. A
    frame that may be a click waits for up to five more, unless there are no more (`final`).
    """
    count = len(f0_hz)
    found = np.empty(count + 2)
    found[0], found[1] = before_hz
    for frame in range(count):
        found[frame + 2] = f0_hz[frame]
    start = 0
    while start < count:
        earlier, last, now = found[start], found[start + 1], found[start + 2]
        just_before = f0_hz[start - 1] if start else before_hz[1]
        suspect = clarity[start] < UNCLEAR or _under(just_before, f0_hz[start])
        leaps = _apart(earlier, last) <= _STEADY_CENTS and _apart(now, last) > _OFF_CENTS
        back = _comes_back(found, start + 2, last) if suspect and leaps else _NOWHERE
        waits = suspect and leaps and back == _NOWHERE and not final
        if waits and start + _LONGEST_RUN + 2 > count:
            return found[2:], start
        end = max(back - 2, start + 1)
        click = back != _NOWHERE
        for frame in range(start, end):
            click = click and (clarity[frame] < UNCLEAR or _under(last, f0_hz[frame]))
        if not click:
            end = start + 1
        for frame in range(start, end if click else start):
            share = (frame + 1 - start) / (end + 1 - start)
            found[frame + 2] = last * (found[back] / last) ** share
        start = end
    return found[2:], count


@compiled
def _comes_back(found: FloatArray, start: int, pitch: float) -> int:
    """Where, after at most three frames, two stand on a pitch again."""
    for at in range(start + 1, min(start + _LONGEST_RUN, len(found) - 2) + 1):
        if _apart(found[at], pitch) <= _BACK_CENTS and _apart(found[at + 1], pitch) <= _BACK_CENTS:
            return at
    return _NOWHERE


@compiled
def _under(note_hz: float, f0_hz: float) -> bool:
    """Whether a pitch lies an octave or a twelfth under a note."""
    octave, twelfth = _apart(2 * f0_hz, note_hz), _apart(3 * f0_hz, note_hz)
    return octave <= _STEADY_CENTS or twelfth <= _STEADY_CENTS


@compiled
def _apart(one_hz: float, other_hz: float) -> float:
    """Cents between two pitches; NaN when either is not voiced, which no limit admits."""
    return float(abs(1200 * np.log2(one_hz / other_hz)))
