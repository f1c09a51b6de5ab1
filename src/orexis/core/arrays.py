"""Arrays of numbers: their type, and pitches in them.

Apart from `horn.pitch`, so that what needs no arrays need not load them.
"""

import numpy as np
from numpy.typing import NDArray

from orexis.core.horn.pitch import A4_MIDI

FloatArray = NDArray[np.float64]
IntArray = NDArray[np.int64]
BoolArray = NDArray[np.bool_]


def midis_from_hz(f0_hz: FloatArray, a4_hz: float) -> FloatArray:
    """Fractional MIDI note numbers of frequencies in Hz; NaN stays NaN."""
    midis: FloatArray = A4_MIDI + 12.0 * np.log2(f0_hz / a4_hz)
    return midis


def cents_between(f0_hz: FloatArray, reference_hz: float) -> FloatArray:
    """Signed cents of each frequency above (+) or below (−) a reference, both in Hz."""
    cents: FloatArray = 1200.0 * np.log2(f0_hz / reference_hz)
    return cents
