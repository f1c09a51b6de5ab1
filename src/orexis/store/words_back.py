"""What teachers said of a player's reports."""

from collections.abc import Sequence
from datetime import date, timedelta

from sqlalchemy import Select, select
from sqlalchemy.orm import Session

from orexis.store.history import midnight
from orexis.store.models import Player, WordsBack


def words_back(session: Session, player: Player) -> Sequence[WordsBack]:
    """All that was said, newest first."""
    return session.scalars(_theirs(player)).all()


def words_back_on(session: Session, player: Player, on: date) -> Sequence[WordsBack]:
    """The words that came back on a day, newest first."""
    came = WordsBack.arrived_at
    until = midnight(on + timedelta(days=1))
    return session.scalars(_theirs(player).where(came >= midnight(on), came < until)).all()


def _theirs(player: Player) -> Select[WordsBack]:
    newest = (WordsBack.arrived_at.desc(), WordsBack.key)
    return select(WordsBack).where(WordsBack.player_id == player.id).order_by(*newest)
