"""How far a player comes, week by week, at both ends: reached, held, secure.

Reached: spoke for 0.3 s in that week; held: passed and held for 2 s in it; secure: so at its end
(`coach.standing`). Pedals and double pedals are told apart from the range above them, which
they do not make wider.
"""

from collections import defaultdict
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date, timedelta
from enum import StrEnum
from statistics import median

from orexis.core.coach.standing import NoteOutcome, Standing, is_held
from orexis.core.horn.instruments import Instrument
from orexis.core.listening.habits import TOUCHED_S
from orexis.core.progress.course import StandingReached, standing_on
from orexis.core.progress.weeks import monday_of, week_of

_TO_SUNDAY = timedelta(days=6)
_FEW_WEEKS = 3
LEAST_WEEKS = 2 * _FEW_WEEKS
"""Three played weeks at either end of a time are held against each other."""


class Part(StrEnum):
    """Where in the range of a horn a note lies."""

    RANGE = "range"
    PEDAL = "pedals"
    DOUBLE_PEDAL = "double pedals"


def part_of(midi: int, instrument: Instrument) -> Part:
    """Where a note lies: double pedals are those below all that the horn has slots for."""
    if midi < instrument.lowest_midi:
        return Part.DOUBLE_PEDAL
    return Part.PEDAL if midi <= instrument.fundamental_midi else Part.RANGE


@dataclass(frozen=True, slots=True)
class Ends:
    """The farthest notes towards one end, `None` where there were none."""

    reached: int | None = None
    held: int | None = None
    secure: int | None = None


@dataclass(frozen=True, slots=True)
class Span:
    """How far one part of a range goes, at its bottom and at its top."""

    bottom: Ends
    top: Ends


@dataclass(frozen=True, slots=True)
class Row:
    """A week from its Monday on, or as many as `weeks` says taken together: whether anything was
    played, and how far each part went that was."""

    monday: date
    played: bool
    parts: Mapping[Part, Span] = field(default_factory=dict)
    weeks: int = 1


def weeks_of(
    heard: Mapping[int, Sequence[NoteOutcome]],
    courses: Mapping[int, Sequence[StandingReached]],
    part: Callable[[int], Part],
    today: date,
) -> list[Row]:
    """Every week from the first that was played in up to today's; one without practice has no
    parts. `courses` are those of the same notes."""
    played: set[int] = set()
    reached: dict[int, set[int]] = defaultdict(set)
    held: dict[int, set[int]] = defaultdict(set)
    for midi, times in heard.items():
        for note in times:
            week = week_of(note.day)
            played.add(week)
            if note.sounded_s >= TOUCHED_S:
                reached[week].add(midi)
                if is_held(note):
                    held[week].add(midi)
    if not played:
        return []
    rows: list[Row] = []
    for week in range(min(played), week_of(today) + 1):
        parts: dict[Part, Span] = {}
        monday = monday_of(week)
        end = min(monday + _TO_SUNDAY, today)
        secure = {
            m for m, sequence in courses.items() if standing_on(sequence, end) is Standing.SECURE
        }
        for one_part in Part if week in played else ():
            own = [
                [midi for midi in notes if part(midi) is one_part]
                for notes in (reached[week], held[week], secure)
            ]
            if any(own):
                bottom, top = (
                    Ends(*(farthest(notes, default=None) for notes in own))
                    for farthest in (min, max)
                )
                parts[one_part] = Span(bottom, top)
        rows.append(Row(monday, week in played, parts))
    return rows


def taken_together(rows: Sequence[Row], most: int) -> list[Row]:
    """At most so many rows of all of some weeks: one, two, four … weeks a row, the last of them
    whole. Reached and held are the farthest of its weeks, secure is what its last week played
    says."""
    size = 1
    while len(rows) > most * size:
        size *= 2
    first = len(rows) % size
    parts = [rows[:first], *(rows[at : at + size] for at in range(first, len(rows), size))]
    return [_together(part) for part in parts if part]


def _together(rows: Sequence[Row]) -> Row:
    parts: dict[Part, Span] = {}
    for row in rows:
        for part, span in row.parts.items():
            known = parts.get(part)
            parts[part] = span if known is None else _wider(known, span)
    return Row(rows[0].monday, any(row.played for row in rows), parts, len(rows))


def _wider(earlier: Span, later: Span) -> Span:
    bottom, top = (
        Ends(
            _farthest(farthest, ends.reached, other.reached),
            _farthest(farthest, ends.held, other.held),
            other.secure,
        )
        for farthest, ends, other in (
            (min, earlier.bottom, later.bottom),
            (max, earlier.top, later.top),
        )
    )
    return Span(bottom, top)


def _farthest(
    farthest: Callable[[list[int]], int], one: int | None, other: int | None
) -> int | None:
    known = [midi for midi in (one, other) if midi is not None]
    return farthest(known) if known else None


@dataclass(frozen=True, slots=True)
class Change:
    """How many half steps farther out the notes held at either end lie now than at first: medians
    over a few played weeks. `since` is the first of them."""

    bottom: int
    top: int
    since: date

    @property
    def wider(self) -> int:
        """By how many half steps the whole range is wider."""
        return self.bottom + self.top


def change_of(rows: Sequence[Row]) -> Change | None:
    """How the range above the pedals has changed; `None` where there are too few weeks to tell."""
    held = [
        (row.monday, span.bottom.held, span.top.held)
        for row in rows
        if (span := row.parts.get(Part.RANGE)) is not None
    ]
    known = [(day, low, high) for day, low, high in held if low is not None and high is not None]
    if len(known) < LEAST_WEEKS:
        return None
    first, last = known[:_FEW_WEEKS], known[-_FEW_WEEKS:]
    low, low_at_first = (median(low for _, low, _ in part) for part in (last, first))
    high, high_at_first = (median(high for _, _, high in part) for part in (last, first))
    return Change(round(low_at_first - low), round(high - high_at_first), first[0][0])
