"""Takes, notes and days as tables: CSV for a spreadsheet, JSON for a program.

`docs/formats.md` says what stands in each column. Both are written row by row, however many there
are.
"""

import csv
import io
import json
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass
from datetime import date, datetime
from enum import StrEnum
from typing import Any

Row = Mapping[str, Any]
_FORMULA = ("=", "+", "-", "@", "\t", "\r")
_ROWS_AT_ONCE = 500


class Form(StrEnum):
    """How a table is written."""

    CSV = "csv"
    JSON = "json"


class TableName(StrEnum):
    """The tables there are."""

    TAKES = "takes"
    NOTES = "notes"
    DAYS = "days"
    LOG = "log"


@dataclass(frozen=True, slots=True)
class Table:
    """A table: its name, its columns, and which version of them these are."""

    name: TableName
    columns: tuple[str, ...]
    version: int = 1

    @property
    def schema(self) -> str:
        """What its JSON names as its schema."""
        return f"orexis.{self.name}/{self.version}"


TAKES = Table(
    TableName.TAKES,
    (
        *("id", "started_at", "session_id", "session", "place", "source", "instrument"),
        *("exercise", "standard", "passed", "judged_passed", "overruled", "failed", "rating"),
        *("duration_s", "sounded_s", "a4_hz", "has_sound"),
    ),
    version=2,
)
NOTES = Table(
    TableName.NOTES,
    (
        *("take_id", "number", "on", "asked_midi", "length", "partial", "spoke", "played_midi"),
        *("start_s", "end_s", "target_cents", "centre_cents", "spread_cents", "level_db"),
        *("hold_s", "rise_s", "harmonicity_db", "brightness", "cracked_from_midi"),
    ),
)
DAYS = Table(
    TableName.DAYS,
    (
        *("date", "sessions", "attempts", "passed", "sounded_s", "free_s"),
        *("lowest_midi", "highest_midi"),
        *("hurt", "notes_to_self"),
    ),
    version=2,
)
LOG = Table(TableName.LOG, ("date", "minutes", "words"))
TABLES = {table.name: table for table in (TAKES, NOTES, DAYS, LOG)}


def written(table: Table, form: Form, player: str, rows: Iterable[Row]) -> Iterator[str]:
    """A table as text, piece by piece; `player` is whose it is."""
    return _csv(table, rows) if form is Form.CSV else _json(table, player, rows)


def _csv(table: Table, rows: Iterable[Row]) -> Iterator[str]:
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(table.columns)
    for number, row in enumerate(rows, start=1):
        writer.writerow([_cell(row[name]) for name in table.columns])
        if number % _ROWS_AT_ONCE == 0:
            yield out.getvalue()
            out.seek(0)
            out.truncate()
    yield out.getvalue()


def _cell(value: object) -> object:
    match value:
        case None:
            return ""
        case bool():
            return "yes" if value else "no"
        case datetime() | date():
            return value.isoformat()
        case str() if value.startswith(_FORMULA):
            # A spreadsheet would take it for a formula.
            return f"'{value}"
        case _:
            return value


def _json(table: Table, player: str, rows: Iterable[Row]) -> Iterator[str]:
    head = json.dumps({"schema": table.schema, "player": player}, ensure_ascii=False)
    yield f'{head[:-1]}, "{table.name}": ['
    between = "\n"
    for row in rows:
        known = {name: row[name] for name in table.columns}
        yield between + json.dumps(known, ensure_ascii=False, default=_iso)
        between = ",\n"
    yield "\n]}\n"


def _iso(value: date) -> str:
    return value.isoformat()
