"""How far up and down a player holds notes on a horn: what they showed counts for more than what
they said."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date, timedelta
from functools import cached_property

from orexis.core.coach.history import History
from orexis.core.coach.standing import NoteOutcome, Standing, is_held, standing_of
from orexis.core.horn.instruments import Instrument
from orexis.core.listening.habits import TOUCHED_S

_RECENT = timedelta(days=14)
_ASKED_DAYS, _HELD_DAYS = 3, 2
_HELD_BELOW = 3
_STEPS_DOWN = (2, 1)
"""A note belongs to the range where it lies so many half steps under one that does."""


@dataclass(frozen=True)
class HeldRange:
    """The range that a player's takes up to a day show on a horn. `said_low` and `said_high` are
    the lowest and highest comfortable note as the player named them, or as is usual, and `easy` is
    a low, easy one (all sounding MIDI)."""

    history: History
    today: date
    instrument: Instrument
    easy: int
    said_low: int
    said_high: int

    @cached_property
    def standings(self) -> dict[int, Standing]:
        """How every note that was asked for stands."""
        return {midi: standing_of(heard, self.today) for midi, heard in self.history.heard.items()}

    @cached_property
    def highest_secure(self) -> int | None:
        """The highest note that is secure."""
        return max(self._standing(Standing.SECURE), default=None)

    @cached_property
    def lowest_secure(self) -> int | None:
        """The lowest note that is secure."""
        return min(self._standing(Standing.SECURE), default=None)

    @cached_property
    def highest_held(self) -> int | None:
        """The highest note that was held, secure ones too."""
        return max(self._standing(Standing.HELD, Standing.SECURE), default=None)

    def _standing(self, *standings: Standing) -> list[int]:
        return [midi for midi, standing in self.standings.items() if standing in standings]

    @cached_property
    def comfortable(self) -> int:
        """The highest note a ladder may build on: secure, or named as comfortable and not shown
        otherwise, or a little below what has been held."""
        in_vain = self._in_vain(sorted(self.history.heard, reverse=True), range(self.said_high + 1))
        shown = [self.said_high if in_vain is None else in_vain - 1]
        if self.highest_held is not None:
            shown.append(self.highest_held - _HELD_BELOW)
        if self.highest_secure is not None:
            shown.append(self.highest_secure)
        return max(shown)

    @cached_property
    def top(self) -> int:
        """The highest note this player holds: what a ladder may build on, or what was held on two
        of the last fourteen days."""
        return max([*self._held_lately, self.comfortable])

    @cached_property
    def bottom(self) -> int:
        """The lowest note this player holds, pedals apart: what was said, unless it was asked for
        in vain; and from there down what was held on two of the last fourteen days, as far as each
        lies within a whole step of the one above."""
        low = sorted(midi for midi in self.history.heard if midi < self.easy)
        in_vain = self._in_vain(low, range(self.said_low, self.easy))
        found = self.said_low if in_vain is None else in_vain + 1
        while True:
            below = next((by for by in _STEPS_DOWN if found - by in self._held_lately), None)
            if below is None:
                return found
            found -= below

    @cached_property
    def lowest_pedal(self) -> int | None:
        """The lowest pedal held on two of the last fourteen days, `None` without any."""
        highest, lowest = self.instrument.fundamental_midi, self.instrument.lowest_midi
        return min((m for m in self._held_lately if lowest <= m <= highest), default=None)

    @cached_property
    def _held_lately(self) -> frozenset[int]:
        """What was held on two of the last fourteen days, and not only to recover."""

        def days(heard: list[NoteOutcome]) -> set[date]:
            recent = [note for note in heard if not note.loose and self.today - note.day <= _RECENT]
            return {note.day for note in recent if is_held(note)}

        heard = self.history.heard
        return frozenset(midi for midi, rows in heard.items() if len(days(rows)) >= _HELD_DAYS)

    def _in_vain(self, farthest_first: Iterable[int], said: range) -> int | None:
        """The innermost note of those named as comfortable from which on outward nothing was ever
        good though it was asked for on some days; `None` where what was said may be so."""
        days: set[date] = set()
        found: int | None = None
        for midi in farthest_first:
            heard = self.history.heard[midi]
            if any(note.passed and note.sounded_s >= TOUCHED_S for note in heard):
                break
            if midi in said:
                days |= {note.day for note in heard}
                found = midi if len(days) >= _ASKED_DAYS else found
        return found
