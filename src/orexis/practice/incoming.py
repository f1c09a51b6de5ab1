"""What comes in from files of other programs, row by row, with the reason for every row that is
refused. Who only wants to see it undoes the unit of work."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from datetime import date
from enum import StrEnum

from sqlalchemy.orm import Session

from orexis.core.coach.known import Event, EventKind
from orexis.core.exercises.book import FAMILIES
from orexis.core.exercises.family import ExerciseRefusedError
from orexis.core.progress.typed import TypedRefusedError, typed
from orexis.core.times import LATEST
from orexis.formats.ical import read_dates
from orexis.formats.own import NamedExercise, own_document, read_own
from orexis.formats.practice_log import read_log
from orexis.practice.coaching import keep_date
from orexis.practice.own import keep_exercise
from orexis.store.coaching import LONGEST_EVENT, events_of
from orexis.store.models import Player
from orexis.store.own_exercises import OwnExerciseRefusedError, own_exercises
from orexis.store.typed import add_typed, typed_of, typed_rows

_HERE = "It is here already."


class What(StrEnum):
    """What a file that comes in holds."""

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


def take_in(
    session: Session, player: Player, what: What, content: bytes, today: date
) -> list[Incoming]:
    """Keeps what a file says, but for the rows that are refused. Raises `ValueError` with what to
    do for a file that cannot be read."""
    return _TAKES[what](session, player, content, today)


def _log(session: Session, player: Player, content: bytes, today: date) -> list[Incoming]:
    known = {typed_of(row) for row in typed_rows(session, player, date.min, date.max)}
    rows, kept = [], []
    for row in read_log(content):
        refused = ""
        try:
            one = typed(row.date, row.minutes, row.words, today)
        except TypedRefusedError as error:
            refused = str(error)
        else:
            if one in known:
                refused = _HERE
            else:
                known.add(one)
                kept.append(one)
        said = ", ".join(part for part in (row.date, row.minutes, row.words) if part.strip())
        rows.append(Incoming(f"line {row.line}", said, refused))
    add_typed(session, player, kept)
    return rows


def _dates(kind: EventKind) -> Callable[[Session, Player, bytes, date], list[Incoming]]:
    def take(session: Session, player: Player, content: bytes, today: date) -> list[Incoming]:
        known = {(row.day, row.words) for row in events_of(session, player.id, today)}
        rows = []
        for number, found in enumerate(read_dates(content), start=1):
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

    return take


_LONGEST_SAID = 200


def _own(session: Session, player: Player, content: bytes, _today: date) -> list[Incoming]:
    rows = []
    for number, one in enumerate(read_own(content), start=1):
        refused = ""
        try:
            if one.family not in FAMILIES:
                raise ExerciseRefusedError(f"There is no exercise {one.family[:40]} here.")
            keep_exercise(session, player, one.name, one.family, one.values)
        except (ExerciseRefusedError, OwnExerciseRefusedError) as error:
            refused = str(error)
        said = f"{one.name[:_LONGEST_SAID]} ({one.family[:40]})"
        rows.append(Incoming(f"exercise {number}", said, refused))
    return rows


_TAKES: Mapping[What, Callable[[Session, Player, bytes, date], list[Incoming]]] = {
    What.LOG: _log,
    What.CONCERTS: _dates(EventKind.CONCERT),
    What.REHEARSALS: _dates(EventKind.REHEARSAL),
    What.OWN: _own,
}


def own_to_carry(session: Session, player: Player) -> dict[str, object]:
    """A player's own exercises as a document that comes in again."""
    return own_document(
        player.name,
        (
            NamedExercise(
                one.name,
                one.family_key,
                {key: _written(value) for key, value in one.parameters.items()},
            )
            for one in own_exercises(session, player.id)
        ),
    )


def _written(value: object) -> str:
    return f"{value:g}" if isinstance(value, int | float) else str(value)
