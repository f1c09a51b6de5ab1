"""What changed: how far a player comes, and what became of one note."""

from typing import Annotated

from fastapi import APIRouter, Path

from orexis.practice.progress import changes_of, note_page, range_of
from orexis.server.routes.access import Data, PlayerId, local_today, player_or_404
from orexis.server.schemas.changes import ChangesOut
from orexis.server.schemas.progress import NotePageOut, RangeOut
from orexis.store.players import notation_of

router = APIRouter(prefix="/api/players/{player_id}")

Midi = Annotated[int, Path(ge=0, le=127)]


@router.get("/range")
def whole(data: Data, player_id: PlayerId) -> RangeOut:
    """How far a player comes, week by week, and how every half step of their horn stands."""
    with data.session() as session:
        player = player_or_404(session, player_id)
        found = range_of(session, player, local_today())
        return RangeOut.of(found, notation_of(player))


@router.get("/range/{midi}")
def note(data: Data, player_id: PlayerId, midi: Midi) -> NotePageOut:
    """How one note has developed."""
    with data.session() as session:
        player = player_or_404(session, player_id)
        page = note_page(session, player, midi, local_today())
        return NotePageOut.of(page, notation_of(player))


@router.get("/changes")
def changes(data: Data, player_id: PlayerId) -> ChangesOut:
    """What players ask of their weeks, answered from all that was played."""
    with data.session() as session:
        player = player_or_404(session, player_id)
        return ChangesOut.of(changes_of(session, player, local_today()), notation_of(player))
