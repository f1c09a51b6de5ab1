"""What changed: how far a player comes, what became of one note, and of what they ask."""

from dataclasses import dataclass
from datetime import date

from sqlalchemy.orm import Session

from orexis.core.progress.changes import Changed
from orexis.core.progress.course import course_of
from orexis.core.progress.days import answers
from orexis.core.progress.one_note import Day, WorthHearing
from orexis.core.progress.ranges import PlayerRange, RangeNote, player_range
from orexis.core.progress.reach import part_of
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


@dataclass(frozen=True, slots=True)
class NotePage:
    """One note: how it came to where it stands, its days, and what to hear of it."""

    note: RangeNote
    days: tuple[Day, ...]
    hear: WorthHearing


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


def range_of(session: Session, player: Player, today: date) -> PlayerRange:
    """How far a player comes, from all they played on the horn they play now."""

    def make() -> PlayerRange:
        asked = asked_of(session, player, today)
        horn, name = instrument_of(player), notation_of(player).name
        return player_range(horn, asked[On.HORN], asked[On.MOUTHPIECE], name, today)

    read_as = f"range by {player.view} {player.clef}"
    return while_as_it_is(session, player, read_as, today, make)


def note_page(session: Session, player: Player, midi: int, today: date) -> NotePage:
    """What became of a note on the horn."""
    heard = asked_of(session, player, today)[On.HORN].get(midi, [])
    return NotePage(
        RangeNote(midi, part_of(midi, instrument_of(player)), course_of(heard, today)),
        tuple(note_days(session, player, midi, On.HORN, today)),
        worth_hearing(session, player, midi, On.HORN, today),
    )


def range_over(
    session: Session, player: Player, first: date, last: date, today: date
) -> PlayerRange:
    """How far a player came over some weeks, as it stood on the last of their days."""
    asked = {
        on: {
            midi: [one for one in times if one.day <= last]
            for midi, times in notes.items()
            if times[0].day <= last
        }
        for on, notes in asked_of(session, player, today).items()
    }
    horn, name = instrument_of(player), notation_of(player).name
    return player_range(horn, asked[On.HORN], asked[On.MOUTHPIECE], name, last, first)


def changes_over(session: Session, player: Player, first: date, last: date, today: date) -> Changes:
    """What changed over some weeks."""
    notes, exercises = measured_days(session, player, today)
    return Changes(
        tuple(
            answers(
                [one for one in notes if first <= one.on <= last],
                [one for one in exercises if first <= one.on <= last],
            )
        ),
        tuple(one for one in _marks(session, player, last) if first <= one.on <= last),
    )


def changes_of(session: Session, player: Player, today: date) -> Changes:
    """What changed, from all a player played on the horn they play now."""
    found = while_as_it_is(
        session, player, "answers", today, lambda: answers(*measured_days(session, player, today))
    )
    return Changes(tuple(found), tuple(_marks(session, player, today)))


def _marks(session: Session, player: Player, today: date) -> list[Mark]:
    concerts = [
        Mark(one.day, one.words or one.kind.value) for one in past_events(session, player.id, today)
    ]
    hurts = [Mark(one.day, "something hurt") for one in hurts_of(session, player)]
    return sorted([*concerts, *hurts], key=lambda one: one.on)
