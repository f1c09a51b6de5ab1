"""How frames are told: level and harmonicity.

Harmonicity is 10·log10 of tone over noise, 10·log10(n/(1 − n)) at the period. Noise counts as far
as it goes on above the band it was seen in: up to the shortest window's band, and from there to
the top. Source: P. Boersma, "Accurate short-term analysis…", IFA Proceedings 17, 1993.
"""

import math

import numpy as np

from orexis.core.arrays import FloatArray
from orexis.core.compiled import compiled

_LEAST_CLARITY, _CLARITY_CEILING = 0.01, 0.9999
_BAND_RIPPLE = 0.003
_LEAST_SHARE, _LEAST_TONE = 1e-3, 1e-20
_NEARLY_CLEAR, _SAME_NOTE_CENTS = 0.75, 60.0


@compiled
def told(
    pending: np.ndarray, f0_hz: FloatArray, first_share: float, silence_db: float
) -> tuple[FloatArray, FloatArray]:
    """Level (dB re full scale, `silence_db` at least) and harmonicity (dB, NaN without a pitch)
    of the first of some pending frames.

    `first_share` is the share of white noise that the shortest window's band holds.
    """
    level_db = np.empty(len(f0_hz))
    clearness_db = np.full(len(f0_hz), np.nan)
    for row in range(len(f0_hz)):
        frame = pending[row]
        level_db[row] = 10 * math.log10(max(frame["power"], 10 ** (silence_db / 10)))
        if not math.isnan(f0_hz[row]):
            clearness_db[row] = _harmonicity_db(frame, first_share)
    return level_db, clearness_db


@compiled
def told_early(
    pending: np.ndarray, before_hz: float, clear: float, first_share: float, silence_db: float
) -> tuple[FloatArray, FloatArray, FloatArray]:
    """The pitches (Hz) of pending frames that are clear by now, or nearly so and on the pitch of
    one that is or of the frame before, NaN elsewhere; and what `told` tells of them."""
    f0_hz = np.full(len(pending), np.nan)
    for row in range(len(pending)):
        here_hz = pending[row]["f0_hz"]
        if pending[row]["clarity"] >= clear:
            f0_hz[row] = here_hz
        elif pending[row]["clarity"] >= _NEARLY_CLEAR:
            near = _apart(here_hz, before_hz) <= _SAME_NOTE_CENTS
            for other in range(len(pending)):
                other_clear = pending[other]["clarity"] >= clear
                apart = _apart(here_hz, pending[other]["f0_hz"])
                near = near or (other_clear and apart <= _SAME_NOTE_CENTS)
            if near:
                f0_hz[row] = here_hz
    level_db, clearness_db = told(pending, f0_hz, first_share, silence_db)
    return f0_hz, level_db, clearness_db


@compiled
def _apart(one_hz: float, other_hz: float) -> float:
    """Cents between two pitches; NaN when either is, which no limit admits."""
    return float(abs(1200 * np.log2(one_hz / other_hz)))


@compiled
def _harmonicity_db(frame: np.void, first_share: float) -> float:
    band = frame["band_power"]
    n = min(max(frame["clarity"], _LEAST_CLARITY), _CLARITY_CEILING)
    noise = (1 - n) * band
    noise += _above(noise, frame["wide_power"], band, frame["band_share"] / first_share)
    noise += _above(noise, frame["power"], frame["first_power"], first_share)
    tone = max(n * band, _LEAST_TONE)
    return 10 * math.log10(tone / max(noise, (1 - _CLARITY_CEILING) * tone))


@compiled
def _above(noise: float, wider: float, narrower: float, share: float) -> float:
    """What noise of a band adds above it: no more than there is, nor than as much a hertz."""
    there = max(wider - narrower, 0.0) + _BAND_RIPPLE * wider
    return min(there, noise * (1 / max(share, _LEAST_SHARE) - 1))
