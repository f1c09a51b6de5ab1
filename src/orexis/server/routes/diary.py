"""The diary: a player's months and days."""

from datetime import date
from typing import Annotated

from fastapi import APIRouter, Path

from orexis.core.times import EARLIEST, LATEST
from orexis.practice.diary import month_of, page_of
from orexis.server.problems import ProblemError
from orexis.server.routes.access import Data, PlayerId, player_or_404
from orexis.server.schemas.diary import BookmarkedOut, DiaryMonthOut, DiaryPageOut
from orexis.store.diary import open_bookmarks

router = APIRouter(prefix="/api/players/{player_id}/diary")

Year = Annotated[int, Path(ge=EARLIEST.year + 1, lt=LATEST.year)]
Month = Annotated[int, Path(ge=1, le=12)]
Day = Annotated[int, Path(ge=1, le=31)]


@router.get("/bookmarks")
def bookmarks(data: Data, player_id: PlayerId) -> list[BookmarkedOut]:
    """Every spot that was bookmarked and not gone back to yet."""
    with data.session() as session:
        player = player_or_404(session, player_id)
        return [
            BookmarkedOut.of(bookmark, kept) for bookmark, kept in open_bookmarks(session, player)
        ]


@router.get("/{year}/{month}")
def month(data: Data, player_id: PlayerId, year: Year, month: Month) -> DiaryMonthOut:
    """A month: which days had what."""
    with data.session() as session:
        player = player_or_404(session, player_id)
        return DiaryMonthOut.of(month_of(session, player, year, month))


@router.get("/{year}/{month}/{day}")
def page(data: Data, player_id: PlayerId, year: Year, month: Month, day: Day) -> DiaryPageOut:
    """A day: its sessions with what moved, notes to self, and the spots that were bookmarked."""
    try:
        on = date(year, month, day)
    except ValueError as error:
        raise ProblemError(422, "There is no such day", "Choose a day of the month.") from error
    with data.session() as session:
        player = player_or_404(session, player_id)
        return DiaryPageOut.of(page_of(session, player, on))
