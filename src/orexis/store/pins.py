"""Pins: spots in a take or a recording to come back to."""

from sqlalchemy import ColumnElement, select
from sqlalchemy.orm import Session

from orexis.store.kept import Kept
from orexis.store.models import Pin, Recording, Take

MOST_PINS = 100
LONGEST_WORDS = 120


class PinRefusedError(ValueError):
    """A pin that cannot be; the message says what to change."""


def pins_of(session: Session, of: Kept) -> list[Pin]:
    """The pins of a take or recording, in the order of time."""
    return list(session.scalars(select(Pin).where(_whose(of)).order_by(Pin.at_s, Pin.id)))


def add_pin(session: Session, of: Kept, at_s: float, words: str, said_by: str = "") -> Pin:
    """Puts a pin down; `said_by` is who else than the player says it. Raises `PinRefusedError`."""
    words = " ".join(words.split())
    if not 0 <= at_s <= of.duration_s:
        raise PinRefusedError(f"Put a bookmark between 0 and {of.duration_s:.1f} s.")
    if len(words) > LONGEST_WORDS:
        raise PinRefusedError(f"A bookmark has room for {LONGEST_WORDS} letters.")
    if len(pins_of(session, of)) >= MOST_PINS:
        raise PinRefusedError(f"There are {MOST_PINS} bookmarks already; take one away first.")
    pin = Pin(
        take_id=of.id if isinstance(of, Take) else None,
        recording_id=of.id if isinstance(of, Recording) else None,
        at_s=at_s,
        words=words,
        said_by=said_by,
    )
    session.add(pin)
    session.flush()
    return pin


def find_pin(session: Session, of: Kept, pin_id: int) -> Pin | None:
    """One of its pins."""
    return session.scalar(select(Pin).where(_whose(of), Pin.id == pin_id))


def _whose(of: Kept) -> ColumnElement[bool]:
    return Pin.take_id == of.id if isinstance(of, Take) else Pin.recording_id == of.id
