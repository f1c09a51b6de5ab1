"""What a longer window says of a frame, held against what a shorter one said."""

import numpy as np

from orexis.core.arrays import FloatArray

SURE = 0.985
"""How clear a pitch is that needs no other window."""

SAME_CENTS = 25.0
PULSES_SHARE = 0.1
"""A window with less than this of the power around it may lie between two pulses of a pedal."""

_QUIET_SHARE, _PERFECT = 0.6, 0.99
_FRACTION_CENTS = 40.0
_FEW = 6
_DOUBTFUL, _VERY_DOUBTFUL = 0.965, 0.93
_EXPLAINS_SHARE = 0.4


def compared(
    known_hz: FloatArray,
    known_clarity: FloatArray,
    other_hz: FloatArray,
    clarity: FloatArray,
    share: FloatArray,
) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Whether a longer window's pitch agrees with a shorter one's; whether the shorter one's is
    a multiple of it that explains the sound clearly less well; and whether that one is in doubt,
    so that it gives way.

    Per frame: both pitches (Hz) and clarities (0 to 1); `share` is the power of the shortest
    window in this one's: where it is small, it may lie between the pulses of a low note, where
    what little there is may look like a high one.
    """
    ratio = known_hz / other_hz
    multiple = np.rint(ratio)
    agrees = (np.abs(1200 * np.log2(ratio)) <= SAME_CENTS) & (clarity >= known_clarity - 0.01)
    off = np.abs(1200 * np.log2(ratio / np.maximum(multiple, 1)))
    fraction = (multiple >= 2) & ((off <= _FRACTION_CENTS) | (multiple > _FEW))
    doubtful = known_clarity < np.where(multiple > _FEW, _VERY_DOUBTFUL, _DOUBTFUL)
    doubtful |= ((share < _QUIET_SHARE) | (clarity >= _PERFECT)) & (known_clarity < SURE)
    doubtful |= share < PULSES_SHARE
    explains = fraction & (1 - clarity < _EXPLAINS_SHARE * (1 - known_clarity))
    return agrees, explains, doubtful
