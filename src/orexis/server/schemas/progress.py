"""What the API says of what changed."""

from datetime import date, datetime

from pydantic import BaseModel

from orexis.core.coach.standing import Standing
from orexis.core.horn.notation import Notation
from orexis.core.progress.one_note import NEAR_CENTS, Time
from orexis.core.progress.ranges import PlayerRange, RangeHistory, RangeNote
from orexis.core.progress.reach import Part, Row
from orexis.core.progress.words import course_words, days_words
from orexis.practice.progress import NotePage
from orexis.server.schemas.base import Read


class RangeNoteOut(BaseModel):
    """A half step of the horn, by the player's name for it, and whether a scale is read by it (not
    told in reports from before)."""

    midi: int
    name: str
    landmark: bool | None = None
    part: Part
    standing: Standing
    words: str

    @classmethod
    def of(cls, note: RangeNote, notation: Notation) -> "RangeNoteOut":
        """A note as the API gives it."""
        return cls(
            midi=note.midi,
            name=notation.name(note.midi),
            landmark=notation.spelling(note.midi).is_landmark,
            part=note.part,
            standing=note.standing,
            words=course_words(note.course),
        )


class EndsOut(Read):
    """See `core.progress.reach.Ends`."""

    reached: int | None
    held: int | None
    secure: int | None


class SpanOut(BaseModel):
    """See `core.progress.reach.Span`, and which part of the range it is."""

    part: Part
    bottom: EndsOut
    top: EndsOut


class RowOut(BaseModel):
    """A week, or some taken together: see `core.progress.reach.Row`."""

    monday: date
    weeks: int
    played: bool
    parts: list[SpanOut]

    @classmethod
    def of(cls, row: Row) -> "RowOut":
        """A row as the API gives it."""
        return cls(
            monday=row.monday,
            weeks=row.weeks,
            played=row.played,
            parts=[
                SpanOut(
                    part=part,
                    bottom=EndsOut.model_validate(span.bottom),
                    top=EndsOut.model_validate(span.top),
                )
                for part, span in row.parts.items()
            ],
        )


class RangeHistoryOut(BaseModel):
    """How far a player comes on something: see `core.progress.ranges.RangeHistory`."""

    headline: str
    words: str
    rows: list[RowOut]

    @classmethod
    def of(cls, told: RangeHistory) -> "RangeHistoryOut":
        """What is told as the API gives it."""
        return cls(
            headline=told.answer.headline,
            words=told.answer.words,
            rows=[RowOut.of(row) for row in told.rows],
        )


class RangeOut(BaseModel):
    """How far a player comes."""

    notes: list[RangeNoteOut]
    horn: RangeHistoryOut
    buzz: RangeHistoryOut

    @classmethod
    def of(cls, found: PlayerRange, notation: Notation) -> "RangeOut":
        """A range as the API gives it."""
        return cls(
            notes=[RangeNoteOut.of(note, notation) for note in found.notes],
            horn=RangeHistoryOut.of(found.horn),
            buzz=RangeHistoryOut.of(found.buzz),
        )


class NoteDayOut(Read):
    """See `core.progress.one_note.NoteDay`."""

    on: date
    asked: int
    spoke: int
    held_s: float
    centre_cents: float | None
    spread_cents: float | None
    rise_s: float | None
    harmonicity_db: float | None


class HeardOut(BaseModel):
    """A take to hear again."""

    take_id: str
    at: datetime

    @classmethod
    def of(cls, time: Time | None) -> "HeardOut | None":
        """A time as the API gives it."""
        return None if time is None else cls(take_id=time.take_id, at=time.at)


class NotePageOut(BaseModel):
    """How one note has developed; a value within `near_cents` of the middle counts as near."""

    note: RangeNoteOut
    lines: list[str]
    days: list[NoteDayOut]
    near_cents: float
    first: HeardOut | None
    best: HeardOut | None
    last: HeardOut | None

    @classmethod
    def of(cls, page: NotePage, notation: Notation) -> "NotePageOut":
        """A page as the API gives it."""
        return cls(
            note=RangeNoteOut.of(page.note, notation),
            lines=days_words(page.days),
            days=[NoteDayOut.model_validate(day) for day in page.days],
            near_cents=NEAR_CENTS,
            first=HeardOut.of(page.hear.first),
            best=HeardOut.of(page.hear.best),
            last=HeardOut.of(page.hear.last),
        )
