"""Reports: a player's own, as they are read and as a bundle, and words that come back of one."""

from datetime import UTC, datetime

from fastapi import APIRouter, Request, Response
from fastapi.concurrency import run_in_threadpool
from pydantic import ValidationError
from sqlalchemy.orm import Session

from orexis.practice.report import Report, ReportRefusedError, begins, report_of
from orexis.practice.words_back import WordsRefusedError, keep_words
from orexis.server.bundles import NotBuiltError, bundle_of
from orexis.server.problems import ProblemError
from orexis.server.routes.access import Data, PlayerId, local_now, player_or_404
from orexis.server.schemas.report import (
    ReportIn,
    ReportOut,
    WordsBackOut,
    WordsIn,
    WordsKept,
)
from orexis.store.database import Database
from orexis.store.words_back import words_back

router = APIRouter(prefix="/api")


def _report(session: Session, player_id: int, asked: ReportIn) -> Report:
    player = player_or_404(session, player_id)
    now = local_now()
    last = asked.last or now.date()
    try:
        return report_of(session, player, asked.first or begins(last), last, asked.words, now)
    except ReportRefusedError as error:
        raise ProblemError(422, "There is no such report", str(error)) from error


@router.post("/players/{player_id}/report")
def report(data: Data, player_id: PlayerId, asked: ReportIn) -> ReportOut:
    """A report of some weeks for somebody else to read. Nothing is kept."""
    with data.session() as session:
        return ReportOut.of(_report(session, player_id, asked))


@router.post("/players/{player_id}/report/bundle", response_class=Response)
def bundle(data: Data, player_id: PlayerId, asked: ReportIn) -> Response:
    """The same report as one zip that opens anywhere."""
    with data.session() as session:
        made = _report(session, player_id, asked)
        try:
            content = bundle_of(session, made)
        except NotBuiltError as error:
            raise ProblemError(503, "A report cannot be written", str(error)) from error
    name = f"orexis-report-{made.last:%Y%m%d}.zip"
    headers = {"Content-Disposition": f'attachment; filename="{name}"'}
    return Response(content, media_type="application/zip", headers=headers)


@router.get("/players/{player_id}/words-back")
def said(data: Data, player_id: PlayerId) -> list[WordsBackOut]:
    """All that was said of a player's reports, newest first."""
    with data.session() as session:
        return _said(session, player_id)


@router.post("/players/{player_id}/words-back", status_code=201)
async def keep(data: Data, request: Request, player_id: PlayerId) -> WordsKept:
    """Takes in what somebody says of a report, a file as the request's body."""
    return await run_in_threadpool(_keep, data, player_id, await request.body())


def _keep(data: Database, player_id: int, content: bytes) -> WordsKept:
    title = "These words cannot be kept"
    try:
        words = WordsIn.model_validate_json(content)
    except ValidationError as error:
        detail = "Choose the file that came back from them as they sent it: orexis-words.json."
        raise ProblemError(422, title, detail) from error
    with data.session() as session:
        player = player_or_404(session, player_id)
        try:
            lines = keep_words(session, player, words.said, datetime.now(UTC))
        except WordsRefusedError as error:
            raise ProblemError(422, title, str(error)) from error
        return WordsKept(lines=lines, all=_said(session, player_id))


def _said(session: Session, player_id: int) -> list[WordsBackOut]:
    player = player_or_404(session, player_id)
    return [WordsBackOut.model_validate(one) for one in words_back(session, player)]
