"""What the API says of reports: a player's own, a guest's, and what comes back of one."""

from datetime import date, datetime
from typing import Annotated, Literal

from pydantic import AwareDatetime, BaseModel, Field

from orexis.practice.report import LONGEST_WORDS, Report
from orexis.practice.words_back import Marked, ReportRemarks
from orexis.server.schemas.base import Body, Number, Read, Text, once_called
from orexis.server.schemas.changes import ChangesOut
from orexis.server.schemas.progress import RangeOut
from orexis.server.schemas.takes import TakeDetail
from orexis.store.bookmarks import LONGEST_WORDS as LONGEST_BOOKMARK
from orexis.store.bookmarks import MOST_BOOKMARKS
from orexis.store.guests import report_in
from orexis.store.models import Guest
from orexis.store.players import instrument_of, notation_of

LONGEST_SAID_BY = 60


class ReportIn(Body):
    """The weeks a report is of, from one day to another (the usual ones up to today where they are
    not said), and the player's own words."""

    first: date | None = None
    last: date | None = None
    words: Annotated[Text, Field(max_length=LONGEST_WORDS)] = ""


class WordsRoom(BaseModel):
    """How many letters there is room for in what is said of a report: who says it, their words,
    and those of each bookmark."""

    said_by: int = LONGEST_SAID_BY
    words: int = LONGEST_WORDS
    bookmark: int = Field(LONGEST_BOOKMARK, validation_alias=once_called("bookmark", "pin"))


class ReportOut(BaseModel):
    """Some weeks of a player for somebody else to read: see `practice.report.Report`."""

    player: Annotated[str, Field(max_length=200)]
    instrument: Annotated[str, Field(max_length=200)]
    made_at: AwareDatetime
    first: date
    last: date
    words: Annotated[str, Field(max_length=LONGEST_WORDS)]
    summary: str
    range: RangeOut
    changes: ChangesOut
    best: list[TakeDetail]
    worst: list[TakeDetail]
    room: WordsRoom

    @classmethod
    def of(cls, report: Report) -> "ReportOut":
        """A report as the API gives it."""
        player = report.player
        return cls(
            player=player.name,
            instrument=instrument_of(player).name,
            made_at=report.made_at,
            first=report.first,
            last=report.last,
            words=report.words,
            summary=report.summary,
            range=RangeOut.of(report.range, notation_of(player)),
            changes=ChangesOut.of(report.changes, notation_of(player)),
            best=[TakeDetail.page(take) for take in report.best],
            worst=[TakeDetail.page(take) for take in report.worst],
            room=WordsRoom(),
        )

    @property
    def takes(self) -> list[TakeDetail]:
        """All takes in it."""
        return self.best + self.worst


class GuestOut(BaseModel):
    """A report of another player that is open here."""

    id: str
    player: str
    instrument: str
    first: date
    last: date

    @classmethod
    def of(cls, guest: Guest) -> "GuestOut":
        """A guest as the API gives it: what of their report any Orexis says in the same way."""
        report = report_in(guest)
        return cls(
            id=guest.id,
            player=report["player"],
            instrument=report["instrument"],
            first=report["first"],
            last=report["last"],
        )


class MarkIn(Body):
    """A bookmark in a take of a report, with the words said about it."""

    take_id: Annotated[Text, Field(max_length=64)]
    at_s: Annotated[Number, Field(ge=0)]
    words: Annotated[Text, Field(max_length=LONGEST_BOOKMARK)]


class WordsIn(Body):
    """`orexis.words/1`: what a reader of a report says about it."""

    document: Annotated[Literal["orexis.words/1"], Field(alias="schema")]
    said_by: Annotated[Text, Field(min_length=1, max_length=LONGEST_SAID_BY)]
    words: Annotated[Text, Field(max_length=LONGEST_WORDS)]
    marks: Annotated[list[MarkIn], Field(max_length=MOST_BOOKMARKS)]

    @property
    def said(self) -> ReportRemarks:
        """The same as values."""
        return ReportRemarks(
            self.said_by,
            self.words,
            tuple(Marked(mark.take_id, mark.at_s, mark.words) for mark in self.marks),
        )


class WordsBackOut(Read):
    """What was said of a report."""

    said_by: str
    words: str
    arrived_at: datetime


class WordsKept(BaseModel):
    """What was kept of the words that came back, a line each, and all words there are now."""

    lines: list[str]
    all: list[WordsBackOut]
