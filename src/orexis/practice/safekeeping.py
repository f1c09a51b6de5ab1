"""Keeping the record safe: what is in a data file, and putting a copy back."""

import sqlite3
from collections.abc import Iterator
from contextlib import closing
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path

from sqlalchemy.exc import DatabaseError

from orexis.store.copies import CopyRefusedError, address_of, keep_replaced, write_copy
from orexis.store.database import bring_up_to_date, revision_of
from orexis.store.replacing import is_being_replaced, replace_file


@dataclass(frozen=True, slots=True)
class Contents:
    """What a data file holds, in short."""

    players: tuple[str, ...]
    takes: int
    last: datetime | None

    @property
    def words(self) -> str:
        """The contents of the file in words."""
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
        _forget_devices(part)
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


def _forget_devices(path: Path) -> None:
    """Forgets every paired device: one that was forgotten since may not come in with a copy."""
    with closing(sqlite3.connect(path)) as file, file:
        file.execute("DELETE FROM paired_devices")


def _integrity(path: Path) -> Iterator[str]:
    with closing(sqlite3.connect(address_of(path), uri=True)) as file:
        try:
            rows = file.execute("PRAGMA integrity_check").fetchall()
        except sqlite3.DatabaseError as error:
            yield str(error)
            return
    yield from (str(row) for (row,) in rows if row != "ok")
