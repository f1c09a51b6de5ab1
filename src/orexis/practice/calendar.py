"""A player's plan, coming dates and log as one calendar."""

from collections.abc import Iterator
from datetime import datetime, timedelta

from sqlalchemy.orm import Session

from orexis.core.coach.day import DayPlan
from orexis.core.times import EARLIEST, LATEST
from orexis.formats.ical import CalendarEntry, whole_day, written_calendar
from orexis.practice.coaching import known_of, todays_plan
from orexis.practice.summary import ListedSession, told_sessions
from orexis.store.coaching import event_of, events_of
from orexis.store.models import Player
from orexis.store.typed import typed_rows

_MOST_SESSIONS = 5000
_LEAST = timedelta(minutes=1)


def calendar_of(session: Session, player: Player, now: datetime) -> bytes:
    """The plan of today, the dates ahead and those of the last months, every session there was, and
    practice that was written down elsewhere."""
    return written_calendar(f"{player.name}'s practice", _entries(session, player, now), now)


def _entries(session: Session, player: Player, now: datetime) -> Iterator[CalendarEntry]:
    today = now.date()
    known = known_of(session, player, today)
    yield _planned(player, todays_plan(session, player, known, None))
    for date_row in events_of(session, player.id, today):
        event = event_of(date_row)
        title = f"{event.kind}: {event.words}" if event.words else event.kind.value
        yield whole_day(f"date-{date_row.id}", event.day, title.capitalize())
    for told in told_sessions(session, player, _MOST_SESSIONS):
        yield _played(told)
    for typed in typed_rows(session, player, EARLIEST.date(), LATEST.date()):
        yield whole_day(
            f"typed-{typed.id}", typed.day, f"Practised {typed.minutes:g} min", typed.words
        )


def _planned(player: Player, plan: DayPlan) -> CalendarEntry:
    blocks = [
        f"{block.title}, {block.minutes:g} min"
        + (f" and {block.rest_minutes:g} min rest" if block.rest_minutes else "")
        for block in plan.blocks
    ]
    key = f"plan-{player.id}-{plan.day.isoformat()}"
    words = "\n".join([plan.headline, *blocks, *plan.warnings])
    return whole_day(key, plan.day, f"To practise: {plan.minutes:.0f} min", words)


def _played(told: ListedSession) -> CalendarEntry:
    kept = told.kept
    ends = kept.ended_at or kept.started_at
    parts = [*told.results, *([kept.note] if kept.note else [])]
    return CalendarEntry(
        f"session-{kept.id}",
        kept.started_at,
        max(ends, kept.started_at + _LEAST),
        f"Practised: {kept.title}",
        "\n".join(parts),
    )
