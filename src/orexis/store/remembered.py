"""What was read of a player's takes, remembered for as long as those takes stay as they are."""

from collections.abc import Callable
from datetime import datetime
from typing import Any, TypeVar
from weakref import WeakKeyDictionary

from sqlalchemy import Engine, Integer, case, event, func, literal_column, select
from sqlalchemy.orm import ORMExecuteState, Session

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
    what the player said of each. It is asked for once while a session changes nothing."""
    known = session.info.setdefault(_STATES, {})
    key = player.id, until, since
    if key not in known:
        known[key] = _read_state(session, player, until, since)
    state: tuple[Any, ...] = known[key]
    return state


_STATES = "states of takes"


@event.listens_for(Session, "after_flush")
def _changed(session: Session, _flushed: object) -> None:
    session.info.pop(_STATES, None)


@event.listens_for(Session, "do_orm_execute")
def _executed(executed: ORMExecuteState) -> None:
    if not executed.is_select:
        executed.session.info.pop(_STATES, None)


def _read_state(
    session: Session, player: Player, until: datetime, since: datetime | None
) -> tuple[Any, ...]:
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
