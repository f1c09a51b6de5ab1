"""What the API says of recordings that came from elsewhere."""

from pydantic import AwareDatetime, BaseModel, Field
from sqlalchemy.orm import Session

from orexis.core.coaching.marks import marks
from orexis.core.coaching.pattern_words import off_words, pattern_sentences
from orexis.core.horn.instruments import INSTRUMENTS
from orexis.core.horn.notation import Notation
from orexis.core.horn.pitch import hz_from_midi
from orexis.core.listening.events import Events
from orexis.core.listening.patterns import Wanted, match_pattern
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
    """A recording's page. Frames, slots, marks and the range of all that was heard are in cents
    from its middle note."""

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
        middle = events.middle_midi or _MIDDLE_MIDI
        lowest, highest = events.range_midi(recording.a4_hz) or (middle, middle)
        return cls(
            **RecordingOut.of(recording).model_dump(),
            lowest_cents=100 * (lowest - middle),
            highest_cents=100 * (highest - middle),
            slots=[
                NearbySlotOut(name=notation.name(midi), cents=100.0 * (midi - middle), asked=False)
                for midi in sorted({note.midi for note in events.notes}, reverse=True)
            ],
            frames=RibbonFrames.kept(document["frames"], hz_from_midi(middle, recording.a4_hz)),
            marks=[
                MarkOut.of(mark) for mark in marks(events, middle, notation.name, recording.a4_hz)
            ],
            pins=[PinOut.of(pin) for pin in pins_of(session, recording)],
            notes=_heard_notes(events, notation),
            wanted=recording.wanted,
            pattern=_pattern(notation.parse_row(recording.wanted), events, notation),
        )


class WantedIn(BaseModel):
    """What the player meant to play: names of notes, as they read them."""

    wanted: str = Field(max_length=LONGEST_WANTED)


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
