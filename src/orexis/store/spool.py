"""The spool: sound on its way in, on disk before it is acknowledged.

One file per session: a line of JSON (what the session said of itself, and the frame its sound
starts at), then 16-bit mono PCM. A killed server leaves the file; opening it again gives
everything that was written.
"""

import json
import logging
import os
import re
import time
from pathlib import Path
from typing import Any

from orexis.core.listening.tracking.frames import HOP_S

_BYTES_PER_SAMPLE = 2
_SESSION_ID = re.compile(r"[0-9a-f]{32}")
_SUFFIX, _ASIDE = ".spool", ".unreadable"

log = logging.getLogger(__name__)


class SpoolUnreadableError(Exception):
    """A spool whose file makes no sense; it has been set aside, not removed."""


class Spool:
    """One session's sound on disk. Sample numbers count from the session's first sample."""

    def __init__(self, path: Path, hello: dict[str, Any], first_frame: int, data_at: int) -> None:
        self._path = path
        self.hello = hello
        self._begin(first_frame, data_at)

    def _begin(self, first_frame: int, data_at: int) -> None:
        """Opens the file at its end; its sound starts at a frame and a byte."""
        self.first_frame = first_frame
        self._data_at = data_at
        self._first_sample = _sample_of(first_frame, self.hello["sample_rate"])
        size = self._path.stat().st_size - data_at
        self._file = self._path.open("r+b", buffering=0)
        # A write cut short by a kill can leave half a sample.
        self._file.truncate(data_at + size - size % _BYTES_PER_SAMPLE)
        self._file.seek(0, os.SEEK_END)
        self.end_sample = self._first_sample + size // _BYTES_PER_SAMPLE

    @classmethod
    def take_up(
        cls, folder: Path, session_id: str, hello: dict[str, Any], oldest_sample: int = 0
    ) -> "Spool":
        """The session's spool as it was left, or a new one.

        `hello` must hold `sample_rate`; a new spool starts at the first whole frame from
        `oldest_sample` on. Raises `ValueError` for a session id of the wrong form and
        `SpoolUnreadableError`.
        """
        path = _path_of(folder, session_id)
        if not path.exists():
            folder.mkdir(parents=True, exist_ok=True)
            _write_whole(path, _header(hello, _frame_from(oldest_sample, hello["sample_rate"])))
        return cls.open(folder, session_id)

    @classmethod
    def open(cls, folder: Path, session_id: str) -> "Spool":
        """The session's spool as it was left.

        Raises `FileNotFoundError` when there is none, and `SpoolUnreadableError`.
        """
        path = _path_of(folder, session_id)
        try:
            with path.open("rb") as file:
                line = file.readline()
            header = json.loads(line)
            hello, first_frame = header["hello"], header["first_frame"]
            if first_frame < 0 or hello["sample_rate"] <= 0:
                raise ValueError(f"frame {first_frame}, {hello['sample_rate']} Hz")
            return cls(path, hello, first_frame, len(line))
        except (ValueError, LookupError, TypeError, RecursionError) as error:
            _set_aside(path, f"it makes no sense: {error!r}")
            raise SpoolUnreadableError(str(error)) from error

    @staticmethod
    def left_behind(folder: Path, idle_s: float) -> list[str]:
        """The sessions nobody has sent sound to for `idle_s` seconds, by their ids.

        Files whose time lies ahead were written by a clock that has been set back since.
        """
        found = []
        for path in sorted(folder.glob(f"*{_SUFFIX}")):
            try:
                if not _SESSION_ID.fullmatch(path.stem):
                    _set_aside(path, "its name is no session's")
                    continue
                age_s = time.time() - path.stat().st_mtime
                if not 0 <= age_s < idle_s:
                    found.append(path.stem)
            except FileNotFoundError:
                # Its session has just ended.
                continue
        return found

    @property
    def session_id(self) -> str:
        """The session this is the sound of."""
        return self._path.stem

    @property
    def folder(self) -> Path:
        """Where it lies."""
        return self._path.parent

    @property
    def sample_rate(self) -> int:
        """Samples a second."""
        rate: int = self.hello["sample_rate"]
        return rate

    def append(self, pcm: bytes) -> None:
        """Writes whole samples at the end. Raises `OSError` (disk full); then nothing is kept."""
        try:
            written = self._file.write(pcm)
            if written != len(pcm):
                raise OSError(28, "No space left on device")
        except OSError:
            self._file.truncate(self._position(self.end_sample))
            self._file.seek(0, os.SEEK_END)
            raise
        self.end_sample += len(pcm) // _BYTES_PER_SAMPLE

    def sync(self) -> int:
        """Makes sure that what was appended is on the disk; returns the end sample."""
        os.fsync(self._file.fileno())
        return self.end_sample

    def read(self, first_frame: int, last_frame: int | None = None) -> bytes:
        """The PCM from one frame's centre up to another's, or to the end."""
        rate = self.sample_rate
        start = max(_sample_of(first_frame, rate), self._first_sample)
        end = self.end_sample if last_frame is None else _sample_of(last_frame, rate)
        with self._path.open("rb") as file:
            file.seek(self._position(start))
            return file.read(max(0, min(end, self.end_sample) - start) * _BYTES_PER_SAMPLE)

    def forget_before(self, frame: int) -> None:
        """Drops sound before a frame, to the whole second, once it is worth rewriting."""
        whole_seconds = int(frame * HOP_S)
        keep_from = round(whole_seconds / HOP_S)
        if keep_from - self.first_frame < 5 / HOP_S:
            return
        header = _header(self.hello, keep_from)
        _write_whole(self._path, header + self.read(keep_from))
        self._file.close()
        self._begin(keep_from, len(header))

    def close(self) -> None:
        """Syncs and lets go of the file, which stays."""
        if not self._file.closed:
            self.sync()
            self._file.close()

    def remove(self) -> None:
        """Lets go of the file and deletes it."""
        self._file.close()
        self._path.unlink(missing_ok=True)

    def set_aside(self, why: str) -> None:
        """Lets go of the file and puts it where nobody takes it up again; nothing is lost."""
        self.close()
        _set_aside(self._path, why)

    def _position(self, sample: int) -> int:
        return self._data_at + (sample - self._first_sample) * _BYTES_PER_SAMPLE


def _path_of(folder: Path, session_id: str) -> Path:
    if not _SESSION_ID.fullmatch(session_id):
        raise ValueError("A session id is 32 hexadecimal digits.")
    return folder / f"{session_id}{_SUFFIX}"


def _set_aside(path: Path, why: str) -> None:
    aside = path.with_suffix(_ASIDE)
    path.replace(aside)
    log.warning("The sound in %s was set aside as %s: %s", path.name, aside, why)


def _sample_of(frame: int, sample_rate: int) -> int:
    return round(frame * sample_rate * HOP_S)


def _frame_from(sample: int, sample_rate: int) -> int:
    """The first frame whose centre is not before a sample."""
    frame = int(sample / (sample_rate * HOP_S))
    while _sample_of(frame, sample_rate) < sample:
        frame += 1
    return frame


def _header(hello: dict[str, Any], first_frame: int) -> bytes:
    return json.dumps({"hello": hello, "first_frame": first_frame}).encode() + b"\n"


def _write_whole(path: Path, content: bytes) -> None:
    """Writes a file so that after a crash it is there whole or not at all."""
    part = path.with_suffix(".part")
    with part.open("wb") as file:
        file.write(content)
        file.flush()
        os.fsync(file.fileno())
    part.replace(path)
