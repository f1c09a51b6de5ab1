"""One long tone as the stand-in player plays it.

The sound is a sum of harmonics under a falling spectrum whose corner moves up with loudness,
as brass does, with a soft attack, breath noise and the small unsteadiness no lips are without.
Each fault is a parameter, so its true size is known.
"""

from dataclasses import dataclass

import numpy as np

from orexis.core.horn.pitch import FloatArray
from orexis.standin.tone import harmonic_sums

_ATTACK_S, _RELEASE_S = 0.04, 0.06
_SCOOP_TIME_S, _SAG_TIME_S = 0.12, 0.2
_WOBBLE_HZ = 2.2
_LOUD = 0.25
_CORNER_HZ = 900.0


@dataclass(frozen=True, slots=True)
class Skill:
    """How well the stand-in plays. Cents are signed, below is negative.

    `scoop_cents` is where the note starts and `sag_cents` where it ends, from its centre;
    `wobble_cents` is ± at 2.2 Hz; `breath_db` is the breath noise under the tone (−60 clean,
    −15 airy).
    """

    centre_cents: float = 0.0
    scoop_cents: float = 0.0
    sag_cents: float = 0.0
    wobble_cents: float = 0.0
    breath_db: float = -50.0
    hold_s: float = 5.0


def play_long_tone(
    f0_hz: float, skill: Skill, sample_rate: int = 48_000, *, lead_s: float = 0.5, seed: int = 1
) -> FloatArray:
    """Mono samples (full scale ±1): `lead_s` of quiet, the note, 0.8 s of quiet.

    The same arguments give the same samples.
    """
    random = np.random.default_rng(seed)
    count = round(skill.hold_s * sample_rate)
    time_s = np.arange(count) / sample_rate
    cents = (
        skill.centre_cents
        + skill.scoop_cents * np.exp(-((time_s / _SCOOP_TIME_S) ** 2))
        + skill.sag_cents * np.exp(-(((skill.hold_s - time_s) / _SAG_TIME_S) ** 2))
        + skill.wobble_cents * np.sin(2 * np.pi * _WOBBLE_HZ * time_s)
        + _slow_noise(random, count, sample_rate, rate_hz=6.0) * 0.8
    )
    phase = 2 * np.pi * np.cumsum(f0_hz * 2 ** (cents / 1200)) / sample_rate
    loudness = _LOUD * (1 + 0.04 * _slow_noise(random, count, sample_rate, rate_hz=4.0))
    tone = _harmonics(phase, f0_hz, sample_rate) * loudness
    breath = random.standard_normal(count) * tone.std() * 10 ** (skill.breath_db / 20)
    note = (tone + breath) * _envelope(time_s, skill.hold_s)
    quiet = [np.zeros(round(seconds * sample_rate)) for seconds in (lead_s, 0.8)]
    sound = np.concatenate((quiet[0], note, quiet[1]))
    return sound + random.standard_normal(len(sound)) * 1e-4


def _harmonics(phase: FloatArray, f0_hz: float, sample_rate: int) -> FloatArray:
    """Sum of harmonics under a brass-like spectrum, scaled to a peak of about 1."""
    corner_hz = max(_CORNER_HZ, 1.5 * f0_hz)
    highest = int(min(10_000.0, 0.45 * sample_rate) / f0_hz)
    orders = range(1, min(highest, 40) + 1)
    weights = [(1 + 0.4 * (k > 1)) / (1 + (k * f0_hz / corner_hz) ** 3) for k in orders]
    (tone,) = harmonic_sums(phase, weights)
    return tone / sum(weights)


def _envelope(time_s: FloatArray, hold_s: float) -> FloatArray:
    rise = np.clip(time_s / _ATTACK_S, 0, 1)
    fall = np.clip((hold_s - time_s) / _RELEASE_S, 0, 1)
    return np.sin(np.pi / 2 * np.minimum(rise, fall))


def _slow_noise(
    random: np.random.Generator, count: int, sample_rate: int, *, rate_hz: float
) -> FloatArray:
    """Random wandering of unit size that changes about `rate_hz` times a second."""
    knots = random.standard_normal(int(count / sample_rate * rate_hz) + 3)
    return np.interp(np.arange(count) * rate_hz / sample_rate, np.arange(len(knots)), knots)
