"""What changed: how far a player comes, and what became of one note."""

from datetime import datetime
from typing import Annotated

from fastapi import APIRouter, Path

from orexis.practice.progress import note_page, range_of
from orexis.server.routes.access import Data, PlayerId, player_or_404
from orexis.server.schemas.progress import NotePageOut, RangeOut
from orexis.store.players import notation_of

router = APIRouter(prefix="/api/players/{player_id}/range")

Midi = Annotated[int, Path(ge=0, le=127)]


@router.get("")
def whole(data: Data, player_id: PlayerId) -> RangeOut:
    """How far a player comes, week by week, and how every half step of their horn stands."""
    with data.session() as session:
        player = player_or_404(session, player_id)
        found = range_of(session, player, datetime.now().astimezone().date())
        return RangeOut.of(found, notation_of(player))


@router.get("/{midi}")
def note(data: Data, player_id: PlayerId, midi: Midi) -> NotePageOut:
    """What became of one note."""
    with data.session() as session:
        player = player_or_404(session, player_id)
        page = note_page(session, player, midi, datetime.now().astimezone().date())
        return NotePageOut.of(page, notation_of(player))
