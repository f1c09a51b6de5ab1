"""Takes: the list, a take's page, overruling and rating."""

from typing import Annotated

from fastapi import APIRouter, Query

from orexis.core.judging.ear import agreement
from orexis.practice.takes import newest_takes, take_page, told
from orexis.server.routes.access import Data, KeptId, PlayerId, kept_or_404, player_or_404
from orexis.server.schemas.base import Time
from orexis.server.schemas.takes import EarOut, Overrule, RatingIn, TakeDetail, TakeOut
from orexis.store.models import Take
from orexis.store.takes import rated_takes

router = APIRouter(prefix="/api")


@router.get("/players/{player_id}/takes")
def takes(
    data: Data,
    player_id: PlayerId,
    before: Time | None = None,
    count: Annotated[int, Query(ge=1, le=200)] = 50,
) -> list[TakeOut]:
    """A player's takes, newest first; `before` goes further back."""
    with data.session() as session:
        player_or_404(session, player_id)
        return [
            TakeOut.of(told_take) for told_take in newest_takes(session, player_id, count, before)
        ]


@router.get("/takes/{take_id}")
def take(data: Data, take_id: KeptId) -> TakeDetail:
    """A take with its ribbon and measures."""
    with data.session() as session:
        return TakeDetail.page(take_page(session, kept_or_404(session, Take, take_id)))


@router.put("/takes/{take_id}/overrule")
def overrule(data: Data, take_id: KeptId, own: Overrule) -> TakeOut:
    """Sets the player's own verdict over Orexis's, or takes it back."""
    with data.session() as session:
        kept = kept_or_404(session, Take, take_id)
        kept.overruled_passed = own.passed
        return TakeOut.of(told(kept))


@router.put("/takes/{take_id}/rating")
def rate(data: Data, take_id: KeptId, own: RatingIn) -> TakeOut:
    """Keeps what the player's ear says of a take."""
    with data.session() as session:
        kept = kept_or_404(session, Take, take_id)
        kept.rating = own.rating
        return TakeOut.of(told(kept))


@router.get("/players/{player_id}/ear")
def ear(data: Data, player_id: PlayerId) -> EarOut:
    """How often the player's ear and the meter agree."""
    with data.session() as session:
        player_or_404(session, player_id)
        return EarOut.model_validate(agreement(rated_takes(session, player_id)))
