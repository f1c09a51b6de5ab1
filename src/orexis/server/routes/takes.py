"""Takes: the list, a take's page and sound, overruling, deleting and bringing back."""

from typing import Annotated

from fastapi import APIRouter, Query, Response
from pydantic import AwareDatetime

from orexis.core.coaching.ear import agreement
from orexis.server.problems import not_found
from orexis.server.routes.access import Data, player_or_404, take_or_404
from orexis.server.routes.pins import put_pin, take_pin_away
from orexis.server.take_schemas import (
    EarOut,
    Overrule,
    PinIn,
    PinOut,
    RatingIn,
    TakeDetail,
    TakeOut,
)
from orexis.store.takes import (
    delete_take,
    heard_takes,
    newest_takes,
    restore_take,
    sound_of,
)

router = APIRouter(prefix="/api")


@router.get("/players/{player_id}/takes")
def takes(
    data: Data,
    player_id: int,
    before: AwareDatetime | None = None,
    count: Annotated[int, Query(ge=1, le=200)] = 50,
) -> list[TakeOut]:
    """A player's takes, newest first; `before` goes further back."""
    with data.session() as session:
        player_or_404(session, player_id)
        return [TakeOut.of(take) for take in newest_takes(session, player_id, count, before)]


@router.get("/takes/{take_id}")
def take(data: Data, take_id: str) -> TakeDetail:
    """A take with its ribbon and measures."""
    with data.session() as session:
        kept = take_or_404(session, take_id)
        return TakeDetail.with_frames(session, kept)


@router.get("/takes/{take_id}/sound", response_class=Response)
def sound(data: Data, take_id: str) -> Response:
    """A take's sound as a FLAC file."""
    with data.session() as session:
        kept = take_or_404(session, take_id)
        name = f"orexis-{kept.started_at:%Y%m%d-%H%M%S}.flac"
        return Response(
            sound_of(session, take_id),
            media_type="audio/flac",
            headers={"Content-Disposition": f'inline; filename="{name}"'},
        )


@router.put("/takes/{take_id}/overrule")
def overrule(data: Data, take_id: str, own: Overrule) -> TakeOut:
    """Sets the player's own verdict over the gate's, or takes it back."""
    with data.session() as session:
        kept = take_or_404(session, take_id)
        kept.overruled_passed = own.passed
        return TakeOut.of(kept)


@router.put("/takes/{take_id}/rating")
def rate(data: Data, take_id: str, own: RatingIn) -> TakeOut:
    """Keeps what the player's ear says of a take."""
    with data.session() as session:
        kept = take_or_404(session, take_id)
        kept.rating = own.rating
        return TakeOut.of(kept)


@router.get("/players/{player_id}/ear")
def ear(data: Data, player_id: int) -> EarOut:
    """How often the player's ear and the gate agree."""
    with data.session() as session:
        player_or_404(session, player_id)
        return EarOut.of(agreement(heard_takes(session, player_id)))


@router.delete("/takes/{take_id}", status_code=204)
def delete(data: Data, take_id: str) -> None:
    """Deletes a take; it can be brought back for seven days."""
    with data.session() as session:
        delete_take(take_or_404(session, take_id))


@router.post("/takes/{take_id}/restore")
def restore(data: Data, take_id: str) -> TakeOut:
    """Undoes a deletion."""
    with data.session() as session:
        kept = restore_take(session, take_id)
        if kept is None:
            raise not_found("take")
        return TakeOut.of(kept)


@router.post("/takes/{take_id}/pins", status_code=201)
def pin(data: Data, take_id: str, new: PinIn) -> PinOut:
    """Puts a pin on a spot of a take."""
    with data.session() as session:
        return put_pin(session, take_or_404(session, take_id), new)


@router.delete("/takes/{take_id}/pins/{pin_id}", status_code=204)
def unpin(data: Data, take_id: str, pin_id: int) -> None:
    """Takes a pin away."""
    with data.session() as session:
        take_pin_away(session, take_or_404(session, take_id), pin_id)
