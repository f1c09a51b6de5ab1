"""Looking back before anybody asks: what all of a player's weeks come to takes a while to read
once, and is remembered then."""

import logging
from datetime import date

from orexis.practice.progress import changes_of, range_of
from orexis.store.database import Database
from orexis.store.players import all_players

log = logging.getLogger(__name__)


def look_back(database: Database, today: date) -> None:
    """Reads every player's weeks, so that the first who looks at them does not wait."""
    try:
        with database.session() as session:
            for player in all_players(session):
                range_of(session, player, today)
                changes_of(session, player, today)
    except Exception:
        # Whoever looks at them is told what is wrong.
        log.exception("The weeks could not be read ahead; they are when they are looked at.")
