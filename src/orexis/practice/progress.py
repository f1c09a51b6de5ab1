"""What changed: how far a player comes, what became of one note, and of what they ask."""

from dataclasses import dataclass
from datetime import date

from sqlalchemy.orm import Session

from orexis.core.horn.registers import Register, register_of
from orexis.core.progress.course import course_of
from orexis.core.progress.days import Answers, Measured, NoteSeconds, answers
from orexis.core.progress.one_note import NoteDay, WorthHearing
from orexis.core.progress.playing_time import RegisterMinutes, RegisterSeconds, register_minutes
from orexis.core.progress.ranges import PlayerRange, RangeNote, player_range
from orexis.core.progress.reach import part_of
from orexis.core.score.steps import PlayedOn
from orexis.practice.coaching import approach_outcomes
from orexis.practice.exercises import writer_for
from orexis.store.coaching import past_events
from orexis.store.history import hurts_of
from orexis.store.models import Player
from orexis.store.players import instrument_of, notation_of
from orexis.store.progress import (
    asked_of,
    measured_days,
    remembered_while_unchanged,
    worth_hearing,
)
from orexis.store.typed import typed_rows


@dataclass(frozen=True, slots=True)
class NotePage:
    """One note: how it came to where it stands, its days, and what to hear of it."""

    note: RangeNote
    days: tuple[NoteDay, ...]
    hear: WorthHearing


@dataclass(frozen=True, slots=True)
class Mark:
    """What happened on a day that a curve may show."""

    on: date
    words: str


@dataclass(frozen=True, slots=True)
class Changes:
    """Every question with its answer: of days, of a day's minutes, of where notes lie, of time on
    the face, and of approaches that were measured; what happened meanwhile; and the days they
    practised elsewhere."""

    answers: Answers
    registers: RegisterMinutes
    approaches: tuple[tuple[str, str], ...]
    marks: tuple[Mark, ...]
    elsewhere: frozenset[date]


def range_of(session: Session, player: Player, today: date) -> PlayerRange:
    """How far a player comes, from all they played on the horn they play now."""

    def make() -> PlayerRange:
        asked = asked_of(session, player, today)
        horn, name = instrument_of(player), notation_of(player).name
        return player_range(horn, asked[PlayedOn.HORN], asked[PlayedOn.MOUTHPIECE], name, today)

    read_as = f"range by {player.view} {player.clef}"
    return remembered_while_unchanged(session, player, read_as, today, make)


def note_page(session: Session, player: Player, midi: int, today: date) -> NotePage:
    """How a note on the horn has developed."""
    heard = asked_of(session, player, today)[PlayedOn.HORN].get(midi, [])
    return NotePage(
        RangeNote(midi, part_of(midi, instrument_of(player)), course_of(heard, today)),
        tuple(day for day in measured_days(session, player, today).notes if day.midi == midi),
        worth_hearing(session, player, midi, PlayedOn.HORN, today),
    )


def range_over(
    session: Session, player: Player, first: date, last: date, today: date
) -> PlayerRange:
    """How far a player came over some weeks, as it stood on the last of their days."""
    asked = {
        on: {
            midi: [note for note in times if note.day <= last]
            for midi, times in notes.items()
            if times[0].day <= last
        }
        for on, notes in asked_of(session, player, today).items()
    }
    horn, name = instrument_of(player), notation_of(player).name
    return player_range(horn, asked[PlayedOn.HORN], asked[PlayedOn.MOUTHPIECE], name, last, first)


def changes_over(session: Session, player: Player, first: date, last: date, today: date) -> Changes:
    """What changed over some weeks."""
    measured = measured_days(session, player, today).between(first, last)
    name = notation_of(player).name
    return _changes(
        session,
        player,
        answers(measured, name),
        _faces(session, measured, player, last),
        (first, last),
    )


def changes_of(session: Session, player: Player, today: date) -> Changes:
    """What changed, from all a player played on the horn they play now."""
    name = notation_of(player).name

    def make() -> tuple[Answers, RegisterMinutes]:
        measured = measured_days(session, player, today)
        return answers(measured, name), _faces(session, measured, player, today)

    read_as = f"answers by {player.view} {player.clef}"
    found, registers = remembered_while_unchanged(session, player, read_as, today, make)
    return _changes(session, player, found, registers, (date.min, today))


def _changes(
    session: Session,
    player: Player,
    found: Answers,
    registers: RegisterMinutes,
    span: tuple[date, date],
) -> Changes:
    first, last = span
    return Changes(
        found,
        registers,
        tuple(
            (question.words, outcome.words)
            for question, _, trial, outcome in approach_outcomes(session, player, last)
            if trial is not None and outcome is not None and trial.begins >= first
        ),
        tuple(mark for mark in _marks(session, player, last) if first <= mark.on <= last),
        frozenset(entry.day for entry in typed_rows(session, player, first, last)),
    )


def _faces(session: Session, measured: Measured, player: Player, today: date) -> RegisterMinutes:
    horn = instrument_of(player)
    high = writer_for(session, player).reach.high

    def register(day: NoteSeconds) -> Register:
        return register_of(day.midi, horn, high) if day.on_horn else Register.BUZZ

    return register_minutes(
        [RegisterSeconds(day.on, register(day), day.seconds) for day in measured.note_seconds],
        today,
    )


def _marks(session: Session, player: Player, today: date) -> list[Mark]:
    concerts = [
        Mark(event.day, event.words or event.kind.value)
        for event in past_events(session, player.id, today)
    ]
    hurts = [Mark(hurt.day, "something hurt") for hurt in hurts_of(session, player)]
    return sorted([*concerts, *hurts], key=lambda mark: mark.on)
