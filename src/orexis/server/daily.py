"""What is done once a day while the server runs, and when it starts: what was deleted seven days
ago goes for good, and the copy of the day is kept."""

import asyncio
import logging
from collections.abc import Callable
from datetime import UTC, date, datetime

from orexis.server.live.sessions import in_thread
from orexis.store.copies import CopyRefusedError, keep_days_copy
from orexis.store.database import Database
from orexis.store.kept import purge_deleted
from orexis.store.leaving import purge_players

log = logging.getLogger(__name__)

LOOKS_EVERY_S = 60.0


def purge(database: Database, now: datetime) -> None:
    """Removes for good what was deleted more than seven days ago."""
    with database.session() as session:
        purge_deleted(session, now)
    purge_players(database, now)


async def every_day(
    database: Database, *, keeps_copies: bool, today: Callable[[], date] = date.today
) -> None:
    """Does it on every day after the one it begins on, for as long as the server runs. What fails
    is said, and tried again the next day."""
    done = today()
    while True:
        await asyncio.sleep(LOOKS_EVERY_S)
        day = today()
        if day == done:
            continue
        done = day
        try:
            await in_thread(_on, database, day, keeps_copies)
        except CopyRefusedError as error:
            log.warning("Today's copy of the data could not be kept: %s", error)
        except Exception:
            log.exception("What is done every day failed; it is tried again tomorrow.")


def _on(database: Database, day: date, keeps_copies: bool) -> None:
    purge(database, datetime.now(UTC))
    if keeps_copies:
        keep_days_copy(database.path, day)
