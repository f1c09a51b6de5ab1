"""The last stretch of a sound: it grows at its end and is let go of at its start."""

import numpy as np

from orexis.core.arrays import FloatArray


class Tape:
    """Samples from number `first` on, at first `silence` zeros."""

    def __init__(self, first: int, silence: int) -> None:
        self.first = first
        self._room = np.zeros(2 * silence)
        self._from, self._to = 0, silence

    def __len__(self) -> int:
        return self._to - self._from

    @property
    def end(self) -> int:
        """The number of the sample that comes next."""
        return self.first + self._to - self._from

    @property
    def samples(self) -> FloatArray:
        """All there is, to read from until the tape is fed again."""
        return self._room[self._from : self._to]

    def feed(self, samples: FloatArray) -> None:
        """Takes the next samples."""
        if self._to + len(samples) > len(self._room):
            room = np.zeros(2 * (len(self) + len(samples)))
            room[: len(self)] = self.samples
            self._room, self._from, self._to = room, 0, len(self)
        self._room[self._to : self._to + len(samples)] = samples
        self._to += len(samples)

    def forget(self, before: int) -> None:
        """Lets go of the samples before a number."""
        gone = max(before - self.first, 0)
        self._from += gone
        self.first += gone
