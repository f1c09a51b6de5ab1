"""Trills and fast slurs: pitch turning between two slots, quickly and more than a few times.

Turns are found on the contour itself, since at ten a second a note has no time to rest. Each
swing from one side of the half-way line to the other is a note. A half-step trill differs from
a wide vibrato in resting at its ends. A note is clear when its pitch lies within 35 cents of
where the notes on its side lie.
"""

from dataclasses import dataclass, replace
from itertools import pairwise

import numpy as np

from orexis.core.arrays import FloatArray
from orexis.core.compiled import compiled
from orexis.core.listening.notes.contour import Contour, frames_of
from orexis.core.listening.notes.quantiles import median
from orexis.core.listening.notes.runs import runs

CLEAR_WITHIN_CENTS = 35.0
_LEAST_SWINGS = 5
_LONGEST_SWING = frames_of(0.3)
_SHORTEST_SWING = frames_of(0.03)
_LEAST_INTERVAL_CENTS = 80.0
_SURE_INTERVAL_CENTS = 150.0
_WIDEST_INTERVAL_CENTS = 1300.0
_TURN_CENTS = 45.0
_LIKE_EACH_OTHER_CENTS = 70.0
_RESTS_SHARE = 0.76
_WINDOW_BIAS_FRAMES = 2.5


@dataclass(frozen=True, slots=True)
class Trill:
    """A trill: frames `first` up to `last`, its two notes (MIDI), alternations a second (there
    and back), the coefficient of variation of its note lengths, and how many notes are clear.
    `notes` are its notes' frames and pitch in cents."""

    first: int
    last: int
    low_midi: int
    high_midi: int
    rate_hz: float
    evenness_cv: float
    clear_share: float
    notes: tuple[tuple[int, int, float], ...] = ()

    def earlier(self, frames: int) -> "Trill":
        """The same trill with its frames counted from a start `frames` later."""
        return replace(
            self,
            first=self.first - frames,
            last=self.last - frames,
            notes=tuple((start - frames, end - frames, cents) for start, end, cents in self.notes),
        )


@dataclass(frozen=True, slots=True)
class _Swing:
    start: int
    end: int
    up: bool
    cents: float


def trills_of(contour: Contour) -> list[Trill]:
    """The trills of a run."""
    found: list[Trill] = []
    sounding = ~contour.silent
    for start, end in runs(sounding):
        if end - start >= _LEAST_SWINGS * _SHORTEST_SWING:
            found += _trills_in(contour, start, end)
    return found


def _trills_in(contour: Contour, start: int, end: int) -> list[Trill]:
    cents = contour.cents[start:end]
    turns = _turns(cents).tolist()
    found: list[Trill] = []
    row: list[int] = []
    for place in range(len(turns)):
        if row and not _goes_on(cents, [turns[i] for i in row], turns[place]):
            found += _trill(start, cents, [turns[i] for i in row], _end_of(found))
            row = row[-1:] if turns[place] - turns[row[-1]] <= _LONGEST_SWING else []
        row.append(place)
    return found + _trill(start, cents, [turns[i] for i in row], _end_of(found))


def _end_of(found: list[Trill]) -> int:
    """The frame after the last trill."""
    return found[-1].last if found else 0


@compiled
def _turns(cents: FloatArray) -> np.ndarray:
    """Frames where pitch turns back by 45 cents and more."""
    turns = np.empty(len(cents), np.int64)
    count = extreme = way = 0
    for frame in range(1, len(cents)):
        moved = cents[frame] - cents[extreme]
        if way == 0:
            if abs(moved) >= _TURN_CENTS:
                way = 1 if moved > 0 else -1
                turns[count] = extreme
                count += 1
                extreme = frame
        elif way * moved >= 0:
            extreme = frame if way * moved > 0 else extreme
        elif -way * moved >= _TURN_CENTS:
            turns[count] = extreme
            count += 1
            extreme, way = frame, -way
    if way:
        turns[count] = extreme
        count += 1
    return turns[:count]


def _goes_on(cents: FloatArray, row: list[int], turn: int) -> bool:
    """Whether another turn belongs to those before it: soon, and on the pitch of its side."""
    # A turn may stand anywhere in its swing, so two can be almost two swings apart.
    if turn - row[-1] > 2 * _LONGEST_SWING:
        return False
    if abs(cents[turn] - cents[row[-1]]) > _WIDEST_INTERVAL_CENTS:
        return False
    return len(row) < 2 or abs(cents[turn] - cents[row[-2]]) <= 2 * _LIKE_EACH_OTHER_CENTS


def _trill(origin: int, cents: FloatArray, turns: list[int], after: int) -> list[Trill]:
    """The trill of a row of turns, if it is one; its first note begins no earlier than `after`,
    where the trill before it ends."""
    if len(turns) < _LEAST_SWINGS:
        return []
    ends = cents[turns]
    low, high = _sides(ends)
    interval = high - low
    if interval < _LEAST_INTERVAL_CENTS:
        return []
    part = cents[turns[0] : turns[-1] + 1]
    resting = np.mean((part > high - interval / 4) | (part < low + interval / 4))
    if interval < _SURE_INTERVAL_CENTS and resting < _RESTS_SHARE:
        return []
    swings = _swings(cents, turns, (low + high) / 2)
    swings = [swing for swing in swings if origin + swing.start >= after]
    upper = [swing.cents for swing in swings if swing.up]
    lower = [swing.cents for swing in swings if not swing.up]
    if len(swings) < _LEAST_SWINGS or not upper or not lower:
        return []
    lengths = _lengths(swings[1:-1])
    if lengths.mean() < _SHORTEST_SWING or lengths.max() > _LONGEST_SWING:
        return []
    low, high = median(np.array(lower)), median(np.array(upper))
    clear = [
        abs(swing.cents - (high if swing.up else low)) <= CLEAR_WITHIN_CENTS
        and _within_slot(swing.cents)
        for swing in swings
    ]
    return [
        Trill(
            first=origin + swings[0].start,
            last=origin + swings[-1].end,
            low_midi=round(low / 100),
            high_midi=round(high / 100),
            rate_hz=100 / (2 * float(lengths.mean())),
            evenness_cv=_evenness_cv(lengths),
            clear_share=float(np.mean(clear)),
            notes=tuple(
                (origin + swing.start, origin + swing.end, swing.cents) for swing in swings
            ),
        )
    ]


def _lengths(swings: list[_Swing]) -> FloatArray:
    """Length of each swing in frames. A window hears one side a little longer than the other:
    up to 25 ms between the sides is taken for that."""
    lengths = np.array([swing.end - swing.start for swing in swings], dtype=np.float64)
    up = np.array([swing.up for swing in swings])
    if up.all() or not up.any():
        return lengths
    bias = (lengths[up].mean() - lengths[~up].mean()) / 2
    if abs(bias) <= _WINDOW_BIAS_FRAMES / 2:
        lengths = np.where(up, lengths - bias, lengths + bias)
    return lengths


def _evenness_cv(lengths: FloatArray) -> float:
    """Spread of lengths in frames as a share of their mean, less what counting whole frames adds
    to it at either end. Source: W. F. Sheppard, "On the calculation of the most probable values of
    frequency-constants", Proc. London Math. Soc. 29, 1898."""
    counted = 2 / 12
    return float(np.sqrt(max(lengths.var() - counted, 0.0)) / lengths.mean())


def _within_slot(cents: float) -> bool:
    """A pitch half-way between two notes is neither, whatever the others are."""
    return abs(cents - 100 * round(cents / 100)) <= 45.0


def _sides(ends: FloatArray) -> tuple[float, float]:
    """Median pitch of the lower and of the upper turns."""
    one, other = median(ends[::2]), median(ends[1::2])
    return min(one, other), max(one, other)


def _swings(cents: FloatArray, turns: list[int], halfway: float) -> list[_Swing]:
    """The stretches on either side of the half-way line, from the first turn to the last."""
    start, end = _outer(cents, turns, halfway)
    above = cents[start:end] > halfway
    edges = [0, *(np.flatnonzero(np.diff(above.astype(np.int8))) + 1).tolist(), end - start]
    swings: list[_Swing] = []
    for a, b in pairwise(edges):
        if b - a < 2:
            continue
        up = bool(above[a])
        part = np.sort(cents[start + a : start + b])
        # Where it comes to: the farther half of the swing.
        far = part[len(part) // 2 :] if up else part[: (len(part) + 1) // 2]
        swings.append(_Swing(start + a, start + b, up, median(far)))
    return swings


def _outer(cents: FloatArray, turns: list[int], halfway: float) -> tuple[int, int]:
    """The first and last swing reach to where pitch crosses the line beyond the turns, or as
    far as a swing may last."""
    start, end = turns[0], turns[-1] + 1
    first_above, last_above = cents[start] > halfway, cents[end - 1] > halfway
    while start > 0 and (cents[start - 1] > halfway) == first_above:
        if turns[0] - start >= _LONGEST_SWING // 2:
            break
        start -= 1
    while end < len(cents) and (cents[end] > halfway) == last_above:
        if end - turns[-1] >= _LONGEST_SWING // 2:
            break
        end += 1
    return start, end
