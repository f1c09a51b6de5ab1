"""How a note came to where it stands: on which day it was first so, and when it fell back."""

from bisect import bisect_right
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from itertools import groupby

from orexis.core.coach.standing import NoteOutcome, NoteRecord, Standing

_DAY = date.resolution


@dataclass(frozen=True, slots=True)
class StandingReached:
    """A standing, and the day from which on a note stood so."""

    standing: Standing
    on: date


def course_of(heard: Sequence[NoteOutcome], today: date) -> tuple[StandingReached, ...]:
    """All standings of a note one after the other, after all the times it was asked for (in order
    of their days), up to today. The last is how it stands, as `standing_of` tells it."""
    course: list[StandingReached] = []
    so_far = NoteRecord()
    by_day = [(day, list(times)) for day, times in groupby(heard, key=lambda note: note.day)]
    ends = [*(day for day, _ in by_day[1:]), today + _DAY]
    for (day, times), next_day in zip(by_day, ends, strict=False):
        so_far.take(times)
        falls = so_far.falls_back_on() if next_day - day > _DAY else []
        for on in (day, *(fall for fall in falls if day < fall < next_day)):
            standing = so_far.standing(on)
            if not course or course[-1].standing is not standing:
                course.append(StandingReached(standing, on))
    return tuple(course)


def standing_on(course: Sequence[StandingReached], day: date) -> Standing:
    """How a note stood on a day of its course."""
    place = bisect_right(course, day, key=lambda reached: reached.on)
    return course[place - 1].standing if place else Standing.NEW
