"""Takes a drone of known pitch, leaking from the loudspeaker, out of the microphone's sound.

The drone is steady and its pitch is known, so each of its harmonics reaches the microphone with
one strength and phase. They are measured in blocks of 100 ms in which nothing else sounds, two
in a row that agree, and what they add up to is subtracted from then on. A player on the drone's own
pitch is kept: their sound is no part of what was measured, since no player keeps its phase.
"""

from bisect import bisect_right
from collections import deque

import numpy as np

from orexis.core.arrays import FloatArray

LOWEST_DRONE_HZ, HIGHEST_DRONE_HZ = 30.0, 1200.0
_BLOCK_S = 0.1
_HIGHEST_HZ = 6000.0
_MOST_HARMONICS = 24
_ALONE_SHARE = 0.8
_ALONE_POWER = 1.6
_LOUDEST_LEAK = 10 ** (-25 / 10)
_FRESH_SHARE = 0.5
_SAME_PHASE_SHARE = 0.25
_AGREEING_BLOCKS, _HARDER = 2, 4
"""So many blocks must agree, and so many times as many after it was not there after all."""
_ADDED = 2.0
"""So much more power without it than with it tells that a drone is not there."""
_LATE_BLOCKS, _REMEMBERED_BLOCKS = 8, 30
"""A drone may come late by so many blocks, and the softest of so many is no louder than it."""
_LEAST_SHARE = 1e-3
"""Harmonics beyond the last that is as strong as this beside the strongest do not count."""
_SILENCE = 1e-9
_SAME_PITCH_CENTS = 25.0
_LOWEST_RATIO = 0.45
_FIRST_LEAK_DB, _NO_LEAK_DB, _ABOVE_LEAK_DB = -25.0, -44.0, 4.0
_FIRST_BLOCKS = 4


class DroneCanceller:
    """Subtracts a drone of `hz`; `first` is the index of the first sample."""

    def __init__(self, sample_rate: int, hz: float, first: int = 0) -> None:
        if not LOWEST_DRONE_HZ <= hz <= HIGHEST_DRONE_HZ:
            raise ValueError(
                f"A drone sounds between {LOWEST_DRONE_HZ:g} and {HIGHEST_DRONE_HZ:g} Hz, "
                f"not at {hz:g} Hz."
            )
        self._step = 2 * np.pi * hz / sample_rate
        self._harmonics = max(1, min(_MOST_HARMONICS, int(_HIGHEST_HZ / hz)))
        self._size = round(_BLOCK_S * sample_rate)
        self._window = np.hanning(self._size + 1)[:-1]
        self._first = self._next = first
        self._perhaps = (first, first, _FIRST_LEAK_DB)
        self._block: FloatArray = np.zeros(0)
        self._left = 0.0
        self._agreed, self._needed = 0, _AGREEING_BLOCKS
        self._strength: np.ndarray | None = None
        self._before: tuple[int, np.ndarray] | None = None
        self._powers: deque[float] = deque(maxlen=_REMEMBERED_BLOCKS)
        self._learnt: list[tuple[int, float]] = []

    def leak_db(self, sample: int) -> float:
        """How loud the drone had been found to be by some sample. Before it was found it may be
        loud in the first moments, since nobody plays yet, and after that it hardly leaks."""
        at = bisect_right(self._learnt, sample, key=lambda learnt: learnt[0])
        if at:
            return self._learnt[at - 1][1]
        since, until, level_db = self._perhaps
        if since <= sample < until:
            return level_db
        return _FIRST_LEAK_DB if sample - self._first < _FIRST_BLOCKS * self._size else _NO_LEAK_DB

    def feed(self, samples: FloatArray) -> FloatArray:
        """The samples with the drone taken out."""
        parts: list[FloatArray] = []
        at = 0
        while at < len(samples):
            room = self._size - self._next % self._size
            part = samples[at : at + room]
            turning = np.exp(1j * self._step * (self._next + np.arange(len(part))))
            without = part - self._drone(turning)
            parts.append(without)
            self._left += float((without**2).sum())
            self._block = np.concatenate((self._block, part))
            self._next += len(part)
            at += len(part)
            if self._next % self._size == 0:
                if len(self._block) == self._size:
                    self._learn()
                self._block, self._left = np.zeros(0), 0.0
        return np.concatenate(parts) if parts else samples

    def _drone(self, turning: np.ndarray) -> FloatArray:
        if self._strength is None:
            return np.zeros(len(turning))
        # The harmonics are powers of the first: a polynomial, the highest power first.
        total = np.zeros(len(turning), dtype=np.complex128)
        strong = np.flatnonzero(
            np.abs(self._strength) > _LEAST_SHARE * np.abs(self._strength).max()
        )
        for strength in self._strength[strong[-1] :: -1]:
            total += strength
            total *= turning
        sound: FloatArray = total.real
        return sound

    def _learn(self) -> None:
        """Measures the drone in the block that has just ended, if it sounds there alone."""
        block = self._block - self._block.mean()
        power = float(np.mean(block**2))
        if self._strength is not None and self._left > _ADDED * self._size * power:
            # What is taken out was not there: it was somebody's sound, or the drone has stopped.
            self._strength = self._before = None
            self._needed *= _HARDER
            self._learnt.append((self._next, _NO_LEAK_DB))
            return
        softest = min(self._powers, default=_LOUDEST_LEAK)
        if self._next >= self._first + _LATE_BLOCKS * self._size:
            self._powers.append(power)
        # The drone is in every block: what is louder than the softest of late is more than it.
        if power < _SILENCE or power > _ALONE_POWER * min(softest, _LOUDEST_LEAK):
            return
        index = self._next - self._size + np.arange(self._size)
        back = np.exp(-1j * self._step * index)
        weighted = block * self._window
        harmonic = back
        heard = np.empty(self._harmonics, dtype=np.complex128)
        for k in range(self._harmonics):
            heard[k] = 2 * (weighted * harmonic).sum() / self._window.sum()
            harmonic = harmonic * back
        explained = float((np.abs(heard) ** 2).sum() / 2)
        if explained < _ALONE_SHARE * power:
            return
        before, self._before = self._before, (self._next, heard)
        if before is None or before[0] + self._size != self._next:
            # Whether it is the drone the next block tells; until then it may be.
            self._perhaps = (self._next - self._size, self._next + self._size, _power_db(heard))
            self._agreed = 1
            return
        change = float((np.abs(heard - before[1]) ** 2).sum())
        if change > _SAME_PHASE_SHARE * float((np.abs(heard) ** 2).sum()):
            self._agreed = 1
            return
        self._agreed += 1
        if self._agreed < self._needed:
            return
        if self._strength is None:
            self._strength = heard
        else:
            self._strength = self._strength + _FRESH_SHARE * (heard - self._strength)
        self._learnt.append((self._next, _power_db(self._strength)))


def _power_db(strength: np.ndarray) -> float:
    return float(10 * np.log10(max(float((np.abs(strength) ** 2).sum() / 2), _SILENCE)))


class DroneGate:
    """Keeps what is left of a drone from being taken for a note: frames on its pitch (or a
    multiple, or an octave under it) that are no louder than it leaks.

    A player softer than that on the very pitch of the drone is lost; where the drone is not
    heard at all, as with headphones, nobody is.
    """

    def __init__(self, drone_hz: float) -> None:
        self._drone_hz = drone_hz

    def pass_on(self, f0_hz: FloatArray, level_db: FloatArray, leak_db: FloatArray) -> FloatArray:
        """The pitches, NaN where only the drone sounds; `leak_db` is how loud it may be at each
        frame."""
        ratio = f0_hz / self._drone_hz
        simple = np.where(ratio >= 1, np.rint(ratio), 1 / np.rint(1 / np.minimum(ratio, 1)))
        near = np.abs(1200 * np.log2(ratio / simple)) <= _SAME_PITCH_CENTS
        # What is left of it may be heard an octave low, but not lower: that is a pedal.
        near &= ratio >= _LOWEST_RATIO
        return np.where(near & (level_db <= leak_db + _ABOVE_LEAK_DB), np.nan, f0_hz)
