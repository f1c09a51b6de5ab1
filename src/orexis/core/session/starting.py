"""What starts an attempt: a note of the horn, and not a cough, a valve, the water key, talking, or
somebody in the next room.

A run of voiced frames is a note where it lies near what is asked, is clear enough, louder than the
room, and holds its pitch from moment to moment as lips in a slot do and a voice does not. A run
that lasts may stay within a wider band instead, as a wide vibrato does. What the room sounds like
is learnt from what was heard outside attempts, and how loud the player is from attempts.
"""

from collections import deque
from dataclasses import dataclass
from math import isnan, log2

import numpy as np

from orexis.core.exercises.task import Task
from orexis.core.listening.tracking.frames import Frames
from orexis.core.score.steps import Glide

_GAP_FRAMES = 8
"""Unvoiced frames that end a run."""
_SHORT_FRAMES, _LONG_FRAMES = 22, 35
_WITHIN_CENTS = 900.0
"""How far past what is asked a wrong note may lie and still be an attempt."""
_APART_FRAMES = 4
_STEADY_CENTS = 20.0
_SHORT_SHARE, _LONG_SHARE = 0.8, 0.6
_BAND_CENTS = 60.0
_CLEAR_DB = 4.0
_BLOWN_DB = 12.0
"""What is struck falls by more within a moment; what is blown is kept up."""
_ROOM_FRAMES = 1000
_FEWEST_ROOM_FRAMES = 50
_ROOM_SHARE = 80
_OVER_ROOM_DB = 5.0
_UNDER_OWN_DB = 32.0
_DULL, _DULL_UNDER_DB = 1.25, -45.0
"""What comes through a wall is soft and has lost its overtones."""


@dataclass(frozen=True, slots=True)
class _Row:
    """The frames of one run so far."""

    cents: list[float]
    level_db: list[float]
    harmonicity_db: list[float]
    brightness: list[float]


class Starting:
    """Looks at one frame after another; `step` tells the first frame of a note once it is one."""

    def __init__(self, task: Task) -> None:
        self._room: deque[float] = deque(maxlen=_ROOM_FRAMES)
        self._own_db: float | None = None
        self.put(task)

    def put(self, task: Task) -> None:
        """Says what is asked for from now on."""
        self.reset()
        pitches = task.score.pitches or (60,)
        self._lowest = 100.0 * min(pitches) - _WITHIN_CENTS
        self._highest = 100.0 * max(pitches) + _WITHIN_CENTS
        # A siren has no slot to hold.
        self._glides = any(isinstance(step, Glide) for step in task.score.steps)

    def reset(self) -> None:
        """Forgets the run that was sounding."""
        self._first: int | None = None
        self._gap = self._unbroken = 0
        self._row = _Row([], [], [], [])

    def learn(self, level_db: float) -> None:
        """Says how loud the player was in an attempt."""
        self._own_db = level_db if self._own_db is None else min(self._own_db, level_db)

    @property
    def first_frame(self) -> int | None:
        """Where the run that sounds now began, if one does."""
        return self._first

    @property
    def room_db(self) -> float | None:
        """The level of the room while nobody plays (dB); `None` before it is known."""
        if len(self._room) < _FEWEST_ROOM_FRAMES:
            return None
        return float(np.percentile(self._room, _ROOM_SHARE))

    def step(self, frames: Frames, place: int) -> int | None:
        """Takes one of some frames; the first frame of a note, once it is told to be one."""
        number = frames.first + place
        hz, level_db = float(frames.f0_hz[place]), float(frames.level_db[place])
        if isnan(hz):
            self._room.append(level_db)
            return self._silent()
        if self._first is None:
            self._first = number
        self._gap = 0
        row = self._row
        row.cents.append(6900 + 1200 * log2(hz / 440))
        row.level_db.append(level_db)
        row.harmonicity_db.append(float(frames.harmonicity_db[place]))
        row.brightness.append(float(frames.brightness[place]))
        self._unbroken += 1
        if len(row.cents) < _LONG_FRAMES:
            return None
        # Syllables come one after another, each on its way somewhere: in pieces it must hold still.
        share = _LONG_SHARE if self._unbroken >= _LONG_FRAMES else _SHORT_SHARE
        return self._first if self._is_note(_LONG_FRAMES, share) else None

    def _silent(self) -> int | None:
        if self._first is None:
            return None
        self._gap += 1
        self._unbroken = 0
        if self._gap < _GAP_FRAMES:
            return None
        count, first = len(self._row.cents), self._first
        if count >= _SHORT_FRAMES and self._is_note(count, _SHORT_SHARE):
            return first
        self._room.extend(self._row.level_db)
        self.reset()
        return None

    def _is_note(self, count: int, share: float) -> bool:
        row = self._row
        # First what is quick to tell: this is asked at every frame while something else sounds.
        within = sum(self._lowest <= cents <= self._highest for cents in row.cents[-count:])
        if within < share * count:
            return False
        level_db = float(np.median(row.level_db[-count:]))
        if level_db < self._least_db:
            return False
        if float(np.median(row.harmonicity_db[-count:])) < _CLEAR_DB:
            return False
        third = count // 3
        fall_db = np.median(row.level_db[-count:][:third]) - np.median(row.level_db[-third:])
        if fall_db > _BLOWN_DB:
            return False
        dull = float(np.median(row.brightness[-count:])) < _DULL
        if dull and level_db < _DULL_UNDER_DB:
            return False
        cents = np.array(row.cents[-count:])
        moved = np.abs(cents[_APART_FRAMES:] - cents[:-_APART_FRAMES])
        if self._glides or float((moved <= _STEADY_CENTS).mean()) >= share:
            return True
        return self._unbroken >= _LONG_FRAMES and bool(np.ptp(cents) <= 2 * _BAND_CENTS)

    @property
    def _least_db(self) -> float:
        room_db, own_db = self.room_db, self._own_db
        over_room = -100.0 if room_db is None else room_db + _OVER_ROOM_DB
        like_own = -100.0 if own_db is None else own_db - _UNDER_OWN_DB
        return max(over_room, like_own)
