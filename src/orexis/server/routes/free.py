"""Playing without a task: the notes to draw sound against, and playing that is nobody's yet."""

from typing import Annotated

from fastapi import APIRouter, Path, Request
from fastapi.concurrency import run_in_threadpool

from orexis.core.judging.standard import Standard
from orexis.practice.beginning import NoSuchPlayerError
from orexis.practice.exercises import writer_for
from orexis.practice.unclaimed import unclaimed
from orexis.server.live.sessions import LiveSessions
from orexis.server.problems import not_found
from orexis.server.routes.access import Data, PlayerId, player_or_404
from orexis.server.schemas.free import ChartOut, FreeOutcomeOut, OwnerIn, UnclaimedOut
from orexis.store.players import notation_of

router = APIRouter(prefix="/api")
SittingId = Annotated[str, Path(pattern="^[0-9a-f]{32}$")]


@router.get("/players/{player_id}/chart")
def chart(data: Data, player_id: PlayerId) -> ChartOut:
    """Every note of the player's horn, highest first."""
    with data.session() as session:
        player = player_or_404(session, player_id)
        return ChartOut.of(writer_for(session, player), Standard(player.standard))


@router.get("/chart")
def chart_of_nobody() -> ChartOut:
    """Every note that brass plays, highest first, for somebody who has not said who they are."""
    return ChartOut.of_all(Standard.NORMAL)


@router.get("/sittings/unclaimed")
async def unclaimed_sittings(request: Request) -> list[UnclaimedOut]:
    """Playing that is nobody's yet, newest first, but for what is being played now."""
    data, sessions = request.app.state.database, _sessions(request)
    found = await run_in_threadpool(lambda: list(unclaimed(data, sessions.spool_folder)))
    return [
        UnclaimedOut.of(unclaimed) for unclaimed in found if not sessions.is_played(unclaimed.id)
    ]


@router.post("/sittings/{sitting_id}/owner")
async def own(request: Request, sitting_id: SittingId, owner: OwnerIn) -> FreeOutcomeOut:
    """Says whose playing it was; it is listened to anew on their horn and kept."""
    data = request.app.state.database
    try:
        over = await _sessions(request).claim(sitting_id, owner.player_id)
    except LookupError:
        raise not_found("sitting") from None
    except NoSuchPlayerError:
        raise not_found("player") from None

    def told() -> FreeOutcomeOut:
        with data.session() as session:
            return FreeOutcomeOut.of(over, notation_of(player_or_404(session, owner.player_id)))

    return await run_in_threadpool(told)


@router.delete("/sittings/{sitting_id}", status_code=204)
async def throw_away(request: Request, sitting_id: SittingId) -> None:
    """Throws away playing that is nobody's."""
    try:
        await _sessions(request).discard(sitting_id)
    except LookupError:
        raise not_found("sitting") from None


def _sessions(request: Request) -> LiveSessions:
    sessions: LiveSessions = request.app.state.live_sessions
    return sessions
