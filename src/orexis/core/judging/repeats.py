"""Of several notes of one pitch in a row, which of them were played: told by when."""

from collections.abc import Hashable, Iterator, Sequence
from itertools import combinations
from math import comb

import numpy as np

from orexis.core.arrays import FloatArray

_MOST_WAYS = 3000
_SLOWEST, _FASTEST = 2.0, 0.5
_BETTER_S = 0.1
"""So much nearer in time, on average, another choice must lie to be taken for the first."""
_FEWEST_FOR_A_PACE = 3


def answers_in_time(
    keys: Sequence[Hashable | None],
    written_s: Sequence[float],
    answers: Sequence[int | None],
    heard_s: Sequence[float],
) -> list[int | None]:
    """The answers to asked notes, by the numbers of heard ones, with those of a run of one key for
    the asked notes whose time they are. A key says which notes are alike (`None`: like no other),
    `written_s` is when each is written to begin, `heard_s` when each heard one began."""
    told = list(answers)
    for run in _runs(keys):
        numbers = [number for number in (answers[place] for place in run) if number is not None]
        if len(numbers) == len(run):
            continue
        chosen = placed_in_time(
            [written_s[place] for place in run], [heard_s[number] for number in numbers]
        )
        told[run.start : run.stop] = [None] * len(run)
        for place, number in zip(chosen, numbers, strict=True):
            told[run.start + place] = number
    return told


def placed_in_time(written_s: Sequence[float], heard_s: Sequence[float]) -> list[int]:
    """Which of some written beginnings (s) some heard ones are, of which there are fewer: the
    choice, in order, that lies nearest to a straight line, at any pace from half to twice the
    written one (three and more beginnings tell their own pace). The first of them where none lies
    clearly nearer, or there are too many choices."""
    count = len(heard_s)
    first = list(range(count))
    if not 0 < count < len(written_s) or comb(len(written_s), count) > _MOST_WAYS:
        return first
    written, heard = np.asarray(written_s, dtype=float), np.asarray(heard_s, dtype=float)
    ways = [list(way) for way in combinations(range(len(written_s)), count)]
    off_s = [_off_line_s(written[way], heard) for way in ways]
    best = int(np.argmin(off_s))
    return ways[best] if off_s[best] + _BETTER_S < off_s[0] else first


def _off_line_s(written_s: FloatArray, heard_s: FloatArray) -> float:
    """How far off a straight line beginnings lie, as the root of the mean square."""
    apart_written, apart_heard = written_s - written_s.mean(), heard_s - heard_s.mean()
    slope = 1.0
    if len(written_s) >= _FEWEST_FOR_A_PACE:
        spread = float(apart_written @ apart_written)
        slope = float(apart_written @ apart_heard) / spread if spread else 1.0
        slope = min(max(slope, _FASTEST), _SLOWEST)
    return float(np.sqrt(np.mean((apart_heard - slope * apart_written) ** 2)))


def _runs(keys: Sequence[Hashable | None]) -> Iterator[range]:
    """The runs of two and more equal keys in a row."""
    start = 0
    for place in range(1, len(keys) + 1):
        if place == len(keys) or keys[place] != keys[start]:
            if place - start > 1 and keys[start] is not None:
                yield range(start, place)
            start = place
