"""What the levels of the last minute say of a microphone: how loud the room and the notes are, and
what turns the sound up, cuts it off or loses it.

A level is told for every cell of 10 ms, in dB re full scale (RMS). Those of frames will not do:
they reach over windows that are longer than what is cut off or lost.
"""

from collections import deque

import numpy as np

from orexis.core.arrays import BoolArray, FloatArray
from orexis.core.listening.notes.players import room_level_db
from orexis.core.listening.notes.runs import runs
from orexis.core.listening.tracking.frames import SILENCE_DB

CELL_S = 0.01
_KEPT_CELLS = round(60 / CELL_S)
_RECENT_CELLS = round(10 / CELL_S)
"""So many cells of notes tell how loud they come in now."""
_SMOOTHED_CELLS = 10
_OVER_ROOM_DB = 8.0
_NOTE_CELLS = round(0.3 / CELL_S)
_LEAST_CELLS = round(1 / CELL_S)

_NOTHING_DB, _FELL_FROM_DB, _FELL_WITHIN = -95.0, -55.0, 4
"""A room lets a note fade; what falls from −55 dB to nothing within 40 ms was cut off."""
_LOST_CELLS = round(0.25 / CELL_S)
"""Sound that is back within so long was lost; a longer silence is a pause."""

_UNDER_LOUDEST_DB = 15.0
_LONG_CELLS = round(1 / CELL_S)
_AT_FIRST = slice(round(0.7 / CELL_S), round(1.2 / CELL_S))
_LATER = slice(round(3.0 / CELL_S), round(3.5 / CELL_S))
_STEADY_DB = 4.0
"""A room is as steady as this; talk and footsteps are not."""
_TURNED_UP_DB, _TURNED_UP_TIMES = 6.0, 2


class Levels:
    """The levels of the last minute of a sound."""

    def __init__(self, sample_rate: int) -> None:
        self._cell = round(sample_rate * CELL_S)
        self._rest = np.empty(0)
        self._level_db: deque[float] = deque(maxlen=_KEPT_CELLS)

    def feed(self, samples: FloatArray) -> None:
        """Takes the next samples (1-D, full scale ±1)."""
        samples = np.concatenate([self._rest, samples])
        whole = len(samples) // self._cell
        cells = samples[: whole * self._cell].reshape(whole, self._cell)
        self._rest = samples[whole * self._cell :]
        self._level_db.extend(_db(np.mean(cells**2, axis=1)))

    def told(self) -> "LevelsHeard":
        """The levels as they are now."""
        return LevelsHeard(np.array(self._level_db))


class LevelsHeard:
    """What some levels say: `level_db` is one for each cell, oldest first."""

    def __init__(self, level_db: FloatArray) -> None:
        self._level_db = level_db
        self.room_db = self._room_db()
        """How loud the room is, dB; `None` of less than a second of sound."""
        self._played = self._note_cells()
        recent = level_db[self._played][-_RECENT_CELLS:]
        self.notes_db: tuple[float, float] | None = None
        """How loud notes come in, dB: nine tenths of what was played last lie above the first and
        below the second; `None` before any was heard."""
        if len(recent):
            low, high = np.percentile(recent, (10, 90))
            self.notes_db = float(low), float(high)

    @property
    def cut_off(self) -> int:
        """How often sound fell to nothing faster than it fades in any room."""
        return sum(last - first > _LOST_CELLS for first, last in self._holes())

    @property
    def lost(self) -> int:
        """How often sound was gone for a moment in the middle."""
        return sum(
            last - first <= _LOST_CELLS
            and self._level_db[last : last + _FELL_WITHIN].max(initial=SILENCE_DB) > _FELL_FROM_DB
            for first, last in self._holes()
        )

    @property
    def turns_up(self) -> bool:
        """Whether the room comes in louder the longer a pause lasts: something turns the microphone
        up by itself. (A room's echo does the opposite.)"""
        if self.notes_db is None:
            return False
        notes = self._level_db > self.notes_db[1] - _UNDER_LOUDEST_DB
        rose_db: list[float] = []
        for first, last in runs(_closed(notes, _SMOOTHED_CELLS)):
            pause = self._level_db[last : last + _LATER.stop]
            if last - first < _LONG_CELLS or len(pause) < _LATER.stop:
                continue
            at_first, later = _smoothed(pause[_AT_FIRST]), _smoothed(pause[_LATER])
            is_still = not notes[last : last + _LATER.stop].any() and np.ptp(later) <= _STEADY_DB
            if is_still:
                rose_db.append(float(np.median(later) - np.median(at_first)))
        return len(rose_db) >= _TURNED_UP_TIMES and float(np.median(rose_db)) >= _TURNED_UP_DB

    def _room_db(self) -> float | None:
        if len(self._level_db) < _LEAST_CELLS:
            return None
        return room_level_db(_smoothed(self._level_db))

    def _note_cells(self) -> BoolArray:
        """The cells in which something louder than the room sounded for a while."""
        played = np.zeros(len(self._level_db), np.bool_)
        if self.room_db is not None:
            for first, last in runs(self._level_db >= self.room_db + _OVER_ROOM_DB):
                played[first:last] = last - first >= _NOTE_CELLS
        return played

    def _holes(self) -> list[tuple[int, int]]:
        """The stretches of nothing into which sound fell at once, each with its end."""
        nothing = self._level_db <= _NOTHING_DB
        return [
            (first, last)
            for first, last in runs(nothing)
            if self._level_db[max(first - _FELL_WITHIN, 0) : first].max(initial=SILENCE_DB)
            > _FELL_FROM_DB
        ]


def _closed(holds: BoolArray, gap: int) -> BoolArray:
    """The same without gaps up to a length between what holds."""
    closed = holds.copy()
    for first, last in runs(~holds):
        if first > 0 and last < len(holds) and last - first <= gap:
            closed[first:last] = True
    return closed


def _smoothed(level_db: FloatArray) -> FloatArray:
    """Levels over 100 ms."""
    power = 10 ** (level_db / 10)
    return _db(np.convolve(power, np.full(_SMOOTHED_CELLS, 1 / _SMOOTHED_CELLS), "valid"))


def _db(power: FloatArray) -> FloatArray:
    decibels: FloatArray = 10 * np.log10(np.maximum(power, 10 ** (SILENCE_DB / 10)))
    return decibels
