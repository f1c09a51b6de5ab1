"""Players who leave: deleted with all that is theirs, brought back for seven days, then gone."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime

from sqlalchemy import ColumnElement, delete, func, select
from sqlalchemy.orm import Session

from orexis.store.database import Database
from orexis.store.kept import KEPT_AFTER_DELETION
from orexis.store.models import (
    Base,
    OwnExercise,
    Player,
    PracticeSession,
    Recording,
    Take,
    TakeSound,
    TaskSnapshot,
)


@dataclass(frozen=True, slots=True)
class Holding:
    """How much a player has kept: what goes with them."""

    takes: int
    sounds: int
    sessions: int
    recordings: int
    own_exercises: int


def holding_of(session: Session, player: Player) -> Holding:
    """What a player has kept."""

    def count(table: type[Base], *where: ColumnElement[bool]) -> int:
        return session.scalar(select(func.count()).select_from(table).where(*where)) or 0

    sounds = select(func.count(TakeSound.take_id)).join(Take, Take.id == TakeSound.take_id)
    return Holding(
        count(Take, Take.player_id == player.id),
        session.scalar(sounds.where(Take.player_id == player.id)) or 0,
        count(PracticeSession, PracticeSession.player_id == player.id),
        count(Recording, Recording.player_id == player.id),
        count(OwnExercise, OwnExercise.player_id == player.id),
    )


def delete_player(player: Player) -> None:
    """Takes a player off the list; `restore_player` brings them back for seven days."""
    player.deleted_at = datetime.now(UTC)


def deleted_players(session: Session) -> Sequence[Player]:
    """The players that can be brought back, deleted last first."""
    query = select(Player).where(Player.deleted_at.is_not(None))
    return session.scalars(query.order_by(Player.deleted_at.desc())).all()


def restore_player(session: Session, player_id: int) -> Player | None:
    """Undoes a deletion; `None` when the player is gone for good."""
    player = session.get(Player, player_id)
    if player is not None:
        player.deleted_at = None
    return player


def purge_players(database: Database, now: datetime) -> None:
    """Removes for good those who were deleted more than seven days ago: nothing of them can be read
    from the file any more."""
    with database.session() as session:
        gone = session.scalars(
            select(Player.id).where(Player.deleted_at < now - KEPT_AFTER_DELETION)
        ).all()
    if not gone:
        return
    with database.erasing() as session:
        # Bookmarks, notes, sounds, frames, memos and logs go with what they belong to.
        for table in reversed(Base.metadata.sorted_tables):
            if "player_id" in table.columns:
                session.execute(delete(table).where(table.columns["player_id"].in_(gone)))
        session.execute(delete(Player).where(Player.id.in_(gone)))
        session.execute(delete(TaskSnapshot).where(TaskSnapshot.key.not_in(select(Take.task_key))))
