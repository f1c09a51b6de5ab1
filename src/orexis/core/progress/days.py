"""What a day's practice measured, by note and by exercise: what questions are answered from."""

from collections import defaultdict
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from datetime import date

import numpy as np

from orexis.core.exercises.book import FAMILIES, families_that_tell
from orexis.core.exercises.family import Group
from orexis.core.exercises.practised import ProgressMeasure
from orexis.core.progress.changes import (
    CENTRE,
    CRACKS,
    EAR,
    ENDURANCE,
    HOLD,
    LENGTHS,
    MINUTES,
    PYRAMID,
    RESPONSE,
    RESPONSE_LATE,
    RIGHT,
    SET_FADES,
    SET_HOLDS,
    SKIPS,
    SLURS,
    STEADY,
    STEADY_LATE,
    TRILL,
    AnsweredQuestion,
    MinutesTrend,
    Question,
    changed,
    lasting,
)
from orexis.core.progress.one_note import NoteDay
from orexis.core.progress.tendency import DayDeviation, Tendencies, tendencies_of
from orexis.core.progress.trend import Cell, Cells, MinuteCell

LATE_WEEKS = 26
"""What becomes of things over a day's minutes is told of so many weeks: of the lips one has now."""
LATE_STEP_MIN = 4
"""Minutes of playing are taken together by so many."""


@dataclass(frozen=True, slots=True)
class ExerciseDay:
    """An exercise on a day: its attempts, how many passed, and how long they sounded."""

    on: date
    family: str
    attempts: int
    passed: int
    sounded_s: float


@dataclass(frozen=True, slots=True)
class LateNote:
    """A note on a day after so many minutes of playing: how often, and the means of its spread and
    of how soon it spoke."""

    on: date
    minutes: float
    midi: int
    times: int
    spread_cents: float | None
    rise_s: float | None


@dataclass(frozen=True, slots=True)
class DayMost:
    """The most of something on a day: the highest note, the fastest trill."""

    on: date
    most: float
    times: int


@dataclass(frozen=True, slots=True)
class SetDay:
    """A set on one note on a day: how many notes, how long they were mostly held (s), and how long
    the second half was in % of the first, where that can be told."""

    on: date
    midi: int
    notes: int
    typical_s: float
    second_of_first_percent: float | None


@dataclass(frozen=True, slots=True)
class EarDay:
    """Takes of a day that the ear said something of, and how many the meter agreed on."""

    on: date
    rated: int
    agreed: int


@dataclass(frozen=True, slots=True)
class NoteSeconds:
    """How long a note was asked for on a day, in seconds that sounded, on the horn or off it."""

    on: date
    midi: int
    on_horn: bool
    seconds: float


@dataclass(frozen=True, slots=True)
class Measured:
    """All that days measured, oldest first."""

    notes: Sequence[NoteDay] = field(default=())
    exercises: Sequence[ExerciseDay] = field(default=())
    late: Sequence[LateNote] = field(default=())
    tops: Sequence[DayMost] = field(default=())
    trills: Sequence[DayMost] = field(default=())
    ear: Sequence[EarDay] = field(default=())
    note_seconds: Sequence[NoteSeconds] = field(default=())
    lasted: Sequence[DayMost] = field(default=())
    """How many minutes had been played in a session when the player's notes showed that they
    tired."""
    sets: Sequence[SetDay] = field(default=())

    def and_later(self, later: "Measured") -> "Measured":
        """This and what later days measured."""
        return Measured(
            *([*getattr(self, name), *getattr(later, name)] for name in self.__dataclass_fields__)
        )

    def between(self, first: date, last: date) -> "Measured":
        """What days from one to another measured, both among them."""
        return Measured(
            *(
                [one for one in getattr(self, name) if first <= one.on <= last]
                for name in self.__dataclass_fields__
            )
        )


@dataclass(frozen=True, slots=True)
class Answers:
    """Every question with its answer: what changed over days, what becomes of things over a day's
    minutes, and where notes lie."""

    changed: tuple[AnsweredQuestion, ...]
    lasting: tuple[MinutesTrend, ...]
    tendencies: Tendencies


def answers(measured: Measured, name: Callable[[int], str] = str) -> Answers:
    """Every question with its answer; `name` is what a player calls a note."""
    notes, exercises = _NoteColumns(measured.notes), measured.exercises
    cells: dict[Question, Sequence[Cell] | Cells] = {
        CENTRE: notes.of(lambda day: day.off_cents),
        STEADY: notes.of(lambda day: day.spread_cents),
        RESPONSE: notes.of(lambda day: _ms(day.rise_s)),
        CRACKS: notes.of(lambda day: 100.0 * day.cracked / day.times if day.times else None),
        RIGHT: _passed(exercises),
        SLURS: _passed([day for day in exercises if _is_slur(day.family)]),
        SKIPS: _passed(
            [day for day in exercises if day.family in families_that_tell(ProgressMeasure.SKIPS)]
        ),
        LENGTHS: _passed(
            [day for day in exercises if day.family in families_that_tell(ProgressMeasure.LENGTHS)]
        ),
        PYRAMID: _most(measured.tops),
        TRILL: _most(measured.trills),
        HOLD: notes.of(lambda day: day.held_s if day.times else None),
        SET_HOLDS: [Cell(one.on, str(one.midi), one.typical_s, one.notes) for one in measured.sets],
        SET_FADES: [
            Cell(one.on, str(one.midi), one.second_of_first_percent, one.notes)
            for one in measured.sets
            if one.second_of_first_percent is not None
        ],
        MINUTES: _minutes(exercises),
        ENDURANCE: _most(measured.lasted),
        EAR: [Cell(day.on, "", 100.0 * day.agreed / day.rated, day.rated) for day in measured.ear],
    }
    late = {
        STEADY_LATE: _late(measured.late, lambda note: note.spread_cents),
        RESPONSE_LATE: _late(measured.late, lambda note: _ms(note.rise_s)),
    }
    lying = [
        DayDeviation(day.on, day.midi, day.centre_cents)
        for day in measured.notes
        if day.centre_cents is not None
    ]
    return Answers(
        tuple(changed(question, own, name) for question, own in cells.items()),
        tuple(lasting(question, own) for question, own in late.items()),
        tendencies_of(lying, name),
    )


def _is_slur(family: str) -> bool:
    known = FAMILIES.get(family)
    return known is not None and known.group is Group.SLURS


def _ms(seconds: float | None) -> float | None:
    return None if seconds is None else 1000.0 * seconds


class _NoteColumns:
    """Notes of days by columns, which many questions ask for."""

    def __init__(self, notes: Sequence[NoteDay]) -> None:
        self._notes = notes
        self._day = np.array([day.on.toordinal() for day in notes], dtype=np.int64)
        self._midi = np.array([day.midi for day in notes], dtype=np.int64)
        self._times = np.array([day.times for day in notes], dtype=np.float64)

    def of(self, measured: Callable[[NoteDay], float | None]) -> Cells:
        """What was measured of each, as cells."""
        values = np.array([measured(day) for day in self._notes], dtype=np.float64)
        return Cells(self._day, self._midi, values, self._times)


def _late(
    notes: Sequence[LateNote], measured: Callable[[LateNote], float | None]
) -> list[MinuteCell]:
    return [
        MinuteCell(note.on, note.minutes, str(note.midi), value, note.times)
        for note in notes
        if (value := measured(note)) is not None
    ]


def _passed(exercises: Sequence[ExerciseDay]) -> list[Cell]:
    return [
        Cell(day.on, day.family, 100.0 * day.passed / day.attempts, day.attempts)
        for day in exercises
    ]


def _most(days: Sequence[DayMost]) -> list[Cell]:
    return [Cell(day.on, "", day.most, day.times) for day in days]


def _minutes(exercises: Sequence[ExerciseDay]) -> list[Cell]:
    by_day: dict[date, tuple[float, int]] = defaultdict(lambda: (0.0, 0))
    for day in exercises:
        seconds, attempts = by_day[day.on]
        by_day[day.on] = seconds + day.sounded_s, attempts + day.attempts
    return [Cell(on, "", seconds / 60, attempts) for on, (seconds, attempts) in by_day.items()]
