"""Sessions: what can be played, what can be gone on with, notes to oneself, and what hurt."""

from datetime import UTC, datetime
from typing import Annotated

from fastapi import APIRouter, Path, Query, Request, Response
from fastapi.concurrency import run_in_threadpool

from orexis.core.listening.round_trip import (
    NotHeardError,
    clicks,
    round_trip,
    round_trip_words,
)
from orexis.formats.audio import (
    HIGHEST_RATE,
    LOWEST_RATE,
    floats_from_pcm,
    pcm_from_floats,
    wav_from_pcm,
)
from orexis.practice.care import clear_hurt, say_hurt
from orexis.practice.kept_sessions import asked_now, end_for_good
from orexis.practice.memos import MemoRefusedError, keep_spoken
from orexis.practice.plans import OPEN_FOR, offered_sessions
from orexis.practice.summary import told_sessions
from orexis.server.live.sessions import LiveSessions
from orexis.server.problems import ProblemError, not_found
from orexis.server.routes.access import Data, PlayerId, player_or_404
from orexis.server.routes.standin import AskedSkill, wav_of
from orexis.server.schemas.sessions import (
    HurtOut,
    LatencyOut,
    NoteIn,
    OfferedOut,
    OpenOut,
    SessionLine,
)
from orexis.store.database import Database
from orexis.store.models import PracticeSession
from orexis.store.sessions import hurts_of, memo_of, open_session

router = APIRouter(prefix="/api")

Rate = Annotated[int, Query(ge=LOWEST_RATE, le=HIGHEST_RATE)]
_SHOWN = 60
SessionId = Annotated[str, Path(pattern="^[0-9a-f]{32}$")]


@router.get("/players/{player_id}/sessions/offered")
def offered(
    data: Data, player_id: PlayerId, quiet: Annotated[bool, Query()] = False
) -> list[OfferedOut]:
    """The sessions that are ready for a player; `quiet` on the mouthpiece alone."""
    with data.session() as session:
        player = player_or_404(session, player_id)
        return [OfferedOut.of(one) for one in offered_sessions(session, player, quiet)]


@router.get("/players/{player_id}/sessions")
def sessions(data: Data, player_id: PlayerId) -> list[SessionLine]:
    """The newest sessions that had a plan, newest first."""
    with data.session() as session:
        player = player_or_404(session, player_id)
        return [SessionLine.of(one) for one in told_sessions(session, player, _SHOWN)]


@router.get("/players/{player_id}/sessions/open")
def left_open(data: Data, player_id: PlayerId) -> OpenOut | None:
    """The session that a player can go on with, if there is one."""
    with data.session() as session:
        player_or_404(session, player_id)
        kept = open_session(session, player_id, datetime.now(UTC) - OPEN_FOR)
        return None if kept is None else OpenOut.of(kept)


@router.put("/sessions/{session_id}/note", status_code=204)
def note(data: Data, session_id: SessionId, said: NoteIn) -> None:
    """Keeps what a player writes to themselves at the end."""
    with data.session() as session:
        kept = session.get(PracticeSession, session_id)
        if kept is None:
            raise not_found("session")
        kept.note = said.note.strip()


@router.post("/sessions/{session_id}/memo", status_code=204)
async def memo(request: Request, session_id: SessionId, rate: Rate) -> None:
    """Keeps a spoken note: 16-bit mono PCM, a minute at most."""
    pcm = await request.body()
    data: Database = request.app.state.database
    with data.session() as session:
        if session.get(PracticeSession, session_id) is None:
            raise not_found("session")
        try:
            keep_spoken(session, session_id, pcm, rate)
        except MemoRefusedError as error:
            raise ProblemError(422, "That could not be kept", str(error)) from error


@router.get("/sessions/{session_id}/memo", response_class=Response)
def spoken(data: Data, session_id: SessionId) -> Response:
    """A spoken note, as FLAC."""
    with data.session() as session:
        flac = memo_of(session, session_id)
    if flac is None:
        raise not_found("memo")
    return Response(flac, media_type="audio/flac")


@router.delete("/sessions/{session_id}", status_code=204)
async def leave_open(request: Request, session_id: SessionId) -> None:
    """Ends a session that is not gone on with; what was played in it and not judged yet is."""
    data: Database = request.app.state.database
    sessions: LiveSessions = request.app.state.live_sessions
    await sessions.finish(session_id)
    if not await run_in_threadpool(_end, data, session_id):
        raise not_found("session")


def _end(data: Database, session_id: str) -> bool:
    with data.session() as session:
        kept = session.get(PracticeSession, session_id)
        if kept is not None:
            end_for_good(session, kept, datetime.now(UTC))
        return kept is not None


@router.get("/sessions/{session_id}/stand-in", response_class=Response)
def stand_in(data: Data, session_id: SessionId, skill: AskedSkill) -> Response:
    """What a session asks for now, as the stand-in player plays it at once, with faults of the
    sizes given, as WAV."""
    with data.session() as session:
        asked = asked_now(session, session_id)
    if asked is None:
        raise not_found("session")
    task, horn = asked
    return wav_of(task, horn, skill, lead_s=0.0)


@router.get("/players/{player_id}/hurts")
def hurts(data: Data, player_id: PlayerId) -> list[HurtOut]:
    """What hurt and is not cleared: playing waits for that."""
    with data.session() as session:
        player_or_404(session, player_id)
        return [HurtOut(at=hurt.at) for hurt in hurts_of(session, player_id)]


@router.post("/players/{player_id}/hurts", status_code=201)
def hurt(data: Data, player_id: PlayerId) -> None:
    """Something hurts, with nothing being listened to."""
    with data.session() as session:
        player_or_404(session, player_id)
        say_hurt(session, player_id, datetime.now(UTC))


@router.delete("/players/{player_id}/hurts", status_code=204)
def clear(data: Data, player_id: PlayerId) -> None:
    """The player says that nothing hurts any more."""
    with data.session() as session:
        player_or_404(session, player_id)
        clear_hurt(session, player_id, datetime.now(UTC))


@router.get("/latency", response_class=Response)
def latency_clicks(rate: Rate) -> Response:
    """The clicks that the round trip is measured with, as WAV."""
    return Response(wav_from_pcm(pcm_from_floats(clicks(rate)), rate), media_type="audio/wav")


@router.post("/latency")
async def latency(request: Request, rate: Rate) -> LatencyOut:
    """The round trip in a recording of those clicks, 16-bit mono PCM that begins as they do."""
    pcm = await request.body()
    try:
        found = round_trip(floats_from_pcm(pcm[: len(pcm) // 2 * 2]), rate)
    except NotHeardError as error:
        raise ProblemError(422, "The round trip could not be measured", str(error)) from error
    return LatencyOut(
        seconds=round(found.delay_s, 5),
        clicks=found.clicks,
        words=round_trip_words(found),
    )
