"""Devices of the house that were paired."""

from collections.abc import Sequence
from datetime import datetime

from sqlalchemy import select
from sqlalchemy.orm import Session

from orexis.store.models import PairedDevice


def paired_devices(session: Session) -> Sequence[PairedDevice]:
    """All devices that may use Orexis, oldest first."""
    return session.scalars(select(PairedDevice).order_by(PairedDevice.id)).all()


def add_device(
    session: Session, name: str, token_sha256: bytes, may_play: bool, now: datetime
) -> PairedDevice:
    """Keeps a device that has just been paired."""
    device = PairedDevice(
        name=name,
        token_sha256=token_sha256,
        may_play=may_play,
        paired_at=now,
        last_seen_at=now,
    )
    session.add(device)
    session.flush()
    return device


def forget_device(session: Session, device_id: int) -> bool:
    """Forgets a device; returns whether there was one."""
    device = session.get(PairedDevice, device_id)
    if device is not None:
        session.delete(device)
    return device is not None
