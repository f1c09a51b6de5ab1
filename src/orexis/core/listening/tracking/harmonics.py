"""A low note with one strong harmonic, told from a higher note that is rough.

Both nearly repeat m times in a period. A rough note's sound is all near the multiples of m; of a
low note whose m-th harmonic happens to be strong (a bell favours it, the room answers to it) the
harmonics beyond it are like those of any other note. So they are compared there: those between
the multiples of m against the multiples themselves.
"""

import numpy as np

from orexis.core.arrays import FloatArray

_LIKE_THE_REST_DB, _CLEAR_OF_NOISE_DB = -6.0, 6.0
LEAST_PERIODS = 3.2
"""A window of fewer cannot tell one harmonic from the next."""

_LEAST = 1e-12


def one_stands_out(rows: FloatArray, period: FloatArray, multiple: np.ndarray) -> np.ndarray:
    """Whether the sound in windows (windows × samples) is a note of some period (in samples) of
    which only one harmonic, the `multiple`-th (2 and up), stands out.

    Not told, and so False, of fewer than about three periods, where a window has too little room
    between the harmonics, nor where noise hides what lies beyond that harmonic.
    """
    told = np.zeros(len(rows), dtype=bool)
    length = rows.shape[-1]
    time = np.arange(length)
    taper = np.hanning(length)
    for row in np.flatnonzero(length >= LEAST_PERIODS * period).tolist():
        times = int(multiple[row])
        orders = np.arange(times + 1, 3 * times + 1)
        orders = orders[2 * orders + 1 < period[row]]
        if not len(orders) or times < 2:
            continue
        sound = (rows[row] - rows[row].mean()) * taper
        turning = -2j * np.pi / period[row] * time
        level_db = _level_db(sound, turning, orders)
        noise_db = _level_db(sound, turning, orders + 0.5)
        shared = orders % times == 0
        if shared.all() or not shared.any():
            continue
        others_db = level_db[~shared].mean()
        told[row] = (
            others_db - level_db[shared].mean() >= _LIKE_THE_REST_DB
            and others_db - noise_db.mean() >= _CLEAR_OF_NOISE_DB
        )
    return told


def _level_db(sound: FloatArray, turning: np.ndarray, orders: FloatArray) -> FloatArray:
    """How strong some multiples of a pitch are."""
    # Not a matrix product: a second core would be kept busy for so small a sum.
    strength = np.abs((np.exp(orders[:, None] * turning) * sound).sum(axis=-1))
    level_db: FloatArray = 20 * np.log10(np.maximum(strength, _LEAST))
    return level_db
