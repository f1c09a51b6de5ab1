"""Copies of a data file: made while it is in use, whole or not at all, and put back.

A copy is written under another name beside where it is to be, synced, and takes its own name
last, so that one that was cut short is never taken for whole. Source: SQLite's online backup.
"""

import os
import shutil
import sqlite3
from contextlib import closing, suppress
from datetime import date, datetime
from pathlib import Path

KEPT_COPIES = 7
_PART = ".part"


class CopyRefusedError(Exception):
    """A copy cannot be made or put back; the message says why and what to do."""


def address_of(path: Path) -> str:
    """Where SQLite reads a file that it is not to write to, nor to make any file beside."""
    # Even a reader makes files beside one in WAL mode, unless it is told that nobody writes.
    alone = not path.with_name(f"{path.name}-wal").exists()
    return f"{path.absolute().as_uri()}?mode=ro{'&immutable=1' if alone else ''}"


def copy_to(source: Path, to: Path) -> None:
    """Copies a data file, in use or not, to where no file is yet. Raises `CopyRefusedError`."""
    if to.exists():
        raise CopyRefusedError(f"{to} is there already. Choose another name; nothing was written.")
    part = to.with_name(f".{to.name}{_PART}")
    try:
        to.parent.mkdir(parents=True, exist_ok=True)
        write_copy(source, part)
        part.replace(to)
    except (OSError, sqlite3.Error) as error:
        raise CopyRefusedError(
            f"{source} could not be copied to {to} ({_reason(error)}). "
            "Check that there is room and that the folder can be written to."
        ) from error
    finally:
        part.unlink(missing_ok=True)


def write_copy(source: Path, part: Path) -> None:
    """Writes a copy over what is left of an earlier one that was not finished. Raises `OSError` and
    `sqlite3.Error`."""
    part.unlink(missing_ok=True)
    with (
        closing(sqlite3.connect(address_of(source), uri=True)) as original,
        closing(sqlite3.connect(part)) as copy,
    ):
        original.backup(copy)
        # A copy is one file, with none beside it.
        copy.execute("PRAGMA journal_mode=DELETE")
    with part.open("rb") as written:
        os.fsync(written.fileno())


def _reason(error: Exception) -> str:
    return getattr(error, "strerror", None) or str(error)


def copies_folder(data: Path) -> Path:
    """Where a data file's own copies lie."""
    return data.with_name(f"{data.name}-copies")


def copies_of(data: Path) -> list[Path]:
    """A data file's own copies, newest first."""
    found = copies_folder(data).glob(f"*{data.suffix}")
    return sorted(found, key=lambda path: (path.stat().st_mtime, path.name), reverse=True)


def clear_unfinished(data: Path) -> None:
    """Removes what copies of a data file that were cut short have left; the caller holds it."""
    left = [data.with_name(f".{data.name}.restored{beside}") for beside in ("", "-wal", "-shm")]
    left += data.parent.glob(f".{data.stem} replaced *{_PART}")
    left += copies_folder(data).glob(f".*{_PART}")
    left += data.with_name(f"{data.name}-spool").glob(f"*{_PART}")
    for path in left:
        path.unlink(missing_ok=True)


def keep_copy(data: Path, why: str) -> Path:
    """Keeps a copy of a data file among its own under a name that says `why`; one that is there
    already is left as it is. Raises `CopyRefusedError`."""
    to = copies_folder(data) / f"{data.stem} {why}{data.suffix}"
    if not to.exists():
        copy_to(data, to)
    return to


def keep_days_copy(data: Path, day: date) -> Path:
    """Keeps the copy of a day, once, and lets go of days' copies from before the newest seven. A
    day that lies ahead was told by a clock that has been put back since: its copy stays, and counts
    for nothing. Copies kept for another reason, and files that are not ours, stay. Raises
    `CopyRefusedError`."""
    kept = keep_copy(data, day.isoformat())
    before = sorted(
        (on, path) for path in copies_of(data) if (on := _day_of(data, path)) and on < day
    )
    for _, old in before[: max(len(before) - (KEPT_COPIES - 1), 0)]:
        made_on = date.fromtimestamp(old.stat().st_mtime)
        if made_on != day:
            old.unlink(missing_ok=True)
    return kept


def _day_of(data: Path, copy: Path) -> date | None:
    """The day that a copy is of, `None` for one that was kept for another reason."""
    with suppress(ValueError):
        return date.fromisoformat(copy.stem.removeprefix(f"{data.stem} "))
    return None


def keep_replaced(data: Path, now: datetime) -> Path:
    """Keeps a data file that is to be replaced, whatever state it is in, as a file of its own; the
    caller holds it. Raises `CopyRefusedError`."""
    kept = data.with_name(f"{data.stem} replaced {now:%Y-%m-%d %H%M%S}{data.suffix}")
    with suppress(sqlite3.Error), closing(sqlite3.connect(data)) as file:
        # What its log holds is taken into it, so that the file alone is all of it.
        file.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    try:
        for beside in ("-wal", ""):
            source = data.with_name(f"{data.name}{beside}")
            if source.exists():
                _copy_bytes(source, kept.with_name(f"{kept.name}{beside}"))
    except OSError as error:
        for beside in ("-wal", ""):
            kept.with_name(f"{kept.name}{beside}").unlink(missing_ok=True)
        raise CopyRefusedError(
            f"What is replaced could not be kept as {kept} ({_reason(error)}). "
            "Make room, then try again. Nothing was changed."
        ) from error
    return kept


def _copy_bytes(source: Path, to: Path) -> None:
    part = to.with_name(f".{to.name}{_PART}")
    try:
        shutil.copy2(source, part)
        with part.open("rb") as written:
            os.fsync(written.fileno())
        part.replace(to)
    finally:
        part.unlink(missing_ok=True)
