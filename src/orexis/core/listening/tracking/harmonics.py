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
_FINER = 4
"""How many times finer than its own lines the spectrum is taken: a harmonic is then read at most
an eighth of a line off its peak, which costs it under 0.1 dB."""


def one_stands_out(rows: FloatArray, period: FloatArray, multiple: np.ndarray) -> np.ndarray:
    """Whether the sound in windows (windows × samples) is a note of some period (in samples) of
    which only one harmonic, the `multiple`-th (2 and up), stands out.

    Not told, and so False, of fewer than about three periods, where a window has too little room
    between the harmonics, nor where noise hides what lies beyond that harmonic.
    """
    told = np.zeros(len(rows), dtype=bool)
    length = rows.shape[-1]
    may = np.flatnonzero((length >= LEAST_PERIODS * period) & (multiple >= 2))
    if not len(may):
        return told
    sound = rows[may] - np.add.reduce(rows[may], axis=-1, keepdims=True) / length
    spectrum = np.fft.rfft(sound * np.hanning(length), _FINER * length, axis=-1)
    level_db = 20 * np.log10(np.maximum(np.abs(spectrum), _LEAST))
    for place, row in enumerate(may.tolist()):
        times = int(multiple[row])
        orders = np.arange(times + 1, 3 * times + 1)
        orders = orders[2 * orders + 1 < period[row]]
        shared = orders % times == 0
        if shared.all() or not shared.any():
            continue
        a_harmonic = _FINER * length / period[row]
        there_db = level_db[place, np.rint(orders * a_harmonic).astype(np.intp)]
        noise_db = level_db[place, np.rint((orders + 0.5) * a_harmonic).astype(np.intp)]
        others_db = there_db[~shared].mean()
        told[row] = (
            others_db - there_db[shared].mean() >= _LIKE_THE_REST_DB
            and others_db - noise_db.mean() >= _CLEAR_OF_NOISE_DB
        )
    return told
