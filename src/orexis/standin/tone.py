"""The sound of brass from a formula: harmonics under a spectrum set by register and loudness.

Harmonic k of a note f0 has weight h(k·f0)/(1 + (k·f0/corner)^3): h is the bell, which radiates
little below its own cutoff, so that a pedal's fundamental is weak; the corner moves up with
loudness. A buzz on the mouthpiece alone has no bell and a flatter, noisier spectrum.
"""

from dataclasses import dataclass

import numpy as np

from orexis.core.arrays import FloatArray

_MOST_HARMONICS = 48
_HIGHEST_HZ = 11_000.0
_STEEPNESS = 3.0
_FADES_SHARE = 0.1
_KNOT_SAMPLES = 64
_BLOCK = 64 * _KNOT_SAMPLES


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


def strengths(
    timbre: Timbre, f0_hz: FloatArray, brightness: FloatArray, sample_rate: int
) -> FloatArray:
    """How strong each harmonic is (orders × moments, the fundamental first) at some moments' pitch
    and brightness (0 soft, 1 loud, to 1.5), scaled to a power of 1."""
    highest_hz = min(_HIGHEST_HZ, 0.45 * sample_rate)
    count = max(1, min(int(highest_hz / float(f0_hz.min())), _MOST_HARMONICS))
    orders = np.arange(1, count + 1)[:, None]
    softly = _shape(timbre, f0_hz, orders, timbre.soft_hz)
    loudly = _shape(timbre, f0_hz, orders, timbre.loud_hz)
    mixed = softly + np.clip(brightness, 0, 1.5) * (loudly - softly)
    # What would lie over the highest fades out before.
    heard = np.clip((highest_hz - orders * f0_hz) / (_FADES_SHARE * highest_hz), 0.0, 1.0)
    return _of_power_1(np.where(orders == 1, mixed, mixed * heard))


def _shape(timbre: Timbre, f0_hz: FloatArray, orders: np.ndarray, corner_hz: float) -> FloatArray:
    frequency = orders * f0_hz
    corner = np.maximum(corner_hz, 1.3 * f0_hz)
    if timbre.buzz:
        return _of_power_1(1 / orders**0.8 / (1 + (frequency / corner) ** 2))
    radiated = 1 / (1 + (timbre.bell_hz / frequency) ** 2)
    return _of_power_1(radiated / (1 + (frequency / corner) ** _STEEPNESS))


def _of_power_1(strength: FloatArray) -> FloatArray:
    scaled: FloatArray = strength / np.sqrt((strength**2).sum(axis=0) / 2)
    return scaled


def harmonic_sum(phase: FloatArray, strength: FloatArray) -> FloatArray:
    """The harmonics of a phase (radians) together; `strength` (orders × knots) is how strong each
    is at every 64th sample and one beyond the last, and goes straight from one to the next."""
    total = np.zeros_like(phase)
    ramp = np.arange(_KNOT_SAMPLES) / _KNOT_SAMPLES
    # Block by block, so that all the harmonics of a block are summed within the cache.
    for start in range(0, len(phase), _BLOCK):
        part = phase[start : start + _BLOCK]
        first = start // _KNOT_SAMPLES
        knots = strength[:, first : first + _BLOCK // _KNOT_SAMPLES + 1]
        rise = np.diff(knots, axis=1)
        # sin((k+1)φ) = 2·cos φ·sin kφ − sin((k−1)φ): one sine for all the harmonics.
        twice_cosine, below, sine = 2 * np.cos(part), np.zeros_like(part), np.sin(part)
        for at, by in zip(knots, rise, strict=True):
            if at.any():
                weight = (at[:-1, None] + by[:, None] * ramp).ravel()
                total[start : start + _BLOCK] += weight[: len(part)] * sine
            below, sine = sine, twice_cosine * sine - below
    return total


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
    if not len(f0_hz):
        return np.zeros(0)
    phase = 2 * np.pi * np.cumsum(f0_hz) / sample_rate
    knots = np.minimum(np.arange(0, len(phase) + 2 * _KNOT_SAMPLES, _KNOT_SAMPLES), len(phase) - 1)
    strength = strengths(timbre, f0_hz[knots], brightness[knots], sample_rate)
    tone = harmonic_sum(phase, strength)
    if second_db.any():
        tone = _with_second(tone, phase, second_db, strength)
    noise = random.standard_normal(len(phase)) * 10 ** (breath_db / 20)
    sounding: FloatArray = 10 ** (level_db / 20) * (tone + noise)
    return sounding


def _with_second(
    tone: FloatArray, phase: FloatArray, second_db: FloatArray, strength: FloatArray
) -> FloatArray:
    """A tone whose second harmonic is made as strong as `second_db` says, as loud as before."""
    at = np.arange(len(phase)) / _KNOT_SAMPLES
    knots = np.arange(strength.shape[1])
    first, second, third = (np.interp(at, knots, one) for one in strength[:3])
    wanted = 10 ** (second_db / 20) * np.maximum(first, third)
    more = np.where(second_db != 0, np.maximum(wanted - second, 0.0), 0.0)
    louder = (tone + more * np.sin(2 * phase)) / np.sqrt(1 + more * (more + 2 * second) / 2)
    changed: FloatArray = np.where(more > 0, louder, tone)
    return changed
