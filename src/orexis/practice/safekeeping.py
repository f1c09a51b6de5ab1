"""Keeping the record safe: what is in a data file, whether it is whole, and putting a copy back."""

import sqlite3
from collections.abc import Iterator
from contextlib import closing
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path

from sqlalchemy import func, select, text
from sqlalchemy.exc import DatabaseError
from sqlalchemy.orm import InstrumentedAttribute, Session

from orexis.formats.audio import UnreadableSoundError, decoded_seconds
from orexis.store.copies import CopyRefusedError, address_of, keep_replaced, write_copy
from orexis.store.database import bring_up_to_date, revision_of
from orexis.store.models import (
    GuestSound,
    Recording,
    RecordingContent,
    SessionMemo,
    Take,
    TakeFrames,
    TakeNote,
    TakeSound,
    TaskSnapshot,
)
from orexis.store.replacing import is_being_replaced, replace_file

_SHORTER_BY_S = 0.05
"""A sound may end so much before its row says: a chunk that was under way."""


@dataclass(frozen=True, slots=True)
class Contents:
    """What a data file holds, in short."""

    players: tuple[str, ...]
    takes: int
    last: datetime | None

    @property
    def words(self) -> str:
        """The same in words."""
        if not self.players:
            return "nobody's practice yet"
        takes = "1 take" if self.takes == 1 else f"{self.takes} takes"
        until = f", the last of {self.last.astimezone():%d.%m.%Y}" if self.last else ""
        return f"{', '.join(self.players)}: {takes}{until}"


def contents_of(path: Path) -> Contents:
    """What a data file of any version holds; nothing is written. Raises `DatabaseUnusableError`."""
    if revision_of(path) is None:
        return Contents((), 0, None)
    with closing(sqlite3.connect(address_of(path), uri=True)) as file:
        names = tuple(str(name) for (name,) in file.execute("SELECT name FROM players ORDER BY id"))
        count, last = file.execute("SELECT COUNT(*), MAX(started_at) FROM takes").fetchone()
    return Contents(
        names, count, datetime.fromisoformat(last).replace(tzinfo=UTC) if last else None
    )


def restore(copy: Path, data: Path, now: datetime) -> Path | None:
    """Puts a copy in the place of a data file, which the caller holds, and brings it up to date;
    returns where what it replaces is kept. Raises `CopyRefusedError` and `DatabaseUnusableError`
    where the copy is not whole or none of ours, and all is as it was."""
    if revision_of(copy) is None:
        raise CopyRefusedError(f"{copy} holds nothing. Use another copy.")
    wrong = [*_integrity(copy)]
    if wrong:
        raise CopyRefusedError(f"{copy} is damaged ({wrong[0]}). Use another copy.")
    if copy.exists() and data.exists() and copy.samefile(data):
        raise CopyRefusedError(f"{copy} is the data file itself. Name a copy of it.")
    part = data.with_name(f".{data.name}.restored")
    try:
        data.parent.mkdir(parents=True, exist_ok=True)
        write_copy(copy, part)
        bring_up_to_date(part)
        kept = keep_replaced(data, now) if data.exists() else None
        replace_file(data, part, kept)
    except (OSError, sqlite3.Error, DatabaseError) as error:
        raise CopyRefusedError(
            f"{copy} could not be put back as {data} ({error}). Nothing was changed."
        ) from error
    finally:
        if not is_being_replaced(data):
            part.unlink(missing_ok=True)
    return kept


def _integrity(path: Path) -> Iterator[str]:
    with closing(sqlite3.connect(address_of(path), uri=True)) as file:
        try:
            rows = file.execute("PRAGMA integrity_check").fetchall()
        except sqlite3.DatabaseError as error:
            yield str(error)
            return
    yield from (str(row) for (row,) in rows if row != "ok")


def findings(session: Session) -> Iterator[str]:
    """All that is wrong with a data file, a line each; none where it is whole."""
    for (row,) in session.execute(text("PRAGMA integrity_check")):
        if row != "ok":
            yield f"The file is damaged: {row}"
    for table, row_id, parent, _ in session.execute(text("PRAGMA foreign_key_check")):
        yield f"A row of {table} ({row_id}) has lost what it belongs to in {parent}."
    yield from _lost_from_takes(session)
    yield from _sounds(session, "take", TakeSound.take_id, TakeSound.flac, Take)
    contents = RecordingContent
    yield from _sounds(session, "recording", contents.recording_id, contents.flac, Recording)
    yield from _sounds(session, "guest's take", GuestSound.take_id, GuestSound.flac)
    yield from _sounds(session, "memo of the session", SessionMemo.session_id, SessionMemo.flac)


def _lost_from_takes(session: Session) -> Iterator[str]:
    """What has to be there beside a row and is not, and rows of takes that are gone."""
    for table in (TakeSound, TakeFrames, TakeNote):
        query = select(table.take_id).distinct().where(table.take_id.not_in(select(Take.id)))
        for take_id in session.scalars(query):
            yield f"There is no take {take_id} for its row in {table.__tablename__}."
    known = select(TaskSnapshot.key)
    for take_id in session.scalars(select(Take.id).where(Take.task_key.not_in(known))):
        yield f"The take {take_id} has lost what it was to be."
    has_sound, has_frames = select(TakeSound.take_id), select(TakeFrames.take_id)
    lost = select(Take.id).where(Take.id.in_(has_sound), Take.id.not_in(has_frames))
    for take_id in session.scalars(lost):
        yield f"The take {take_id} has lost what was measured of its sound."
    content = select(RecordingContent.recording_id)
    for found in session.scalars(select(Recording.id).where(Recording.id.not_in(content))):
        yield f"The recording {found} has lost its sound."


def _sounds(
    session: Session,
    what: str,
    key: "InstrumentedAttribute[str]",
    flac: "InstrumentedAttribute[bytes]",
    kind: type[Take | Recording] | None = None,
) -> Iterator[str]:
    """Sounds that cannot be played to their end, or end before their row of a `kind` says. They are
    read one by one: all of them together may be more than fits into memory."""
    for found in session.scalars(select(key).order_by(key)).all():
        sound = session.scalar(select(flac).where(key == found))
        told_s = 0.0
        if kind is not None:
            told_s = session.scalar(select(kind.duration_s).where(kind.id == found)) or 0.0
        try:
            heard_s = decoded_seconds(sound or b"")
        except UnreadableSoundError as error:
            yield f"The sound of the {what} {found} cannot be played: {error}"
        else:
            if heard_s < told_s - _SHORTER_BY_S:
                yield f"The sound of the {what} {found} ends {told_s - heard_s:.1f} s too soon."


def counted(session: Session) -> str:
    """What was looked at, in words."""
    takes, sounds, recordings = (
        session.scalar(select(func.count()).select_from(one)) or 0
        for one in (Take, TakeSound, Recording)
    )
    return f"{takes} takes, {sounds} of them with their sound, {recordings} recordings"
