"""What the API says of an exercise as it lies on the Stand, or lay there for a take."""

from pydantic import BaseModel

from orexis.core.exercises.sheet import Sheet, SheetNote
from orexis.core.exercises.task import Task
from orexis.core.horn.notation import Notation
from orexis.core.horn.setup import Horn


class BandOut(BaseModel):
    """A slot that sound is drawn against: its note, its pitch in cents (100 a MIDI number), and
    whether it is asked for."""

    name: str
    pitch_cents: float
    asked: bool


class HandOut(BaseModel):
    """What the hand does, in words and as it is drawn."""

    label: str
    valves: list[int]
    valve_count: int
    thumb: bool
    position: int | None
    triggers: list[str]
    slide_share: float | None
    slide_marks: list[float]

    @classmethod
    def of(cls, note: SheetNote, horn: Horn) -> "HandOut":
        """What the hand does for a note."""
        length = note.way and note.way.length
        return cls(
            label=note.hand,
            valves=list(length.valves) if length else [],
            valve_count=length.valve_count if length else 0,
            thumb=length.thumb if length else False,
            position=length.position if length else None,
            triggers=list(length.triggers) if length else [],
            slide_share=note.way and note.way.slide_share,
            slide_marks=list(note.slide_marks(horn)),
        )


class SheetNoteOut(BaseModel):
    """A note to play: the step of the score it is, and its target in cents (100 a MIDI number)."""

    step: int
    name: str
    sounding_name: str
    pitch_cents: float
    hand: HandOut


class SheetOut(BaseModel):
    """An exercise on a horn: its notes, what their sound is drawn against (highest first) and how
    far off centre the standard lets them be, and the music (none where it is one note)."""

    title: str
    setting: str
    notes: list[SheetNoteOut]
    bands: list[BandOut]
    limit_cents: float
    svg: str
    described: str

    @classmethod
    def of(
        cls,
        task: Task,
        sheet: Sheet,
        horn: Horn,
        notation: Notation,
        limit_cents: float,
        svg: str,
        described: str,
    ) -> "SheetOut":
        """The exercise for a player who names notes in `notation`."""
        return cls(
            title=task.title,
            setting=task.setting,
            notes=[
                SheetNoteOut(
                    step=note.step,
                    name=notation.name(note.note.midi),
                    sounding_name=notation.sounding_name(note.note.midi),
                    pitch_cents=round(note.pitch_cents, 1),
                    hand=HandOut.of(note, horn),
                )
                for note in sheet.notes
            ],
            bands=[
                BandOut(
                    name=notation.name(band.midi),
                    pitch_cents=round(band.pitch_cents, 1),
                    asked=band.asked,
                )
                for band in sheet.bands
            ],
            limit_cents=limit_cents,
            svg=svg,
            described=described,
        )
