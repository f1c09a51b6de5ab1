"""What every route needs: the database, and finding things in it."""

from typing import Annotated

from fastapi import Depends, Request
from sqlalchemy.orm import Session

from orexis.server.problems import not_found
from orexis.store.database import Database
from orexis.store.models import Player, Take
from orexis.store.takes import find_take


def _database(request: Request) -> Database:
    database: Database = request.app.state.database
    return database


Data = Annotated[Database, Depends(_database)]


def player_or_404(session: Session, player_id: int) -> Player:
    """The player. Raises the not-found problem."""
    player = session.get(Player, player_id)
    if player is None:
        raise not_found("player")
    return player


def take_or_404(session: Session, take_id: str) -> Take:
    """The take. Raises the not-found problem."""
    take = find_take(session, take_id)
    if take is None:
        raise not_found("take")
    return take
