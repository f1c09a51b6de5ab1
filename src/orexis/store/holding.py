"""Holding a data file: one process at a time works on it, its spool and its uploads."""

import contextlib
import json
import os
from collections.abc import Iterator
from pathlib import Path

from filelock import FileLock, Timeout

from orexis.store.copies import clear_unfinished
from orexis.store.replacing import finish_replacing


class DataHeldError(Exception):
    """Another process holds the data file; the message says which and what to do."""


@contextlib.contextmanager
def held(data: Path, where: str) -> Iterator[None]:
    """Holds a data file until the block ends; `where` is what the next one who comes is told of
    where it is open. A process that was killed holds nothing any more: a restore that it began is
    finished first, and what else it left unfinished is gone.

    Raises `DataHeldError` when another holds it and `OSError` when its folder cannot be used.
    """
    data.parent.mkdir(parents=True, exist_ok=True)
    holder, lock = (data.with_name(f"{data.name}.{kind}") for kind in ("holder", "lock"))
    lock.touch()
    try:
        with FileLock(lock, timeout=0):
            holder.write_text(json.dumps({"process": os.getpid(), "where": where}))
            try:
                finish_replacing(data)
                clear_unfinished(data)
                yield
            finally:
                holder.unlink(missing_ok=True)
    except Timeout as error:
        raise DataHeldError(
            f"{data} is open in another Orexis{_told_by(holder)}. Use that one, or stop it first."
        ) from error


def _told_by(holder: Path) -> str:
    try:
        told = json.loads(holder.read_text())
        return f" (process {told['process']}, {told['where']})"
    except (OSError, ValueError, LookupError, TypeError):
        return ""
