"""Phones and tablets of the house that may use Orexis."""

from datetime import datetime

from sqlalchemy.orm import Mapped, mapped_column

from orexis.store.models.base import Base, UtcDateTime


class PairedDevice(Base, kw_only=True):
    """A device that was paired: what it is called, the SHA-256 of its token, and whether it may
    play or only look."""

    __tablename__ = "paired_devices"

    id: Mapped[int] = mapped_column(primary_key=True, init=False)
    name: Mapped[str]
    token_sha256: Mapped[bytes] = mapped_column(unique=True)
    may_play: Mapped[bool]
    paired_at: Mapped[datetime] = mapped_column(UtcDateTime)
    last_seen_at: Mapped[datetime] = mapped_column(UtcDateTime)
