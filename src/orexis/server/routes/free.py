"""Playing without a task: the horn's notes to draw sound against."""

from fastapi import APIRouter

from orexis.core.judging.gate import GateLevel
from orexis.practice.exercises import writer_for
from orexis.server.routes.access import Data, PlayerId, player_or_404
from orexis.server.schemas.free import ChartOut

router = APIRouter(prefix="/api/players/{player_id}/chart")


@router.get("")
def chart(data: Data, player_id: PlayerId) -> ChartOut:
    """Every note of the player's horn, highest first."""
    with data.session() as session:
        player = player_or_404(session, player_id)
        return ChartOut.of(writer_for(session, player), GateLevel(player.gate_level))
