"""Pitch as numbers: Hz and MIDI note numbers.

Conventions: equal temperament, A4 is MIDI 69; fractional MIDI numbers are semitones, so
0.01 of one is a cent.
"""

from math import log2

A4_MIDI = 69
A4_HZ = 440.0
A4_LOWEST_HZ = 415.0
A4_HIGHEST_HZ = 466.0


def hz_from_midi(midi: float, a4_hz: float = A4_HZ) -> float:
    """Frequency in Hz of a (fractional) MIDI note number."""
    return float(a4_hz * 2.0 ** ((midi - A4_MIDI) / 12.0))


def midi_from_hz(f0_hz: float, a4_hz: float = A4_HZ) -> float:
    """Fractional MIDI note number of a frequency in Hz."""
    return A4_MIDI + 12.0 * log2(f0_hz / a4_hz)
