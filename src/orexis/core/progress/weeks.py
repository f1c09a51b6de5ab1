"""Weeks from Monday to Sunday, counted."""

from datetime import date
from typing import TypeVar

from orexis.core.arrays import IntArray

N = TypeVar("N", int, IntArray)


def week_of(day: date) -> int:
    """The number of a day's week since the first Monday of the calendar, day 1 of year 1."""
    return week_at(day.toordinal())


def week_at(ordinal: N) -> N:
    """The week of a day given by its ordinal, or of many such days."""
    return (ordinal - 1) // 7


def monday_of(week: int) -> date:
    """The first day of a week."""
    return date.fromordinal(7 * week + 1)
