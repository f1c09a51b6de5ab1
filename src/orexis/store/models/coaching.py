"""What the coach is told and plans."""

from datetime import date
from typing import Any

from sqlalchemy import JSON, ForeignKey, Index
from sqlalchemy.orm import Mapped, mapped_column

from orexis.store.models.base import Base


class ApproachTrial(Base, kw_only=True):
    """Two answers to a question of the approaches that are measured against each other."""

    __tablename__ = "approach_trials"
    __table_args__ = (Index("approach_trials_by_player", "player_id"),)

    id: Mapped[int] = mapped_column(primary_key=True, init=False)
    player_id: Mapped[int] = mapped_column(ForeignKey("players.id"))
    question: Mapped[str]
    first: Mapped[str]
    second: Mapped[str]
    begins: Mapped[date]
    ends: Mapped[date]


class FollowedProgramme(Base, kw_only=True):
    """A programme a player follows: since when, from which note, and since when it is paused."""

    __tablename__ = "programmes"

    player_id: Mapped[int] = mapped_column(ForeignKey("players.id"), primary_key=True)
    key: Mapped[str] = mapped_column(primary_key=True)
    since: Mapped[date]
    base_midi: Mapped[int]
    paused: Mapped[date | None] = mapped_column(default=None)


class PathMove(Base, kw_only=True):
    """The step (from 0) of an exercise's path that a player went to by hand, on one of their horns,
    and on which day."""

    __tablename__ = "path_moves"

    player_id: Mapped[int] = mapped_column(ForeignKey("players.id"), primary_key=True)
    instrument_key: Mapped[str] = mapped_column(primary_key=True)
    family: Mapped[str] = mapped_column(primary_key=True)
    step: Mapped[int]
    day: Mapped[date]


class DayPlanRow(Base, kw_only=True):
    """The plan of a day, as it was made or changed by the player (`formats.day_plan`)."""

    __tablename__ = "day_plans"

    player_id: Mapped[int] = mapped_column(ForeignKey("players.id"), primary_key=True)
    day: Mapped[date] = mapped_column(primary_key=True)
    plan: Mapped[dict[str, Any]] = mapped_column(JSON)
    changed: Mapped[bool] = mapped_column(default=False)


class ComingDate(Base, kw_only=True):
    """A date a player looks ahead to: a concert, a rehearsal."""

    __tablename__ = "coming_dates"
    __table_args__ = (Index("coming_dates_by_player", "player_id", "day"),)

    id: Mapped[int] = mapped_column(primary_key=True, init=False)
    player_id: Mapped[int] = mapped_column(ForeignKey("players.id"))
    day: Mapped[date]
    kind: Mapped[str]
    words: Mapped[str] = mapped_column(default="")
