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
        _write(source, part)
        part.replace(to)
    except (OSError, sqlite3.Error) as error:
        raise CopyRefusedError(
            f"{source} could not be copied to {to} ({_reason(error)}). "
            "Check that there is room and that the folder can be written to."
        ) from error
    finally:
        part.unlink(missing_ok=True)


def _write(source: Path, part: Path) -> None:
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
    return sorted(found, key=lambda one: (one.stat().st_mtime, one.name), reverse=True)


def keep_copy(data: Path, why: str) -> Path:
    """Keeps a copy of a data file among its own under a name that says `why`, and lets go of all
    but the newest seven; one that is there already is left as it is. Raises `CopyRefusedError`."""
    to = copies_folder(data) / f"{data.stem} {why}{data.suffix}"
    if not to.exists():
        copy_to(data, to)
    for old in copies_of(data)[KEPT_COPIES:]:
        old.unlink(missing_ok=True)
    return to


def keep_days_copy(data: Path, day: date) -> Path:
    """Keeps the copy of a day, once. Raises `CopyRefusedError`."""
    return keep_copy(data, day.isoformat())


def put_back(copy: Path, data: Path, now: datetime) -> Path | None:
    """Puts a copy in the place of a data file, which the caller holds; returns where what it
    replaces is kept, sound that was still being played with it, or `None` where there was
    nothing. Raises `CopyRefusedError`, and all is as it was."""
    if copy.exists() and data.exists() and copy.samefile(data):
        raise CopyRefusedError(f"{copy} is the data file itself. Name a copy of it.")
    part = data.with_name(f".{data.name}{_PART}")
    kept = data.with_name(f"{data.stem} replaced {now:%Y-%m-%d %H%M%S}{data.suffix}")
    try:
        data.parent.mkdir(parents=True, exist_ok=True)
        _write(copy, part)
        replaced = _set_aside(data, kept) if data.exists() else None
        part.replace(data)
    except (OSError, sqlite3.Error) as error:
        raise CopyRefusedError(
            f"{copy} could not be put back as {data} ({_reason(error)}). Nothing was changed."
        ) from error
    finally:
        part.unlink(missing_ok=True)
    return replaced


def _set_aside(data: Path, kept: Path) -> Path:
    """Gives a data file a second name, whatever state it is in, with all that lies beside it, which
    is then gone from its side."""
    _second_name(data, kept)
    log = data.with_name(f"{data.name}-wal")
    if log.exists():
        _second_name(log, kept.with_name(f"{kept.name}-wal"))
    spool = data.with_name(f"{data.name}-spool")
    if spool.is_dir():
        spool.rename(kept.with_name(f"{kept.name}-spool"))
    # A log beside a file that it does not belong to would be read as its own.
    for beside in ("-wal", "-shm"):
        data.with_name(f"{data.name}{beside}").unlink(missing_ok=True)
    return kept


def _second_name(path: Path, other: Path) -> None:
    with suppress(OSError):
        os.link(path, other)
        return
    # Not every disk knows two names of one file.
    shutil.copy2(path, other)
