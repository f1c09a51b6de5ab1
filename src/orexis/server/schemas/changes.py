"""What the API says to the questions of what changed."""

from collections.abc import Collection
from datetime import date
from typing import Annotated, Any, Literal

from pydantic import BaseModel, Field

from orexis.core.horn.notation import Notation
from orexis.core.horn.registers import Register
from orexis.core.progress.changes import AnsweredQuestion, MinutesTrend, Name
from orexis.core.progress.one_note import NEAR_CENTS
from orexis.core.progress.playing_time import RegisterMinutes
from orexis.core.progress.tendency import Tendencies
from orexis.practice.progress import Changes
from orexis.server.schemas.base import Read, once_called


class DayValueOut(Read):
    """See `core.progress.trend.Value`, of a day."""

    at: date
    value: float
    times: int


class DayPointOut(Read):
    """See `core.progress.trend.Point`, on a day."""

    at: date
    value: float
    low: float
    high: float


class MinuteValueOut(Read):
    """See `core.progress.trend.Value`, of the minutes of playing before it."""

    at: float
    value: float
    times: int


class MinutePointOut(Read):
    """See `core.progress.trend.Point`, after so many minutes of playing."""

    at: float
    value: float
    low: float
    high: float


class BreakOut(BaseModel):
    """A time without practice, by the days of practice it lies between."""

    after: date
    before: date


class NamedOut(BaseModel):
    """A note by the player's name for it."""

    midi: int
    name: str


class AnswerOut(BaseModel):
    """A question with its answer in words; `told` where there is enough to tell, and `no_change`
    where what is told is that no change can be told."""

    key: str
    question: str
    answer: str
    words: str
    told: bool = True
    no_change: bool = False


def _said(change: AnsweredQuestion | MinutesTrend) -> dict[str, Any]:
    return {
        "key": change.question.key,
        "question": change.question.words,
        "answer": change.answer,
        "words": change.words,
        "told": change.curve.trend is not None,
        "no_change": change.curve.trend is not None and not change.curve.trend.sure,
        "scale": change.question.scale,
    }


class DaysAnswer(AnswerOut):
    """An answer told along days: what stands along its values (`scale`), and the line from its
    first day to its last, empty where it is not told; `names` are of its notes, where it is of
    notes."""

    along: Literal["days"] = "days"
    scale: str
    values: list[DayValueOut]
    line: list[DayPointOut]
    breaks: list[BreakOut]
    names: list[NamedOut]

    @classmethod
    def of(cls, change: AnsweredQuestion, elsewhere: Collection[date], name: Name) -> "DaysAnswer":
        """An answer as the API gives it; `elsewhere` are days that were practised elsewhere."""
        return cls(
            **_said(change),
            values=[DayValueOut.model_validate(day) for day in change.curve.values],
            line=[DayPointOut.model_validate(point) for point in change.curve.ends],
            breaks=[
                BreakOut(after=after, before=before) for after, before in change.breaks(elsewhere)
            ],
            names=[NamedOut(midi=midi, name=name(midi)) for midi in change.notes],
        )


class MinutesAnswer(AnswerOut):
    """An answer told along the minutes of playing of a day; `line` as along days."""

    along: Literal["minutes"] = "minutes"
    scale: str
    values: list[MinuteValueOut]
    line: list[MinutePointOut]

    @classmethod
    def of(cls, lasting: MinutesTrend) -> "MinutesAnswer":
        """An answer as the API gives it."""
        return cls(
            **_said(lasting),
            values=[MinuteValueOut.model_validate(value) for value in lasting.curve.values],
            line=[MinutePointOut.model_validate(point) for point in lasting.curve.ends],
        )


class NoteDeviationOut(BaseModel):
    """Where a note lies: see `core.progress.tendency.NoteDeviation`."""

    midi: int
    name: str
    now_cents: float
    then_cents: float | None
    days: int


class NotesAnswer(AnswerOut):
    """An answer told along the notes of a horn, lowest first; within `near_cents` of its middle a
    note is near."""

    along: Literal["notes"] = "notes"
    near_cents: float
    notes: list[NoteDeviationOut]

    @classmethod
    def of(cls, found: Tendencies, name: Name) -> "NotesAnswer":
        """An answer as the API gives it."""
        return cls(
            key="tendencies",
            question="Where do my notes lie?",
            answer=found.answer,
            words=found.words,
            near_cents=NEAR_CENTS,
            notes=[
                NoteDeviationOut(
                    midi=note.midi,
                    name=name(note.midi),
                    now_cents=note.now_cents,
                    then_cents=note.then_cents,
                    days=note.days,
                )
                for note in found.notes
            ],
        )


class RegisterMinutesOut(BaseModel):
    """How long a register sounded, in minutes."""

    name: Register
    minutes: float


class RegisterWeekOut(BaseModel):
    """A week, or as many as `weeks` says, and the minutes of each register in it."""

    monday: date
    weeks: int
    registers: list[RegisterMinutesOut] = Field(validation_alias=once_called("registers", "faces"))


class WeeksAnswer(AnswerOut):
    """An answer told along weeks."""

    along: Literal["weeks"] = "weeks"
    rows: list[RegisterWeekOut]

    @classmethod
    def of(cls, found: RegisterMinutes) -> "WeeksAnswer":
        """An answer as the API gives it."""
        return cls(
            key="registers",
            question="Where do I spend my playing time?",
            answer=found.answer,
            words=found.words,
            rows=[
                RegisterWeekOut(
                    monday=row.monday,
                    weeks=row.weeks,
                    registers=[
                        RegisterMinutesOut(name=register, minutes=minutes)
                        for register, minutes in row.minutes.items()
                    ],
                )
                for row in found.rows
            ],
        )


class WordsAnswer(AnswerOut):
    """An answer in words alone: what was measured of a approach."""

    along: Literal["words"] = "words"


AnyAnswer = Annotated[
    DaysAnswer | MinutesAnswer | NotesAnswer | WeeksAnswer | WordsAnswer,
    Field(discriminator="along"),
]


class MarkedOut(Read):
    """Something that happened on a day."""

    on: date
    words: str


class ChangesOut(BaseModel):
    """What changed: every question there is anything to say to; those without a change that can be
    told come after the others, and last those that it is too early for."""

    answers: list[AnyAnswer]
    marks: list[MarkedOut]

    @classmethod
    def of(cls, changes: Changes, notation: Notation) -> "ChangesOut":
        """What changed as the API gives it."""
        found = changes.answers
        days = [
            DaysAnswer.of(change, changes.elsewhere, notation.name)
            for change in found.changed
            if change.curve.values
        ]
        minutes = [MinutesAnswer.of(lasting) for lasting in found.lasting if lasting.curve.values]
        notes = [NotesAnswer.of(found.tendencies, notation.name)] if found.tendencies.notes else []
        weeks = [WeeksAnswer.of(changes.registers)] if changes.registers.rows else []
        approaches = [
            WordsAnswer(key=f"approach-{place}", question=question, answer=words, words="")
            for place, (question, words) in enumerate(changes.approaches)
        ]
        answers = [*days[:1], *notes, *days[1:], *minutes, *weeks, *approaches]
        return cls(
            answers=sorted(answers, key=lambda one: (not one.told, one.no_change)),
            marks=[MarkedOut.model_validate(mark) for mark in changes.marks],
        )
