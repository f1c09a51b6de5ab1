"""Recordings, and bookmarks in them and in takes."""

from datetime import datetime

from sqlalchemy import ForeignKey, Index
from sqlalchemy.orm import Mapped, mapped_column, relationship

from orexis.store.models.base import Base, UtcDateTime, summed
from orexis.store.models.players import Player


class Recording(Base, kw_only=True):
    """Sound that no exercise judged: from elsewhere, or from a session whose exercise no longer
    fits. `wanted` is what the player meant to play, as they typed it; `reason` says why sound
    that was played on the Stand was not judged."""

    __tablename__ = "recordings"
    __table_args__ = (Index("recordings_by_player_and_time", "player_id", "started_at"),)

    id: Mapped[str] = mapped_column(primary_key=True)
    player_id: Mapped[int] = mapped_column(ForeignKey("players.id"))
    started_at: Mapped[datetime] = mapped_column(UtcDateTime)
    name: Mapped[str]
    instrument_key: Mapped[str]
    a4_hz: Mapped[float]
    sample_rate: Mapped[int]
    duration_s: Mapped[float]
    clipped: Mapped[bool]
    note_count: Mapped[int]
    wanted: Mapped[str] = mapped_column(default="")
    reason: Mapped[str] = mapped_column(server_default="", default="")
    deleted_at: Mapped[datetime | None] = mapped_column(UtcDateTime, default=None)

    player: Mapped[Player] = relationship(init=False)


class RecordingContent(Base, kw_only=True):
    """A recording's sound as a FLAC file, and its analysis document as zlib-packed JSON."""

    __tablename__ = "recording_contents"

    recording_id: Mapped[str] = mapped_column(
        ForeignKey("recordings.id", ondelete="CASCADE"), primary_key=True
    )
    flac: Mapped[bytes] = mapped_column(deferred=True)
    packed: Mapped[bytes]
    flac_sum: Mapped[int] = summed("flac")
    packed_sum: Mapped[int] = summed("packed")


class PieceStretch(Base, kw_only=True):
    """Where in a recording the player had one of their own exercises before them, in seconds; to
    its end where `end_s` is `None`."""

    __tablename__ = "piece_stretches"
    __table_args__ = (Index("piece_stretches_by_piece", "own_id"),)

    recording_id: Mapped[str] = mapped_column(
        ForeignKey("recordings.id", ondelete="CASCADE"), primary_key=True
    )
    own_id: Mapped[str] = mapped_column(
        ForeignKey("own_exercises.id", ondelete="CASCADE"), primary_key=True
    )
    start_s: Mapped[float] = mapped_column(primary_key=True)
    end_s: Mapped[float | None] = mapped_column(default=None)


class Bookmark(Base, kw_only=True):
    """A spot in a take or in a recording to come back to, and why; `said_by` is who put it there,
    "" for the player, and `gone_back_at` when the player has been back."""

    __tablename__ = "bookmarks"

    id: Mapped[int] = mapped_column(primary_key=True, init=False)
    take_id: Mapped[str | None] = mapped_column(ForeignKey("takes.id", ondelete="CASCADE"))
    recording_id: Mapped[str | None] = mapped_column(
        ForeignKey("recordings.id", ondelete="CASCADE")
    )
    at_s: Mapped[float]
    words: Mapped[str]
    said_by: Mapped[str] = mapped_column(server_default="", default="")
    gone_back_at: Mapped[datetime | None] = mapped_column(UtcDateTime, default=None)

    @property
    def gone_back(self) -> bool:
        """Whether the player has been back."""
        return self.gone_back_at is not None
