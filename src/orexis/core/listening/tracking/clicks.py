"""Clicks: a metronome, a valve or a chair, louder than the note for a moment.

In a window that a click fills, some other pitch may be the best there is. Such frames are few,
unclear (or on a pitch that the note is a multiple of, which click and note together may make),
and the note goes on after them where it was before; a slot that really speaks is clear or stays.
Which frames they are depends on the frames around them alone.
"""

import numpy as np

from orexis.core.arrays import FloatArray

_LONGEST_RUN = 3
_OFF_CENTS, _BACK_CENTS, _STEADY_CENTS = 35.0, 40.0, 25.0
UNCLEAR = 0.93
"""A frame less clear than this may be a click."""


def without_clicks(
    before_hz: tuple[float, float], f0_hz: FloatArray, clarity: FloatArray, final: bool
) -> tuple[FloatArray, int]:
    """The pitches with clicks bridged, and how many of them can be told already.

    `before_hz` are the two pitches before the first, as they were told; NaN is not voiced. A
    frame that may be a click waits for up to five more, unless there are no more (`final`).
    """
    bridged = f0_hz.copy()
    found = [*before_hz, *f0_hz.tolist()]
    count = len(f0_hz)
    bridged_until = 0
    just_before = np.concatenate((before_hz[1:], f0_hz))[:count]
    suspect = (clarity < UNCLEAR) | _under(just_before, f0_hz)
    for frame in np.flatnonzero(suspect).tolist():
        earlier, last, now = found[frame : frame + 3]
        if frame < bridged_until or not _leaps(earlier, last, now):
            continue
        back = _comes_back(found, frame + 2, last)
        if back is None and not final and frame + _LONGEST_RUN + 2 > count:
            return bridged, frame
        if back is None:
            continue
        run = slice(frame, back - 2)
        if np.any((clarity[run] >= UNCLEAR) & ~_under(last, f0_hz[run])):
            continue
        bridged_until = back - 2
        share = np.arange(1, bridged_until - frame + 1) / (bridged_until - frame + 1)
        bridged[frame:bridged_until] = last * (found[back] / last) ** share
        found[frame + 2 : back] = bridged[frame:bridged_until].tolist()
    return bridged, count


def _leaps(earlier: float, last: float, now: float) -> bool:
    return _apart(earlier, last) <= _STEADY_CENTS and _apart(now, last) > _OFF_CENTS


def _comes_back(found: list[float], start: int, pitch: float) -> int | None:
    """Where, after at most three frames, two stand on a pitch again."""
    for at in range(start + 1, min(start + _LONGEST_RUN, len(found) - 2) + 1):
        if max(_apart(found[at], pitch), _apart(found[at + 1], pitch)) <= _BACK_CENTS:
            return at
    return None


def _under(note_hz: FloatArray | float, f0_hz: FloatArray) -> np.ndarray:
    """Which pitches lie an octave or a twelfth under a note."""
    apart = [np.abs(1200 * np.log2(part * f0_hz / note_hz)) for part in (2, 3)]
    under: np.ndarray = np.minimum(*apart) <= _STEADY_CENTS
    return under


def _apart(one_hz: float, other_hz: float) -> float:
    """Cents between two pitches; NaN when either is not voiced, which no limit admits."""
    return float(abs(1200 * np.log2(one_hz / other_hz)))
