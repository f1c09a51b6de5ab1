"""One note: every day it was played, and which times are worth hearing again."""

from dataclasses import dataclass
from datetime import date, datetime

from orexis.core.exercises.family import Aim
from orexis.core.judging.aims import limit_at
from orexis.core.judging.standard import Standard

NEAR_CENTS = limit_at(Aim.CENTRE, Standard.NORMAL)
STEADY_CENTS = limit_at(Aim.STEADY, Standard.NORMAL)
"""The normal standard's limits, which say how much a cent of either counts: the best take of a note
has the least of |centre| and spread, each by its limit, taken together."""


LONG_ENOUGH_S = 0.5
"""A note is measured that sounded for so long."""


@dataclass(frozen=True, slots=True)
class NoteDay:
    """A note on a day: how often it was asked for and spoke, and the longest that was held. Of the
    `times` it spoke for long enough to be measured: the means of where it lay (against its target),
    how far from its middle, whichever way, how far it spread, how soon it spoke and how clear it
    was (`None` where nothing was measured), and how many cracked."""

    on: date
    midi: int
    asked: int
    spoke: int
    held_s: float
    times: int
    centre_cents: float | None
    off_cents: float | None
    spread_cents: float | None
    rise_s: float | None
    harmonicity_db: float | None
    cracked: int = 0


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
        best = [
            time for time in (later.best, self.best) if time is not None and time.off is not None
        ]
        return WorthHearing(
            self.first or later.first,
            min(best, key=lambda time: time.off or 0.0, default=None),
            later.last or self.last,
        )
