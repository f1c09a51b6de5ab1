"""What the API says of the diary."""

from datetime import date, datetime

from pydantic import BaseModel

from orexis.practice.diary import DiaryMonth, DiaryPage
from orexis.server.schemas.base import Read
from orexis.server.schemas.report import WordsBackOut
from orexis.server.schemas.sessions import SessionLine
from orexis.store.kept import Kind
from orexis.store.models import Bookmark, Recording, Take


class DiaryDayOut(Read):
    """See `core.progress.diary.DiaryDay`."""

    on: date
    attempts: int
    passed: int
    playing_s: float
    sessions: int
    typed_min: float
    bookmarks: int
    hurt: bool
    event: str


class DiaryMonthOut(BaseModel):
    """A month of the diary; `begins` is the first day there is."""

    first: date
    title: str
    words: str
    days: list[DiaryDayOut]
    begins: date | None

    @classmethod
    def of(cls, month: DiaryMonth) -> "DiaryMonthOut":
        """A month as the API gives it."""
        return cls(
            first=month.first,
            title=f"{month.first:%B %Y}",
            words=month.words,
            days=[DiaryDayOut.model_validate(day) for day in month.days],
            begins=month.begins,
        )


class BookmarkedOut(BaseModel):
    """A spot that was bookmarked: in which take or recording, where, why and by whom, and whether
    the player has been back."""

    id: int
    kind: Kind
    kept_id: str
    started_at: datetime
    at_s: float
    words: str
    said_by: str
    gone_back: bool

    @classmethod
    def of(cls, bookmark: Bookmark, kept: Take | Recording) -> "BookmarkedOut":
        """A bookmark as the API gives it."""
        return cls(
            id=bookmark.id,
            kind=Kind.of(kept),
            kept_id=kept.id,
            started_at=kept.started_at,
            at_s=bookmark.at_s,
            words=bookmark.words,
            said_by=bookmark.said_by,
            gone_back=bookmark.gone_back,
        )


class TypedOut(Read):
    """Practice that was written down elsewhere."""

    id: int
    minutes: float
    words: str


class FreePlayedOut(Read):
    """See `practice.diary.PastFreePlaying`."""

    started_at: datetime
    words: str
    recording_id: str | None


class DiaryPageOut(BaseModel):
    """A day of the diary."""

    day: DiaryDayOut
    title: str
    words: str
    sessions: list[SessionLine]
    free: list[FreePlayedOut]
    typed: list[TypedOut]
    said: list[WordsBackOut]
    bookmarks: list[BookmarkedOut]

    @classmethod
    def of(cls, page: DiaryPage) -> "DiaryPageOut":
        """A day as the API gives it."""
        on = page.day.on
        return cls(
            day=DiaryDayOut.model_validate(page.day),
            title=f"{on:%A}, {on.day} {on:%B %Y}",
            words=page.words,
            sessions=[SessionLine.of(session) for session in page.sessions],
            free=[FreePlayedOut.model_validate(sitting) for sitting in page.free],
            typed=[TypedOut.model_validate(entry) for entry in page.typed],
            said=[WordsBackOut.model_validate(words_back) for words_back in page.said],
            bookmarks=[BookmarkedOut.of(bookmark, kept) for bookmark, kept in page.bookmarks],
        )
