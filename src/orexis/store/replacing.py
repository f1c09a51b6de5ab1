"""Putting another file in the place of a data file. A kill at any step leaves one of the two whole:
the old one until a note of what is to be done is on the disk, the new one from then on.

Whoever holds the data file next finishes what the note says. Every step of that may have been done
already.
"""

import json
import os
from pathlib import Path

_NOTE = ".replacing"
_BESIDE = ("-wal", "-shm")


def is_being_replaced(data: Path) -> bool:
    """Whether a replacement was begun and is not finished."""
    return _note_of(data).exists()


def replace_file(data: Path, new: Path, kept: Path | None) -> None:
    """Puts `new`, a file of its own on the same disk, in the place of `data`. Sound that was being
    played with the old one goes to `kept`, where the caller has put a copy of it (`None`: there was
    none). The caller holds the data file. Raises `OSError`."""
    note = _note_of(data)
    part = note.with_name(f"{note.name}.part")
    part.write_text(json.dumps({"new": new.name, "kept": kept and kept.name}))
    _sync(new)
    _sync(part)
    part.replace(note)
    _sync(data.parent)
    finish_replacing(data)


def finish_replacing(data: Path) -> None:
    """Finishes a replacement that was begun, if one was. Raises `OSError`."""
    note = _note_of(data)
    if not note.exists():
        return
    said = json.loads(note.read_text())
    new = data.with_name(said["new"])
    if new.exists():
        # A log beside a file that it does not belong to would be read as its own.
        for beside in _BESIDE:
            data.with_name(f"{data.name}{beside}").unlink(missing_ok=True)
        new.replace(data)
    spool = data.with_name(f"{data.name}-spool")
    if spool.is_dir() and said["kept"] is not None:
        spool.rename(data.with_name(f"{said['kept']}-spool"))
    _sync(data.parent)
    note.unlink()
    _sync(data.parent)


def _note_of(data: Path) -> Path:
    return data.with_name(f".{data.name}{_NOTE}")


def _sync(path: Path) -> None:
    """Makes sure that a file, or what a folder says of its files, is on the disk."""
    if path.is_dir() and os.name == "nt":
        # There a folder cannot be opened, nor synced.
        return
    number = os.open(path, os.O_RDONLY)
    try:
        os.fsync(number)
    finally:
        os.close(number)
