"""Sessions, their log, what hurt, and practice that was typed."""

from datetime import date, datetime
from typing import Any

from sqlalchemy import JSON, ForeignKey, Index
from sqlalchemy.orm import Mapped, mapped_column, relationship

from orexis.store.models.base import Base, UtcDateTime, summed
from orexis.store.models.players import Player


class PracticeSession(Base, kw_only=True):
    """A session: its plan (`formats.session`) and what it was set to, so that it is taken up, and
    judged, as it began. `kind` is a `SessionKind`. `setup` holds the horn's setup, A4 and the delay
    of the sound's round trip in seconds (`None`: not measured). `ended` says how it ended, `None`
    while it goes on, and `results` how each of its exercises went so far (`None` where that was not
    kept yet); `note` is what the player wrote to themselves."""

    __tablename__ = "sessions"
    __table_args__ = (Index("sessions_by_player_and_time", "player_id", "started_at"),)

    id: Mapped[str] = mapped_column(primary_key=True)
    player_id: Mapped[int] = mapped_column(ForeignKey("players.id"))
    started_at: Mapped[datetime] = mapped_column(UtcDateTime)
    title: Mapped[str]
    kind: Mapped[str] = mapped_column(server_default="plan")
    source: Mapped[str]
    sample_rate: Mapped[int]
    instrument_key: Mapped[str]
    standard: Mapped[str]
    plan: Mapped[dict[str, Any]] = mapped_column(JSON)
    setup: Mapped[dict[str, Any]] = mapped_column(JSON)
    latency_s: Mapped[float | None]
    drone_hz: Mapped[float | None]
    heard_until: Mapped[int] = mapped_column(default=0)
    ended: Mapped[str | None] = mapped_column(default=None)
    ended_at: Mapped[datetime | None] = mapped_column(UtcDateTime, default=None)
    results: Mapped[list[dict[str, Any]] | None] = mapped_column(
        JSON(none_as_null=True), default=None
    )
    note: Mapped[str] = mapped_column(default="")

    player: Mapped[Player] = relationship(init=False)


class SessionEntry(Base, kw_only=True):
    """One entry of a session's log: its number, the sample it happened at, its kind and what it
    says."""

    __tablename__ = "session_log"

    session_id: Mapped[str] = mapped_column(
        ForeignKey("sessions.id", ondelete="CASCADE"), primary_key=True
    )
    number: Mapped[int] = mapped_column(primary_key=True)
    sample: Mapped[int]
    kind: Mapped[str]
    content: Mapped[dict[str, Any]] = mapped_column(JSON)


class SessionMemo(Base, kw_only=True):
    """A short spoken note of the player to themselves, as a FLAC file."""

    __tablename__ = "session_memos"

    session_id: Mapped[str] = mapped_column(
        ForeignKey("sessions.id", ondelete="CASCADE"), primary_key=True
    )
    flac: Mapped[bytes]
    flac_sum: Mapped[int] = summed("flac")


class Hurt(Base, kw_only=True):
    """Something hurt: when, in which session, and when the player said that it does no more."""

    __tablename__ = "hurts"

    id: Mapped[int] = mapped_column(primary_key=True, init=False)
    player_id: Mapped[int] = mapped_column(ForeignKey("players.id"))
    at: Mapped[datetime] = mapped_column(UtcDateTime)
    session_id: Mapped[str | None] = mapped_column(default=None)
    cleared_at: Mapped[datetime | None] = mapped_column(UtcDateTime, default=None)


class TypedPractice(Base, kw_only=True):
    """Practice that was written down elsewhere: its minutes, the day, and what was practised."""

    __tablename__ = "typed_practice"
    __table_args__ = (Index("typed_practice_by_player", "player_id", "day"),)

    id: Mapped[int] = mapped_column(primary_key=True, init=False)
    player_id: Mapped[int] = mapped_column(ForeignKey("players.id"))
    day: Mapped[date]
    minutes: Mapped[float]
    words: Mapped[str]
