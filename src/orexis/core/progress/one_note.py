"""One note: every day it was played, and which times are worth hearing again."""

from dataclasses import dataclass
from datetime import date, datetime

from orexis.core.exercises.family import Aim
from orexis.core.judging.aims import limit_at
from orexis.core.judging.gate import GateLevel

NEAR_CENTS = limit_at(Aim.CENTRE, GateLevel.NORMAL)
STEADY_CENTS = limit_at(Aim.STEADY, GateLevel.NORMAL)
"""The normal gate's limits, which say how much a cent of either counts: the best take of a note has
the least of |centre| and spread, each by its limit, taken together."""


@dataclass(frozen=True, slots=True)
class Day:
    """The times a note was asked for on a day: how many, how many spoke, the longest that was held,
    and the means of what spoke (`None` where nothing was measured)."""

    on: date
    asked: int
    spoke: int
    held_s: float
    centre_cents: float | None
    spread_cents: float | None
    rise_s: float | None
    harmonicity_db: float | None


@dataclass(frozen=True, slots=True)
class Time:
    """One time a note spoke in a take that can be heard, and how far off it was where it passed."""

    take_id: str
    at: datetime
    off: float | None = None


@dataclass(frozen=True, slots=True)
class WorthHearing:
    """The first time a note spoke, the best that passed and the last, of those that can be
    heard."""

    first: Time | None = None
    best: Time | None = None
    last: Time | None = None

    def and_later(self, later: "WorthHearing") -> "WorthHearing":
        """What is worth hearing of this time and a later one; the later of two as good."""
        best = [one for one in (later.best, self.best) if one is not None and one.off is not None]
        return WorthHearing(
            self.first or later.first,
            min(best, key=lambda one: one.off or 0.0, default=None),
            later.last or self.last,
        )
