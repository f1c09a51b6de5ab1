"""Whether a data file is whole: everything in it is there, readable and as it was written.

Nothing is altered, and whatever is found wrong becomes a line of the report.
"""

import json
import sqlite3
from collections.abc import Callable, Iterator
from contextlib import ExitStack, contextmanager
from functools import partial
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any
from zlib import crc32

from sqlalchemy import String, create_engine, func, select, text, type_coerce
from sqlalchemy.orm import InstrumentedAttribute, Session

from orexis.formats.analysis_reading import events_of, frames_of
from orexis.formats.audio import decoded_seconds
from orexis.formats.free_log import free_entry_of
from orexis.formats.session import entry_of, exercise_result_of, plan_of
from orexis.formats.task import task_of, verdict_of
from orexis.store.copies import address_of, copy_to
from orexis.store.database import bring_up_to_date, newest_revision, revision_of
from orexis.store.models import (
    Base,
    Guest,
    GuestSound,
    PracticeSession,
    Recording,
    RecordingContent,
    SessionEntry,
    SessionMemo,
    SittingEntry,
    Take,
    TakeEvents,
    TakeFrames,
    TakeNote,
    TakeSound,
    TaskSnapshot,
)
from orexis.store.packed import unpack

_SHORTER_BY_S = 0.05
"""A sound may end so much before its row says: a chunk that was under way."""


@contextmanager
def opened_to_look(data: Path) -> Iterator[Session]:
    """A data file to be looked through and not altered: one of an older version by a copy that is
    brought up to date elsewhere. Raises `DatabaseUnusableError` and `CopyRefusedError`."""
    with ExitStack() as stack:
        if revision_of(data) not in (None, newest_revision()):
            folder = stack.enter_context(TemporaryDirectory(prefix="orexis-check-"))
            copy = Path(folder) / data.name
            copy_to(data, copy)
            bring_up_to_date(copy)
            data = copy
        engine = create_engine("sqlite://", creator=partial(_connection, address_of(data)))
        stack.callback(engine.dispose)
        yield stack.enter_context(Session(engine))


def _connection(address: str) -> sqlite3.Connection:
    connection = sqlite3.connect(address, uri=True)
    # Half a letter somewhere keeps nobody from reading the rest.
    connection.text_factory = lambda content: content.decode(errors="replace")
    return connection


def findings(session: Session) -> Iterator[str]:
    """All that is wrong with a data file, a line each; none where it is whole."""
    for looks in (
        _file,
        _rows_of_takes,
        _takes,
        _tasks,
        _logs,
        _sounds,
        _documents,
    ):
        try:
            yield from looks(session)
        except Exception as error:
            # What is wrong with the file may be such that the rest of it cannot even be asked for.
            yield f"The file cannot be read any further here: {error}"
            session.rollback()


def counted(session: Session) -> str:
    """What was looked at, in words."""
    takes, sounds, recordings = (
        session.scalar(select(func.count()).select_from(one)) or 0
        for one in (Take, TakeSound, Recording)
    )
    return f"{takes} takes, {sounds} of them with their sound, {recordings} recordings"


def _file(session: Session) -> Iterator[str]:
    for (row,) in session.execute(text("PRAGMA integrity_check")):
        if row != "ok":
            yield f"The file is damaged: {row}"
    for table, row_id, parent, _ in session.execute(text("PRAGMA foreign_key_check")):
        yield f"A row of {table} ({row_id}) has lost what it belongs to in {parent}."


def _rows_of_takes(session: Session) -> Iterator[str]:
    """What has to be there beside a take and is not, and what is there of no take."""
    beside = (
        (TakeSound, Take.has_sounds, "its sound"),
        (TakeFrames, Take.has_frames, "what was measured of its sound"),
        (TakeEvents, Take.has_events, "what was heard in it"),
    )
    for table, has, what in beside:
        lost = select(Take.id).where(has.is_(True), Take.id.not_in(select(table.take_id)))
        for take_id in session.scalars(lost):
            yield f"The take {take_id} has lost {what}."
    for kept in (TakeSound, TakeFrames, TakeEvents, TakeNote):
        query = select(kept.take_id).distinct().where(kept.take_id.not_in(select(Take.id)))
        for take_id in session.scalars(query):
            yield f"There is no take {take_id} for its row in {kept.__tablename__}."
    known = select(TaskSnapshot.key)
    for take_id in session.scalars(select(Take.id).where(Take.task_key.not_in(known))):
        yield f"The take {take_id} has lost what it was to be."
    content = select(RecordingContent.recording_id)
    for found in session.scalars(select(Recording.id).where(Recording.id.not_in(content))):
        yield f"The recording {found} has lost its sound."


def _takes(session: Session) -> Iterator[str]:
    yield from _readable(session, Take, Take.id, "verdict", verdict_of, "The verdict of the take")


def _tasks(session: Session) -> Iterator[str]:
    yield from _readable(
        session, TaskSnapshot, TaskSnapshot.key, "document", task_of, "The exercise"
    )


def _logs(session: Session) -> Iterator[str]:
    """Plans and logs: readable, and numbered without a gap."""
    key = PracticeSession.id
    yield from _readable(session, PracticeSession, key, "plan", plan_of, "The plan of the session")
    yield from _readable(
        session,
        PracticeSession,
        key,
        "results",
        lambda results: [exercise_result_of(result) for result in results or ()],
        "How it went, of the session",
    )
    yield from _log(session, SessionEntry, SessionEntry.session_id, entry_of, "session")
    yield from _log(session, SittingEntry, SittingEntry.sitting_id, free_entry_of, "sitting")


def _log(
    session: Session,
    table: type[SessionEntry] | type[SittingEntry],
    key: "InstrumentedAttribute[str]",
    read: Callable[[str, int, Any], object],
    what: str,
) -> Iterator[str]:
    """Logs of a kind: gaps in their numbers, and entries that cannot be read."""
    number = table.number
    gaps = (
        select(key)
        .group_by(key)
        .having((func.min(number) != 0) | (func.max(number) != func.count() - 1))
    )
    for found in session.scalars(gaps):
        yield f"The log of the {what} {found} has a gap."
    entries = select(key, number, table.kind, table.sample, type_coerce(table.content, String))
    for found, at, kind, sample, content in session.execute(entries):
        problem = _problem(partial(_entry, read, kind, sample, content))
        if problem:
            yield f"Entry {at} of the log of the {what} {found} {problem}"


def _entry(read: Callable[[str, int, Any], object], kind: str, sample: int, content: str) -> None:
    read(kind, sample, json.loads(content))


def _readable(
    session: Session,
    table: type[Base],
    key: "InstrumentedAttribute[str]",
    column: str,
    read: Callable[[Any], object],
    what: str,
) -> Iterator[str]:
    """What of a column of documents cannot be read, row by row."""
    rows = select(key, type_coerce(getattr(table, column), String)).order_by(key)
    for found, content in session.execute(rows):
        problem = _problem(partial(_document, content, read))
        if problem:
            yield f"{what} {found} {problem}"


def _document(content: str | None, read: Callable[[Any], object]) -> None:
    read(None if content is None else json.loads(content))


def _problem(reads: Callable[[], object]) -> str:
    """What is wrong with something that is read, "" where nothing is."""
    try:
        reads()
    except Exception as error:
        return f"cannot be read: {error!r}"
    return ""


def _sounds(session: Session) -> Iterator[str]:
    """Sounds that are not as they were written, cannot be played to their end, or end before their
    row says."""
    take, recording = TakeSound.take_id, RecordingContent.recording_id
    yield from _packed(session, take, TakeSound.flac, "sound of the take", decoded_seconds)
    yield from _packed(
        session, recording, RecordingContent.flac, "sound of the recording", decoded_seconds
    )
    memo = SessionMemo.session_id
    yield from _packed(session, memo, SessionMemo.flac, "memo of the session", decoded_seconds)
    guest = GuestSound.take_id
    yield from _packed(
        session, guest, GuestSound.flac, "sound of the guest's take", decoded_seconds
    )
    yield from _too_short(session, take, TakeSound.flac, Take, "take")
    yield from _too_short(session, recording, RecordingContent.flac, Recording, "recording")


def _documents(session: Session) -> Iterator[str]:
    """What was measured and heard."""

    def frames(packed: bytes) -> object:
        return frames_of(unpack(packed))

    def events(packed: bytes) -> object:
        return events_of(unpack(packed))

    yield from _packed(
        session, TakeFrames.take_id, TakeFrames.packed, "measures of the take", frames
    )
    yield from _packed(session, TakeEvents.take_id, TakeEvents.packed, "notes of the take", events)
    content = RecordingContent
    yield from _packed(
        session, content.recording_id, content.packed, "measures of the recording", events
    )
    yield from _packed(session, Guest.id, Guest.packed, "report of the guest", unpack)


def _packed(
    session: Session,
    key: "InstrumentedAttribute[str]",
    column: "InstrumentedAttribute[bytes]",
    what: str,
    read: Callable[[bytes], object],
) -> Iterator[str]:
    """What of a column of packed things is not as it was written, or cannot be read. They are read
    one by one: all of them together may be more than fits into memory."""
    summed = getattr(key.class_, f"{column.key}_sum")
    for found in session.scalars(select(key).order_by(key)).all():
        row = session.execute(select(column, summed).where(key == found)).first()
        if row is None:
            continue
        content, written = row
        if crc32(content) != written:
            yield f"The {what} {found} is not as it was written."
        elif problem := _problem(partial(read, content)):
            yield f"The {what} {found} {problem}"


def _too_short(
    session: Session,
    key: "InstrumentedAttribute[str]",
    flac: "InstrumentedAttribute[bytes]",
    kind: type[Take | Recording],
    what: str,
) -> Iterator[str]:
    for found in session.scalars(select(key).order_by(key)).all():
        told_s = session.scalar(select(kind.duration_s).where(kind.id == found)) or 0.0
        try:
            heard_s = decoded_seconds(session.scalar(select(flac).where(key == found)) or b"")
        except Exception:
            # It was told of already.
            continue
        if heard_s < told_s - _SHORTER_BY_S:
            yield f"The sound of the {what} {found} ends {told_s - heard_s:.1f} s too soon."
