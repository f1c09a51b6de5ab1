"""Practice that was written down elsewhere."""

from collections.abc import Iterable, Sequence
from datetime import date

from sqlalchemy import select
from sqlalchemy.orm import Session

from orexis.core.progress.typed import WrittenEntry
from orexis.store.models import Player, TypedPractice


def typed_rows(
    session: Session, player: Player, first: date, last: date
) -> Sequence[TypedPractice]:
    """What was written down of some days, in order."""
    return session.scalars(
        select(TypedPractice)
        .where(
            TypedPractice.player_id == player.id,
            TypedPractice.day >= first,
            TypedPractice.day <= last,
        )
        .order_by(TypedPractice.day, TypedPractice.id)
    ).all()


def typed_of(row: TypedPractice) -> WrittenEntry:
    """A row as a value."""
    return WrittenEntry(row.day, row.minutes, row.words)


def add_typed(session: Session, player: Player, found: Iterable[WrittenEntry]) -> None:
    """Keeps what was written down."""
    session.add_all(
        TypedPractice(player_id=player.id, day=entry.on, minutes=entry.minutes, words=entry.words)
        for entry in found
    )
    session.flush()


def forget_typed(session: Session, player: Player, typed_id: int) -> bool:
    """Takes one away again; whether there was one."""
    found = session.get(TypedPractice, typed_id)
    if found is None or found.player_id != player.id:
        return False
    session.delete(found)
    return True
