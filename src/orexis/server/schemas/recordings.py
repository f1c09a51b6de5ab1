"""What the API says of recordings."""

from typing import Annotated

from pydantic import AwareDatetime, BaseModel, Field

from orexis.core.counting import counted, length_words, time_words
from orexis.core.horn.instruments import INSTRUMENTS
from orexis.core.horn.words import tuned_words
from orexis.core.judging.words import recording_remarks
from orexis.core.listening.notes.pauses import pauses_s
from orexis.practice.recordings import RecordingPage
from orexis.server.schemas.base import Body, Read, Text
from orexis.server.schemas.exercises import BandOut
from orexis.server.schemas.takes import BookmarkOut, MarkOut, OtherTake, RibbonFrames
from orexis.store.models import Recording
from orexis.store.recordings import LONGEST_WANTED


class RecordingOut(BaseModel):
    """A recording in a list; `remarks` say what there is to know before it is heard."""

    id: str
    name: str
    started_at: AwareDatetime
    duration_s: float
    duration_words: str
    note_count: int
    notes_words: str
    clipped: bool
    reason: str
    remarks: list[str]
    instrument: str

    @classmethod
    def of(cls, recording: Recording) -> "RecordingOut":
        """The recording as the API gives it."""
        return cls(
            id=recording.id,
            name=recording.name,
            started_at=recording.started_at,
            duration_s=round(recording.duration_s, 2),
            duration_words=length_words(recording.duration_s),
            note_count=recording.note_count,
            notes_words=counted(recording.note_count, "note"),
            clipped=recording.clipped,
            reason=recording.reason,
            remarks=recording_remarks(recording.reason, recording.clipped),
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
    """One note that was meant: whether it spoke, and how far off it was, or that it was
    missed."""

    name: str
    spoke: bool
    off: str


class PatternOut(BaseModel):
    """What was played against what was meant."""

    sentences: list[str]
    notes: list[WantedNoteOut]


class PauseOut(Read):
    """A stretch in which nothing is played, to be passed over."""

    start_s: float
    end_s: float


class RecordingDetail(RecordingOut):
    """A recording's page. The range of all that was heard is in cents (100 a MIDI number), and
    `pauses_words` says how long its pauses are together."""

    lowest_cents: float
    highest_cents: float
    slots: list[BandOut]
    frames: RibbonFrames
    marks: list[MarkOut]
    bookmarks: list[BookmarkOut]
    notes: list[HeardNoteOut]
    pauses: list[PauseOut]
    pauses_words: str
    wanted: str
    pattern: PatternOut | None
    others: list[OtherTake]

    @classmethod
    def page(cls, page: RecordingPage) -> "RecordingDetail":
        """The recording with all that is kept of it."""
        name = page.notation.name
        return cls(
            **RecordingOut.of(page.recording).model_dump(),
            lowest_cents=page.lowest_cents,
            highest_cents=page.highest_cents,
            slots=[
                BandOut(name=name(midi), pitch_cents=100.0 * midi, asked=False)
                for midi in sorted({note.midi for note in page.events.notes}, reverse=True)
            ],
            frames=RibbonFrames.of(page.ribbon),
            marks=[MarkOut.of(mark) for mark in page.marks],
            bookmarks=[BookmarkOut.model_validate(bookmark) for bookmark in page.bookmarks],
            notes=[
                HeardNoteOut(
                    at_s=round(note.start_s, 2),
                    name=name(note.midi),
                    seconds=round(note.end_s - note.start_s, 2),
                    off=tuned_words(note.measures.centre_cents),
                    spread=f"± {note.measures.spread_cents:.0f}",
                    clearness=f"{note.harmonicity_db:.0f}",
                )
                for note in page.events.notes
            ],
            pauses=[PauseOut.model_validate(pause) for pause in page.pauses],
            pauses_words=time_words(pauses_s(page.pauses)),
            others=[OtherTake(id=recording.id, which=recording.name) for recording in page.others],
            wanted=page.wanted,
            pattern=page.pattern
            and PatternOut(
                sentences=list(page.pattern.sentences),
                notes=[
                    WantedNoteOut(
                        name=name(midi),
                        spoke=answer is not None,
                        off="missed" if answer is None else tuned_words(answer.cents),
                    )
                    for midi, answer in zip(
                        page.pattern.wanted, page.pattern.match.spoken, strict=True
                    )
                ],
            ),
        )


class WantedNotesIn(Body):
    """What the player meant to play: names of notes, as they read them."""

    wanted: Annotated[Text, Field(max_length=LONGEST_WANTED)]
