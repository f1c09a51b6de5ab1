"""Where in a part a player is who plays it freely: who begins anywhere, stops, goes back, plays
some bars again, and something else between.

Each heard note is taken for a written one, for another in the place of one, for one too many, or
for none of the part. Of all rows of such choices the cheapest is kept, by dynamic programming
(A. J. Viterbi, "Error bounds for convolutional codes", IEEE Trans. Inf. Theory 13, 1967). To go on
with the next written note costs nothing, to leave one out or to play one too many about 1, and to
go on elsewhere costs more, least at the beginning of a bar and after a pause: a bar again is
cheaper than three notes too many, and two wrong notes are cheaper than to leap there and back.
"""

from collections import deque
from collections.abc import Sequence
from copy import copy
from dataclasses import dataclass
from typing import Self

import numpy as np

from orexis.core.arrays import FloatArray
from orexis.core.judging.following import WrittenNote
from orexis.core.listening.notes.events import Note
from orexis.core.listening.notes.patterns import SPOKE_WITHIN_CENTS, pair_costs

_MOST_LEFT_OUT = 3
_ELSEWHERE, _AT_A_BAR, _AT_THE_BEGINNING, _AFTER_A_PAUSE = 3.5, 2.5, 2.0, -1.5
_TOO_MANY_COST = 1.1
"""A little more than to leave one out: what sounds like a note of the part is rather that note."""
_FAR_AWAY = 0.5
"""What it costs more to go on at the other end of the part than nearby."""
_PAUSE_S = 0.8
_BEGINS_AT_A_BAR, _BEGINS_ELSEWHERE = 1.0, 2.0
_LEAVES, _OUTSIDE = 2.5, 0.9
"""What it costs to leave the part, and every note outside of it."""
_NEVER = 1e9
_FEWEST_MET, _MET_SHARE = 3, 0.5
_KEPT_NOTES = 4000
# How a state was reached, where not by going on so many written notes.
_TOO_MANY, _FROM_HERE, _FROM_OUTSIDE = -1, -2, -3


@dataclass(frozen=True, slots=True)
class PartRun:
    """A stretch of a part that was played in one go: its first and last written note and its first
    and last heard one, by their numbers."""

    first_written: int
    last_written: int
    first_heard: int
    last_heard: int


@dataclass(frozen=True, slots=True)
class _Step:
    """How each state was reached with one heard note (the last state is outside the part), which
    written notes the heard one is near to, and the likeliest written note before it."""

    came: np.ndarray
    near: np.ndarray
    here: int


class PartPlace:
    """Follows a part of at least one note, heard note by heard note."""

    def __init__(self, part: Sequence[WrittenNote]) -> None:
        bars = [note.bar for note in part]
        begins_bar = np.array([i == 0 or bar != bars[i - 1] for i, bar in enumerate(bars)])
        self._cents = np.array([100.0 * note.midi for note in part])
        self._begins = np.where(begins_bar, _BEGINS_AT_A_BAR, _BEGINS_ELSEWHERE)
        self._begins[0] = 0.0
        self._elsewhere = np.where(begins_bar, _AT_A_BAR, _ELSEWHERE)
        self._elsewhere[0] = _AT_THE_BEGINNING
        self._cost: FloatArray = np.full(len(part), _NEVER)
        self._outside = 0.0
        self._steps: deque[_Step] = deque(maxlen=_KEPT_NOTES)
        self._heard = 0
        self._ended_s = -_PAUSE_S

    def copied(self) -> Self:
        """A copy that can be followed further by itself."""
        other = copy(self)
        other._steps = self._steps.copy()
        return other

    def step(self, note: Note) -> None:
        """Takes the next heard note."""
        off = np.abs(self._cents - note.pitch_cents)
        near = off <= SPOKE_WITHIN_CENTS
        here = int(self._cost.argmin())
        goes_on, came = self._goes_on()
        from_here = self._from_here(here, note)
        from_outside = self._outside + self._begins
        anywhere = np.where(near, np.minimum(from_here, from_outside), _NEVER)
        anywhere_from = np.where(from_here < from_outside, _FROM_HERE, _FROM_OUTSIDE)
        came = np.where(anywhere < goes_on, anywhere_from, came)
        taken = np.minimum(goes_on, anywhere) + pair_costs(off)
        too_many = self._cost + _TOO_MANY_COST
        came = np.where(too_many < taken, _TOO_MANY, came)
        leaves = float(self._cost[here]) + _LEAVES
        out_from = _FROM_HERE if leaves < self._outside else _FROM_OUTSIDE
        self._steps.append(_Step(np.append(came, out_from), near, here))
        self._outside = min(leaves, self._outside) + _OUTSIDE
        self._cost = np.minimum(too_many, taken)
        self._heard += 1
        self._ended_s = note.end_s

    def _goes_on(self) -> tuple[FloatArray, np.ndarray]:
        """What it costs to reach each written note from those before it, and from how many notes
        before."""
        count = len(self._cents)
        cost, came = np.full(count, _NEVER), np.ones(count, dtype=int)
        for on in range(1, min(_MOST_LEFT_OUT + 2, count)):
            by_way = self._cost[:-on] + (on - 1)
            came[on:] = np.where(by_way < cost[on:], on, came[on:])
            cost[on:] = np.minimum(by_way, cost[on:])
        return cost, came

    def _from_here(self, here: int, note: Note) -> FloatArray:
        """What it costs to go on at each written note from the likeliest one."""
        away = np.abs(np.arange(len(self._cents)) - here) / len(self._cents)
        pause = _AFTER_A_PAUSE if note.start_s - self._ended_s >= _PAUSE_S else 0.0
        costs: FloatArray = self._cost[here] + self._elsewhere + pause + _FAR_AWAY * away
        return costs

    def run(self, most_written: int | None = None) -> PartRun | None:
        """The stretch that is being played, as far as it has gone, or its last so many written
        notes; `None` where nothing of the part sounds, or too little to tell."""
        if not self._is_inside():
            return None
        found = self._runs_back(most=1, most_written=most_written)
        return found[0] if found else None

    def runs(self) -> list[PartRun]:
        """The stretches that were played in one go, in order. What has fewer than three notes of
        the part, or more that are not of it, is none."""
        return self._runs_back()[::-1]

    def _is_inside(self) -> bool:
        return float(self._cost.min()) <= self._outside

    def _runs_back(self, most: int | None = None, most_written: int | None = None) -> list[PartRun]:
        """The stretches, or the last so many that were looked at, from the last back."""
        found: list[PartRun] = []
        inside, looked_at = self._is_inside(), 0
        at = int(self._cost.argmin())
        row = len(self._steps) - 1
        first_number = self._heard - len(self._steps)
        while row >= 0 and (most is None or looked_at < most):
            if not inside:
                step = self._steps[row]
                inside, at, row = step.came[-1] == _FROM_HERE, step.here, row - 1
                continue
            run, row, inside, at = self._run_back(row, at, first_number, most_written)
            looked_at += 1
            if run is not None:
                found.append(run)
        return found

    def _run_back(
        self, row: int, at: int, first_number: int, most_written: int | None
    ) -> tuple[PartRun | None, int, bool, int]:
        """The stretch that ends with a heard note at a written one (`None`: too little to be one),
        the heard note before it, whether that is one of the part, and which written note it is."""
        last_written, last_heard = at, row
        met = others = 0
        while row >= 0:
            step = self._steps[row]
            came = int(step.came[at])
            row -= 1
            if came == _TOO_MANY:
                if met or others:
                    others += 1
                else:
                    # Notes too many after its last one do not belong to it.
                    last_heard = row
                continue
            if step.near[at]:
                met += 1
            else:
                others += 1
            if came in (_FROM_HERE, _FROM_OUTSIDE):
                break
            if most_written is not None and last_written - at + came >= most_written:
                break
            others += came - 1
            at -= came
        enough = met >= min(_FEWEST_MET, len(self._cents)) and met >= _MET_SHARE * (met + others)
        span = first_number + row + 1, first_number + last_heard
        run = PartRun(at, last_written, *span) if enough else None
        return run, row, came == _FROM_HERE, step.here


def runs_of(part: Sequence[WrittenNote], heard: Sequence[Note]) -> list[PartRun]:
    """The stretches of a part that some heard notes are, in order."""
    place = PartPlace(part)
    for note in heard:
        place.step(note)
    return place.runs()
