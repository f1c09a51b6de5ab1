"""Bookmarks: spots in a take or a recording to come back to."""

from sqlalchemy import ColumnElement, select
from sqlalchemy.orm import Session

from orexis.store.kept import Kept
from orexis.store.models import Bookmark, Recording, Take

MOST_BOOKMARKS = 100
LONGEST_WORDS = 120


class BookmarkRefusedError(ValueError):
    """A bookmark that cannot be; the message says what to change."""


def bookmarks_of(session: Session, of: Kept) -> list[Bookmark]:
    """The bookmarks of a take or recording, in the order of time."""
    return list(
        session.scalars(select(Bookmark).where(_whose(of)).order_by(Bookmark.at_s, Bookmark.id))
    )


def add_bookmark(
    session: Session, of: Kept, at_s: float, words: str, said_by: str = ""
) -> Bookmark:
    """Puts a bookmark down; `said_by` is who else than the player says it. Raises
    `BookmarkRefusedError`."""
    words = " ".join(words.split())
    if not 0 <= at_s <= of.duration_s:
        raise BookmarkRefusedError(f"Put a bookmark between 0 and {of.duration_s:.1f} s.")
    if len(words) > LONGEST_WORDS:
        raise BookmarkRefusedError(f"A bookmark has room for {LONGEST_WORDS} letters.")
    if len(bookmarks_of(session, of)) >= MOST_BOOKMARKS:
        raise BookmarkRefusedError(
            f"There are {MOST_BOOKMARKS} bookmarks already; take one away first."
        )
    bookmark = Bookmark(
        take_id=of.id if isinstance(of, Take) else None,
        recording_id=of.id if isinstance(of, Recording) else None,
        at_s=at_s,
        words=words,
        said_by=said_by,
    )
    session.add(bookmark)
    session.flush()
    return bookmark


def find_bookmark(session: Session, of: Kept, bookmark_id: int) -> Bookmark | None:
    """One of its bookmarks."""
    return session.scalar(select(Bookmark).where(_whose(of), Bookmark.id == bookmark_id))


def _whose(of: Kept) -> ColumnElement[bool]:
    return Bookmark.take_id == of.id if isinstance(of, Take) else Bookmark.recording_id == of.id
