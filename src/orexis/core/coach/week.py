"""The shape of a week: hard and easy days take turns, and a rest day comes at least every seven."""

from datetime import date, timedelta

from orexis.core.coach.known import Known

_OFTEN_DAYS = 5
"""Days of practice a week from which on two hard days may follow each other."""
_MOST_RUNNING = 6
"""Days in a row after which a day is for rest."""
_DAY = timedelta(days=1)


def is_easy_day(known: Known) -> bool:
    """Whether the days before leave this one for easy playing: one hard day just before it, or two
    with somebody who practises nearly every day."""
    most = 2 if known.about.days_a_week >= _OFTEN_DAYS else 1
    return _running(known.hard_days, known.today) >= most


def is_rest_day(known: Known) -> bool:
    """Whether there was no day of rest among the last ones."""
    return _running(known.days_played, known.today) >= _MOST_RUNNING


def _running(days: frozenset[date], today: date) -> int:
    """How many days in a row up to yesterday are among some."""
    count = 0
    while today - (count + 1) * _DAY in days:
        count += 1
    return count
