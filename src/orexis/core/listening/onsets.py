"""When notes begin: against a metronome, and the tempo they keep by themselves.

Against a metronome a note belongs to the nearest part of a beat, of the division (beats, halves,
thirds or quarters) that the notes fit best for how fine it is. Where it falls silent for some bars,
the first note after them tells whether the time was kept. By themselves, the tempo is that of the
beat whose divisions fit the times from note to note best.
"""

from dataclasses import dataclass

import numpy as np

from orexis.core.arrays import BoolArray, FloatArray

_DIVISIONS = (1, 2, 3, 4)
_FEWEST, _FEWEST_BEATS = 4, 2
_RETURN_WITHIN_BEATS, _BAR_OR_SO = 0.5, 5.0
_SLOWEST_BPM, _FASTEST_BPM, _STEP_BPM = 40.0, 208.0, 0.5
_LIKELY_BPM, _LIKELY_WITHIN = 90.0, 0.9
_LONGEST_S = 4.0
_WORTH_IT = 0.6
"""How much better a finer division must fit to be believed."""
_OF_ONE_CHANGE_S = 0.02
_COMMON, _A_BEAT_WITHIN = 0.4, 0.1


@dataclass(frozen=True, slots=True)
class AfterSilence:
    """How a player came back from silent bars: how often they played through them to a note on the
    next beat that sounds, and how late that note was (ms, early is -) against those before, on
    average."""

    times: int
    late_ms: float


@dataclass(frozen=True, slots=True)
class Onsets:
    """How notes began: how many, the tempo (beats a minute), and against a metronome the mean
    (late is +) and the spread (one standard deviation) in ms, `None` without one, and how the
    player came back from silent bars, `None` without any."""

    count: int
    tempo_bpm: float
    mean_ms: float | None = None
    spread_ms: float | None = None
    after_silence: AfterSilence | None = None


@dataclass(frozen=True, slots=True)
class Beats:
    """Beats that a metronome gave, without their parts: when each was (s, rising), and whether it
    was silent."""

    at_s: FloatArray
    silent: BoolArray

    @classmethod
    def steady(cls, bpm: float, until_s: float) -> "Beats":
        """Beats of one tempo, the first at the start of the sound, to past a time."""
        at_s = 60 / bpm * np.arange(2 + np.ceil(until_s * bpm / 60))
        return cls(at_s, np.zeros(len(at_s), dtype=bool))


def against_a_metronome(
    starts_s: FloatArray, beats: Beats, latency_s: float | None = 0.0
) -> Onsets | None:
    """How notes that start at some times lie against the beats around them; `None` where none lies
    between two beats. `latency_s` is how long a click takes from where it is put to the microphone;
    where that is not known the mean is not told, and the spread is."""
    starts_s = starts_s - (latency_s or 0.0)
    if len(beats.at_s) < _FEWEST_BEATS:
        return None
    beat_s = np.diff(beats.at_s)
    starts_s = starts_s[
        (starts_s >= beats.at_s[0] - beat_s[0] / 2) & (starts_s <= beats.at_s[-1] + beat_s[-1] / 2)
    ]
    if not len(starts_s):
        return None
    before = np.clip(np.searchsorted(beats.at_s, starts_s, "right") - 1, 0, len(beat_s) - 1)
    lasts_s = beat_s[before]
    in_beats = before + (starts_s - beats.at_s[before]) / lasts_s
    best: FloatArray | None = None
    spread = np.inf
    for parts in _DIVISIONS:
        off_s = (in_beats - np.round(in_beats * parts) / parts) * lasts_s
        # Chance alone puts notes nearer to a finer grid.
        found = float(np.sqrt(np.mean(off_s**2)))
        if best is None or found < _WORTH_IT * spread / parts * (parts - 1):
            best, spread = off_s, found
    assert best is not None
    return Onsets(
        len(starts_s),
        60 / float(np.median(lasts_s)),
        None if latency_s is None else 1000 * float(best.mean()),
        1000 * float(best.std()),
        _after_silence(in_beats, best, lasts_s, beats),
    )


def _after_silence(
    in_beats: FloatArray, off_s: FloatArray, lasts_s: FloatArray, beats: Beats
) -> AfterSilence | None:
    """How far off the first note after silent beats is from where those that sounded before had
    notes; `None` where no silence was come back from."""
    silent = beats.silent
    sounding = ~silent[np.clip(np.round(in_beats).astype(int), 0, len(silent) - 1)]
    usual_s = float(np.median(off_s[sounding])) if sounding.any() else 0.0
    late_s: list[float] = []
    for first in np.flatnonzero(silent[:-1] & ~silent[1:]) + 1:
        from_it = (in_beats - first) * lasts_s
        near = np.abs(in_beats - first) < _RETURN_WITHIN_BEATS
        # Whoever did not play into it has nothing to come back from.
        into_it = (in_beats < first - _RETURN_WITHIN_BEATS) & (in_beats > first - _BAR_OR_SO)
        if near.any() and into_it.any():
            at = int(np.argmin(np.where(near, np.abs(from_it), np.inf)))
            late_s.append(float(from_it[at]) - usual_s)
    if not late_s:
        return None
    return AfterSilence(len(late_s), 1000 * float(np.mean(late_s)))


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
    """The tempo from the middle of what the intervals between notes say of it."""
    beat_s = 60 / bpm
    for parts in (1, 2):
        count = np.maximum(np.round(apart_s * parts / beat_s), 1.0)
        beats = count / parts
        near = np.abs(apart_s / beats - beat_s) <= 0.15 * beat_s
        if near.mean() >= 0.5:
            return 60 / float(np.median((apart_s / beats)[near]))
    return bpm
