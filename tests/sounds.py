"""Sounds made from their definition, independent of the code under test."""

import numpy as np
from numpy.typing import NDArray

Samples = NDArray[np.float64]
RATE = 48_000


def harmonic(f0_hz: Samples, rate: int = RATE, *, skip: int = 0, level: float = 0.2) -> Samples:
    """Harmonics 1/k of a pitch given at every sample; the first `skip` are left out."""
    phase = 2 * np.pi * np.cumsum(f0_hz) / rate
    top = float(f0_hz.max())
    sound = np.zeros_like(phase)
    for k in range(1 + skip, 16 + skip):
        if k * top < rate / 2:
            sound += np.sin(k * phase + k) / (k - skip)
    return level * sound


def steady(f0_hz: float, seconds: float, rate: int = RATE, *, skip: int = 0) -> Samples:
    """A harmonic tone of one pitch."""
    return harmonic(np.full(round(seconds * rate), f0_hz), rate, skip=skip)


def bent(f0_hz: float, cents: Samples, rate: int = RATE) -> Samples:
    """A harmonic tone whose pitch is given at every sample in cents from `f0_hz`."""
    return harmonic(f0_hz * 2 ** (cents / 1200), rate)


def silence(seconds: float, rate: int = RATE) -> Samples:
    """Digital silence."""
    return np.zeros(round(seconds * rate))


def noise(seconds: float, level: float = 0.1, rate: int = RATE) -> Samples:
    """White noise of a given standard deviation."""
    return np.random.default_rng(7).standard_normal(round(seconds * rate)) * level


def softened(sound: Samples, rate: int = RATE, ramp_s: float = 0.02) -> Samples:
    """The sound with a short rise and fall instead of clicks at its edges."""
    ramp = np.linspace(0, 1, round(ramp_s * rate))
    sound = sound.copy()
    sound[: len(ramp)] *= ramp
    sound[-len(ramp) :] *= ramp[::-1]
    return sound
