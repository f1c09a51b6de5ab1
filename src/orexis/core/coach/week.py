"""The shape of a week: hard and easy days take turns, and a rest day comes at least every seven."""

from datetime import date, timedelta

from orexis.core.coach.known import Known
from orexis.core.counting import counted

_OFTEN_DAYS = 5
"""Days of practice a week from which on two hard days may follow each other."""
_MOST_RUNNING = 6
"""Days in a row after which a day is for rest."""
_RESTS_BEFORE = 2
"""So many days before a concert the rest comes that would fall on it, or just before it."""
_DAY = timedelta(days=1)


def is_easy_day(known: Known) -> bool:
    """Whether the days before leave this one for easy playing: one hard day just before it, or two
    with somebody who practises nearly every day."""
    most = 2 if known.about.days_a_week >= _OFTEN_DAYS else 1
    return _running(known.hard_days, known.today) >= most


def why_rest_day(known: Known) -> str:
    """Why a day is for rest: there was none among the last ones, or there would be none before a
    concert; "" where it is not."""
    concert, running = known.next_concert, _running(known.days_played, known.today)
    away = None if concert is None else (concert.day - known.today).days
    if away == _RESTS_BEFORE and running >= _MOST_RUNNING - _RESTS_BEFORE:
        return (
            f"The concert is in {counted(away, 'day')} and you have played {running} days running, "
            "so today is for rest."
        )
    if away != 0 and running >= _MOST_RUNNING:
        return f"You have played {running} days running, so today is for rest."
    return ""


def _running(days: frozenset[date], today: date) -> int:
    """How many days in a row up to yesterday are among some."""
    count = 0
    while today - (count + 1) * _DAY in days:
        count += 1
    return count
