"""A sitting: free playing, as it is told when it is over.

Each passage is taken as it ends, and of it only a line a note is kept, so an hour costs no more
memory than its notes. What is the player's is told at the end, when it is known how loud they
play: what lies near the room and far under them is not counted, nor what is surely another
player's, and what may be somebody else's (far under them, but no noise, or by its tone) is given as
unsure.
"""

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass

import numpy as np

from orexis.core.arrays import FloatArray
from orexis.core.horn.instruments import Instrument
from orexis.core.horn.pitch import A4_HZ
from orexis.core.horn.registers import Register, register_of
from orexis.core.listening.analysis import heard_parts
from orexis.core.listening.habits import (
    NoteHabit,
    SittingTrend,
    course_of,
    habits_of,
    louder_cents,
    seconds_of,
)
from orexis.core.listening.notes.beginnings import SlotsBeside
from orexis.core.listening.notes.events import Note, Passage
from orexis.core.listening.notes.players import of_the_player, room_level_db
from orexis.core.listening.notes.whose import own_and_doubtful
from orexis.core.listening.onsets import Beats, Onsets, against_a_metronome, by_themselves

_UNSURE_UNDER_DB = 15.0
_ROOM_EVERY = 10
_LOW_TO_MIDI, _MIDDLE_TO_MIDI = 53, 65
_THIRDS = (Register.LOW, Register.MIDDLE, Register.HIGH)


@dataclass(frozen=True, slots=True)
class Sitting:
    """What was played in a sitting, in seconds by what it was, and how. `onsets` is `None` where
    too few notes began to tell a time; `course` and `louder_cents` where too little was played to
    tell what became of the notes, and how 6 dB more move them."""

    duration_s: float
    playing_s: float
    unsure_s: float
    by_register: dict[str, float]
    notes: tuple[NoteHabit, ...]
    longest_hold: Note | None
    onsets: Onsets | None
    course: SittingTrend | None = None
    louder_cents: float | None = None


def listen_to(
    chunks: Iterable[FloatArray],
    sample_rate: int,
    a4_hz: float = A4_HZ,
    drone_hz: float | None = None,
    slots_beside: SlotsBeside | None = None,
    instrument: Instrument | None = None,
    metronome_bpm: float | None = None,
    told: Callable[[Note], None] = lambda _: None,
) -> Sitting:
    """A sitting heard as it comes, in mono chunks (1-D, full scale ±1); `told` is given the last
    note of each passage as it ends. Raises as `FrameTracker`."""
    passages: list[Passage] = []
    levels_db: list[FloatArray] = []
    duration_s = 0.0
    for part in heard_parts(chunks, sample_rate, a4_hz, drone_hz, slots_beside):
        duration_s = part.duration_s
        # A frame in ten is enough to tell the room by.
        levels_db.append(part.level_db[::_ROOM_EVERY])
        passages += part.passages
        for passage in part.passages:
            if passage.notes:
                told(passage.notes[-1])
    room_db = room_level_db(np.concatenate(levels_db)) if levels_db else None
    beats = None if metronome_bpm is None else Beats.steady(metronome_bpm, duration_s)
    return sitting_of(passages, duration_s, room_db, instrument, beats)


def sitting_of(
    passages: Iterable[Passage],
    duration_s: float,
    room_db: float | None = None,
    instrument: Instrument | None = None,
    beats: Beats | None = None,
    latency_s: float | None = 0.0,
) -> Sitting:
    """What some passages (in order) of a sound of so many seconds tell of it; `beats` are those of
    a metronome, with the latency that `against_a_metronome` asks for."""
    heard = [passage for passage in passages if passage.notes]
    mine = of_the_player(heard, room_db)
    levels_db = _levels(mine)
    usual_db = float(np.median(levels_db)) if len(levels_db) else 0.0
    sure = [passage for passage in mine if max(_levels([passage])) >= usual_db - _UNSURE_UNDER_DB]
    unsure = [passage for passage in mine if max(_levels([passage])) < usual_db - _UNSURE_UNDER_DB]
    notes, doubtful = own_and_doubtful([note for passage in sure for note in passage.notes])
    starts_s = np.array([note.start_s for note in notes])
    onsets = (
        by_themselves(starts_s)
        if beats is None
        else against_a_metronome(starts_s, beats, latency_s)
    )
    return Sitting(
        duration_s=duration_s,
        playing_s=seconds_of(notes),
        unsure_s=seconds_of([note for passage in unsure for note in passage.notes] + doubtful),
        by_register=_by_register(notes, instrument),
        notes=habits_of(notes),
        longest_hold=max(notes, key=lambda note: note.measures.hold_s, default=None),
        onsets=onsets,
        course=course_of(notes),
        louder_cents=louder_cents(notes),
    )


def _levels(passages: Sequence[Passage]) -> FloatArray:
    return np.array([note.measures.level_db for passage in passages for note in passage.notes])


def _by_register(notes: Sequence[Note], instrument: Instrument | None) -> dict[str, float]:
    """Seconds by register: the horn's thirds, pedals among the low; of an unknown horn, up to F3,
    up to F4 and above."""
    seconds = {register.value: 0.0 for register in _THIRDS}
    for note in notes:
        seconds[_register(note.midi, instrument).value] += note.end_s - note.start_s
    return seconds


def _register(midi: int, instrument: Instrument | None) -> Register:
    if instrument is None:
        if midi <= _LOW_TO_MIDI:
            return Register.LOW
        return Register.MIDDLE if midi <= _MIDDLE_TO_MIDI else Register.HIGH
    found = register_of(midi, instrument, instrument.normal_high)
    return Register.LOW if found is Register.PEDAL else found
