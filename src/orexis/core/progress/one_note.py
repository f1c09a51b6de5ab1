"""One note: every day it was played, and which times are worth hearing again."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime
from itertools import groupby
from statistics import median

from orexis.core.judging.gate import GateLevel

_CENTRE_CENTS, _SPREAD_CENTS = 15.0, 9.0
"""The normal gate's limits, which say how much a cent of either counts."""


@dataclass(frozen=True, slots=True)
class Time:
    """One time a note was asked for, and what was measured of it where it spoke. `can_be_heard`
    where the sound of its take is there."""

    take_id: str
    at: datetime
    passed: bool
    level: GateLevel
    can_be_heard: bool
    spoke: bool
    held_s: float = 0.0
    centre_cents: float | None = None
    spread_cents: float | None = None
    rise_s: float | None = None
    harmonicity_db: float | None = None
    brightness: float | None = None


@dataclass(frozen=True, slots=True)
class Day:
    """The times of a day: how many were asked for, how many spoke, the longest that was held, and
    medians of what spoke (`None` where nothing was measured)."""

    on: date
    asked: int
    spoke: int
    held_s: float
    centre_cents: float | None
    spread_cents: float | None
    rise_s: float | None
    harmonicity_db: float | None
    brightness: float | None


@dataclass(frozen=True, slots=True)
class WorthHearing:
    """The first time a note spoke, the best and the last, of those that can be heard."""

    first: Time | None
    best: Time | None
    last: Time | None


def days_of(times: Sequence[Time]) -> tuple[Day, ...]:
    """The days of some times, which are in order."""
    return tuple(
        _day(on, list(played)) for on, played in groupby(times, key=lambda one: one.at.date())
    )


def _day(on: date, times: Sequence[Time]) -> Day:
    spoke = [one for one in times if one.spoke]
    return Day(
        on,
        len(times),
        len(spoke),
        max((one.held_s for one in spoke), default=0.0),
        *(
            _median([getattr(one, name) for one in spoke])
            for name in ("centre_cents", "spread_cents", "rise_s", "harmonicity_db", "brightness")
        ),
    )


def _median(values: Sequence[float | None]) -> float | None:
    known = [value for value in values if value is not None]
    return median(known) if known else None


def worth_hearing(times: Sequence[Time]) -> WorthHearing:
    """What to hear of some times, which are in order. The best passed, and lies nearest to its
    middle with the least spread; the newer of two alike."""
    heard = [one for one in times if one.spoke and one.can_be_heard]
    if not heard:
        return WorthHearing(None, None, None)
    passed = [one for one in heard if one.passed and one.centre_cents is not None]
    best = min(reversed(passed), key=_off, default=None)
    return WorthHearing(heard[0], best, heard[-1])


def _off(time: Time) -> float:
    centre = abs(time.centre_cents or 0.0) / _CENTRE_CENTS
    return centre + (time.spread_cents or 0.0) / _SPREAD_CENTS
