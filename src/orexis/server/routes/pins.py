"""Pins on takes and recordings alike."""

from sqlalchemy.orm import Session

from orexis.server.problems import ProblemError, not_found
from orexis.server.take_schemas import PinIn, PinOut
from orexis.store.models import Recording, Take
from orexis.store.pins import PinRefusedError, add_pin, find_pin


def put_pin(session: Session, of: Take | Recording, new: PinIn) -> PinOut:
    """Puts a pin down, or says why not."""
    try:
        return PinOut.of(add_pin(session, of, new.at_s, new.words))
    except PinRefusedError as error:
        raise ProblemError(422, "The pin cannot be put there", str(error)) from error


def take_pin_away(session: Session, of: Take | Recording, pin_id: int) -> None:
    """Removes a pin. Raises the not-found problem."""
    pin = find_pin(session, of, pin_id)
    if pin is None:
        raise not_found("pin")
    session.delete(pin)
