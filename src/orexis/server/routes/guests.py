"""Reports of others, opened here to be read."""

from datetime import UTC, datetime

from fastapi import APIRouter, Request, Response
from fastapi.concurrency import run_in_threadpool
from pydantic import ValidationError

from orexis.server import worker
from orexis.server.problems import ProblemError, not_found
from orexis.server.routes.access import Data, KeptId
from orexis.server.schemas.report import GuestOut, ReportOut
from orexis.store.database import Database
from orexis.store.guests import (
    add_guest,
    close_guest,
    guest_sound,
    guests,
    report_in,
)
from orexis.store.models import Guest

router = APIRouter(prefix="/api/guests")


@router.get("")
def all_guests(data: Data) -> list[GuestOut]:
    """The reports of others that are open here, opened last first."""
    with data.session() as session:
        return [GuestOut.of(guest) for guest in guests(session)]


@router.post("", status_code=201)
async def open_guest(data: Data, request: Request) -> GuestOut:
    """Opens somebody's report, a bundle as the request's body, to be read."""
    content = await request.body()
    try:
        report, sounds = await worker.read("report", content, gone=request.is_disconnected)
        return await run_in_threadpool(_keep, data, report, sounds)
    except ValueError as error:
        raise ProblemError(422, "This report cannot be opened", str(error)) from error


def _keep(data: Database, report: ReportOut, sounds: dict[str, bytes]) -> GuestOut:
    with data.session() as session:
        document = report.model_dump(mode="json")
        return GuestOut.of(add_guest(session, document, sounds, datetime.now(UTC)))


@router.get("/{guest_id}")
def guest(data: Data, guest_id: KeptId) -> ReportOut:
    """Somebody's report."""
    with data.session() as session:
        found = session.get(Guest, guest_id)
        if found is None:
            raise not_found("report")
        return _of(found)


def _of(guest: Guest) -> ReportOut:
    try:
        return ReportOut.model_validate(report_in(guest))
    except ValidationError as error:
        raise ProblemError(
            422,
            "This report was opened with an older Orexis",
            "Close it under Who plays?, then open its zip again, or ask for a new one.",
        ) from error


@router.get("/{guest_id}/takes/{take_id}/sound", response_class=Response)
def sound(data: Data, guest_id: KeptId, take_id: KeptId) -> Response:
    """The sound of a take in somebody's report."""
    with data.session() as session:
        flac = guest_sound(session, guest_id, take_id)
    if flac is None:
        raise not_found("take")
    return Response(flac, media_type="audio/flac")


@router.delete("/{guest_id}", status_code=204)
def close(data: Data, guest_id: KeptId) -> None:
    """Deletes somebody's report."""
    if not close_guest(data, guest_id):
        raise not_found("report")
