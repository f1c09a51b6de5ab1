"""A report as one zip that opens anywhere: a page, its numbers as JSON and CSV, and the takes in it
as FLAC and MusicXML. `docs/formats.md` says what lies in it.

What comes from elsewhere is read with bounds on how much of it there is, whatever it says of
itself.
"""

import io
import json
import re
import zipfile
import zlib
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import IO, Any

SCHEMA = "orexis.report/1"
PAGE, DOCUMENT = "index.html", "report.json"
LARGEST_BUNDLE_BYTES = 64 * 1024 * 1024
_LARGEST_DOCUMENT_BYTES = 16 * 1024 * 1024
_LARGEST_SOUND_BYTES = 32 * 1024 * 1024
_MOST_SOUNDS = 20
_MOST_FILES = 1000
_LARGEST_LIST_BYTES = 512 * 1024
_SOUND = re.compile(r"takes/([0-9a-f]{1,64})\.flac")
_AT_ONCE = 64 * 1024


class BundleUnreadableError(ValueError):
    """A file that is no report; the message says why and what to do."""


@dataclass(frozen=True, slots=True)
class TakeFiles:
    """What of a take goes along: its sound, and what was heard of it where that can be written."""

    flac: bytes
    musicxml: bytes | None


@dataclass(frozen=True, slots=True)
class Bundle:
    """What a bundle holds: the report's document and the sound of takes by their id."""

    report: dict[str, Any]
    sounds: dict[str, bytes]


def report_document(report: dict[str, Any]) -> dict[str, Any]:
    """A report as it lies in a bundle."""
    return {"schema": SCHEMA, **report}


def write_bundle(
    to: IO[bytes],
    report: dict[str, Any],
    page: str,
    tables: Mapping[str, Iterable[str]],
    takes: Mapping[str, TakeFiles],
) -> None:
    """Writes a bundle: a report's document, the page that shows it, tables by the name of their
    file, and takes by their id."""
    with zipfile.ZipFile(to, "w", zipfile.ZIP_DEFLATED) as file:
        file.writestr(PAGE, page)
        file.writestr(DOCUMENT, json.dumps(report, ensure_ascii=False, indent=1))
        for name, pieces in tables.items():
            with file.open(name, "w") as table:
                for piece in pieces:
                    table.write(piece.encode())
        for take_id, take in takes.items():
            # FLAC is packed already.
            file.writestr(f"takes/{take_id}.flac", take.flac, zipfile.ZIP_STORED)
            if take.musicxml is not None:
                file.writestr(f"takes/{take_id}.musicxml", take.musicxml)


def read_bundle(content: bytes) -> Bundle:
    """Reads a bundle. Raises `BundleUnreadableError`."""
    if _says_of_its_files(content) > _LARGEST_LIST_BYTES:
        raise BundleUnreadableError("There is more in it than a report holds.")
    try:
        with zipfile.ZipFile(io.BytesIO(content)) as file:
            return _read(file)
    except (zipfile.BadZipFile, zlib.error, EOFError, NotImplementedError, RuntimeError) as error:
        raise BundleUnreadableError(
            "This is no zip file that can be read. Ask for the report again, as one zip."
        ) from error


def _says_of_its_files(content: bytes) -> int:
    """How many bytes a zip spends on the list of its files, which is read before anything else can
    be asked of it; as many as there are where it says none. Source: PKWARE, APPNOTE.TXT 4.3.16."""
    at = content.rfind(b"PK\x05\x06")
    size = int.from_bytes(content[at + 12 : at + 16], "little") if at >= 0 else 0
    return len(content) if size == 0xFFFFFFFF else size


def _read(file: zipfile.ZipFile) -> Bundle:
    names = file.namelist()
    if DOCUMENT not in names:
        raise BundleUnreadableError(
            f"There is no {DOCUMENT} in it. Choose the zip that Orexis wrote, as it is."
        )
    if len(names) > _MOST_FILES:
        raise BundleUnreadableError("There is more in it than a report holds.")
    document = _bounded(file, DOCUMENT, _LARGEST_DOCUMENT_BYTES)
    try:
        report = json.loads(document)
    except (ValueError, RecursionError) as error:
        raise BundleUnreadableError(f"Its {DOCUMENT} cannot be read. Ask for it again.") from error
    if not isinstance(report, dict) or report.pop("schema", None) != SCHEMA:
        raise BundleUnreadableError(
            f"It is not of the kind {SCHEMA}. It may come from a later Orexis: bring this one "
            "up to date."
        )
    found = [(one[1], name) for name in names if (one := _SOUND.fullmatch(name))]
    if len(found) > _MOST_SOUNDS:
        raise BundleUnreadableError("There are more takes in it than a report holds.")
    sounds: dict[str, bytes] = {}
    left = LARGEST_BUNDLE_BYTES
    for take_id, name in found:
        sounds[take_id] = _bounded(file, name, min(_LARGEST_SOUND_BYTES, left))
        left -= len(sounds[take_id])
    return Bundle(report, sounds)


def _bounded(file: zipfile.ZipFile, name: str, largest: int) -> bytes:
    """One file of it, however much it says it holds."""
    parts: list[bytes] = []
    size = 0
    with file.open(name) as part:
        while piece := part.read(_AT_ONCE):
            size += len(piece)
            if size > largest:
                raise BundleUnreadableError(f"{name} in it is larger than a report's can be.")
            parts.append(piece)
    return b"".join(parts)
