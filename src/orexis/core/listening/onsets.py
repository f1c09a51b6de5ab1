"""When notes begin: against a metronome, and the tempo they keep by themselves.

Against a metronome the first beat falls on the start of the sound, and a note belongs to the
nearest part of a beat, of the division (beats, halves, thirds or quarters) that the notes fit best
for how fine it is. By themselves, the tempo is that of the beat whose divisions fit the times from
note to note best.
"""

from dataclasses import dataclass

import numpy as np

from orexis.core.arrays import FloatArray

_DIVISIONS = (1, 2, 3, 4)
_FEWEST = 4
_SLOWEST_BPM, _FASTEST_BPM, _STEP_BPM = 40.0, 208.0, 0.5
_LIKELY_BPM, _LIKELY_WITHIN = 90.0, 0.9
_LONGEST_S = 4.0
_WORTH_IT = 0.6
"""How much better a finer division must fit to be believed."""
_OF_ONE_CHANGE_S = 0.02
_COMMON, _A_BEAT_WITHIN = 0.4, 0.1


@dataclass(frozen=True, slots=True)
class Onsets:
    """How notes began: how many, the tempo (beats a minute), and against a metronome the mean
    (late is +) and the spread (one standard deviation) in ms, `None` without one."""

    count: int
    tempo_bpm: float
    mean_ms: float | None = None
    spread_ms: float | None = None


def against_a_metronome(starts_s: FloatArray, bpm: float) -> Onsets | None:
    """How notes lie against a metronome; `None` of none."""
    if not len(starts_s):
        return None
    beat_s = 60 / bpm
    best: FloatArray | None = None
    spread = np.inf
    for parts in _DIVISIONS:
        grid_s = beat_s / parts
        off_s = starts_s - grid_s * np.round(starts_s / grid_s)
        # Chance alone puts notes nearer to a finer grid.
        found = float(np.sqrt(np.mean(off_s**2)))
        if best is None or found < _WORTH_IT * spread / parts * (parts - 1):
            best, spread = off_s, found
    assert best is not None
    return Onsets(len(starts_s), bpm, 1000 * float(best.mean()), 1000 * float(best.std()))


def by_themselves(starts_s: FloatArray) -> Onsets | None:
    """The tempo of notes without a metronome; `None` of too few."""
    apart_s = np.diff(starts_s)
    apart_s = apart_s[(apart_s > _OF_ONE_CHANGE_S) & (apart_s <= _LONGEST_S)]
    if len(apart_s) < _FEWEST - 1:
        return None
    bpms = np.arange(_SLOWEST_BPM, _FASTEST_BPM + _STEP_BPM, _STEP_BPM)
    scores = [
        _fit(apart_s, 60 / bpm) + _unlikely(bpm) - _COMMON * _share(apart_s, 60 / bpm)
        for bpm in bpms
    ]
    bpm = float(bpms[int(np.argmin(scores))])
    return Onsets(len(starts_s), _refined(apart_s, bpm))


def _fit(apart_s: FloatArray, beat_s: float) -> float:
    """How far the times from note to note are from whole numbers of a part of a beat, as a share of
    that part; a finer division costs."""
    costs: list[float] = []
    for parts in (1, 2):
        in_parts = apart_s * parts / beat_s
        off = np.abs(in_parts - np.maximum(np.round(in_parts), 1.0))
        costs.append(float(np.mean(np.minimum(off, 0.5))) + 0.04 * (parts - 1))
    return min(costs)


def _share(apart_s: FloatArray, beat_s: float) -> float:
    """How many of the times from note to note are a beat: of two tempos that fit, it is that of
    the commonest note."""
    return float(np.mean(np.abs(apart_s - beat_s) <= _A_BEAT_WITHIN * beat_s))


def _unlikely(bpm: float) -> float:
    """Of two tempos that fit, the one nearer to a walking pace."""
    return float(0.05 * (np.log2(bpm / _LIKELY_BPM) / _LIKELY_WITHIN) ** 2)


def _refined(apart_s: FloatArray, bpm: float) -> float:
    """The tempo by the middle of what each time from note to note says of it."""
    beat_s = 60 / bpm
    for parts in (1, 2):
        count = np.maximum(np.round(apart_s * parts / beat_s), 1.0)
        beats = count / parts
        near = np.abs(apart_s / beats - beat_s) <= 0.15 * beat_s
        if near.mean() >= 0.5:
            return 60 / float(np.median((apart_s / beats)[near]))
    return bpm
