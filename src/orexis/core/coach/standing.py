"""How a note stands with a player, as their takes show it.

Attempted, touched (it spoke for 0.3 s), held (passed, for 2 s), secure (passed at the normal
standard or a harder one on 3 of the last 14 days, and once from silence), faded (not heard for 30
days)."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from enum import StrEnum

from orexis.core.judging.standard import Standard
from orexis.core.listening.habits import TOUCHED_S

_HELD_S = 2.0
_SECURE_DAYS, _WITHIN = 3, timedelta(days=14)
_FADED_AFTER = timedelta(days=30)


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
class NoteOutcome:
    """One time a note was asked for: on which day, for how long it sounded (0 where it did not
    speak), how long it was held, whether its take passed and by which standard, whether it was a
    pick from silence, and whether it was only played to recover."""

    day: date
    sounded_s: float
    held_s: float
    passed: bool
    level: Standard
    cold: bool = False
    loose: bool = False


class NoteRecord:
    """What is known of a note up to some day; it takes times in the order of their days."""

    def __init__(self) -> None:
        self._asked = self._held = self._cold = False
        self._spoke: date | None = None
        self._hard_days: list[date] = []

    def take(self, times: Iterable[NoteOutcome]) -> None:
        """Takes what was played on one or more days, none before the last that was taken."""
        for note in times:
            self._asked = True
            if note.sounded_s < TOUCHED_S:
                continue
            self._spoke = note.day
            self._held |= is_held(note)
            if _is_hard(note):
                self._cold |= note.cold
                if note.day not in self._hard_days[-1:]:
                    self._hard_days.append(note.day)
        # Older ones are of no more account: newer ones are on as many days.
        del self._hard_days[:-_SECURE_DAYS]

    def standing(self, on: date) -> Standing:
        """How the note stands on a day that is not before the last outcome that was taken."""
        if self._spoke is None:
            return Standing.ATTEMPTED if self._asked else Standing.NEW
        if on - self._spoke > _FADED_AFTER:
            return Standing.FADED
        if self._cold and sum(on - day < _WITHIN for day in self._hard_days) >= _SECURE_DAYS:
            return Standing.SECURE
        return Standing.HELD if self._held else Standing.TOUCHED

    def falls_back_on(self) -> list[date]:
        """The days on which time alone may change how it stands, in order."""
        days = [day + _WITHIN for day in self._hard_days[:1]]
        if self._spoke is not None:
            days.append(self._spoke + _FADED_AFTER + date.resolution)
        return sorted(days)


def standing_of(heard: Iterable[NoteOutcome], today: date) -> Standing:
    """How a note stands, after all the times it was asked for."""
    so_far = NoteRecord()
    so_far.take(sorted(heard, key=lambda note: note.day))
    return so_far.standing(today)


def is_held(note: NoteOutcome) -> bool:
    """Whether a note passed and was held for long enough to count as held."""
    return note.sounded_s >= TOUCHED_S and note.passed and note.held_s >= _HELD_S


def hard_days(heard: Sequence[NoteOutcome], today: date) -> set[date]:
    """The days of the last two weeks on which a note passed at the normal standard or a stricter
    one."""
    return {note.day for note in heard if _is_hard(note) and today - note.day < _WITHIN}


def is_dependable(heard: Sequence[NoteOutcome], today: date) -> bool:
    """Whether a note was good on enough days to be secure, were it picked from silence."""
    return len(hard_days(heard, today)) >= _SECURE_DAYS


def _is_hard(note: NoteOutcome) -> bool:
    return note.passed and note.level is not Standard.KIND and note.sounded_s >= TOUCHED_S
