"""A report as one zip that opens anywhere: a page, its numbers as JSON and CSV, and the takes in it
as FLAC and MusicXML. `docs/formats.md` says what lies in it.

What comes from elsewhere is read with bounds on how much of it there is, whatever it says of
itself.
"""

import json
import re
import zipfile
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import IO, Any

from orexis.formats.strict_json import JsonUnreadableError, read_json
from orexis.formats.zips import ZipRefusedError, opened_zip, read_file

SCHEMA, _BEFORE = "orexis.report/2", "orexis.report/1"
PAGE, DOCUMENT = "index.html", "report.json"
LARGEST_BUNDLE_BYTES = 64 * 1024 * 1024
_LARGEST_DOCUMENT_BYTES = 16 * 1024 * 1024
_LARGEST_SOUND_BYTES = 32 * 1024 * 1024
_MOST_SOUNDS = 20
_MOST_FILES = 1000
_LARGEST_LIST_BYTES = 512 * 1024
_SOUND = re.compile(r"takes/([0-9a-f]{1,64})\.flac")


class BundleUnreadableError(ValueError):
    """A file that is no report; the message says why and what to do."""


@dataclass(frozen=True, slots=True)
class TakeFiles:
    """The files of a take in a bundle: its sound, and what was heard of it where that can be
    written."""

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
    try:
        with opened_zip(content, _MOST_FILES, _LARGEST_LIST_BYTES) as file:
            return _read(file)
    except ZipRefusedError as error:
        raise BundleUnreadableError(f"{error} Ask for the report again, as one zip.") from error


def _read(file: zipfile.ZipFile) -> Bundle:
    names = file.namelist()
    if DOCUMENT not in names:
        raise BundleUnreadableError(
            f"There is no {DOCUMENT} in it. Choose the zip that Orexis wrote, as it is."
        )
    document = read_file(file, DOCUMENT, _LARGEST_DOCUMENT_BYTES)
    try:
        report = read_json(document)
    except JsonUnreadableError as error:
        raise BundleUnreadableError(f"Its {DOCUMENT} cannot be read. Ask for it again.") from error
    if not isinstance(report, dict) or report.pop("schema", None) not in (SCHEMA, _BEFORE):
        raise BundleUnreadableError(
            f"It is not of the kind {SCHEMA}. It may come from a later Orexis: bring this one "
            "up to date."
        )
    found = [(match[1], name) for name in names if (match := _SOUND.fullmatch(name))]
    if len(found) > _MOST_SOUNDS:
        raise BundleUnreadableError("There are more takes in it than a report holds.")
    sounds: dict[str, bytes] = {}
    left = LARGEST_BUNDLE_BYTES
    for take_id, name in found:
        sounds[take_id] = read_file(file, name, min(_LARGEST_SOUND_BYTES, left))
        left -= len(sounds[take_id])
    return Bundle(report, sounds)
