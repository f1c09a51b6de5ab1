"""What was read of a player's takes, remembered for as long as those takes stay as they are."""

from collections.abc import Callable
from datetime import datetime
from typing import Any, TypeVar
from weakref import WeakKeyDictionary

from sqlalchemy import Engine, Integer, case, func, literal_column, select
from sqlalchemy.orm import Session

from orexis.store.models import Player, Take

T = TypeVar("T")
_known: WeakKeyDictionary[Engine, dict[Any, tuple[Any, Any]]] = WeakKeyDictionary()


def remembered(
    session: Session,
    player: Player,
    what: str,
    of: tuple[object, ...],
    until: datetime,
    since: datetime | None,
    read: Callable[[], T],
) -> T:
    """What `read` makes of a player's takes of a time on the horn they play now, read anew where
    anything about them has changed; `what` names it, and one of each is kept, for what it was made
    `of` last."""
    known = _known.setdefault(session.get_bind().engine, {})
    key = what, player.id, player.instrument_key
    state = (of, *_state_of_takes(session, player, until, since))
    found = known.get(key)
    if found is None or found[0] != state:
        found = known[key] = state, read()
    value: T = found[1]
    return value


def forget(session: Session) -> None:
    """Forgets all that was read, where something else about takes has changed than is looked at."""
    _known.pop(session.get_bind().engine, None)


def _state_of_takes(
    session: Session, player: Player, until: datetime, since: datetime | None
) -> tuple[Any, ...]:
    """What tells whether a player's takes are still those they were: how many, up to when, and
    what the player said of each."""
    said = case(
        (Take.deleted_at.is_not(None), 3),
        (Take.overruled_passed.is_(None), 2),
        (Take.overruled_passed.is_(True), 1),
        else_=0,
    )
    which = literal_column("takes.rowid", Integer)
    query = select(func.count(), func.max(Take.started_at), func.sum(which * said)).where(
        Take.player_id == player.id, Take.started_at < until
    )
    if since is not None:
        query = query.where(Take.started_at >= since)
    return tuple(session.execute(query).one())
