"""What the API says of recordings that came from elsewhere."""

from typing import Any

import numpy as np
from pydantic import AwareDatetime, BaseModel, Field
from sqlalchemy.orm import Session

from orexis.core.coaching.marks import marks
from orexis.core.coaching.pattern_words import off_words, pattern_sentences
from orexis.core.horn.instruments import INSTRUMENTS
from orexis.core.horn.notation import Notation
from orexis.core.horn.pitch import cents_between, hz_from_midi, midi_from_hz
from orexis.core.listening.events import Events
from orexis.core.listening.frames import HOP_S
from orexis.core.listening.patterns import Wanted, match_pattern
from orexis.formats.analysis import rounded
from orexis.formats.analysis_reading import events_of
from orexis.server.schemas import NearbySlotOut
from orexis.server.take_schemas import MarkOut, PinOut, RibbonFrames, notation_for
from orexis.store.models import Recording
from orexis.store.pins import pins_of
from orexis.store.recordings import LONGEST_WANTED, document_of

_MIDDLE_MIDI = 60


class RecordingOut(BaseModel):
    """A recording in a list."""

    id: str
    name: str
    started_at: AwareDatetime
    duration_s: float
    note_count: int
    clipped: bool
    instrument: str

    @classmethod
    def of(cls, recording: Recording) -> "RecordingOut":
        """The recording as the API gives it."""
        return cls(
            id=recording.id,
            name=recording.name,
            started_at=recording.started_at,
            duration_s=round(recording.duration_s, 2),
            note_count=recording.note_count,
            clipped=recording.clipped,
            instrument=INSTRUMENTS[recording.instrument_key].name,
        )


class HeardNoteOut(BaseModel):
    """One note that was heard, in numbers as they are read."""

    at_s: float
    name: str
    seconds: float
    off: str
    spread: str
    clearness: str


class WantedNoteOut(BaseModel):
    """One note that was meant: whether it spoke, and how far off in cents."""

    name: str
    spoke: bool
    off: str


class PatternOut(BaseModel):
    """What was played against what was meant."""

    sentences: list[str]
    notes: list[WantedNoteOut]


class RecordingDetail(RecordingOut):
    """A recording's page. Frames, slots and marks are in cents from `reference`, and so is the
    range of all that was heard."""

    reference: str
    lowest_cents: float
    highest_cents: float
    slots: list[NearbySlotOut]
    frames: RibbonFrames
    marks: list[MarkOut]
    pins: list[PinOut]
    notes: list[HeardNoteOut]
    wanted: str
    pattern: PatternOut | None

    @classmethod
    def whole(cls, session: Session, recording: Recording) -> "RecordingDetail":
        """The recording with all that is kept of it."""
        document = document_of(session, recording.id)
        events = events_of(document)
        notation = notation_for(recording)
        heard = [note.midi for note in events.notes]
        reference = round(float(np.median(heard))) if heard else _MIDDLE_MIDI
        lowest, highest = _range_of(events, recording.a4_hz)
        return cls(
            **RecordingOut.of(recording).model_dump(),
            lowest_cents=100 * ((lowest or reference) - reference),
            highest_cents=100 * ((highest or reference) - reference),
            reference=notation.name(reference),
            slots=[
                NearbySlotOut(
                    name=notation.name(midi), cents=100.0 * (midi - reference), asked=False
                )
                for midi in sorted(set(heard), reverse=True)
            ],
            frames=_ribbon(document["frames"], hz_from_midi(reference, recording.a4_hz)),
            marks=[
                MarkOut.of(mark)
                for mark in marks(events, reference, notation.name, recording.a4_hz)
            ],
            pins=[PinOut.of(pin) for pin in pins_of(session, recording)],
            notes=_heard_notes(events, notation),
            wanted=recording.wanted,
            pattern=_pattern(notation.parse_row(recording.wanted), events, notation),
        )


class WantedIn(BaseModel):
    """What the player meant to play: names of notes, as they read them."""

    wanted: str = Field(max_length=LONGEST_WANTED)


def _range_of(events: Events, a4_hz: float) -> tuple[float | None, float | None]:
    """The lowest and highest pitch (MIDI) of all that was heard."""
    pitches = [float(note.midi) for note in events.notes]
    for glide in events.glides:
        pitches += [midi_from_hz(hz, a4_hz) for hz in (glide.lowest_hz, glide.highest_hz)]
    return min(pitches, default=None), max(pitches, default=None)


def _ribbon(frames: dict[str, Any], reference_hz: float) -> RibbonFrames:
    f0_hz = np.array(frames["f0_hz"], dtype=np.float64)
    return RibbonFrames(
        first=0,
        hop_s=HOP_S,
        cents=rounded(cents_between(f0_hz, reference_hz), 1),
        level_db=frames["level_db"],
        harmonicity_db=frames["harmonicity_db"],
    )


def _heard_notes(events: Events, notation: Notation) -> list[HeardNoteOut]:
    return [
        HeardNoteOut(
            at_s=round(note.start_s, 2),
            name=notation.name(note.midi),
            seconds=round(note.end_s - note.start_s, 2),
            off=off_words(note.measures.centre_cents),
            spread=f"± {note.measures.spread_cents:.0f}",
            clearness=f"{note.harmonicity_db:.0f}",
        )
        for note in events.notes
    ]


def _pattern(wanted: list[int], events: Events, notation: Notation) -> PatternOut | None:
    if not wanted:
        return None
    match = match_pattern([Wanted(midi) for midi in wanted], events)
    played = [note.midi for note in events.notes]
    return PatternOut(
        sentences=list(pattern_sentences(match, wanted, played, notation.name)),
        notes=[
            WantedNoteOut(
                name=notation.name(midi),
                spoke=answer is not None,
                off="" if answer is None else off_words(answer.cents),
            )
            for midi, answer in zip(wanted, match.spoken, strict=True)
        ],
    )
