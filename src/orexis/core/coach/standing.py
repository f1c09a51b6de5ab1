"""How a note stands with a player, as their takes show it.

Attempted, touched (it spoke for 0.3 s), held (passed, for 2 s), secure (passed at the normal gate
or a harder one on 3 of the last 14 days, and once from silence), faded (not heard for 30 days).
"""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from enum import StrEnum

from orexis.core.judging.gate import GateLevel

TOUCHED_S, HELD_S = 0.3, 2.0
SECURE_DAYS, WITHIN = 3, timedelta(days=14)
FADED_AFTER = timedelta(days=30)


class Standing(StrEnum):
    """How far a note has come."""

    OUT_OF_REACH = "not on this horn"
    NEW = "not played yet"
    ATTEMPTED = "attempted"
    TOUCHED = "touched"
    HELD = "held"
    SECURE = "secure"
    FADED = "faded"


@dataclass(frozen=True, slots=True)
class Heard:
    """One time a note was asked for: on which day, for how long it sounded (0 where it did not
    speak), how long it was held, whether its take passed and under which gate, and whether it was
    a pick from silence."""

    day: date
    sounded_s: float
    held_s: float
    passed: bool
    level: GateLevel
    cold: bool = False


def standing_of(heard: Sequence[Heard], today: date) -> Standing:
    """How a note stands, after all the times it was asked for."""
    if not heard:
        return Standing.NEW
    spoke = [one for one in heard if one.sounded_s >= TOUCHED_S]
    if not spoke:
        return Standing.ATTEMPTED
    if today - max(one.day for one in spoke) > FADED_AFTER:
        return Standing.FADED
    if is_dependable(heard, today) and any(one.cold for one in _hard(heard)):
        return Standing.SECURE
    if any(one.passed and one.held_s >= HELD_S for one in spoke):
        return Standing.HELD
    return Standing.TOUCHED


def hard_days(heard: Sequence[Heard], today: date) -> set[date]:
    """The days of the last two weeks on which a note passed at the normal gate or a harder one."""
    return {one.day for one in _hard(heard) if today - one.day < WITHIN}


def is_dependable(heard: Sequence[Heard], today: date) -> bool:
    """Whether a note was good on enough days to be secure, were it picked from silence."""
    return len(hard_days(heard, today)) >= SECURE_DAYS


def is_hard(one: Heard) -> bool:
    """Whether a note spoke and passed at the normal gate or a harder one."""
    return one.passed and one.level is not GateLevel.KIND and one.sounded_s >= TOUCHED_S


def _hard(heard: Sequence[Heard]) -> list[Heard]:
    return [one for one in heard if is_hard(one)]
