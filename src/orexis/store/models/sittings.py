"""Sittings: playing without a task, what was heard of it, and what happened meanwhile."""

from datetime import datetime
from typing import Any

from sqlalchemy import JSON, ForeignKey, Index
from sqlalchemy.orm import Mapped, mapped_column, relationship

from orexis.store.models.base import Base, UtcDateTime


class FreeSitting(Base, kw_only=True):
    """A stretch of playing without a task, nobody's until a player says that it was theirs; its
    sound is in its spool until then. Once it has ended it has its notes, and how many seconds of it
    were surely this player's, by register."""

    __tablename__ = "sittings"
    __table_args__ = (Index("sittings_by_player_and_time", "player_id", "started_at"),)

    id: Mapped[str] = mapped_column(primary_key=True)
    player_id: Mapped[int | None] = mapped_column(ForeignKey("players.id"))
    started_at: Mapped[datetime] = mapped_column(UtcDateTime)
    source: Mapped[str]
    instrument_key: Mapped[str]
    low_s: Mapped[float] = mapped_column(default=0.0)
    middle_s: Mapped[float] = mapped_column(default=0.0)
    high_s: Mapped[float] = mapped_column(default=0.0)

    notes: Mapped[list["SittingNote"]] = relationship(
        cascade="all, delete-orphan",
        passive_deletes=True,
        order_by="SittingNote.midi",
        default_factory=list,
    )

    @property
    def playing_s(self) -> float:
        """How many seconds were surely this player's."""
        return self.low_s + self.middle_s + self.high_s


class SittingNote(Base, kw_only=True):
    """How one note was played in a sitting: how often, for how long, and where it lay in cents from
    equal temperament (median, and half the 16-84 % range)."""

    __tablename__ = "sitting_notes"

    sitting_id: Mapped[str] = mapped_column(
        ForeignKey("sittings.id", ondelete="CASCADE"), primary_key=True, init=False
    )
    midi: Mapped[int] = mapped_column(primary_key=True)
    times: Mapped[int]
    seconds: Mapped[float]
    cents: Mapped[float]
    spread_cents: Mapped[float]
    longest_hold_s: Mapped[float]


class SittingEntry(Base, kw_only=True):
    """One entry of a sitting's log (`formats.free_log`): a metronome or drone begun or stopped, a
    spot marked."""

    __tablename__ = "sitting_log"

    sitting_id: Mapped[str] = mapped_column(
        ForeignKey("sittings.id", ondelete="CASCADE"), primary_key=True
    )
    number: Mapped[int] = mapped_column(primary_key=True)
    sample: Mapped[int]
    kind: Mapped[str]
    content: Mapped[dict[str, Any]] = mapped_column(JSON)
