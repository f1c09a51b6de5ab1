"""Sound at a lower rate, as it arrives.

A linear-phase low-pass filter keeps what the lower rate can hold; every output sample stands
exactly on an input sample (index times the factor), so nothing moves in time. Values do not
depend on the size of the chunks.
"""

import numpy as np

from orexis.core.arrays import FloatArray, stretches

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
        self._buffer: FloatArray = np.zeros(self.reach)
        self._start = first - self.reach

    @property
    def noise_band(self) -> float:
        """The share of white noise's power that passes."""
        return 1.0 if self.factor == 1 else float((self._taps**2).sum())

    def feed(self, samples: FloatArray) -> FloatArray:
        """Takes the next samples; returns the outputs that are now known."""
        if self.factor == 1:
            return samples
        self._buffer = np.concatenate((self._buffer, samples))
        end = self._start + len(self._buffer)
        count = (end - self.reach - 1) // self.factor - self._next + 1
        if count <= 0:
            return np.empty(0)
        begin = self._next * self.factor - self.reach
        windows = stretches(self._buffer, len(self._taps))
        rows = windows[begin - self._start :: self.factor][:count]
        # Not a matrix product: its last bits would depend on how many rows there are.
        filtered: FloatArray = np.einsum("ij,j->i", rows, self._taps)
        self._next += count
        kept_from = self._next * self.factor - self.reach
        self._buffer = self._buffer[kept_from - self._start :]
        self._start = kept_from
        return filtered


def _low_pass(reach: int, share: float) -> FloatArray:
    """The taps of a low-pass filter, `reach` either side of the middle one, that passes up to
    a `share` of half the rate: a sinc under a Kaiser window, with a gain of one. Source: A. V.
    Oppenheim and R. W. Schafer, "Discrete-Time Signal Processing", window method."""
    at = np.arange(-reach, reach + 1)
    taps: FloatArray = np.sinc(share * at) * np.kaiser(len(at), _KAISER_BETA)
    scaled: FloatArray = taps / taps.sum()
    return scaled
