"""The sound of brass from a formula: harmonics under a spectrum set by register and loudness.

Harmonic k of a note f0 has weight h(k·f0)/(1 + (k·f0/corner)^3): h is the bell, which radiates
little below its own cutoff, so that a pedal's fundamental is weak; the corner moves up with
loudness. A buzz on the mouthpiece alone has no bell and a flatter, noisier spectrum.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from orexis.core.arrays import FloatArray

_MOST_HARMONICS = 48
_HIGHEST_HZ = 11_000.0
_STEEPNESS = 3.0
_BLOCK = 4096


@dataclass(frozen=True, slots=True)
class Timbre:
    """A horn's voice: what the bell radiates from, and the corner of its spectrum (Hz) played
    softly and loudly. A `buzz` is the mouthpiece alone."""

    bell_hz: float
    soft_hz: float
    loud_hz: float
    buzz: bool = False


SMALL = Timbre(bell_hz=350.0, soft_hz=700.0, loud_hz=2600.0)
MIDDLE = Timbre(bell_hz=200.0, soft_hz=500.0, loud_hz=1700.0)
LARGE = Timbre(bell_hz=90.0, soft_hz=280.0, loud_hz=1000.0)
MOUTHPIECE = Timbre(bell_hz=1.0, soft_hz=900.0, loud_hz=2500.0, buzz=True)

_BY_FUNDAMENTAL = ((44, SMALL), (30, MIDDLE), (0, LARGE))


def timbre_of(fundamental_midi: int) -> Timbre:
    """The voice of a horn whose open fundamental is a MIDI number."""
    return next(timbre for lowest, timbre in _BY_FUNDAMENTAL if fundamental_midi >= lowest)


def weights(timbre: Timbre, f0_hz: float, corner_hz: float, sample_rate: int) -> FloatArray:
    """Strength of each harmonic, the fundamental first, scaled to a power of 1."""
    highest = min(_HIGHEST_HZ, 0.45 * sample_rate)
    orders = np.arange(1, max(1, min(int(highest / f0_hz), _MOST_HARMONICS)) + 1)
    frequency = orders * f0_hz
    radiated = 1 / (1 + (timbre.bell_hz / frequency) ** 2)
    corner = max(corner_hz, 1.3 * f0_hz)
    shape = radiated / (1 + (frequency / corner) ** _STEEPNESS)
    if timbre.buzz:
        shape = 1 / orders**0.8 / (1 + (frequency / corner) ** 2)
    strength: FloatArray = shape / np.sqrt((shape**2).sum() / 2)
    return strength


def harmonic_sums(phase: FloatArray, *weightings: Sequence[float]) -> tuple[FloatArray, ...]:
    """Sums of the harmonics of a phase (radians), one sum for each row of weights."""
    sums = tuple(np.zeros_like(phase) for _ in weightings)
    rows = list(zip(*weightings, strict=True))
    # Block by block, so that all the harmonics of a block are summed within the cache.
    for start in range(0, len(phase), _BLOCK):
        part = phase[start : start + _BLOCK]
        totals = [total[start : start + _BLOCK] for total in sums]
        # sin((k+1)φ) = 2·cos φ·sin kφ − sin((k−1)φ): one sine for all the harmonics.
        twice_cosine, below, sine = 2 * np.cos(part), np.zeros_like(part), np.sin(part)
        for strengths in rows:
            for total, strength in zip(totals, strengths, strict=True):
                total += strength * sine
            below, sine = sine, twice_cosine * sine - below
    return sums


def render(
    timbre: Timbre,
    f0_hz: FloatArray,
    level_db: FloatArray,
    brightness: FloatArray,
    breath_db: FloatArray,
    second_db: FloatArray,
    sample_rate: int,
    random: np.random.Generator,
) -> FloatArray:
    """Sound of curves given at every sample.

    `level_db` is the tone's RMS re full scale, `brightness` 0 (soft) to 1 (loud) and beyond,
    `breath_db` the noise against the tone, `second_db` how far the second harmonic stands over
    the first and third where that is not 0.
    """
    phase = 2 * np.pi * np.cumsum(f0_hz) / sample_rate
    middle_hz = float(np.median(f0_hz))
    softly = weights(timbre, middle_hz, timbre.soft_hz, sample_rate)
    loudly = weights(timbre, middle_hz, timbre.loud_hz, sample_rate)
    soft, loud = harmonic_sums(phase, softly.tolist(), loudly.tolist())
    tone = soft + np.clip(brightness, 0, 1.5) * (loud - soft)
    tone /= max(float(tone.std()), 1e-9)
    if second_db.any():
        tone = _with_second(tone, phase, second_db, loudly if brightness.mean() > 0.5 else softly)
    noise = random.standard_normal(len(phase)) * 10 ** (breath_db / 20)
    sounding: FloatArray = 10 ** (level_db / 20) * (tone + noise)
    return sounding


def _with_second(
    tone: FloatArray, phase: FloatArray, second_db: FloatArray, strengths: FloatArray
) -> FloatArray:
    """A tone whose second harmonic is made as strong as `second_db` says, as loud as before."""
    first, second, third = strengths[:3]
    wanted = 10 ** (second_db / 20) * max(first, third)
    more = np.where(second_db != 0, np.maximum(wanted - second, 0.0), 0.0)
    louder = (tone + more * np.sin(2 * phase)) / np.sqrt(1 + more * (more + 2 * second) / 2)
    changed: FloatArray = np.where(more > 0, louder, tone)
    return changed
