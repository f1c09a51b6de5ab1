"""Frames: what a sound is every 10 ms.

Measured per frame: f0 (Hz, NaN when not voiced), level (dB re full scale, RMS), harmonicity
(harmonics-to-noise ratio, dB) and brightness (spectral centroid as a multiple of f0). Frame k is
centred on k·10 ms.
"""

from dataclasses import dataclass

import numpy as np

from orexis.core.arrays import FloatArray

HOP_S = 0.01
SILENCE_DB = -100.0
"""Level reported for digital silence."""


@dataclass(frozen=True, slots=True)
class Frames:
    """A stretch of consecutive frames; `first` is the number of the first one.

    All arrays have one value per frame. `f0_hz`, `harmonicity_db` and `brightness` are NaN
    where the sound is not voiced.
    """

    first: int
    f0_hz: FloatArray
    level_db: FloatArray
    harmonicity_db: FloatArray
    brightness: FloatArray

    def __len__(self) -> int:
        return len(self.f0_hz)

    @property
    def time_s(self) -> FloatArray:
        """Time of each frame in seconds from the start of the sound."""
        return np.arange(self.first, self.first + len(self), dtype=np.float64) * HOP_S

    @property
    def voiced(self) -> np.ndarray:
        """Which frames have a pitch."""
        return np.isfinite(self.f0_hz)

    def between(self, first: int, last: int) -> "Frames":
        """Frames numbered `first` up to, not including, `last`."""
        if first <= self.first and last >= self.first + len(self):
            return self
        cut = slice(max(first - self.first, 0), max(last - self.first, 0))
        return Frames(
            max(first, self.first),
            self.f0_hz[cut],
            self.level_db[cut],
            self.harmonicity_db[cut],
            self.brightness[cut],
        )

    @property
    def hushed(self) -> "Frames":
        """The same levels without any pitch."""
        nothing = np.full(len(self), np.nan)
        return Frames(self.first, nothing, self.level_db, nothing, nothing)

    @staticmethod
    def unheard(first: int, last: int) -> "Frames":
        """Frames `first` up to `last` of which nothing is known."""
        nothing = np.full(max(last - first, 0), np.nan)
        return Frames(first, nothing, np.full(len(nothing), SILENCE_DB), nothing, nothing)

    @staticmethod
    def none(first: int = 0) -> "Frames":
        """No frames, standing before frame `first`."""
        empty = np.empty(0)
        return Frames(first, empty, empty, empty, empty)

    @staticmethod
    def joined(parts: "list[Frames]", first: int = 0) -> "Frames":
        """Consecutive stretches as one; `first` places the result when there are none."""
        parts = [part for part in parts if len(part)]
        if not parts:
            return Frames.none(first)
        if len(parts) == 1:
            return parts[0]
        return Frames(
            parts[0].first,
            np.concatenate([part.f0_hz for part in parts]),
            np.concatenate([part.level_db for part in parts]),
            np.concatenate([part.harmonicity_db for part in parts]),
            np.concatenate([part.brightness for part in parts]),
        )
