"""Sound at a lower rate, as it arrives.

A linear-phase low-pass filter keeps what the lower rate can hold; every output sample stands
exactly on an input sample (index times the factor), so nothing moves in time. Values do not
depend on the size of the chunks.
"""

import numpy as np

from orexis.core.arrays import FloatArray
from orexis.core.compiled import compiled
from orexis.core.listening.tracking.tape import Tape

_HALF_TAPS = 16
_PASS_SHARE = 0.88
_KAISER_BETA = 6.0


class Decimator:
    """Keeps every `factor`-th sample of a filtered sound; `first` is the index of the first
    input sample, a multiple of the factor. What came before it is taken as silence."""

    def __init__(self, factor: int, first: int = 0) -> None:
        self.factor = factor
        self.reach = _HALF_TAPS * factor
        self._taps = _low_pass(self.reach, _PASS_SHARE / factor)
        self._next = first // factor
        self._tape = Tape(first - self.reach, self.reach)

    @property
    def noise_band(self) -> float:
        """The share of white noise's power that passes."""
        return 1.0 if self.factor == 1 else float((self._taps**2).sum())

    def feed(self, samples: FloatArray) -> FloatArray:
        """Takes the next samples; returns the outputs that are now known."""
        if self.factor == 1:
            return samples
        self._tape.feed(samples)
        count = (self._tape.end - self.reach - 1) // self.factor - self._next + 1
        if count <= 0:
            return np.empty(0)
        begin = self._next * self.factor - self.reach - self._tape.first
        filtered = _filtered(self._tape.samples, self._taps, self.factor, begin, count)
        self._next += count
        self._tape.forget(self._next * self.factor - self.reach)
        return filtered


@compiled
def _filtered(
    sound: FloatArray, taps: FloatArray, factor: int, begin: int, count: int
) -> FloatArray:
    """`count` sums of a sound under some taps, which lie from `begin` on for the first and
    `factor` farther for each next one; one phase of the taps after the other, so that
    neighbours are added up at once."""
    filtered = np.zeros(count)
    for phase in range(factor):
        phase_taps = taps[phase::factor]
        kept = sound[begin + phase :: factor].copy()
        for tap in range(len(phase_taps)):
            weight, values = phase_taps[tap], kept[tap : tap + count]
            for at in range(count):
                filtered[at] += weight * values[at]
    return filtered


def _low_pass(reach: int, share: float) -> FloatArray:
    """The taps of a low-pass filter, `reach` either side of the middle one, that passes up to
    a `share` of half the rate: a sinc under a Kaiser window, with a gain of one. Source: A. V.
    Oppenheim and R. W. Schafer, "Discrete-Time Signal Processing", window method."""
    at = np.arange(-reach, reach + 1)
    taps: FloatArray = np.sinc(share * at) * np.kaiser(len(at), _KAISER_BETA)
    scaled: FloatArray = taps / taps.sum()
    return scaled
