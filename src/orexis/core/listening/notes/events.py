"""What is heard in a run of sound: notes, how they meet, glides and trills."""

import itertools
from collections.abc import Iterable
from dataclasses import dataclass, replace
from enum import StrEnum

from orexis.core.horn.pitch import midi_from_hz
from orexis.core.listening.notes.measures import NoteMeasures
from orexis.core.listening.notes.trills import Trill
from orexis.core.listening.tracking.frames import HOP_S


class Change(StrEnum):
    """How one note is reached from another."""

    SLUR = "slur"
    TONGUED = "tongued"
    GLIDE = "glide"
    BREATH = "breath"


@dataclass(frozen=True, slots=True)
class Note:
    """One note heard: frames `first` up to, not including, `last`, and what was measured.

    `midi` is the nearest equal-tempered note and the measures' centre is against it.
    `harmonicity_db` is the upper quartile and `brightness` the median over the voiced frames.
    `cracked_from_midi` is the wrong slot it began on, if it did.
    """

    first: int
    last: int
    f0_hz: float
    midi: int
    measures: NoteMeasures
    harmonicity_db: float
    brightness: float
    cracked_from_midi: int | None = None

    @property
    def start_s(self) -> float:
        """Start in seconds from the start of the sound."""
        return self.first * HOP_S

    @property
    def end_s(self) -> float:
        """End in seconds from the start of the sound."""
        return self.last * HOP_S

    @property
    def pitch_cents(self) -> float:
        """Where it lies, in cents from MIDI 0."""
        return 100 * self.midi + self.measures.centre_cents


@dataclass(frozen=True, slots=True)
class TouchedSlot:
    """A slot that spoke on the way, and for how many seconds."""

    midi: int
    duration_s: float


@dataclass(frozen=True, slots=True)
class Transition:
    """How one note became the next: `start_s` is when pitch left the first by 50 cents and
    `duration_s` how long until it was within 50 of the second. `flipped` is the slot past the
    second note that spoke before it. `dip_db` is the fall of level
    during the change, `waning_db` in the last 200 ms before it; `overshoot_cents` how far pitch
    went past the second note, signed."""

    kind: Change
    start_s: float
    duration_s: float
    gap_s: float
    touched: tuple[TouchedSlot, ...]
    dip_db: float
    waning_db: float
    overshoot_cents: float
    level_change_db: float
    flipped: TouchedSlot | None = None


@dataclass(frozen=True, slots=True)
class Glide:
    """A continuous motion of pitch: a slide's glide, or a siren. `passes` counts the ways up
    and down, `breaks` the places where it was not continuous. `caught_s` is the longest time that
    pitch stood still on its way, longer than so slow a glide would; `dip_db` how far the level
    fell under the line between its ends. `first_hz` and `last_hz` are where it begins and ends,
    `None` of one that was kept before they were."""

    start_s: float
    end_s: float
    lowest_hz: float
    highest_hz: float
    span_semitones: float
    passes: int
    breaks: int
    largest_jump_cents: float
    caught_s: float = 0.0
    dip_db: float = 0.0
    first_hz: float | None = None
    last_hz: float | None = None


@dataclass(frozen=True, slots=True)
class Passage:
    """All that was heard in one run. `transitions[i]` leads from `notes[i]` to the next."""

    first: int
    last: int
    notes: tuple[Note, ...]
    transitions: tuple[Transition, ...]
    glides: tuple[Glide, ...]
    trills: tuple[Trill, ...]


@dataclass(frozen=True, slots=True)
class Events:
    """All that was heard in a longer stretch. `transitions[i]` leads from `notes[i]` to the
    next, over a breath where another passage begins."""

    notes: tuple[Note, ...] = ()
    transitions: tuple[Transition, ...] = ()
    glides: tuple[Glide, ...] = ()
    trills: tuple[Trill, ...] = ()

    @staticmethod
    def of(passages: Iterable[Passage]) -> "Events":
        """What was heard in some passages, in order."""
        passages = list(passages)
        transitions: list[Transition] = []
        for passage, following in itertools.pairwise([p for p in passages if p.notes]):
            transitions += [*passage.transitions, _breath(passage.notes[-1], following.notes[0])]
        last = next((p for p in reversed(passages) if p.notes), None)
        transitions += last.transitions if last else ()
        return Events(
            tuple(note for passage in passages for note in passage.notes),
            tuple(transitions),
            tuple(glide for passage in passages for glide in passage.glides),
            tuple(trill for passage in passages for trill in passage.trills),
        )

    @property
    def middle_midi(self) -> int | None:
        """The note in the middle of all that were heard."""
        pitches = sorted(note.midi for note in self.notes)
        return pitches[len(pitches) // 2] if pitches else None

    @property
    def sounding_frames(self) -> int:
        """How many frames of notes and glides there are."""
        gliding_s = sum(glide.end_s - glide.start_s for glide in self.glides)
        return sum(note.last - note.first for note in self.notes) + round(gliding_s / HOP_S)

    def range_midi(self, a4_hz: float) -> tuple[float, float] | None:
        """The lowest and highest pitch of notes and glides (MIDI)."""
        pitches = [float(note.midi) for note in self.notes]
        for glide in self.glides:
            pitches += [midi_from_hz(hz, a4_hz) for hz in (glide.lowest_hz, glide.highest_hz)]
        return (min(pitches), max(pitches)) if pitches else None

    def earlier(self, frames: int) -> "Events":
        """The same events with their frames counted from a start `frames` later."""
        seconds = frames * HOP_S
        return Events(
            tuple(
                replace(note, first=note.first - frames, last=note.last - frames)
                for note in self.notes
            ),
            tuple(
                replace(transition, start_s=transition.start_s - seconds)
                for transition in self.transitions
            ),
            tuple(
                replace(glide, start_s=glide.start_s - seconds, end_s=glide.end_s - seconds)
                for glide in self.glides
            ),
            tuple(trill.earlier(frames) for trill in self.trills),
        )


def _breath(before: Note, after: Note) -> Transition:
    gap_s = after.start_s - before.end_s
    return Transition(
        kind=Change.BREATH,
        start_s=before.end_s,
        duration_s=gap_s,
        gap_s=gap_s,
        touched=(),
        dip_db=0.0,
        waning_db=0.0,
        overshoot_cents=0.0,
        level_change_db=after.measures.level_db - before.measures.level_db,
    )
