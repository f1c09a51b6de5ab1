"""A body to practise with: a model of lips that grow, tire and recover, so that rules can be
watched over months in seconds. It is a model: its numbers are chosen, not measured on anybody.

Two averages of load stand for what has been built and what is not yet recovered from, as in
impulse-response models of training: a slow one (six weeks) and a quick one (a week). Within a
session tiredness grows with what is played and fades with rest. Range grows by what is played well
near its end, and the less the rawer the lips still are from the last such work, of which what was
missed counts twice. It shrinks when nothing is played, on lips that are raw through and through,
when hard work goes on although they are sore, and when the week is far above what they are used to.
Downward it grows by what speaks near its lower end. Below that lie notes that come from loose lips
alone, which are learnt by trying them. Skill grows with what is played, and how soon lips tire and
recover differs from one body to another.
"""

from dataclasses import dataclass
from math import exp, log

import numpy as np

_SLOW_DAYS, _QUICK_DAYS = 42.0, 7.0
_RECOVERS_S = 420.0
"""How long rest takes to bring tiredness down to a third, within a session."""
_TIRES_MIN = 16.0
"""So many weighed minutes without rest bring tiredness to 1."""
_NEAR = 2
_GROWS, _GROWS_MIN = 1.0, 1.0
_ROOM_SEMITONES = 12.0
_FADES_AFTER_DAYS, _FADES = 3, 0.06
_RAW_DAYS, _RAW_MIN = 1.5, 2.5
"""How long lips stay raw after work near the end of their range, and how much of it makes them so;
what was missed there counts twice, and builds nothing."""
_RAWEST = 2.0
_RAW_COSTS, _RAW_SORE = 0.1, 0.1
_STRAINED = 1.5
_STRAIN_COSTS = 0.3
_SORE_CHANCE, _SORE_DAYS = 0.5, 3
_LOST_SORE, _SORE_COSTS = 2.0, 0.15
"""What sore lips lack at the top, and what hard work on them costs a day; they do not heal then."""
_SLOPE = 0.9
_LOST_TIRED = 3.0
_LEAST_LOAD = 4.0
_MOST_SKILL, _SKILL_DAYS, _SKILL_MIN = 0.97, 250.0, 8.0
"""Where skill goes, in how many days of practice by a good half of what is missing, and how many
minutes make a whole day of it."""
_LOWER_BY, _LOWER, _LOWER_MIN = 8.0, 0.12, 1.0
"""How many half steps the lower end can still go down, by how many a day at most, and how many
minutes near it that takes. What only speaks there counts a third."""
_LOOSE_BELOW = 6.0
_LOOSE_AT_FIRST, _MOST_LOOSE, _LOOSE_LEARNS = 0.15, 0.9, 0.03
"""So far below the lower end loose lips alone give a note, how often at first and in the end, and
what part of the rest a day of trying teaches."""
_DIFFERS = (0.8, 1.25)
"""How much sooner or later than usual a body tires and recovers."""


@dataclass(frozen=True, slots=True)
class BodyNote:
    """One note as the body plays it: whether it speaks, for how long, how long it holds, how far it
    spreads, and how soon it speaks; and whether it is good."""

    spoke: bool
    seconds: float
    held_s: float
    spread_cents: float
    rise_s: float
    good: bool


class Body:
    """A player's lips: `top` and `bottom` (MIDI) are the notes that speak well half of the time
    when rested, `skill` is how many attempts in the middle are good, 0 to 1, and `used_to` is the
    load of a usual day; the top can grow by `room_semitones` at most. It tires `tires`
    times as fast as usual."""

    def __init__(
        self,
        top: float,
        bottom: float,
        skill: float,
        used_to: float,
        seed: int,
        room_semitones: float = _ROOM_SEMITONES,
        tires: float = 1.0,
    ) -> None:
        self.top, self.bottom, self.skill = top, bottom, skill
        self._limit = top + room_semitones
        self._lowest = bottom - _LOWER_BY
        self._loose = _LOOSE_AT_FIRST
        self._slow = self._quick = max(used_to, _LEAST_LOAD)
        self._random = np.random.default_rng(seed)
        own = np.random.default_rng([seed, 1])
        self._tires_min = _TIRES_MIN / tires * float(own.uniform(*_DIFFERS))
        self._recovers_s = _RECOVERS_S * float(own.uniform(*_DIFFERS))
        self.tiredness = 0.0
        self._today = 0.0
        self._near_min = self._missed_min = 0.0
        self._low_min = self._loose_min = self._played_min = 0.0
        self._raw = 0.0
        self._idle_days = 0
        self._sore_days = 0

    @property
    def strain(self) -> float:
        """The last week against what the lips are used to."""
        return self._quick / max(self._slow, _LEAST_LOAD)

    @property
    def sore(self) -> bool:
        """Whether the lips hurt today."""
        return self._sore_days > 0

    @property
    def tired(self) -> bool:
        """Whether the lips are not recovered this morning."""
        return self.strain > 1.25

    def play(self, midi: int, seconds: float, weight: float, on_horn: bool = True) -> BodyNote:
        """Plays a note, which costs what it weighs."""
        random = self._random
        lost = _LOST_TIRED * self.tiredness + (_LOST_SORE if self.sore else 0.0)
        above = self.top - lost - midi
        below = midi - self.bottom
        room = min(above, below) if on_horn else above + _NEAR
        speaks = self._logistic((room + 1.5) / _SLOPE)
        good = self._logistic(room / _SLOPE) * self.skill ** (0.35 * (1 + self.tiredness))
        loose = on_horn and below < -_LOOSE_BELOW
        if loose:
            speaks, good = self._loose, 1.0
        spoke = bool(random.random() < speaks)
        minutes = seconds * weight / 60
        self.tiredness = min(self.tiredness + minutes / self._tires_min, 2.0)
        self._today += minutes
        is_good = spoke and bool(random.random() < good)
        if on_horn and midi > self.top - _NEAR:
            if is_good:
                self._near_min += seconds / 60
            else:
                self._missed_min += seconds / 60
        self._played_min += seconds / 60
        if loose:
            self._loose_min += seconds / 60
        elif on_horn and spoke and below < _NEAR + 1:
            self._low_min += seconds / 60 * (1 if is_good else 1 / 3)
        hard = 1.0 if loose else max(1.0, 1 + 0.25 * (2 - room)) * (1 + 0.6 * self.tiredness)
        held = float(np.clip(random.normal(1.0 - 0.25 * (hard - 1), 0.06), 0.1, 1.0))
        return BodyNote(
            spoke=spoke,
            seconds=seconds if spoke else 0.0,
            held_s=seconds * held if spoke else 0.0,
            spread_cents=float(4.5 * hard / self.skill * random.uniform(0.75, 1.25)),
            rise_s=float(0.06 * hard * random.uniform(0.8, 1.2)),
            good=is_good,
        )

    def rest(self, seconds: float) -> None:
        """Rests within a session."""
        self.tiredness *= exp(-seconds / self._recovers_s)

    def sleep(self) -> None:
        """The night: the day sinks in, and what was strained shows."""
        today, random = self._today, self._random
        self._slow += (today - self._slow) / _SLOW_DAYS
        self._quick += (today - self._quick) / _QUICK_DAYS
        self._idle_days = 0 if today else self._idle_days + 1
        hard_min = self._near_min + 2 * self._missed_min
        if self.sore and hard_min:
            self.top -= _SORE_COSTS
        elif self.sore:
            self._sore_days -= 1
        else:
            grown = (1 - exp(-self._near_min / _GROWS_MIN)) * max(1 - self._raw, 0.0)
            room = max(self._limit - self.top, 0.0) / _ROOM_SEMITONES
            self.top += _GROWS * grown * room
        raw = self._raw * exp(-1 / _RAW_DAYS) + hard_min / _RAW_MIN
        self._raw = min(raw, _RAWEST)
        too_raw = max(self._raw - 1, 0.0)
        self.top -= _RAW_COSTS * too_raw
        over = max(self.strain - _STRAINED, 0.0)
        if over:
            self.top -= _STRAIN_COSTS * log(self.strain / _STRAINED + 1)
        if not self._sore_days and random.random() < _SORE_CHANCE * over + _RAW_SORE * too_raw:
            self._sore_days = _SORE_DAYS
        room = max(self.bottom - self._lowest, 0.0) / _LOWER_BY
        self.bottom -= _LOWER * (1 - exp(-self._low_min / _LOWER_MIN)) * room
        if self._loose_min:
            self._loose += _LOOSE_LEARNS * (_MOST_LOOSE - self._loose)
        practised = min(self._played_min / _SKILL_MIN, 1.0)
        self.skill += max(_MOST_SKILL - self.skill, 0.0) * practised / _SKILL_DAYS
        if self._idle_days > _FADES_AFTER_DAYS:
            self.top -= _FADES
        self.tiredness = 0.0
        self._today = self._near_min = self._missed_min = 0.0
        self._low_min = self._loose_min = self._played_min = 0.0

    @staticmethod
    def _logistic(value: float) -> float:
        return 1 / (1 + exp(-value))
