"""Pitch as numbers: Hz, MIDI note numbers and cents.

Conventions: equal temperament, A4 is MIDI 69; fractional MIDI numbers are semitones, so
0.01 of one is a cent. All functions work on floats and on arrays alike.
"""

from typing import overload

import numpy as np
from numpy.typing import NDArray

FloatArray = NDArray[np.float64]

A4_MIDI = 69
A4_HZ = 440.0
A4_LOWEST_HZ = 415.0
A4_HIGHEST_HZ = 466.0


@overload
def hz_from_midi(midi: float, a4_hz: float = A4_HZ) -> float: ...
@overload
def hz_from_midi(midi: FloatArray, a4_hz: float = A4_HZ) -> FloatArray: ...
def hz_from_midi(midi: float | FloatArray, a4_hz: float = A4_HZ) -> float | FloatArray:
    """Frequency in Hz of a (fractional) MIDI note number."""
    return a4_hz * 2.0 ** ((midi - A4_MIDI) / 12.0)


@overload
def midi_from_hz(f0_hz: float, a4_hz: float = A4_HZ) -> float: ...
@overload
def midi_from_hz(f0_hz: FloatArray, a4_hz: float = A4_HZ) -> FloatArray: ...
def midi_from_hz(f0_hz: float | FloatArray, a4_hz: float = A4_HZ) -> float | FloatArray:
    """Fractional MIDI note number of a frequency in Hz; NaN stays NaN."""
    midi = A4_MIDI + 12.0 * np.log2(np.asarray(f0_hz) / a4_hz)
    return float(midi) if np.ndim(f0_hz) == 0 else midi


def cents_between(f0_hz: FloatArray, reference_hz: float) -> FloatArray:
    """Signed cents of each frequency above (+) or below (−) a reference, both in Hz."""
    return 1200.0 * np.log2(f0_hz / reference_hz)
