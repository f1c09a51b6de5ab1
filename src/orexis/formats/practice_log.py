"""A practice log typed elsewhere, as CSV: a row a day or a session, with `date`, `minutes` and
`words`. `docs/formats.md` says what is read."""

import csv
import io
from collections.abc import Mapping
from dataclasses import dataclass

_COLUMNS: Mapping[str, tuple[str, ...]] = {
    "date": ("date", "day"),
    "minutes": ("minutes", "min", "duration", "time"),
    "words": ("words", "what", "notes", "note", "comment"),
}
_NEEDED = ("date", "minutes")
_DELIMITERS = ",;\t"
MOST_ROWS = 5000
LONGEST_CELL = 2000


class LogUnreadableError(ValueError):
    """A file that is no practice log; the message says why and what to do."""


@dataclass(frozen=True, slots=True)
class LogRow:
    """A row of a practice log as it was typed, with its line number."""

    line: int
    date: str
    minutes: str
    words: str


def read_log(content: bytes) -> list[LogRow]:
    """The rows of a log with anything in them. Raises `LogUnreadableError`."""
    text = _text(content)
    head = text.split("\n", 1)[0]
    delimiter = max(_DELIMITERS, key=head.count)
    reader = csv.reader(io.StringIO(text, newline=""), delimiter=delimiter, strict=True)
    try:
        names = [name.strip().casefold() for name in next(reader, [])]
        places = {
            column: next((names.index(one) for one in said if one in names), None)
            for column, said in _COLUMNS.items()
        }
        missing = [column for column in _NEEDED if places[column] is None]
        if missing:
            raise LogUnreadableError(
                f"The first line has to name its columns; there is no {' and no '.join(missing)}. "
                "Begin it with: date,minutes,words"
            )
        rows: list[LogRow] = []
        for cells in reader:
            if not any(cell.strip() for cell in cells):
                continue
            if len(rows) == MOST_ROWS:
                raise LogUnreadableError(f"A log has up to {MOST_ROWS} rows. Split it.")
            said = {
                column: "" if at is None or at >= len(cells) else cells[at][:LONGEST_CELL]
                for column, at in places.items()
            }
            rows.append(LogRow(reader.line_num, **said))
    except csv.Error as error:
        raise LogUnreadableError(
            f"Line {reader.line_num} cannot be read as CSV ({error}). Save it as CSV again."
        ) from error
    return rows


def _text(content: bytes) -> str:
    if b"\0" in content:
        raise LogUnreadableError("This is no text. Save the log as CSV (UTF-8), then choose that.")
    try:
        text = content.decode("utf-8-sig")
    except UnicodeDecodeError:
        # What spreadsheets of another age write.
        text = content.decode("cp1252", errors="replace")
    return text.replace("\r\n", "\n").replace("\r", "\n")
