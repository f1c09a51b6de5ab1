"""What came from others: reports, and a teacher's words."""

from datetime import datetime

from sqlalchemy import ForeignKey
from sqlalchemy.orm import Mapped, mapped_column

from orexis.store.models.base import Base, UtcDateTime, summed


class WordsBack(Base, kw_only=True):
    """What a teacher said of a report, beside the spots they bookmarked; the key is made of what
    they said, so that the same words come back once."""

    __tablename__ = "words_back"

    key: Mapped[str] = mapped_column(primary_key=True)
    player_id: Mapped[int] = mapped_column(ForeignKey("players.id"), primary_key=True)
    said_by: Mapped[str]
    words: Mapped[str]
    arrived_at: Mapped[datetime] = mapped_column(UtcDateTime)


class Guest(Base, kw_only=True):
    """Somebody's report, opened here to be read: zlib-packed JSON of it."""

    __tablename__ = "guests"

    id: Mapped[str] = mapped_column(primary_key=True)
    opened_at: Mapped[datetime] = mapped_column(UtcDateTime)
    packed: Mapped[bytes]
    packed_sum: Mapped[int] = summed("packed")


class GuestSound(Base, kw_only=True):
    """The sound of a take in a guest's report, as a FLAC file."""

    __tablename__ = "guest_sounds"

    guest_id: Mapped[str] = mapped_column(
        ForeignKey("guests.id", ondelete="CASCADE"), primary_key=True
    )
    take_id: Mapped[str] = mapped_column(primary_key=True)
    flac: Mapped[bytes]
    flac_sum: Mapped[int] = summed("flac")
