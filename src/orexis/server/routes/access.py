"""What every route needs: the database, and finding things in it."""

from datetime import date, datetime
from typing import Annotated, TypeVar

from fastapi import Depends, Path, Request
from sqlalchemy.orm import Session

from orexis.server.problems import not_found
from orexis.store.database import Database
from orexis.store.kept import find_kept
from orexis.store.models import OwnExercise, Player, Recording, Take
from orexis.store.own_exercises import find_own
from orexis.store.players import find_player

K = TypeVar("K", bound=Take | Recording)

LARGEST_ID = 2**63 - 1

PlayerId = Annotated[int, Path(ge=1, le=LARGEST_ID)]
BookmarkId = Annotated[int, Path(ge=1, le=LARGEST_ID)]
KeptId = Annotated[str, Path(max_length=64)]


def _database(request: Request) -> Database:
    database: Database = request.app.state.database
    return database


Data = Annotated[Database, Depends(_database)]


def local_now() -> datetime:
    """The time where the player is."""
    return datetime.now().astimezone()


def local_today() -> date:
    """The day it is where the player is."""
    return local_now().date()


def player_or_404(session: Session, player_id: int) -> Player:
    """The player. Raises the not-found problem."""
    player = find_player(session, player_id)
    if player is None:
        raise not_found("player")
    return player


def kept_or_404(session: Session, kind: type[K], kept_id: str) -> K:
    """The take or recording. Raises the not-found problem."""
    kept = find_kept(session, kind, kept_id)
    if kept is None:
        raise not_found(word_for(kind))
    return kept


def recording_or_404(session: Session, player_id: int, kept_id: str) -> Recording:
    """A recording of a player's. Raises the not-found problem."""
    recording = kept_or_404(session, Recording, kept_id)
    if recording.player_id != player_id:
        raise not_found(word_for(Recording))
    return recording


def own_or_404(session: Session, player_id: int, own_id: str) -> OwnExercise:
    """An exercise that a player keeps under a name. Raises the not-found problem."""
    kept = find_own(session, player_id, own_id)
    if kept is None:
        raise not_found("exercise")
    return kept


def word_for(kind: type[K]) -> str:
    """What a kept sound is called."""
    return "take" if kind is Take else "recording"
