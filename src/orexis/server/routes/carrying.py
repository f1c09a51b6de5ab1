"""Files that come in from other programs, and what goes out to calendars and other players."""

import json
from collections.abc import Sequence
from typing import Annotated, cast

from fastapi import APIRouter, Path, Query, Request, Response
from fastapi.concurrency import run_in_threadpool

from orexis.formats.own import NamedExercise
from orexis.practice.calendar import calendar_of
from orexis.practice.exercises import writer_for
from orexis.practice.incoming import (
    CheckedExercise,
    Content,
    IncomingKind,
    checked,
    own_to_carry,
    read_incoming,
    take_in,
)
from orexis.server import worker
from orexis.server.problems import ProblemError, not_found
from orexis.server.routes.access import (
    LARGEST_ID,
    Data,
    PlayerId,
    local_now,
    local_today,
    player_or_404,
)
from orexis.server.schemas.carrying import IncomingOut
from orexis.store.database import Database
from orexis.store.typed import forget_typed

router = APIRouter(prefix="/api/players/{player_id}")

TypedId = Annotated[int, Path(ge=1, le=LARGEST_ID)]


@router.post("/incoming/{what}")
async def incoming(
    data: Data,
    request: Request,
    player_id: PlayerId,
    what: IncomingKind,
    keep: Annotated[bool, Query()] = False,
) -> IncomingOut:
    """Reads a file, the request's body, row by row: with `keep` all that is not refused is kept,
    else nothing."""
    content = await request.body()
    try:
        if what in (IncomingKind.CONCERTS, IncomingKind.REHEARSALS):
            found = await worker.read("calendar", content, gone=request.is_disconnected)
        else:
            found = await run_in_threadpool(read_incoming, what, content)
    except ValueError as error:
        raise ProblemError(422, "This file cannot be taken in", str(error)) from error
    return await run_in_threadpool(_take_in, data, player_id, what, found, keep)


def _take_in(
    data: Database, player_id: int, what: IncomingKind, found: Content, keep: bool
) -> IncomingOut:
    rows: Content | Sequence[CheckedExercise] = found
    if what is IncomingKind.OWN:
        with data.session() as session:
            writer = writer_for(session, player_or_404(session, player_id))
        rows = checked(writer, cast(Sequence[NamedExercise], found))
    with data.session() as session:
        told = take_in(session, player_or_404(session, player_id), what, rows, local_today())
        if not keep:
            session.rollback()
        return IncomingOut.of(told, kept=keep)


@router.delete("/typed/{typed_id}", status_code=204)
def forget(data: Data, player_id: PlayerId, typed_id: TypedId) -> None:
    """Takes away practice that was written down elsewhere."""
    with data.session() as session:
        if not forget_typed(session, player_or_404(session, player_id), typed_id):
            raise not_found("entry")


@router.get("/calendar.ics", response_class=Response)
def calendar(data: Data, player_id: PlayerId) -> Response:
    """Plan, coming dates and log as iCalendar."""
    with data.session() as session:
        content = calendar_of(session, player_or_404(session, player_id), local_now())
    return _file(content, "text/calendar; charset=utf-8", "orexis-practice.ics")


@router.get("/own.json", response_class=Response)
def own(data: Data, player_id: PlayerId) -> Response:
    """A player's own exercises, to be taken in by another."""
    with data.session() as session:
        document = own_to_carry(session, player_or_404(session, player_id))
    content = json.dumps(document, ensure_ascii=False, indent=1).encode()
    return _file(content, "application/json", "orexis-own.json")


def _file(content: bytes, media_type: str, name: str) -> Response:
    headers = {"Content-Disposition": f'attachment; filename="{name}"'}
    return Response(content, media_type=media_type, headers=headers)
