"""What the spectra of the last minute say of a microphone: hum of the mains, and where its sound
ends.

A spectrum is taken of half a second (Hann window) twice a second. Of each only its lowest
lines and its power in narrow bands are kept.
"""

from collections import deque
from dataclasses import dataclass

import numpy as np

from orexis.core.arrays import FloatArray

_MAINS_HZ = (50, 60)
_HARMONICS = 8
_WINDOW_S, _LINE_HZ = 0.5, 2
_LINES = (_MAINS_HZ[-1] * _HARMONICS + 40) // _LINE_HZ
_KEPT, _RECENT, _LEAST = 120, 24, 4
"""So many spectra are kept, so many of them tell where sound ends, and so many are needed to tell
anything."""
_ROOM_OVER_DB = 6.0
_OVER_NEIGHBOURS_DB, _STEADY_DB = 12.0, 6.0
_LEAST_HARMONICS = 3
_LINE, _BESIDE, _NEIGHBOURS = 1, 3, 10
"""A line of a Hann window is three bins wide; what lies around it begins at the third."""

_LOWEST_BAND_HZ, _BANDS_AN_OCTAVE = 2000.0, 12
_EDGES_HZ = 3000.0, 9000.0
_EDGE_DB = 25.0
_BELOW, _ABOVE = (0.72, 0.94), 1.1
_ROUNDING = 2.0**-30 / 12
"""The power that rounding to 16 bits adds, spread evenly up to half the rate."""
_NOTHING_DB = 10.0
"""Above its end no more is left of a sound than this much over the rounding."""
_SILENT = 1e-10


@dataclass(frozen=True, slots=True)
class Hum:
    """Hum of the mains: their frequency, and how loud its lines are together, in dB."""

    mains_hz: int
    level_db: float


@dataclass(frozen=True, slots=True)
class _Spectrum:
    """Powers (of full scale 1): of all, of the lowest lines, 2 Hz apart, and of each hertz of the
    narrow bands."""

    power: float
    lines: FloatArray
    bands: FloatArray


class Spectra:
    """The spectra of the last minute of a sound."""

    def __init__(self, sample_rate: int) -> None:
        self._rate = sample_rate
        self._size = round(sample_rate * _WINDOW_S)
        self._rest = np.empty(0)
        self._window = np.hanning(self._size)
        octaves = np.log2(0.45 * sample_rate / _LOWEST_BAND_HZ)
        steps = np.arange(max(int(octaves * _BANDS_AN_OCTAVE), 0) + 1) / _BANDS_AN_OCTAVE
        self._bounds_hz = _LOWEST_BAND_HZ * 2**steps
        self._kept: deque[_Spectrum] = deque(maxlen=_KEPT)

    def feed(self, samples: FloatArray) -> None:
        """Takes the next samples (1-D, full scale ±1)."""
        self._rest = np.concatenate([self._rest, samples])
        while len(self._rest) >= self._size:
            self._kept.append(self._spectrum(self._rest[: self._size]))
            self._rest = self._rest[self._size :]

    def hum(self) -> Hum | None:
        """The hum in what is quiet of the last minute: at least three of the mains' first eight
        harmonics stand 12 dB above what lies around them, all the time."""
        sounding = [spectrum for spectrum in self._kept if spectrum.power > _SILENT]
        most = min((spectrum.power for spectrum in sounding), default=0.0) * 10 ** (
            _ROOM_OVER_DB / 10
        )
        room = np.array([spectrum.lines for spectrum in sounding if spectrum.power <= most])
        if len(room) < _LEAST:
            return None
        found = {mains_hz: _harmonics(room, mains_hz) for mains_hz in _MAINS_HZ}
        mains_hz = max(found, key=lambda one: len(found[one]))
        powers = found[mains_hz]
        if len(powers) < _LEAST_HARMONICS:
            return None
        return Hum(mains_hz, float(10 * np.log10(sum(powers))))

    def ends_at_hz(self) -> float | None:
        """Where the sound ends, in Hz, `None` where that is not below 9 kHz: its sampling holds no
        more, or there is nothing above and 25 dB more just below, in the loudest of each band.
        Where it ends of itself, the hiss of the room and of the microphone goes on above it."""
        if self._rate / 2 <= _EDGES_HZ[1]:
            return self._rate / 2
        if len(self._kept) < _LEAST:
            return None
        bands = np.max([spectrum.bands for spectrum in list(self._kept)[-_RECENT:]], axis=0)
        nothing = _ROUNDING / (self._rate / 2) * 10 ** (_NOTHING_DB / 10)
        lower_hz, upper_hz = self._bounds_hz[:-1], self._bounds_hz[1:]
        for edge_hz in lower_hz[(lower_hz >= _EDGES_HZ[0]) & (lower_hz <= _EDGES_HZ[1])]:
            below = bands[(lower_hz >= _BELOW[0] * edge_hz) & (upper_hz <= _BELOW[1] * edge_hz)]
            above = bands[lower_hz >= _ABOVE * edge_hz]
            highest = above.max(initial=0.0)
            if highest < nothing and np.median(below) > highest * 10 ** (_EDGE_DB / 10):
                return float(edge_hz)
        return None

    def _spectrum(self, samples: FloatArray) -> _Spectrum:
        """Powers such that a sine of amplitude a has a² / 2 in its three bins together."""
        transformed = np.fft.rfft(samples * self._window)
        powers = 2 * np.abs(transformed) ** 2 / (self._size * np.sum(self._window**2))
        at = np.searchsorted(np.arange(len(powers)) * self._rate / self._size, self._bounds_hz)
        summed = np.concatenate([[0.0], np.cumsum(powers)])[at]
        bands = np.diff(summed) / np.diff(self._bounds_hz)
        return _Spectrum(float(np.mean(samples**2)), powers[:_LINES], bands)


def _harmonics(room: FloatArray, mains_hz: int) -> list[float]:
    """The powers of the mains' harmonics that are there all the time; `room` has a spectrum a
    row."""
    found: list[float] = []
    for order in range(1, _HARMONICS + 1):
        at = order * mains_hz // _LINE_HZ
        line = room[:, at - _LINE : at + _LINE + 1].sum(axis=1)
        around = np.concatenate(
            [
                room[:, at - _NEIGHBOURS : at - _BESIDE + 1],
                room[:, at + _BESIDE : at + _NEIGHBOURS + 1],
            ],
            axis=1,
        )
        over = line / ((2 * _LINE + 1) * np.median(around, axis=1) + _SILENT)
        steady = line.max() <= line.min() * 10 ** (_STEADY_DB / 10)
        if steady and (over >= 10 ** (_OVER_NEIGHBOURS_DB / 10)).all():
            found.append(float(np.median(line)))
    return found
