"""Windows of sound about each frame: three lengths, each at the lowest rate that serves.

A `View` keeps the sound at one tier's rate and finds periods in the windows about some centres
(sample indices at full rate). `Power` keeps the whole band, for the level.
"""

from dataclasses import dataclass

import numpy as np

from orexis.core.arrays import FloatArray, stretches
from orexis.core.listening.tracking.harmonics import LEAST_PERIODS, one_stands_out
from orexis.core.listening.tracking.period import PeriodFinder

LOWEST_HZ = 25.0
HIGHEST_HZ = 2000.0

_HIGHEST_CENTROID_HZ = 8000.0
_CLEAR_OF_FEW = 0.9
_HALF_CLEAR, _HALF_CLEARER = 0.9, 0.05
_HALF_POWER, _HALVES_FROM_HZ, _HALVES_TO_HZ = 0.4, 260.0, 1600.0


@dataclass(frozen=True, slots=True)
class Tier:
    """One window length: its rate is the analysis rate over `division`; the notes it decides,
    how clear a period must be to count, and values of n a sample."""

    window_s: float
    lowest_hz: float
    highest_hz: float
    division: int
    clear_enough: float
    finer: int


TIERS = (
    Tier(0.028, 160.0, HIGHEST_HZ, 1, 0.72, 2),
    Tier(0.060, 40.0, 1200.0, 2, 0.66, 2),
    Tier(0.176, LOWEST_HZ, 500.0, 4, 0.5, 1),
)


class Power:
    """Mean square of the whole band about each centre, in windows of 28 ms or a given length up
    to the longest period."""

    def __init__(self, sample_rate: int, start: int) -> None:
        self._rate = sample_rate
        self._half = round(TIERS[0].window_s * sample_rate / 2)
        self._kept = round(sample_rate / LOWEST_HZ) - self._half + 1
        self._start = start - self._kept
        self._buffer: FloatArray = np.zeros(self._kept)

    def feed(self, samples: FloatArray) -> None:
        """Takes the next samples."""
        self._buffer = np.concatenate((self._buffer, samples))

    @property
    def known_until(self) -> int:
        """Windows of 28 ms about centres before this are known."""
        return self._start + len(self._buffer) - self._half + 1

    def mean_square(self, centre: np.ndarray, window_s: float | None = None) -> FloatArray:
        """Power about the mean in the windows about some centres."""
        half = self._half if window_s is None else round(window_s * self._rate / 2)
        return _variance(_windows(self._buffer, centre - self._start - half, 2 * half))

    def lately(self, centre: np.ndarray) -> FloatArray:
        """Power over the longest period there is, up to where the 28 ms about a centre end."""
        length = self._kept + self._half - 1
        return _variance(_windows(self._buffer, centre - self._start - self._kept + 1, length))

    def forget(self, centre: int) -> None:
        """Lets go of what no window about this centre or a later one reaches."""
        keep = centre - self._kept - self._start
        if keep > 0:
            self._buffer = self._buffer[keep:]
            self._start += keep


@dataclass(frozen=True, slots=True)
class Seen:
    """What one window says of each row: pitch, n at the period, both where the sound nearly
    repeats sooner, power, certainty."""

    f0_hz: FloatArray
    clarity: FloatArray
    nearly_hz: FloatArray
    nearly_clarity: FloatArray
    mean_square: FloatArray
    decided: np.ndarray


class View:
    """The sound at one tier's rate, and its windows about each centre."""

    def __init__(self, tier: Tier, sample_rate: int, factor: int, start: int) -> None:
        self._tier = tier
        self._factor = factor
        self._rate = sample_rate / factor
        self._half = round(tier.window_s * self._rate / 2)
        self._finder = PeriodFinder(2 * self._half, self._rate / tier.highest_hz - 1, tier.finer)
        self._halves = PeriodFinder(self._half, self._rate / tier.highest_hz - 1, tier.finer)
        # Kept for the longest window, so that its power can be told in this band as well.
        self._kept = round(TIERS[-1].window_s * self._rate / 2)
        self._start = start // factor - self._kept
        self._buffer: FloatArray = np.zeros(self._kept)
        self._taper = np.hanning(2 * self._half)
        self._taper_size = 1 << (2 * self._half - 1).bit_length()
        self._frequencies = np.fft.rfftfreq(self._taper_size, 1 / self._rate)
        self._in_centroid = (self._frequencies <= _HIGHEST_CENTROID_HZ).astype(np.float64)

    def feed(self, samples: FloatArray) -> None:
        """Takes the next samples."""
        self._buffer = np.concatenate((self._buffer, samples))

    def _at(self, centre: np.ndarray) -> np.ndarray:
        """Where in the buffer some centres stand."""
        at: np.ndarray = np.rint(centre / self._factor).astype(np.intp)
        return at - self._start

    @property
    def known_until(self) -> int:
        """Windows about centres before this are known."""
        return (self._start + len(self._buffer) - self._half - 1) * self._factor + 1

    def _rows(self, centre: np.ndarray) -> FloatArray:
        return _windows(self._buffer, self._at(centre) - self._half, 2 * self._half)

    def mean_square(self, centre: np.ndarray, window_s: float) -> FloatArray:
        """Power in this band about the mean, in windows of some length up to the longest."""
        half = round(window_s * self._rate / 2)
        return _variance(_windows(self._buffer, self._at(centre) - half, 2 * half))

    def look(self, centre: np.ndarray) -> Seen:
        """Pitch in the windows about some centres."""
        rows = self._rows(centre)
        period, clarity, nearly_period, nearly_clarity = self._finder.find(rows)
        f0_hz = self._rate / np.maximum(period, 1.0)
        nearly_hz = self._rate / np.maximum(nearly_period, 1.0)
        few = self._tier.window_s * f0_hz < LEAST_PERIODS
        decided = (
            (clarity >= np.where(few, _CLEAR_OF_FEW, self._tier.clear_enough))
            & (f0_hz >= self._tier.lowest_hz)
            & (f0_hz <= self._tier.highest_hz)
        )
        return Seen(f0_hz, clarity, nearly_hz, nearly_clarity, _variance(rows), decided)

    def one_stands_out(
        self, centre: np.ndarray, f0_hz: FloatArray, harmonic_hz: FloatArray, may: np.ndarray
    ) -> np.ndarray:
        """Where what is heard at `harmonic_hz` is only one strong harmonic of a note of `f0_hz`;
        looked at where it `may` be."""
        stands = np.zeros(len(centre), dtype=bool)
        rows = np.flatnonzero(may & (harmonic_hz > 1.5 * f0_hz))
        if len(rows):
            period, multiple = self._rate / f0_hz[rows], np.rint(harmonic_hz / f0_hz)[rows]
            stands[rows] = one_stands_out(self._rows(centre[rows]), period, multiple)
        return stands

    def look_at_halves(
        self, centre: np.ndarray, clarity: FloatArray
    ) -> tuple[FloatArray, FloatArray, np.ndarray]:
        """Where two notes meet in a window: the clearer half's pitch and clarity, and whether
        it stands, both halves being a note's and clearer than the whole's `clarity`."""
        rows = self._rows(centre)
        parts = rows[:, : self._half], rows[:, self._half :]
        whole = _variance(rows)
        (period_1, clarity_1, *_), (period_2, clarity_2, *_) = map(self._halves.find, parts)
        stands = np.ones(len(rows), dtype=bool)
        for part, own_period, own_clarity in zip(
            parts, (period_1, period_2), (clarity_1, clarity_2), strict=True
        ):
            own_hz = self._rate / np.maximum(own_period, 1.0)
            stands &= own_clarity >= np.maximum(clarity + _HALF_CLEARER, _HALF_CLEAR)
            stands &= (own_hz >= _HALVES_FROM_HZ) & (own_hz <= _HALVES_TO_HZ)
            stands &= _variance(part) >= _HALF_POWER * whole
        first = clarity_1 >= clarity_2
        f0_hz = self._rate / np.maximum(np.where(first, period_1, period_2), 1.0)
        return f0_hz, np.where(first, clarity_1, clarity_2), stands

    def centroid_hz(self, centre: np.ndarray) -> FloatArray:
        """Power centroid of the spectrum in the windows about some centres."""
        rows = self._rows(centre)
        middle = np.add.reduce(rows, axis=-1, keepdims=True) / rows.shape[-1]
        spectrum = np.fft.rfft((rows - middle) * self._taper, self._taper_size, axis=-1)
        power = (spectrum.real**2 + spectrum.imag**2) * self._in_centroid
        total = np.maximum(power.sum(axis=-1), 1e-20)
        centroid: FloatArray = (power * self._frequencies).sum(axis=-1) / total
        return centroid

    def forget(self, centre: int) -> None:
        """Lets go of what no window about this centre or a later one reaches."""
        keep = int(self._at(np.array([centre]))[0]) - self._kept
        if keep > 0:
            self._buffer = self._buffer[keep:]
            self._start += keep


def _windows(sound: FloatArray, starts: np.ndarray, length: int) -> FloatArray:
    """Stretches of one length, one a row."""
    rows: FloatArray = stretches(sound, length)[starts]
    return rows


def _variance(rows: FloatArray) -> FloatArray:
    """Power of each row about its mean."""
    count = rows.shape[-1]
    mean = np.add.reduce(rows, axis=-1) / count
    square = np.add.reduce(rows * rows, axis=-1) / count
    power: FloatArray = np.maximum(square - mean * mean, 0.0)
    return power
