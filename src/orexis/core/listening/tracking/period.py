"""The period of a sound in windows of one length.

Pitch comes from the normalised square difference n(τ) = 2·r(τ)/m(τ), r being the
autocorrelation of a window and m(τ) the energy of its two overlapping parts. The period is the
first peak that is as good as the best one but for what noise explains: harmonics that are weak
but there make the true period better than its fractions by more than the noise does. The peaks
near two, four, eight… periods refine it. Sources: P. McLeod and G. Wyvill, "A smarter way to
find pitch", ICMC 2005 (normalised square difference); the choice among peaks is our own.

A low note with one strong harmonic is told from a higher note that is rough. Both nearly repeat
m times in a period. A rough note's sound is all near the multiples of m; of a low note whose
m-th harmonic happens to be strong (a bell favours it, the room answers to it) the harmonics
beyond it are like those of any other note. So they are compared there: those between the
multiples of m against the multiples themselves.
"""

import math

import numpy as np

from orexis.core.arrays import FloatArray
from orexis.core.compiled import compiled

_NOISE_MARGIN = 2.5
_LEAST_MARGIN = 0.07
_LOWEST_SHARE = 0.82
_NEARLY = 0.82
_EXPLAINS, _NOTHING_LEFT = 0.4, 0.004
_LEAST_RISE = 0.15
_LEAST_ENERGY = 1e-20

_HALF_TAPS = 24
_AT = np.arange(-_HALF_TAPS, _HALF_TAPS) + 0.5
_HALFWAY: FloatArray = np.sinc(_AT) * np.i0(8.5 * np.sqrt(1 - (_AT / _HALF_TAPS) ** 2))
_HALFWAY /= _HALFWAY.sum()
"""Weights that give what lies halfway between two samples: a sinc under a Kaiser window. The
tiers' low-pass leaves them from 0.88 to 1.12 of half the rate to fall by 90 dB. Source: A. V.
Oppenheim and R. W. Schafer, "Discrete-Time Signal Processing", window method."""

_FINE_REACH = 3
_POLYNOMIAL = np.ascontiguousarray(
    np.linalg.inv(np.vander(np.arange(-_FINE_REACH, _FINE_REACH + 1), increasing=True)).T
)
"""Weights that give the polynomial through seven neighbouring samples, lowest power first."""

_EDGE = _FINE_REACH + 2
_NEAR = 2

_LIKE_THE_REST_DB, _CLEAR_OF_NOISE_DB = -6.0, 6.0
_LEAST_POWER = 1e-24
LEAST_PERIODS = 3.2
"""A window of fewer cannot tell one harmonic from the next."""

HEARD = np.dtype(
    [
        (name, np.float64)
        for name in ("f0_hz", "clarity", "nearly_hz", "nearly_clarity", "mean_square")
    ]
)
"""What one window says: pitch (Hz) and n at its period; the highest pitch at which the sound
nearly repeats, a multiple of the first or the same, and n there; power about the mean."""


class PeriodFinder:
    """Finds pitches up to `highest_hz` in windows of `length` samples at `rate_hz`.

    `finer` is how many values of n are taken a sample, one or two: peaks of a high, bright note
    are narrow.
    """

    def __init__(self, length: int, rate_hz: float, highest_hz: float, finer: int = 1) -> None:
        self.length = length
        self._rate_hz = rate_hz
        self._finer = finer
        self._shortest_lag = max(2, int((rate_hz / highest_hz - 1) * finer))

    def find(self, sound: FloatArray, centre: np.ndarray, factor: int, before: int) -> np.ndarray:
        """What the windows of a sound (1-D) say that begin so many samples `before` a `factor`-th
        of some centres, one `HEARD` each."""
        starts = (centre, factor, before)
        return _heard(sound, *starts, self.length, self._rate_hz, self._shortest_lag, self._finer)


@compiled
def _heard(
    sound: FloatArray,
    centre: np.ndarray,
    factor: int,
    before: int,
    length: int,
    rate_hz: float,
    shortest_lag: int,
    finer: int,
) -> np.ndarray:
    told = np.empty(len(centre), HEARD)
    for place in range(len(centre)):
        start = round(centre[place] / factor) - before
        window = sound[start : start + length]
        window = window - window.sum() / length
        one = told[place]
        one["mean_square"] = (window * window).sum() / length
        likeness = _likeness(window, finer)
        heights, best = _peaks(likeness, shortest_lag)
        first = _without_lone_harmonic(window, heights, best, _first_good(heights, best), finer)
        nearly = _first_from(heights, _NEARLY)
        if nearly < first and _stands_out(window, first / finer, round(first / nearly)):
            nearly = first
        nearly = min(nearly, first)
        _, clarity = _top(likeness, first)
        offset, nearly_clarity = _top(likeness, nearly)
        found = heights[first] > 0
        one["clarity"] = min(clarity, 1.0) if found else 0.0
        one["nearly_clarity"] = min(nearly_clarity, 1.0) if found else 0.0
        period = _finest(likeness, first, found)
        one["f0_hz"] = rate_hz / max(period / finer, 1.0)
        one["nearly_hz"] = rate_hz / max((nearly + offset) / finer, 1.0)
    return told


@compiled
def _likeness(window: FloatArray, finer: int) -> FloatArray:
    """n at lags up to half a window, `finer` values a sample."""
    length = len(window)
    lags = length // 2 + 1
    correlation = np.zeros(lags + _HALF_TAPS)
    for at in range(length):
        value, after = window[at], window[at : at + len(correlation)]
        for lag in range(len(after)):
            correlation[lag] += value * after[lag]
    # Energies of the parts that overlap: all of both less what each lag leaves out of one.
    overlap = np.empty(lags)
    left_out = 0.0
    whole = 2 * correlation[0]
    for lag in range(lags):
        overlap[lag] = whole - left_out
        left_out += window[lag] ** 2 + window[length - 1 - lag] ** 2
    likeness = np.empty((lags - 1) * finer + 1)
    for lag in range(lags):
        likeness[lag * finer] = 2 * correlation[lag] / max(overlap[lag], _LEAST_ENERGY)
    if finer == 2:
        mirrored = np.empty(lags + 2 * _HALF_TAPS)
        for at in range(len(mirrored)):
            mirrored[at] = correlation[abs(at - _HALF_TAPS)]
        between = np.zeros(lags - 1)
        for tap in range(2 * _HALF_TAPS):
            weight, values = _HALFWAY[tap], mirrored[tap + 1 : tap + lags]
            for lag in range(lags - 1):
                between[lag] += weight * values[lag]
        for lag in range(lags - 1):
            middle = (overlap[lag] + overlap[lag + 1]) / 2
            likeness[2 * lag + 1] = 2 * between[lag] / max(middle, _LEAST_ENERGY)
    return likeness


@compiled
def _peaks(likeness: FloatArray, shortest_lag: int) -> tuple[FloatArray, float]:
    """At each lag where n has a peak, how high the parabola through it and its neighbours goes,
    0 elsewhere; and the highest of them. A ripple on the slope down from lag 0, as hiss over
    rumble makes, is no peak: what repeats is unlike itself first."""
    heights, best = np.zeros(len(likeness)), 0.0
    lowest = 1.0
    for lag in range(1, shortest_lag):
        lowest = min(lowest, likeness[lag])
    for lag in range(shortest_lag, len(likeness) - 1):
        left, middle, right = likeness[lag - 1], likeness[lag], likeness[lag + 1]
        lowest = min(lowest, middle)
        if middle > left and middle >= right and middle > 0 and middle >= lowest + _LEAST_RISE:
            heights[lag] = middle - (left - right) ** 2 / (8 * (left - 2 * middle + right))
            best = max(best, heights[lag])
    return heights, best


@compiled
def _first_from(heights: FloatArray, least: float) -> int:
    """The first lag whose peak is as high as said; past the end when there is none."""
    for lag in range(1, len(heights)):
        if heights[lag] > 0 and heights[lag] >= least:
            return lag
    return len(heights)


@compiled
def _first_good(heights: FloatArray, best: float) -> int:
    """The lag of the first peak that is as good as the best but for noise; 1 without a peak."""
    margin = max(_NOISE_MARGIN * (1 - best), _LEAST_MARGIN)
    first = _first_from(heights, max(best - margin, _LOWEST_SHARE * best))
    return first if first < len(heights) else 1


@compiled
def _without_lone_harmonic(
    window: FloatArray, heights: FloatArray, best: float, first: int, finer: int
) -> int:
    """The first peak, or a later one that explains what it leaves, where the first is the work
    of one strong harmonic."""
    left = 1 - heights[first]
    if left <= _NOTHING_LEFT or 1 - best >= _EXPLAINS * left:
        return first
    later = first
    while 1 - heights[later] >= _EXPLAINS * left:
        later += 1
    return later if _stands_out(window, later / finer, round(later / first)) else first


@compiled
def _finest(likeness: FloatArray, first: int, found: bool) -> float:
    """The period in lags: of the peaks near two, four, eight… periods, the farthest tells it."""
    peak, multiple = first, 1
    period = first + _vertex(likeness, first)
    while found:
        middle = round(2 * multiple * period)
        if middle + _EDGE >= len(likeness):
            break
        highest = middle - _NEAR + int(np.argmax(likeness[middle - _NEAR : middle + _NEAR + 1]))
        if abs(highest - middle) == _NEAR:
            break
        multiple *= 2
        peak = highest
        period = (peak + _vertex(likeness, peak)) / multiple
    offset, _ = _top(likeness, peak)
    return float((peak + offset) / multiple)


@compiled
def _vertex(likeness: FloatArray, peak: int) -> float:
    """How far from a peak the vertex through it and its two neighbours lies."""
    left, middle, right = likeness[peak - 1], likeness[peak], likeness[peak + 1]
    bend = left - 2 * middle + right
    return float(0.5 * (left - right) / bend) if bend < 0 else 0.0


@compiled
def _top(likeness: FloatArray, peak: int) -> tuple[float, float]:
    """How far from a peak the top of the curve through seven values lies, and how high it is."""
    longest = len(likeness) - 1
    terms = np.zeros(2 * _FINE_REACH + 1)
    for place in range(2 * _FINE_REACH + 1):
        # n is even about lag 0; near the end the outermost value stands in.
        value = likeness[min(abs(peak - _FINE_REACH + place), longest)]
        for power in range(2 * _FINE_REACH + 1):
            terms[power] += value * _POLYNOMIAL[place, power]
    # One Newton step from the vertex of the three middle ones is exact enough.
    at = _vertex(likeness, peak)
    slope = bend = 0.0
    for power in range(2 * _FINE_REACH, 0, -1):
        slope = slope * at + power * terms[power]
    for power in range(2 * _FINE_REACH, 1, -1):
        bend = bend * at + power * (power - 1) * terms[power]
    if bend < 0:
        at -= slope / bend
    at = min(max(at, -0.75), 0.75)
    height = 0.0
    for power in range(2 * _FINE_REACH, -1, -1):
        height = height * at + terms[power]
    return at, height


@compiled
def one_stands_out(
    sound: FloatArray,
    starts: np.ndarray,
    length: int,
    period: FloatArray,
    multiple: np.ndarray,
) -> np.ndarray:
    """Whether in the windows of a sound (1-D) that begin at some samples there is a note of some
    period (in samples) of which only one harmonic, the `multiple`-th, stands out.

    Not told, and so False, of fewer than about three periods, where a window has too little room
    between the harmonics, nor where noise hides what lies beyond that harmonic.
    """
    told = np.zeros(len(starts), np.bool_)
    for place in range(len(starts)):
        window = sound[starts[place] : starts[place] + length]
        window = window - window.sum() / length
        told[place] = _stands_out(window, period[place], multiple[place])
    return told


@compiled
def _stands_out(window: FloatArray, period: float, multiple: int) -> bool:
    length = len(window)
    if multiple < 2 or length < LEAST_PERIODS * period:
        return False
    tapered = np.empty(length)
    for at in range(length):
        tapered[at] = window[at] * (0.5 - 0.5 * math.cos(2 * math.pi * at / (length - 1)))
    shared_db = others_db = noise_db = 0.0
    shared = others = 0
    for order in range(multiple + 1, 3 * multiple + 1):
        if 2 * order + 1 >= period:
            break
        there_db = _level_db(tapered, order / period)
        noise_db += _level_db(tapered, (order + 0.5) / period)
        if order % multiple == 0:
            shared_db, shared = shared_db + there_db, shared + 1
        else:
            others_db, others = others_db + there_db, others + 1
    if not shared or not others:
        return False
    there_db = others_db / others
    return bool(
        there_db - shared_db / shared >= _LIKE_THE_REST_DB
        and there_db - noise_db / (shared + others) >= _CLEAR_OF_NOISE_DB
    )


@compiled
def _level_db(window: FloatArray, frequency: float) -> float:
    """Level of a window at a frequency (cycles a sample). Source: G. Goertzel, "An algorithm for
    the evaluation of finite trigonometric series", Am. Math. Monthly 65, 1958."""
    turn = 2 * math.cos(2 * math.pi * frequency)
    last = before = 0.0
    for at in range(len(window)):
        last, before = window[at] + turn * last - before, last
    power = last * last + before * before - turn * last * before
    return 10 * math.log10(max(power, _LEAST_POWER))
