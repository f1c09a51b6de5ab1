"""Playing that is nobody's yet: what there is of it, whose it was, and letting it go."""

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path

from orexis.practice.beginning import NoSuchPlayerError
from orexis.practice.free import FreeOutcome, FreePlaying
from orexis.store.database import Database
from orexis.store.kept import KEPT_AFTER_DELETION
from orexis.store.models import FreeSitting
from orexis.store.players import find_player
from orexis.store.sittings import unclaimed_sittings
from orexis.store.spool import Spool, SpoolUnreadableError


class NothingUnclaimedError(LookupError):
    """There is no playing of that id that is nobody's."""


@dataclass(frozen=True, slots=True)
class Unclaimed:
    """A stretch of playing that is nobody's yet: when it began, and how long it was."""

    id: str
    started_at: datetime
    duration_s: float


def unclaimed(database: Database, spool_folder: Path) -> Iterator[Unclaimed]:
    """All there is, newest first."""
    with database.session() as session:
        rows = [(row.id, row.started_at) for row in unclaimed_sittings(session)]
    for sitting_id, started_at in rows:
        try:
            spool = Spool.open(spool_folder, sitting_id)
        except (FileNotFoundError, SpoolUnreadableError):
            continue
        spool.close()
        yield Unclaimed(sitting_id, started_at, spool.end_sample / spool.sample_rate)


def claim(database: Database, spool: Spool, player_id: int) -> FreeOutcome:
    """Gives unclaimed playing to a player and listens to it anew on their horn; returns the
    outcome. Raises `NothingUnclaimedError` and `NoSuchPlayerError`."""
    with database.session() as session:
        row = _unclaimed_row(session.get(FreeSitting, spool.session_id))
        player = find_player(session, player_id)
        if player is None:
            raise NoSuchPlayerError
        row.player_id, row.instrument_key = player.id, player.instrument_key
    playing = FreePlaying(database, spool)
    playing.replay()
    over = playing.end().over
    assert over is not None
    return over


def discard(database: Database, spool: Spool) -> None:
    """Lets what was played go. Raises `NothingUnclaimedError`."""
    with database.session() as session:
        session.delete(_unclaimed_row(session.get(FreeSitting, spool.session_id)))
    spool.remove()


def discard_old(database: Database, spool: Spool, now: datetime) -> None:
    """Deletes playing that nobody has claimed for a week."""
    with database.session() as session:
        row = session.get(FreeSitting, spool.session_id)
        is_old = row is not None and row.started_at < now - KEPT_AFTER_DELETION
    if is_old:
        discard(database, spool)


def _unclaimed_row(row: FreeSitting | None) -> FreeSitting:
    if row is None or row.player_id is not None:
        raise NothingUnclaimedError
    return row
