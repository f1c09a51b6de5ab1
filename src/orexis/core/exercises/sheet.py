"""A task as it lies on the stand: each note with its target and what the hand does, and the slots
that its sound is drawn against."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from orexis.core.exercises.task import Task
from orexis.core.horn.pitch import hz_from_midi
from orexis.core.horn.setup import Horn
from orexis.core.horn.slurs import note_of
from orexis.core.horn.tuning import Temperament
from orexis.core.horn.ways import Way, standard_way, way_of
from orexis.core.horn.words import correction_words, slot_words
from orexis.core.parameter import Parameter
from orexis.core.score.steps import Play, PlayedOn

_NEIGHBOURS_OF_ONE, _NEIGHBOURS = 2, 1
_LOWEST_DRONE_HZ = 100.0


@dataclass(frozen=True, slots=True)
class SheetNote:
    """A note of a task: which step it is, its target from equal temperament, and how it is played
    (`None` where the lips find it by themselves)."""

    step: int
    note: Play
    target_cents: float
    way: Way | None

    @property
    def pitch_cents(self) -> float:
        """Its target, in cents (100 a MIDI number)."""
        return 100 * self.note.midi + self.target_cents

    @property
    def hand(self) -> str:
        """What the hand does and which slot it is, in words."""
        if self.note.on is PlayedOn.MOUTHPIECE:
            return "mouthpiece alone"
        if self.note.on is PlayedOn.LEADPIPE:
            return "mouthpiece in the leadpipe, slide out"
        if self.way is None:
            return "by ear"
        adjust = correction_words(self.way)
        said = f"{self.way.length.hand}, {slot_words(self.way.partial)}"
        return f"{said}. {adjust}" if adjust else said

    def slide_marks(self, horn: Horn) -> tuple[float, ...]:
        """Where the positions lie with the trigger in hand, as shares of how far it goes."""
        return () if self.way is None else horn.slide_marks(self.way.length)


@dataclass(frozen=True, slots=True)
class Band:
    """A slot that sound is drawn against: its note (sounding), its pitch in cents, and whether it
    is asked for."""

    midi: int
    pitch_cents: float
    asked: bool


@dataclass(frozen=True, slots=True)
class Sheet:
    """A task's notes in order, and what its sound is drawn against, highest first: where all of it
    lies on one length, the slots of that with those beside them; else every pitch reached."""

    notes: tuple[SheetNote, ...]
    bands: tuple[Band, ...]


def sheet_of(task: Task, horn: Horn, target_cents: Callable[[int], float] | None = None) -> Sheet:
    """A task on a horn. `target_cents` says where the target of a note (MIDI) lies from equal
    temperament; it is what the task is in tune with unless it was played to another tuning."""
    target = target_cents or task.tuning(horn).offset_cents
    notes = tuple(
        SheetNote(step, note, target(note.midi), _way(note, horn))
        for step, note in enumerate(task.score.steps)
        if isinstance(note, Play)
    )
    reached = {midi: 100 * midi + target(midi) for midi in task.score.pitches}
    asked = [Band(midi, cents, True) for midi, cents in reached.items()]
    found = sorted([*asked, *_beside(notes, horn)], key=lambda band: -band.pitch_cents)
    return Sheet(notes, tuple(found))


def _way(note: Play, horn: Horn) -> Way | None:
    if note.length_name is None or note.partial is None:
        return standard_way(horn, note.midi) if note.on is PlayedOn.HORN else None
    slot = horn.slot(note.length_name, note.partial)
    # The fingers may stand where the next note is: then they are told by that.
    fingered = note_of(horn, slot)
    return way_of(horn, slot, note.midi if abs(fingered - note.midi) < 1 else fingered)


def _beside(notes: tuple[SheetNote, ...], horn: Horn) -> list[Band]:
    """The slots of the length that all notes lie on which are not asked for, with those beside."""
    ways = [note.way for note in notes if note.way is not None]
    lengths = {way.length.name for way in ways}
    if len(ways) < len(notes) or len(lengths) != 1:
        return []
    partials = [way.partial for way in ways]
    beside = _NEIGHBOURS_OF_ONE if len(set(partials)) == 1 else _NEIGHBOURS
    return [
        Band(slot.midi, 100 * slot.pitch, False)
        for slot in horn.slots[lengths.pop()]
        if min(partials) - beside <= slot.partial <= max(partials) + beside
        and slot.partial not in partials
    ]


def drone_hz(task: Task, horn: Horn) -> float | None:
    """A tone to play to: the tonic of a just or Scala tuning, else the first note, in the octave at
    or under it that a small loudspeaker can still sound. `None` where there is no note."""
    if not task.score.pitches:
        return None
    midi, tuning = task.score.pitches[0], task.tuning(horn)
    below = 0 if tuning.temperament is Temperament.EQUAL else (midi - tuning.tonic) % 12
    hz = hz_from_midi(midi - below, horn.setup.a4_hz)
    while hz < _LOWEST_DRONE_HZ:
        hz *= 2
    return hz


def turned_by_keys(
    parameters: Sequence[Parameter],
) -> tuple[Parameter | None, Parameter | None]:
    """What takes an exercise higher or lower (its note, or else a choice such as its length), and
    what else of it is more or less, where there is such a thing."""
    higher = next(
        (parameter for parameter in parameters if parameter.is_note or parameter.choices), None
    )
    more = next(
        (parameter for parameter in parameters if parameter.step and not parameter.is_note), None
    )
    return higher, more


def cue(task: Task) -> str:
    """How to begin, and how long to hold, in words."""
    if not task.score.pitches:
        return "by breathing alone; the horn can rest"
    hold = f", hold {task.hold_s:g} s" if task.hold_s else ""
    return f"breathe, air attack{hold}"
