"""What the API says of an exercise that is on the Stand."""

from pydantic import BaseModel

from orexis.core.exercises.longtone import LongTone
from orexis.core.horn.notation import Notation, NoteView


class NearbySlotOut(BaseModel):
    """A slot of the length in hand: its note, and where it sounds from the note asked for."""

    name: str
    cents: float
    asked: bool


class LongTonePlan(BaseModel):
    """A long tone, ready to be played and drawn."""

    title: str
    midi: int
    name: str
    sounding_name: str
    target_hz: float
    drone_hz: float
    hold_s: float
    hand: str
    cue: str
    valves: list[int]
    valve_count: int
    thumb: bool
    position: int | None
    triggers: list[str]
    slide_share: float | None
    slide_marks: list[float]
    slots: list[NearbySlotOut]
    limit_cents: float
    lowest_midi: int
    highest_midi: int

    @classmethod
    def of(cls, exercise: LongTone, notation: Notation, limit_cents: float) -> "LongTonePlan":
        """The exercise for a player who names notes in `notation`; the gate's centre limit."""
        way = exercise.way
        length = way and way.length
        return cls(
            title=exercise.title,
            midi=exercise.midi,
            name=notation.name(exercise.midi),
            sounding_name=Notation(notation.reading, NoteView.SOUNDING).name(exercise.midi),
            target_hz=round(exercise.target_hz, 3),
            drone_hz=round(exercise.drone_hz, 3),
            hold_s=exercise.hold_s,
            hand=exercise.hand,
            cue=exercise.cue,
            valves=list(length.valves) if length else [],
            valve_count=length.valve_count if length else 0,
            thumb=length.thumb if length else False,
            position=length.position if length else None,
            triggers=list(length.triggers) if length else [],
            slide_share=exercise.slide_share,
            slide_marks=list(exercise.slide_marks),
            slots=[
                NearbySlotOut(
                    name=notation.name(slot.midi),
                    cents=round(slot.cents, 1),
                    asked=slot.midi == exercise.midi,
                )
                for slot in exercise.nearby_slots
            ],
            limit_cents=limit_cents,
            lowest_midi=exercise.instrument.lowest_midi,
            highest_midi=exercise.instrument.highest_midi,
        )
