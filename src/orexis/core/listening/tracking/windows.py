"""Windows of sound about each frame: three lengths, each at the lowest rate that serves.

A `View` keeps the sound at one tier's rate and finds periods in the windows about some centres
(sample indices at full rate). `Power` keeps the whole band, for the level.
"""

from typing import NamedTuple

import numpy as np

from orexis.core.arrays import FloatArray
from orexis.core.compiled import compiled
from orexis.core.listening.tracking.period import LEAST_PERIODS, PeriodFinder, one_stands_out
from orexis.core.listening.tracking.tape import Tape

LOWEST_HZ = 25.0
HIGHEST_HZ = 2000.0

_HIGHEST_CENTROID_HZ = 8000.0
_HALF_CLEAR, _HALF_CLEARER = 0.9, 0.05
_HALF_POWER, _HALVES_FROM_HZ, _HALVES_TO_HZ = 0.4, 260.0, 1600.0
_NO_POWER = 1e-20


class Tier(NamedTuple):
    """One window length: its rate is the analysis rate over `division`; the notes it decides,
    under which pitch it holds too few periods to tell one harmonic from the next, how clear a
    period must be to count, and values of n a sample."""

    window_s: float
    lowest_hz: float
    highest_hz: float
    few_under_hz: float
    clear_enough: float
    division: int
    finer: int


TIERS = (
    Tier(0.028, 160.0, HIGHEST_HZ, LEAST_PERIODS / 0.028, 0.72, 1, 2),
    Tier(0.060, 40.0, 1200.0, LEAST_PERIODS / 0.060, 0.66, 2, 2),
    Tier(0.176, LOWEST_HZ, 500.0, LEAST_PERIODS / 0.176, 0.5, 4, 1),
)


class Power:
    """Mean square of the whole band about each centre, in windows of 28 ms or a given length up
    to the longest period."""

    def __init__(self, sample_rate: int, start: int) -> None:
        self._rate = sample_rate
        self._half = round(TIERS[0].window_s * sample_rate / 2)
        self._kept = round(sample_rate / LOWEST_HZ) - self._half + 1
        self._tape = Tape(start - self._kept, self._kept)

    def feed(self, samples: FloatArray) -> None:
        """Takes the next samples."""
        self._tape.feed(samples)

    @property
    def known_until(self) -> int:
        """Windows of 28 ms about centres before this are known."""
        return self._tape.end - self._half + 1

    def levels(self, centre: np.ndarray) -> tuple[FloatArray, FloatArray]:
        """Power about the mean in the 28 ms about some centres, and over the longest period there
        is, up to where those end."""
        ends = centre + (self._half - self._tape.first)
        return _levels(self._tape.samples, ends, 2 * self._half, self._kept + self._half - 1)

    def mean_square(self, centre: np.ndarray, window_s: float) -> FloatArray:
        """Power about the mean in windows of some length about some centres."""
        half = round(window_s * self._rate / 2)
        return _powers(self._tape.samples, centre - (self._tape.first + half), 2 * half)

    def forget(self, centre: int) -> None:
        """Lets go of what no window about this centre or a later one reaches."""
        self._tape.forget(centre - self._kept)


class View:
    """The sound at one tier's rate, and its windows about each centre."""

    def __init__(self, tier: Tier, sample_rate: int, factor: int, start: int) -> None:
        self._factor = factor
        self._rate = sample_rate / factor
        self._half = round(tier.window_s * self._rate / 2)
        self._finder = PeriodFinder(2 * self._half, self._rate, tier.highest_hz, tier.finer)
        self._halves = PeriodFinder(self._half, self._rate, tier.highest_hz, tier.finer)
        # Kept for the longest window, so that its power can be told in this band as well.
        self._kept = round(TIERS[-1].window_s * self._rate / 2)
        self._tape = Tape(start // factor - self._kept, self._kept)
        self._taper = np.hanning(2 * self._half)
        self._taper_size = 1 << (2 * self._half - 1).bit_length()
        lines_hz = self._rate / self._taper_size * np.arange(self._taper_size // 2 + 1.0)
        self._in_centroid_hz: FloatArray = lines_hz[lines_hz <= _HIGHEST_CENTROID_HZ]

    def feed(self, samples: FloatArray) -> None:
        """Takes the next samples."""
        self._tape.feed(samples)

    @property
    def known_until(self) -> int:
        """Windows about centres before this are known."""
        return (self._tape.end - self._half - 1) * self._factor + 1

    def _starts(self, centre: np.ndarray, half: int) -> np.ndarray:
        """Where on the tape the windows about some centres begin."""
        return _starts(centre, self._factor, self._tape.first + half)

    def mean_square(self, centre: np.ndarray, window_s: float) -> FloatArray:
        """Power in this band about the mean, in windows of some length up to the longest."""
        half = round(window_s * self._rate / 2)
        return _powers(self._tape.samples, self._starts(centre, half), 2 * half)

    def look(self, centre: np.ndarray) -> np.ndarray:
        """What the windows about some centres say, one `HEARD` each."""
        before = self._tape.first + self._half
        return self._finder.find(self._tape.samples, centre, self._factor, before)

    def one_stands_out(
        self, centre: np.ndarray, f0_hz: FloatArray, harmonic_hz: FloatArray
    ) -> np.ndarray:
        """Where what is heard at `harmonic_hz` is only one strong harmonic of a note of `f0_hz`;
        never where that is NaN."""
        stands = np.zeros(len(centre), dtype=bool)
        rows = np.flatnonzero(harmonic_hz > 0)
        if len(rows):
            stands[rows] = one_stands_out(
                self._tape.samples,
                self._starts(centre[rows], self._half),
                2 * self._half,
                self._rate / f0_hz[rows],
                np.rint(harmonic_hz[rows] / f0_hz[rows]).astype(np.int64),
            )
        return stands

    def look_at_halves(
        self, centre: np.ndarray, clarity: FloatArray
    ) -> tuple[FloatArray, FloatArray, np.ndarray]:
        """Where two notes meet in a window: the clearer half's pitch and clarity, and whether
        it stands, both halves being a note's and clearer than the whole's `clarity`."""
        sound, before = self._tape.samples, self._tape.first + self._half
        halves = [
            self._halves.find(sound, centre, self._factor, start)
            for start in (before, before - self._half)
        ]
        starts = self._starts(centre, self._half)
        whole = _powers(self._tape.samples, starts, 2 * self._half)
        stands = np.ones(len(centre), dtype=bool)
        for half in halves:
            stands &= half["clarity"] >= np.maximum(clarity + _HALF_CLEARER, _HALF_CLEAR)
            stands &= (half["f0_hz"] >= _HALVES_FROM_HZ) & (half["f0_hz"] <= _HALVES_TO_HZ)
            stands &= half["mean_square"] >= _HALF_POWER * whole
        first, second = halves
        clearer = np.where(first["clarity"] >= second["clarity"], first, second)
        return clearer["f0_hz"], clearer["clarity"], stands

    def centroid_hz(self, centre: np.ndarray) -> FloatArray:
        """Power centroid of the spectrum in the windows about some centres."""
        rows = _tapered(self._tape.samples, self._starts(centre, self._half), self._taper)
        spectrum = np.fft.rfft(rows, self._taper_size, axis=-1)
        return _centroids(spectrum, self._in_centroid_hz)

    def forget(self, centre: int) -> None:
        """Lets go of what no window about this centre or a later one reaches."""
        self._tape.forget(round(centre / self._factor) - self._kept)


@compiled
def _starts(centre: np.ndarray, factor: int, first: int) -> np.ndarray:
    """Where windows about some centres begin in a sound of one `factor`-th of the rate that
    itself begins as far before `first` as the windows before their centres."""
    starts = np.empty(len(centre), np.int64)
    for place in range(len(centre)):
        starts[place] = round(centre[place] / factor) - first
    return starts


@compiled
def _levels(
    sound: FloatArray, ends: np.ndarray, short: int, long: int
) -> tuple[FloatArray, FloatArray]:
    """Power about the mean in windows of two lengths that end at some samples."""
    of_short, of_long = np.empty(len(ends)), np.empty(len(ends))
    for place in range(len(ends)):
        total = square = 0.0
        for at in range(1, long + 1):
            value = sound[ends[place] - at]
            total += value
            square += value * value
            if at == short:
                of_short[place] = _variance(total, square, short)
        of_long[place] = _variance(total, square, long)
    return of_short, of_long


@compiled
def _powers(sound: FloatArray, starts: np.ndarray, length: int) -> FloatArray:
    """Power about the mean in windows of one length."""
    powers = np.empty(len(starts))
    for place in range(len(starts)):
        total = square = 0.0
        for value in sound[starts[place] : starts[place] + length]:
            total += value
            square += value * value
        powers[place] = _variance(total, square, length)
    return powers


@compiled
def _variance(total: float, square: float, count: int) -> float:
    """Power about the mean of so many values, from their sum and that of their squares."""
    return max(square / count - (total / count) ** 2, 0.0)


@compiled
def _tapered(sound: FloatArray, starts: np.ndarray, taper: FloatArray) -> FloatArray:
    """Windows about their mean under a taper, one a row."""
    length = len(taper)
    rows = np.empty((len(starts), length))
    for place in range(len(starts)):
        window = sound[starts[place] : starts[place] + length]
        middle = window.sum() / length
        for at in range(length):
            rows[place, at] = (window[at] - middle) * taper[at]
    return rows


@compiled
def _centroids(spectra: np.ndarray, frequencies_hz: FloatArray) -> FloatArray:
    """The mean of some frequencies, the first of each row's, weighted by their power."""
    centroids = np.empty(len(spectra))
    for row in range(len(spectra)):
        total = weighted = 0.0
        for line in range(len(frequencies_hz)):
            power = spectra[row, line].real ** 2 + spectra[row, line].imag ** 2
            total += power
            weighted += power * frequencies_hz[line]
        centroids[row] = weighted / max(total, _NO_POWER)
    return centroids
