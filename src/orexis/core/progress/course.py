"""How a note came to where it stands: on which day it was first so, and when it fell back."""

from bisect import bisect_right
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date
from itertools import groupby

from orexis.core.coach.standing import (
    FADED_AFTER,
    HELD_S,
    SECURE_DAYS,
    TOUCHED_S,
    WITHIN,
    Heard,
    Standing,
    is_hard,
)

_DAY = date.resolution


@dataclass(frozen=True, slots=True)
class Came:
    """A standing, and the day from which on a note stood so."""

    standing: Standing
    on: date


def course_of(heard: Sequence[Heard], today: date) -> tuple[Came, ...]:
    """All standings of a note one after the other, after all the times it was asked for (in order
    of their days), up to today. The last is how it stands, as `standing_of` tells it."""
    course: list[Came] = []
    so_far = _SoFar()
    by_day = [(day, list(times)) for day, times in groupby(heard, key=lambda one: one.day)]
    ends = [*(day for day, _ in by_day[1:]), today + _DAY]
    for (day, times), next_day in zip(by_day, ends, strict=False):
        so_far.take(times)
        days = [day]
        if next_day - day > _DAY:
            days += so_far.changes_by_itself(day, next_day)
        for on in days:
            standing = so_far.standing(on)
            if not course or course[-1].standing is not standing:
                course.append(Came(standing, on))
    return tuple(course)


def standing_on(course: Sequence[Came], day: date) -> Standing:
    """How a note stood on a day of its course."""
    place = bisect_right(course, day, key=lambda one: one.on)
    return course[place - 1].standing if place else Standing.NEW


class _SoFar:
    """What is known of a note up to some day."""

    def __init__(self) -> None:
        self._spoke: date | None = None
        self._held = self._cold = False
        self._hard_days: list[date] = []

    def take(self, times: Iterable[Heard]) -> None:
        """Takes what was played on a later day."""
        for one in times:
            if one.sounded_s < TOUCHED_S:
                continue
            self._spoke = one.day
            self._held |= one.passed and one.held_s >= HELD_S
            if is_hard(one):
                self._cold |= one.cold
                if one.day not in self._hard_days[-1:]:
                    self._hard_days.append(one.day)
        # Older ones are of no more account: newer ones are on as many days.
        del self._hard_days[:-SECURE_DAYS]

    def changes_by_itself(self, after: date, before: date) -> list[date]:
        """The days between two on which time alone may change how it stands."""
        days = [one + WITHIN for one in self._hard_days[:1]]
        if self._spoke is not None:
            days.append(self._spoke + FADED_AFTER + _DAY)
        return sorted(one for one in days if after < one < before)

    def standing(self, on: date) -> Standing:
        """How it stands on a day not before the last that was taken."""
        if self._spoke is None:
            return Standing.ATTEMPTED
        if on - self._spoke > FADED_AFTER:
            return Standing.FADED
        recent = sum(on - one < WITHIN for one in self._hard_days)
        if self._cold and recent >= SECURE_DAYS:
            return Standing.SECURE
        return Standing.HELD if self._held else Standing.TOUCHED
