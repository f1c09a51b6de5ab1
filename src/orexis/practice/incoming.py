"""What comes in from files of other programs, row by row, with the reason for every row that is
refused. Who only wants to see it undoes the unit of work."""

import time
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from enum import StrEnum
from typing import cast

from sqlalchemy.orm import Session

from orexis.core.coach.known import Event, EventKind
from orexis.core.exercises.book import FAMILIES, find_family, task_of
from orexis.core.exercises.family import ExerciseRefusedError
from orexis.core.exercises.task import Task
from orexis.core.exercises.writer import Writer
from orexis.core.progress.typed import TypedRefusedError, typed
from orexis.core.times import LATEST
from orexis.formats.ical import FoundDate, read_dates
from orexis.formats.own import NamedExercise, own_document, read_own
from orexis.formats.practice_log import LogRow, read_log
from orexis.practice.coaching import keep_date
from orexis.store.coaching import LONGEST_EVENT, events_of
from orexis.store.models import Player
from orexis.store.own_exercises import OwnExerciseRefusedError, keep_own, own_exercises
from orexis.store.typed import add_typed, typed_of, typed_rows

_HERE = "It is here already."
_CHECKED_WITHIN_S = 15.0


class IncomingKind(StrEnum):
    """The kinds of content that a file can bring in."""

    LOG = "log"
    CONCERTS = "concerts"
    REHEARSALS = "rehearsals"
    OWN = "own"


@dataclass(frozen=True, slots=True)
class Incoming:
    """A row of a file: where in it, what it says, and why it was refused ("" where it was not)."""

    place: str
    said: str
    refused: str = ""


@dataclass(frozen=True, slots=True)
class CheckedExercise:
    """An exercise from a file, what it is on a horn, and why it cannot be ("" where it can)."""

    named: NamedExercise
    task: Task | None
    refused: str


Content = Sequence[LogRow] | Sequence[FoundDate] | Sequence[NamedExercise]
"""What a file of any kind was read as."""


def read_incoming(what: IncomingKind, content: bytes) -> Content:
    """The rows of a file. Raises `ValueError` with what to do for one that cannot be read."""
    match what:
        case IncomingKind.LOG:
            return read_log(content)
        case IncomingKind.OWN:
            return read_own(content)
        case _:
            return read_dates(content)


def checked(writer: Writer, found: Sequence[NamedExercise]) -> list[CheckedExercise]:
    """Exercises from a file as they are on a horn, each with why it cannot be. That takes a while
    for each, so it is done before anything is kept, and within a stated time."""
    until = time.monotonic() + _CHECKED_WITHIN_S
    return [_checked(writer, exercise, until) for exercise in found]


def _checked(writer: Writer, exercise: NamedExercise, until: float) -> CheckedExercise:
    if time.monotonic() > until:
        return CheckedExercise(
            exercise, None, "There was no time left to look at it. Bring in fewer."
        )
    if exercise.family not in FAMILIES:
        return CheckedExercise(exercise, None, f"There is no exercise {exercise.family[:40]} here.")
    try:
        return CheckedExercise(
            exercise, task_of(find_family(exercise.family), writer, exercise.values), ""
        )
    except ExerciseRefusedError as error:
        return CheckedExercise(exercise, None, str(error))


def take_in(
    session: Session,
    player: Player,
    what: IncomingKind,
    content: Content | Sequence[CheckedExercise],
    today: date,
) -> list[Incoming]:
    """Keeps what a file was read as, but for the rows that are refused; exercises have been
    `checked`."""
    match what:
        case IncomingKind.LOG:
            return _log(session, player, cast(Sequence[LogRow], content), today)
        case IncomingKind.OWN:
            return _own(session, player, cast(Sequence[CheckedExercise], content))
        case _:
            kind = EventKind.CONCERT if what is IncomingKind.CONCERTS else EventKind.REHEARSAL
            return _dates(session, player, kind, cast(Sequence[FoundDate], content), today)


def _log(
    session: Session, player: Player, content: Sequence[LogRow], today: date
) -> list[Incoming]:
    known = {typed_of(row) for row in typed_rows(session, player, date.min, date.max)}
    rows, kept = [], []
    for row in content:
        refused = ""
        try:
            entry = typed(row.date, row.minutes, row.words, today)
        except TypedRefusedError as error:
            refused = str(error)
        else:
            if entry in known:
                refused = _HERE
            else:
                known.add(entry)
                kept.append(entry)
        said = ", ".join(part for part in (row.date, row.minutes, row.words) if part.strip())
        rows.append(Incoming(f"line {row.line}", said, refused))
    add_typed(session, player, kept)
    return rows


def _dates(
    session: Session,
    player: Player,
    kind: EventKind,
    content: Sequence[FoundDate],
    today: date,
) -> list[Incoming]:
    known = {(row.day, row.words) for row in events_of(session, player.id, today)}
    rows = []
    for number, found in enumerate(content, start=1):
        words = found.title[:LONGEST_EVENT]
        refused = ""
        if found.on is None:
            refused = "Its day cannot be read."
        elif found.on < today:
            refused = "It is over."
        elif found.on >= LATEST.date():
            refused = "It is not of this century."
        elif (found.on, words) in known:
            refused = _HERE
        else:
            known.add((found.on, words))
            keep_date(session, player, Event(found.on, kind, words), today)
        said = f"{found.on or 'no day'}, {found.title[:_LONGEST_SAID] or 'no words'}"
        rows.append(Incoming(f"event {number}", said, refused))
    return rows


_LONGEST_SAID = 200


def _own(session: Session, player: Player, content: Sequence[CheckedExercise]) -> list[Incoming]:
    rows = []
    for number, exercise in enumerate(content, start=1):
        refused, named = exercise.refused, exercise.named
        if exercise.task is not None:
            try:
                keep_own(session, player.id, named.name, exercise.task)
            except OwnExerciseRefusedError as error:
                refused = str(error)
        said = f"{named.name[:_LONGEST_SAID]} ({named.family[:40]})"
        rows.append(Incoming(f"exercise {number}", said, refused))
    return rows


def own_to_carry(session: Session, player: Player) -> dict[str, object]:
    """A player's own exercises as a document that comes in again."""
    return own_document(
        player.name,
        (
            NamedExercise(
                exercise.name,
                exercise.family_key,
                {key: _written(value) for key, value in exercise.parameters.items()},
            )
            for exercise in own_exercises(session, player.id)
        ),
    )


def _written(value: object) -> str:
    return f"{value:g}" if isinstance(value, int | float) else str(value)
