"""The diary: months of practice, and what a day had."""

from calendar import monthrange
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta

from sqlalchemy.orm import Session

from orexis.core.judging import free_words
from orexis.core.judging.words import Name
from orexis.core.progress.diary import DiaryDay, day_words, month_words
from orexis.practice.summary import ListedSession, told_sessions
from orexis.store.diary import bookmarked, diary_of, first_day, sittings_of, spans_of
from orexis.store.history import midnight
from orexis.store.models import (
    Bookmark,
    FreeSitting,
    Player,
    Recording,
    Take,
    TypedPractice,
    WordsBack,
)
from orexis.store.players import notation_of
from orexis.store.sittings import habits_of, recording_of_sitting
from orexis.store.typed import typed_rows
from orexis.store.words_back import words_back_on

_MOST_SESSIONS = 50
_DAY = timedelta(days=1)


@dataclass(frozen=True, slots=True)
class DiaryMonth:
    """A month: its days with anything on them, what they come to, and the first day there is."""

    first: date
    days: tuple[DiaryDay, ...]
    words: str
    begins: date | None


@dataclass(frozen=True, slots=True)
class PastFreePlaying:
    """Free playing in the diary: when it was, what was played in words, and its recording where
    that is still there."""

    started_at: datetime
    words: str
    recording_id: str | None


@dataclass(frozen=True, slots=True)
class DiaryPage:
    """A day: what was played, in words, its whole sessions and what was played freely, oldest
    first, what was written down of it elsewhere, words of a teacher's that came on it, and the
    spots that were marked in what was played on it."""

    day: DiaryDay
    words: str
    sessions: tuple[ListedSession, ...]
    free: tuple[PastFreePlaying, ...]
    typed: Sequence[TypedPractice]
    said: Sequence[WordsBack]
    bookmarks: tuple[tuple[Bookmark, Take | Recording], ...]


def month_of(session: Session, player: Player, year: int, month: int) -> DiaryMonth:
    """A month of a player's."""
    first = date(year, month, 1)
    last = date(year, month, monthrange(year, month)[1])
    days = diary_of(session, player, first, last)
    return DiaryMonth(first, tuple(days), month_words(days), first_day(session, player))


def page_of(session: Session, player: Player, on: date) -> DiaryPage:
    """A day of a player's."""
    found = diary_of(session, player, on, on)
    day = found[0] if found else DiaryDay(on)
    name = notation_of(player).name
    sessions = told_sessions(session, player, _MOST_SESSIONS, midnight(on), midnight(on + _DAY))
    return DiaryPage(
        day,
        day_words(day, spans_of(session, player, on, on).get(on), name),
        tuple(reversed(sessions)),
        tuple(
            _freely(session, free_sitting, name)
            for free_sitting in sittings_of(session, player, on, on)
        ),
        typed_rows(session, player, on, on),
        words_back_on(session, player, on),
        tuple(bookmarked(session, player, on, on)),
    )


def _freely(session: Session, sitting: FreeSitting, name: Name) -> PastFreePlaying:
    """A sitting as a day tells it."""
    words = free_words.day_words(sitting.playing_s, habits_of(sitting), name)
    return PastFreePlaying(sitting.started_at, words, recording_of_sitting(session, sitting))
