"""Reports of others, opened here to be read: nothing of them is anybody's practice here."""

import uuid
from collections.abc import Mapping, Sequence
from datetime import datetime
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from orexis.store.database import Database
from orexis.store.models import Guest, GuestSound
from orexis.store.packed import pack, unpack

MOST_GUESTS = 100


class GuestRefusedError(ValueError):
    """A report that cannot be opened; the message says why."""


def add_guest(
    session: Session, report: dict[str, Any], sounds: Mapping[str, bytes], now: datetime
) -> Guest:
    """Keeps a report to be read. Raises `GuestRefusedError`."""
    if len(guests(session)) >= MOST_GUESTS:
        raise GuestRefusedError(f"There are {MOST_GUESTS} reports open. Close one first.")
    guest = Guest(id=uuid.uuid4().hex, opened_at=now, packed=pack(report))
    session.add(guest)
    session.flush()
    session.add_all(
        GuestSound(guest_id=guest.id, take_id=take_id, flac=flac)
        for take_id, flac in sounds.items()
    )
    return guest


def guests(session: Session) -> Sequence[Guest]:
    """The reports that are open, opened last first."""
    return session.scalars(select(Guest).order_by(Guest.opened_at.desc(), Guest.id)).all()


def report_in(guest: Guest) -> dict[str, Any]:
    """A guest's report as it came."""
    return unpack(guest.packed)


def guest_sound(session: Session, guest_id: str, take_id: str) -> bytes | None:
    """The sound of a take in a guest's report."""
    found = session.get(GuestSound, (guest_id, take_id))
    return None if found is None else found.flac


def close_guest(database: Database, guest_id: str) -> bool:
    """Deletes a guest's report and returns whether there was one. Nothing of it stays in the
    file."""
    with database.erasing() as session:
        found = session.get(Guest, guest_id)
        if found is not None:
            session.delete(found)
        return found is not None
