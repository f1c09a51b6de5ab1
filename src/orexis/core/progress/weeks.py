"""Weeks from Monday to Sunday, counted."""

from datetime import date


def week_of(day: date) -> int:
    """The number of a day's week since the first Monday of the calendar, day 1 of year 1."""
    return (day.toordinal() - 1) // 7


def monday_of(week: int) -> date:
    """The first day of a week."""
    return date.fromordinal(7 * week + 1)
