"""Reports as bundles: written with the page that shows them, and opened again as a guest's."""

import io
import json
from collections.abc import Iterator
from pathlib import Path

from pydantic import ValidationError
from sqlalchemy.orm import Session

from orexis.formats.audio import UnreadableSoundError, written_anew
from orexis.formats.bundle import (
    BundleUnreadableError,
    TakeFiles,
    read_bundle,
    report_document,
    write_bundle,
)
from orexis.formats.plain_svg import NoPlainDrawingError, drawn_anew
from orexis.formats.tables import TABLES, Form, Row, TableName, written
from orexis.practice.carrying import ROWS, NothingHeardError, heard_as_musicxml
from orexis.practice.report import Report
from orexis.server.schemas.report import ReportOut
from orexis.store.kept import sound_of
from orexis.store.models import Take

_LONGEST_TAKE_S = 15 * 60.0
_ALONE = Path(__file__).parent / "site" / "alone"
_PAGE = """<!doctype html>
<html lang="en" data-theme="lamplight" data-mode="light">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<meta http-equiv="Content-Security-Policy" content="connect-src 'none'; base-uri 'none'">
<title>{title}</title>
<style>{style}</style>
</head>
<body>
<div id="app"></div>
<script type="application/json" id="report">{report}</script>
<script>{script}</script>
</body>
</html>
"""


class NotBuiltError(Exception):
    """The page of a report is not there; the message says what to do."""


def bundle_of(session: Session, report: Report) -> bytes:
    """A report as one zip. Notes a player wrote to themselves stay with them. Raises
    `NotBuiltError` where the front end is not built."""
    document = report_document(ReportOut.of(report).model_dump(mode="json"))
    written_to = io.BytesIO()
    write_bundle(
        written_to,
        document,
        _page(document),
        {
            f"{name}.csv": written(
                TABLES[name], Form.CSV, report.player.name, _rows(session, report, name)
            )
            for name in TableName
        },
        {page.judged.told.take.id: _files(session, page.judged.told.take) for page in report.takes},
    )
    return written_to.getvalue()


def _rows(session: Session, report: Report, name: TableName) -> Iterator[Row]:
    for row in ROWS[name](session, report.player, report.first, report.last):
        yield {**row, "notes_to_self": ""} if name is TableName.DAYS else row


def _files(session: Session, take: Take) -> TakeFiles:
    try:
        heard = heard_as_musicxml(session, take)
    except NothingHeardError:
        heard = None
    return TakeFiles(sound_of(session, take) or b"", heard)


def _page(document: dict[str, object]) -> str:
    """The page that shows a report by itself, all it needs within it."""
    try:
        script, style = (
            (_ALONE / name).read_text(encoding="utf-8") for name in ("alone.js", "alone.css")
        )
    except OSError as error:
        raise NotBuiltError(
            "The page of a report is not built yet. Run make demo once, then try again."
        ) from error
    # Nothing in any of them may end the element it stands in.
    return _PAGE.format(
        title="Practice report",
        style=style.replace("</style", "<\\/style"),
        report=json.dumps(document, ensure_ascii=False).replace("<", "\\u003c"),
        script=script.replace("</script", "<\\/script"),
    )


def opened(content: bytes) -> tuple[ReportOut, dict[str, bytes]]:
    """A bundle's report and the sounds of the takes in it, all of it looked through. Raises
    `BundleUnreadableError`."""
    bundle = read_bundle(content)
    try:
        report = ReportOut.model_validate(bundle.report)
    except (ValidationError, RecursionError) as error:
        raise BundleUnreadableError(
            "Its report does not say what a report says. Ask for it again."
        ) from error
    sounds: dict[str, bytes] = {}
    for take in report.takes:
        try:
            take.sheet.svg = drawn_anew(take.sheet.svg)
            if take.id in bundle.sounds:
                sounds[take.id] = written_anew(bundle.sounds[take.id], _LONGEST_TAKE_S)
        except NoPlainDrawingError as error:
            raise BundleUnreadableError(f"Its music cannot be shown: {error}") from error
        except UnreadableSoundError as error:
            raise BundleUnreadableError(f"A take in it cannot be played: {error}.") from error
    return report, sounds
