"""What a teacher says of a report, kept with the player: their words, and marks at their spots."""

import json
from collections.abc import Sequence
from dataclasses import asdict, dataclass
from datetime import datetime
from hashlib import sha256

from sqlalchemy.orm import Session

from orexis.core.counting import counted
from orexis.store.bookmarks import BookmarkRefusedError, add_bookmark
from orexis.store.kept import find_kept
from orexis.store.models import Player, Take, WordsBack


@dataclass(frozen=True, slots=True)
class Marked:
    """A bookmark in a take of a report, with the words said about it."""

    take_id: str
    at_s: float
    words: str


@dataclass(frozen=True, slots=True)
class ReportRemarks:
    """What a reader of a report says about it: their name, their words, and bookmarks."""

    said_by: str
    words: str
    marks: Sequence[Marked]


class WordsRefusedError(ValueError):
    """Words that cannot be kept; the message says why."""


def keep_words(session: Session, player: Player, said: ReportRemarks, now: datetime) -> list[str]:
    """Keeps what was said with a player; returns what of it could not be kept, in words, and what
    was kept, last. The same words are kept once. Raises `WordsRefusedError`."""
    key = sha256(json.dumps(asdict(said), sort_keys=True).encode()).hexdigest()[:32]
    if session.get(WordsBack, (key, player.id)) is not None:
        raise WordsRefusedError("These words are here already. Nothing was added.")
    takes = {mark.take_id: find_kept(session, Take, mark.take_id) for mark in said.marks}
    theirs = {take.id: take for take in takes.values() if take and take.player_id == player.id}
    if said.marks and not theirs:
        raise WordsRefusedError(
            f"None of the takes they speak of is {player.name}'s here. Choose the player whose "
            "report it was."
        )
    lines: list[str] = []
    placed = 0
    for mark in said.marks:
        take = theirs.get(mark.take_id)
        try:
            if take is None:
                raise BookmarkRefusedError("its take is no longer here.")
            add_bookmark(session, take, mark.at_s, mark.words, said.said_by)
            placed += 1
        except BookmarkRefusedError as error:
            lines.append(f"“{mark.words}” could not be placed: {error}")
    session.add(
        WordsBack(
            key=key, player_id=player.id, said_by=said.said_by, words=said.words, arrived_at=now
        )
    )
    session.flush()
    what = f" and {counted(placed, 'bookmark')}" if placed else ""
    return [*lines, f"Kept: the words of {said.said_by}{what}."]
