"""How far a player comes on a horn, put together: every half step, the weeks, and the answer."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date

from orexis.core.coach.standing import NoteOutcome, Standing
from orexis.core.horn.instruments import Instrument
from orexis.core.progress.course import StandingReached, course_of
from orexis.core.progress.reach import (
    Part,
    Row,
    change_of,
    part_of,
    taken_together,
    weeks_of,
)
from orexis.core.progress.weeks import week_of
from orexis.core.progress.words import Answer, Name, range_answer

_MOST_ROWS = 12
"""So many rows can be read at a glance."""


@dataclass(frozen=True, slots=True)
class RangeNote:
    """A half step of a horn: where it lies, how it stands and how it came to that."""

    midi: int
    part: Part
    course: tuple[StandingReached, ...]

    @property
    def standing(self) -> Standing:
        """How the note stands now."""
        return self.course[-1].standing if self.course else Standing.NEW


@dataclass(frozen=True, slots=True)
class RangeHistory:
    """How far a player comes on something, by rows of weeks, and what that says."""

    answer: Answer
    rows: tuple[Row, ...]


@dataclass(frozen=True, slots=True)
class PlayerRange:
    """How far a player comes on their horn, highest note first, and on the mouthpiece alone."""

    notes: tuple[RangeNote, ...]
    horn: RangeHistory
    buzz: RangeHistory


def player_range(
    horn: Instrument,
    heard: Mapping[int, Sequence[NoteOutcome]],
    buzzed: Mapping[int, Sequence[NoteOutcome]],
    name: Name,
    today: date,
    since: date = date.min,
) -> PlayerRange:
    """How far a player comes, from every time each note was asked of the horn (`heard`) and of the
    mouthpiece (`buzzed`), in order; `name` is what they call a note. Weeks are told from that of
    `since` on."""
    courses = _courses(heard, today)
    everything = (horn.lowest_midi, horn.highest_midi, *heard, *buzzed)

    def part(midi: int) -> Part:
        return part_of(midi, horn)

    return PlayerRange(
        tuple(
            RangeNote(midi, part(midi), courses.get(midi, ()))
            for midi in range(max(everything), min(everything) - 1, -1)
        ),
        _told(heard, courses, part, name, today, since),
        # Without a horn there are no pedals.
        _told(buzzed, _courses(buzzed, today), lambda midi: Part.RANGE, name, today, since),
    )


def _courses(
    heard: Mapping[int, Sequence[NoteOutcome]], today: date
) -> dict[int, tuple[StandingReached, ...]]:
    return {midi: course_of(times, today) for midi, times in heard.items()}


def _told(
    heard: Mapping[int, Sequence[NoteOutcome]],
    courses: Mapping[int, tuple[StandingReached, ...]],
    part: Callable[[int], Part],
    name: Name,
    today: date,
    since: date,
) -> RangeHistory:
    weeks = [
        row
        for row in weeks_of(heard, courses, part, today)
        if week_of(row.monday) >= week_of(since)
    ]
    standings = {
        midi: course[-1].standing for midi, course in courses.items() if part(midi) is Part.RANGE
    }
    answer = range_answer(standings, change_of(weeks), name, today)
    return RangeHistory(answer, tuple(taken_together(weeks, _MOST_ROWS)))
