"""Load: how much the lips have had. Playing time, weighed by register and loudness.

The weights and limits are heuristics: they say when to look, not what will happen.
"""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import date, timedelta
from math import sqrt

import numpy as np

from orexis.core.coach.history import History, NoteRow, stretch_begins
from orexis.core.horn.instruments import Instrument
from orexis.core.horn.registers import Register, register_of

LOUD_DB = 6.0
"""So much above the player's usual level is loud."""
LOUD = 1.2
_WEIGHTS = {
    Register.BUZZ: 1.2,
    Register.PEDAL: 0.8,
    Register.LOW: 1.0,
    Register.MIDDLE: 1.0,
    Register.HIGH: 1.6,
}
_ABOVE_SECURE, _DOUBLE_PEDAL = 2.5, 0.3
ELSEWHERE = 1.2
"""The weight of a minute that was played where nothing was heard of it."""
WEEK, MONTH = 7, 28
MOST_WEEK, MOST_DAY = 1.5, 2.0
"""The 7-day load against the 28-day one, and a day against the usual one."""
GAP_DAYS = 13
"""After more days than these without playing, averages begin anew."""
LOOKS_BACK = timedelta(days=MONTH + GAP_DAYS + 1)
"""How far back loads are looked at."""
_AHEAD_FROM_DAYS = 21
"""From how long a stretch of practice on what comes after a day is looked at for its limit."""
_TOLD_FROM_DAYS = 5
LEAST = 3.0
"""A load so small that no limit speaks of it: about five easy minutes."""


@dataclass(frozen=True, slots=True)
class Weights:
    """What a second on a note costs: on a horn, for a player whose highest dependable note is
    `secure_midi` and who plays at `usual_db`."""

    instrument: Instrument
    secure_midi: int
    usual_db: float | None = None

    def of(self, midi: int, on_horn: bool, level_db: float | None = None) -> float:
        """The weight of a note."""
        return self.of_register(midi, on_horn) * (LOUD if self.is_loud(level_db) else 1.0)

    def is_loud(self, level_db: float | None) -> bool:
        """Whether a level is well above what is usual."""
        if level_db is None or self.usual_db is None:
            return False
        return level_db > self.usual_db + LOUD_DB

    def of_register(self, midi: int, on_horn: bool) -> float:
        """The weight of a note at a usual level."""
        if not on_horn:
            return _WEIGHTS[Register.BUZZ]
        if midi < self.instrument.lowest_midi:
            return _DOUBLE_PEDAL
        if midi > self.secure_midi:
            return _ABOVE_SECURE
        return _WEIGHTS[register_of(midi, self.instrument, self.secure_midi)]


def load_of(notes: Iterable[NoteRow], weights: Weights) -> float:
    """The load of notes, in minutes of playing a middling note."""
    found = 0.0
    for note in notes:
        if note.sounded_s:
            found += note.sounded_s * weights.of(note.midi, note.on_horn, note.level_db)
    return found / 60


def usual_level_db(history: History) -> float | None:
    """The level a player mostly plays at."""
    levels = [
        note.level_db
        for attempt in history.attempts
        for note in attempt.notes
        if note.level_db is not None
    ]
    return float(np.median(levels)) if levels else None


@dataclass(frozen=True, slots=True)
class Load:
    """Loads up to and with a day: that day, and averages a day over 7 and 28 days, rest days
    counted; shorter where practice began, or began again, later. `usual` is what a day of practice
    mostly is, and `known_days` how many of those there are."""

    today: float
    week: float
    month: float
    usual: float
    known_days: int
    ratio_error: float = 0.0

    @property
    def ratio(self) -> float:
        """The week against the month."""
        return self.week / self.month if self.month else 0.0


def days_loads(history: History, weights: Weights, since: date) -> dict[date, float]:
    """The load of every day of practice since one."""
    found: dict[date, float] = {}
    known: dict[tuple[int, bool], float] = {}
    for attempt in reversed(history.attempts):
        if attempt.day < since:
            break
        heavy_s = 0.0
        for note in attempt.notes:
            if not note.sounded_s:
                continue
            what = note.midi, note.on_horn
            if what not in known:
                known[what] = weights.of_register(*what)
            loud = LOUD if weights.is_loud(note.level_db) else 1.0
            heavy_s += note.sounded_s * known[what] * loud
        found[attempt.day] = found.get(attempt.day, 0.0) + heavy_s / 60
    for free in history.free:
        if free.day >= since:
            heavy_s = free.easy_s + _WEIGHTS[Register.HIGH] * free.high_s
            found[free.day] = found.get(free.day, 0.0) + heavy_s / 60
    return found


def load_on(loads: Mapping[date, float], today: date) -> Load:
    """The loads up to and with a day."""
    played = sorted(day for day, load in loads.items() if load and day <= today)
    begins = stretch_begins(played, today, GAP_DAYS)
    if begins is None:
        return Load(0.0, 0.0, 0.0, 0.0, 0)
    since = (today - begins).days + 1
    month_days = min(MONTH, max(since, WEEK))
    month = [loads.get(today - timedelta(days=back), 0.0) for back in range(month_days)]
    week = month[:WEEK]
    before = [load for load in month[1:] if load]
    return Load(
        today=month[0],
        week=sum(week) / WEEK,
        month=sum(month) / month_days,
        usual=sum(before) / len(before) if before else 0.0,
        known_days=len(before),
        ratio_error=_ratio_error(week, month),
    )


def _ratio_error(week: list[float], month: list[float]) -> float:
    """About how far the ratio may be off, were the days of a week drawn from those of the month."""
    mean = sum(month) / len(month)
    if not mean or len(month) <= len(week):
        return 0.0
    return float(np.std(month)) / sqrt(len(week)) / mean


def room_on(loads: Mapping[date, float], today: date) -> float | None:
    """The largest load that today can have without passing a limit, `None` where too little is
    known for one."""
    earlier = {day: load for day, load in loads.items() if day < today}
    played = sorted(day for day, load in earlier.items() if load)
    begins = stretch_begins(played, today, GAP_DAYS)
    if begins is None:
        return None
    days = (today - begins).days + 1
    practised = [load for load in _days_before(earlier, today, days) if load]
    limits: list[float] = []
    if len(practised) >= _TOLD_FROM_DAYS:
        limits.append(MOST_DAY * sum(practised) / len(practised))
    # Today is in the week and the month of the next days too, which hard days of long ago leave.
    ahead = (
        _room_in_week(earlier, today, days, rest_days)
        for rest_days in range(WEEK if days >= _AHEAD_FROM_DAYS else 1)
    )
    limits += [limit for limit in ahead if limit is not None]
    if not limits:
        return None
    # To somebody who hardly plays the limits say nothing yet.
    usual = sum(practised) / len(practised) if practised else 0.0
    return max(min(limits), LEAST if usual < 2 * LEAST else 0.0)


def _days_before(
    loads: Mapping[date, float], today: date, days: int, rest_days: int = 0
) -> list[float]:
    """The loads of the days before today, newest first, that lie in the month of the day that comes
    after some days of rest; practice began `days` ago, today counted."""
    month = min(MONTH, max(days + rest_days, WEEK)) - rest_days
    return [loads.get(today - timedelta(days=back), 0.0) for back in range(1, month)]


def _room_in_week(
    loads: Mapping[date, float], today: date, days: int, rest_days: int
) -> float | None:
    """How much today can hold for the week of that day to be within the limit; `None` where any
    load is."""
    before = _days_before(loads, today, days, rest_days)
    month = len(before) + 1 + rest_days
    # (the week's days before and today) / 7 <= 1.5 (the month's days before and today) / days
    share = 1 / WEEK - MOST_WEEK / month
    if share <= 0:
        return None
    return (MOST_WEEK * sum(before) / month - sum(before[: WEEK - 1 - rest_days]) / WEEK) / share


def over(load: Load) -> tuple[str, ...]:
    """What a load is over, in words; each is told with how sure that is."""
    if load.known_days < _TOLD_FROM_DAYS:
        return ()
    found: list[str] = []
    if load.usual and load.today > max(MOST_DAY * load.usual, LEAST):
        found.append(
            f"This day is {load.today / load.usual:.1f} times your usual one; the rule of thumb "
            f"is at most {MOST_DAY:g}."
        )
    if load.ratio > MOST_WEEK and load.week > LEAST:
        low, high = load.ratio - load.ratio_error, load.ratio + load.ratio_error
        sure = f" (somewhere from {low:.1f} to {high:.1f})" if load.ratio_error else ""
        found.append(
            f"The last 7 days are {load.ratio:.1f} times your month{sure}; the rule of thumb is "
            f"at most {MOST_WEEK:g}."
        )
    return tuple(found)


def load_words(load: Load) -> str:
    """How the load stands, in a line."""
    if load.known_days < _TOLD_FROM_DAYS:
        return "Too few days to tell the load yet"
    return f"Load this week {load.ratio:.1f} of your month's usual"
