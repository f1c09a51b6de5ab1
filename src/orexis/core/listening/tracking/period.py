"""The period of a sound in windows of one length, many windows at once.

Pitch comes from the normalised square difference n(τ) = 2·r(τ)/m(τ), r being the
autocorrelation of a window and m(τ) the energy of its two overlapping parts. The period is the
first peak that is as good as the best one but for what noise explains: harmonics that are weak
but there make the true period better than its fractions by more than the noise does. The peaks
near two, four, eight… periods refine it. Sources: P. McLeod and G. Wyvill, "A smarter way to
find pitch", ICMC 2005 (normalised square difference); the choice among peaks is our own.
"""

from typing import NamedTuple

import numpy as np

from orexis.core.arrays import FloatArray
from orexis.core.listening.tracking.harmonics import one_stands_out

_NOISE_MARGIN = 2.5
_LEAST_MARGIN = 0.07
_LOWEST_SHARE = 0.82
_NEARLY = 0.82
_EXPLAINS, _NOTHING_LEFT = 0.4, 0.004
_FINE_REACH = 3
_POLYNOMIAL = np.linalg.inv(np.vander(np.arange(-_FINE_REACH, _FINE_REACH + 1), increasing=True)).T
"""Weights that give the polynomial through seven neighbouring samples, lowest power first."""

_ORDERS = np.arange(2 * _FINE_REACH)
_ALL_ORDERS = np.arange(2 * _FINE_REACH + 1)
_SLOPE = np.arange(1, 2 * _FINE_REACH + 1)
_BEND = _SLOPE[:-1] * _SLOPE[1:]
"""What differentiating once and twice makes of each power's weight."""

_EDGE = _FINE_REACH + 2
_NEAR = np.arange(-2, 3)


class Periods(NamedTuple):
    """Per window: the period in samples and n there; and the shortest period the sound nearly
    repeats at, a fraction of the first or the same."""

    period: FloatArray
    clarity: FloatArray
    nearly_period: FloatArray
    nearly_clarity: FloatArray


class PeriodFinder:
    """Finds periods of `shortest` samples and more in windows of `length` samples.

    `finer` is how many values of n are taken a sample: peaks of a high, bright note are narrow.
    """

    def __init__(self, length: int, shortest: float, finer: int = 1) -> None:
        self.length = length
        self._finer = finer
        self._fft_size = _fast_size(length + length // 2)
        self._longest_lag = length // 2 * finer
        self._shortest_lag = max(2, int(shortest * finer))
        lags = np.arange(length // 2 + 1)
        self._head = length - 1 - lags
        self._tail = lags[1:] - 1

    def find(self, rows: FloatArray) -> Periods:
        """Periods of windows given as rows (windows × length)."""
        rows = rows - np.add.reduce(rows, axis=-1, keepdims=True) / self.length
        spectrum = np.fft.rfft(rows, self._fft_size, axis=-1)
        power = spectrum.real**2 + spectrum.imag**2
        correlation = np.fft.irfft(power, self._fft_size * self._finer, axis=-1)
        correlation = correlation[:, : self._longest_lag + 1] * self._finer
        energy = np.cumsum(rows * rows, axis=-1)
        overlap = energy[:, self._head] + energy[:, -1:]
        overlap[:, 1:] -= energy[:, self._tail]
        likeness = 2 * correlation / np.maximum(self._between(overlap), 1e-20)
        return self._choose(likeness, rows)

    def _between(self, overlap: FloatArray) -> FloatArray:
        """The overlap's energy at the finer lags, straight from one to the next."""
        if self._finer == 1:
            return overlap
        fine = np.empty((len(overlap), self._longest_lag + 1))
        step = np.diff(overlap, axis=-1) / self._finer
        for part in range(self._finer):
            fine[:, part :: self._finer][:, : step.shape[1]] = overlap[:, :-1] + part * step
        fine[:, -1] = overlap[:, -1]
        return fine

    def _choose(self, likeness: FloatArray, sound: FloatArray) -> Periods:
        inner = likeness[:, 1:-1]
        is_peak = (inner > likeness[:, :-2]) & (inner >= likeness[:, 2:]) & (inner > 0)
        is_peak[:, : self._shortest_lag - 1] = False
        heights = _vertices(likeness) * is_peak
        best = heights.max(axis=-1, keepdims=True)
        margin = np.maximum(_NOISE_MARGIN * (1 - best), _LEAST_MARGIN)
        good_enough = np.maximum(best - margin, _LOWEST_SHARE * best)
        first = np.argmax((heights >= good_enough) & is_peak, axis=-1) + 1
        found = is_peak.any(axis=-1)
        rows = np.arange(len(likeness))
        first = self._without_lone_harmonic(heights, first, sound)
        offset, clarity = self._top(likeness, first)
        nearly = np.minimum(np.argmax(heights >= _NEARLY, axis=-1) + 1, first)
        nearly = np.where(heights[rows, nearly - 1] >= _NEARLY, nearly, first)
        lone = self._is_lone_harmonic(sound, first, nearly, nearly < first)
        nearly = np.where(lone, first, nearly)
        nearly_clarity = clarity
        if not np.array_equal(nearly, first):
            offset, nearly_clarity = self._top(likeness, nearly)
        nearly_period = nearly + offset
        # The farthest of the peaks near two, four, eight… periods tells the period finest.
        peak, multiple = first, np.ones(len(rows))
        period = first + _vertex_offset(likeness, rows, first)
        going = found.copy()
        while True:
            middle = np.rint(2 * multiple * period).astype(np.intp)
            going = going & (middle + _EDGE <= self._longest_lag)
            if not going.any():
                break
            safe = np.where(going, middle, _EDGE)
            highest = np.argmax(likeness[rows[:, None], safe[:, None] + _NEAR], axis=-1)
            going = going & (highest > 0) & (highest < len(_NEAR) - 1)
            multiple = np.where(going, 2 * multiple, multiple)
            peak = np.where(going, safe + _NEAR[highest], peak)
            period = np.where(
                going, (peak + _vertex_offset(likeness, rows, peak)) / multiple, period
            )
        offset, _ = self._top(likeness, peak)
        period = (peak + offset) / multiple
        return Periods(
            period / self._finer,
            np.where(found, np.minimum(clarity, 1.0), 0.0),
            nearly_period / self._finer,
            np.where(found, np.minimum(nearly_clarity, 1.0), 0.0),
        )

    def _without_lone_harmonic(
        self, heights: FloatArray, first: np.ndarray, sound: FloatArray
    ) -> np.ndarray:
        """The first peaks, or later ones that explain what those leave, where the first is the
        work of one strong harmonic."""
        best = heights.max(axis=-1)
        left = 1 - heights[np.arange(len(heights)), first - 1]
        rows = np.flatnonzero((left > _NOTHING_LEFT) & (1 - best < _EXPLAINS * left))
        if not len(rows):
            return first
        explains = 1 - heights[rows] < _EXPLAINS * left[rows, None]
        later = np.argmax(explains, axis=-1) + 1
        lone = self._is_lone_harmonic(sound[rows], later, first[rows], later > first[rows])
        chosen = first.copy()
        chosen[rows] = np.where(lone, later, first[rows])
        return chosen

    def _is_lone_harmonic(
        self, sound: FloatArray, lag: np.ndarray, shorter: np.ndarray, may: np.ndarray
    ) -> np.ndarray:
        """Whether a note of one lag has a single strong harmonic that repeats at a shorter one."""
        lone = np.zeros(len(lag), dtype=bool)
        if may.any():
            rows = np.flatnonzero(may)
            multiple = np.rint(lag[rows] / shorter[rows])
            lone[rows] = one_stands_out(sound[rows], lag[rows] / self._finer, multiple)
        return lone

    def _top(self, likeness: FloatArray, peak: np.ndarray) -> tuple[FloatArray, FloatArray]:
        """How far from each row's peak sample the top of the curve through seven lies, and how
        high it is."""
        rows = np.arange(len(likeness))
        index = peak[:, None] + np.arange(-_FINE_REACH, _FINE_REACH + 1)
        # n is even about lag 0; near the end the outermost value stands in.
        around = likeness[rows[:, None], np.minimum(np.abs(index), self._longest_lag)]
        # Not a matrix product: its last bits would depend on how many rows there are.
        terms = (around[:, :, None] * _POLYNOMIAL).sum(axis=1)
        # One Newton step from the vertex of the three middle ones is exact enough.
        left, middle, right = (around[:, _FINE_REACH + step] for step in (-1, 0, 1))
        at = _vertex(left, middle, right)
        powers = at[:, None] ** _ORDERS
        slope = (terms[:, 1:] * _SLOPE * powers).sum(axis=-1)
        bend = (terms[:, 2:] * _BEND * powers[:, :-1]).sum(axis=-1)
        step = np.where(bend < 0, slope / np.where(bend < 0, bend, -1.0), 0.0)
        at = np.clip(at - step, -0.75, 0.75)
        height: FloatArray = (terms * at[:, None] ** _ALL_ORDERS).sum(axis=-1)
        return at, height


def _fast_size(least: int) -> int:
    """The smallest size from `least` on whose only prime factors are 2, 3 and 5: a Fourier
    transform of it is quick."""
    size = least
    while True:
        rest = size
        for prime in (2, 3, 5):
            while rest % prime == 0:
                rest //= prime
        if rest == 1:
            return size
        size += 1


def _vertex_offset(likeness: FloatArray, rows: np.ndarray, peak: np.ndarray) -> FloatArray:
    """How far from each row's peak the vertex through it and its two neighbours lies."""
    return _vertex(*(likeness[rows, peak + step] for step in (-1, 0, 1)))


def _vertex(left: FloatArray, middle: FloatArray, right: FloatArray) -> FloatArray:
    bend = left - 2 * middle + right
    offset: FloatArray = np.where(
        bend < 0, 0.5 * (left - right) / np.where(bend < 0, bend, -1.0), 0.0
    )
    return offset


def _vertices(likeness: FloatArray) -> FloatArray:
    """Height of the parabola through each inner value and its two neighbours."""
    left, middle, right = likeness[:, :-2], likeness[:, 1:-1], likeness[:, 2:]
    bend = left - 2 * middle + right
    safe = np.where(bend < 0, bend, -1.0)
    vertex: FloatArray = np.where(bend < 0, middle - (left - right) ** 2 / (8 * safe), middle)
    return vertex
