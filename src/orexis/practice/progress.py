"""What changed: how far a player comes, and what became of one note."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date

from sqlalchemy.orm import Session

from orexis.core.coach.standing import Heard, Standing
from orexis.core.progress.changes import Changed
from orexis.core.progress.course import Came, course_of
from orexis.core.progress.days import answers
from orexis.core.progress.one_note import Day, WorthHearing
from orexis.core.progress.reach import (
    Part,
    Row,
    change_of,
    part_of,
    taken_together,
    weeks_of,
)
from orexis.core.progress.words import Answer, range_answer
from orexis.core.score.steps import On
from orexis.store.coaching import past_events
from orexis.store.history import hurts_of
from orexis.store.models import Player
from orexis.store.players import instrument_of, notation_of
from orexis.store.progress import (
    asked_of,
    measured_days,
    note_days,
    while_as_it_is,
    worth_hearing,
)

MOST_ROWS = 12
"""So many rows can be read at a glance."""


@dataclass(frozen=True, slots=True)
class RangeNote:
    """A half step of a horn: where it lies, how it stands and how it came to that."""

    midi: int
    part: Part
    course: tuple[Came, ...]

    @property
    def standing(self) -> Standing:
        """How it stands now."""
        return self.course[-1].standing if self.course else Standing.NEW


@dataclass(frozen=True, slots=True)
class Told:
    """How far a player comes on something, by rows of weeks, and what that says."""

    answer: Answer
    rows: tuple[Row, ...]


@dataclass(frozen=True, slots=True)
class PlayerRange:
    """How far a player comes on their horn, highest note first, and on the mouthpiece alone."""

    notes: tuple[RangeNote, ...]
    horn: Told
    buzz: Told


@dataclass(frozen=True, slots=True)
class NotePage:
    """One note: how it came to where it stands, its days, and what to hear of it."""

    note: RangeNote
    days: tuple[Day, ...]
    hear: WorthHearing


def range_of(session: Session, player: Player, today: date) -> PlayerRange:
    """How far a player comes, from all they played on the horn they play now."""
    name = notation_of(player).name
    return while_as_it_is(
        session,
        player,
        f"range by {player.view} {player.clef}",
        today,
        lambda: _range_of(session, player, name, today),
    )


def _range_of(
    session: Session, player: Player, name: Callable[[int], str], today: date
) -> PlayerRange:
    asked = asked_of(session, player, today)
    horn = instrument_of(player)

    def courses_of(heard: Mapping[int, Sequence[Heard]]) -> dict[int, tuple[Came, ...]]:
        return {midi: course_of(times, today) for midi, times in heard.items()}

    def told(
        heard: Mapping[int, Sequence[Heard]],
        courses: Mapping[int, tuple[Came, ...]],
        part: Callable[[int], Part],
    ) -> Told:
        weeks = weeks_of(heard, courses, part, today)
        standings = {
            midi: course[-1].standing
            for midi, course in courses.items()
            if part(midi) is Part.RANGE
        }
        answer = range_answer(standings, change_of(weeks), name, today)
        return Told(answer, tuple(taken_together(weeks, MOST_ROWS)))

    heard, buzzed = asked[On.HORN], asked[On.MOUTHPIECE]
    courses = courses_of(heard)
    everything = (horn.lowest_midi, horn.highest_midi, *heard, *buzzed)
    return PlayerRange(
        tuple(
            RangeNote(midi, part_of(midi, horn), courses.get(midi, ()))
            for midi in range(max(everything), min(everything) - 1, -1)
        ),
        told(heard, courses, lambda midi: part_of(midi, horn)),
        told(buzzed, courses_of(buzzed), lambda midi: Part.RANGE),
    )


def note_page(session: Session, player: Player, midi: int, today: date) -> NotePage:
    """What became of a note on the horn."""
    heard = asked_of(session, player, today)[On.HORN].get(midi, [])
    return NotePage(
        RangeNote(midi, part_of(midi, instrument_of(player)), course_of(heard, today)),
        tuple(note_days(session, player, midi, On.HORN, today)),
        worth_hearing(session, player, midi, On.HORN, today),
    )


@dataclass(frozen=True, slots=True)
class Mark:
    """What happened on a day that a curve may show."""

    on: date
    words: str


@dataclass(frozen=True, slots=True)
class Changes:
    """Every question with its answer, and what happened meanwhile."""

    answers: tuple[Changed, ...]
    marks: tuple[Mark, ...]


def changes_of(session: Session, player: Player, today: date) -> Changes:
    """What changed, from all a player played on the horn they play now."""
    found = while_as_it_is(
        session, player, "answers", today, lambda: answers(*measured_days(session, player, today))
    )
    concerts = [
        Mark(one.day, one.words or one.kind.value) for one in past_events(session, player.id, today)
    ]
    hurts = [Mark(one.day, "something hurt") for one in hurts_of(session, player)]
    marks = sorted([*concerts, *hurts], key=lambda one: one.on)
    return Changes(tuple(found), tuple(marks))
