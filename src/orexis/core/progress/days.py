"""What a day's practice measured, by note and by exercise: what questions are answered from."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

from orexis.core.exercises.book import FAMILIES
from orexis.core.exercises.family import Group
from orexis.core.progress.changes import (
    CENTRE,
    MINUTES,
    QUESTIONS,
    RESPONSE,
    RIGHT,
    SLURS,
    STEADY,
    Changed,
    changed,
)
from orexis.core.progress.trend import Cell

LONG_ENOUGH_S = 0.5
"""A note is measured that sounded for so long."""


@dataclass(frozen=True, slots=True)
class NoteDay:
    """A note on a day: how often it spoke for long enough, and means of how far it lay from its
    middle, whichever way, how far it spread, and how soon it spoke."""

    on: date
    midi: int
    times: int
    off_cents: float | None
    spread_cents: float | None
    rise_s: float | None


@dataclass(frozen=True, slots=True)
class ExerciseDay:
    """An exercise on a day: its tries, how many passed, and how long they sounded."""

    on: date
    family: str
    tries: int
    passed: int
    sounded_s: float


def answers(notes: Sequence[NoteDay], exercises: Sequence[ExerciseDay]) -> list[Changed]:
    """Every question with its answer."""
    slurs = [one for one in exercises if _is_slur(one.family)]
    cells = {
        CENTRE: _of_notes(notes, "off_cents"),
        STEADY: _of_notes(notes, "spread_cents"),
        RESPONSE: _of_notes(notes, "rise_s", 1000.0),
        RIGHT: _passed(exercises),
        SLURS: _passed(slurs),
        MINUTES: _minutes(exercises),
    }
    return [changed(question, cells[question]) for question in QUESTIONS]


def _is_slur(family: str) -> bool:
    known = FAMILIES.get(family)
    return known is not None and known.group is Group.SLURS


def _of_notes(notes: Sequence[NoteDay], name: str, factor: float = 1.0) -> list[Cell]:
    return [
        Cell(one.on, str(one.midi), factor * value, one.times)
        for one in notes
        if (value := getattr(one, name)) is not None
    ]


def _passed(exercises: Sequence[ExerciseDay]) -> list[Cell]:
    return [
        Cell(one.on, one.family, 100.0 * one.passed / one.tries, one.tries) for one in exercises
    ]


def _minutes(exercises: Sequence[ExerciseDay]) -> list[Cell]:
    by_day: dict[date, tuple[float, int]] = {}
    for one in exercises:
        seconds, tries = by_day.get(one.on, (0.0, 0))
        by_day[one.on] = seconds + one.sounded_s, tries + one.tries
    return [Cell(on, "", seconds / 60, tries) for on, (seconds, tries) in by_day.items()]
