"""iCalendar (RFC 5545): a player's plan, coming dates and log as a calendar, and dates out of one.

Every event keeps its UID, so that a calendar that reads the file again changes what it has instead
of having it twice.
"""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta
from typing import Any

from icalendar import Calendar, Event

_MAKER = "-//Orexis//practice//EN"
MOST_EVENTS = 2000
_DAY = timedelta(days=1)


class CalendarUnreadableError(ValueError):
    """A file that is no calendar; the message says what to do."""


@dataclass(frozen=True, slots=True)
class CalendarEntry:
    """Something in a calendar: on a whole day, or from one time to another. `key` tells it from all
    others."""

    key: str
    begins: date | datetime
    ends: date | datetime
    title: str
    words: str = ""


@dataclass(frozen=True, slots=True)
class FoundDate:
    """An event of a calendar file: its day in local time (`None` where that cannot be read), and
    its title."""

    on: date | None
    title: str


def written_calendar(name: str, entries: Iterable[CalendarEntry], now: datetime) -> bytes:
    """A calendar with some entries."""
    calendar = Calendar()
    calendar.add("prodid", _MAKER)
    calendar.add("version", "2.0")
    calendar.add("x-wr-calname", name)
    for entry in entries:
        event = Event()
        event.add("uid", f"{entry.key}@orexis")
        event.add("dtstamp", now.astimezone(UTC))
        event.add("dtstart", _utc(entry.begins))
        event.add("dtend", _utc(entry.ends))
        event.add("summary", entry.title)
        if entry.words:
            event.add("description", entry.words)
        if not isinstance(entry.begins, datetime):
            # A whole day takes no time away.
            event.add("transp", "TRANSPARENT")
        calendar.add_component(event)
    content: bytes = calendar.to_ical()
    return content


def whole_day(key: str, on: date, title: str, words: str = "") -> CalendarEntry:
    """An entry of a whole day."""
    return CalendarEntry(key, on, on + _DAY, title, words)


def _utc(when: date | datetime) -> date | datetime:
    return when.astimezone(UTC) if isinstance(when, datetime) else when


def read_dates(content: bytes) -> list[FoundDate]:
    """The events of a calendar, each on the day it begins here, as they stand in it; one that comes
    again is there once. Raises `CalendarUnreadableError`."""
    try:
        events = list(Calendar.from_ical(content).walk("VEVENT"))
    # A reader of text from anywhere may stumble over it in many ways.
    except Exception as error:
        raise CalendarUnreadableError(
            "This is no calendar that can be read. Save it as iCalendar (.ics) again."
        ) from error
    if len(events) > MOST_EVENTS:
        raise CalendarUnreadableError(f"A calendar may have up to {MOST_EVENTS} events here.")
    return [FoundDate(_day_of(event), _title_of(event)) for event in events]


def _day_of(event: Any) -> date | None:
    try:
        begins = event["dtstart"].dt
        if isinstance(begins, datetime):
            return begins.astimezone().date()
        # A time without a day, or a period, is no day.
        return begins if isinstance(begins, date) else None
    # As above, for one event.
    except Exception:
        return None


def _title_of(event: Any) -> str:
    try:
        return " ".join(str(event.get("summary", "")).split())
    except Exception:
        return ""
