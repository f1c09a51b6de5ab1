"""What the API and `orexis horn` say of a horn: lengths, slots, notes and ways to play them."""

from collections.abc import Sequence
from dataclasses import replace

from orexis.core.horn import words
from orexis.core.horn.notation import (
    MAJOR_KEYS,
    Clef,
    Notation,
    NoteView,
    clef_for,
    enharmonics,
)
from orexis.core.horn.pitch import hz_from_midi
from orexis.core.horn.setup import Horn
from orexis.core.horn.slide import seventh_mm
from orexis.core.horn.tube import Length, Slot
from orexis.core.horn.tuning import Temperament, Tuning
from orexis.core.horn.ways import ChartLine, Pedal, Way
from orexis.server.schemas.shape import Shape


class PullOut(Shape):
    """A valve's slide and how far to pull it."""

    valve: int
    mm: float


class MeasuredOut(Shape):
    """Where this player's own takes put a note, and how many they are."""

    cents: float
    takes: int
    words: str


class WayOut(Shape):
    """One way to play a note. `cents` is the model's deviation from equal temperament,
    `expected_cents` what to expect once what was measured is weighed in."""

    length: str
    partial: int
    cents: float
    usable: bool
    reason: str
    lip_led: bool
    fingers: str
    slot: str
    off: str
    correction: str
    expected_cents: float
    hz: float
    measured: MeasuredOut | None = None
    extension_mm: float | None = None
    correction_mm: float | None = None
    slide_share: float | None = None
    pull: PullOut | None = None

    @classmethod
    def of(cls, way: Way) -> "WayOut":
        """The way as it is given out."""
        tendency = way.tendency
        return cls(
            length=way.length.name,
            partial=way.partial,
            cents=round(way.cents, 2),
            usable=way.usable,
            reason=way.reason,
            lip_led=way.lip_led,
            fingers=words.finger_words(way.length),
            slot=words.slot_words(way.partial),
            off=words.tuned_words(way.expected_cents),
            correction=words.correction_words(way),
            expected_cents=round(way.expected_cents, 2),
            hz=round(way.hz, 3),
            measured=tendency
            and MeasuredOut(
                cents=round(tendency.cents, 1),
                takes=tendency.takes,
                words=words.measured_words(way.cents, tendency),
            ),
            extension_mm=_mm(way.extension_mm),
            correction_mm=_mm(way.correction_mm),
            slide_share=way.slide_share and round(way.slide_share, 4),
            pull=way.pull and PullOut(valve=way.pull.valve, mm=round(way.pull.mm, 1)),
        )


class NoteWays(Shape):
    """A note of an instrument and every way to play it, the standard one first."""

    instrument: str
    sounding: str
    written: str
    ways: list[WayOut]

    @classmethod
    def of(cls, horn: Horn, written: Notation, midi: int, ways: tuple[Way, ...]) -> "NoteWays":
        """A sounding note with its ways."""
        return cls(
            instrument=horn.instrument.key,
            sounding=written.sounding_name(midi),
            written=written.name(midi),
            ways=[WayOut.of(way) for way in ways],
        )


class SlotOut(Shape):
    """A slot: `pitch` is a fractional MIDI number, `midi` and `name` the nearest note."""

    partial: int
    pitch: float
    midi: int
    name: str
    cents: float
    hz: float

    @classmethod
    def of(cls, slot: Slot, notation: Notation, a4_hz: float) -> "SlotOut":
        """The slot with its nearest note named."""
        return cls(
            partial=slot.partial,
            pitch=round(slot.pitch, 4),
            midi=slot.midi,
            name=notation.name(slot.midi),
            cents=round(slot.cents, 1),
            hz=round(hz_from_midi(slot.pitch, a4_hz), 3),
        )


class LengthOut(Shape):
    """A length with its slots. `learned` says that the fingering chart uses it."""

    name: str
    hand: str
    valves: list[int]
    thumb: bool
    position: int | None
    triggers: list[str]
    extension_mm: float | None
    slide_marks: list[float]
    reaches: bool
    learned: bool
    slots: list[SlotOut]

    @classmethod
    def of(cls, horn: Horn, length: Length, notation: Notation) -> "LengthOut":
        """The length as it is given out."""
        a4_hz = horn.setup.a4_hz
        return cls(
            name=length.name,
            hand=length.hand,
            valves=list(length.valves),
            thumb=length.thumb,
            position=length.position,
            triggers=list(length.triggers),
            extension_mm=_mm(length.extension_mm),
            slide_marks=[round(mark, 4) for mark in horn.slide_marks(length)],
            reaches=length.reaches,
            learned=length.learned,
            slots=[SlotOut.of(slot, notation, a4_hz) for slot in horn.slots[length.name]],
        )


class NoteOut(Shape):
    """A line of the fingering chart, with all that is shown of its note.

    `pedal` is set on partial 1 and below; `standard` says whether the first way
    is one that is learned. Pitches are in Hz.
    """

    midi: int
    name: str
    sounding: str
    written: str
    also: list[str]
    octave: str
    begins_octave: bool
    clef: Clef
    staff_steps: int
    alter: int
    pedal: Pedal | None
    pedal_words: str
    standard: bool
    equal_hz: float
    just_hz: float
    target_hz: float
    target_cents: float
    ways: list[WayOut]

    @classmethod
    def of(cls, horn: Horn, line: ChartLine, notation: Notation) -> "NoteOut":
        """The line for a player who names notes in `notation`."""
        midi, setup = line.midi, horn.setup
        spelling = notation.spelling(midi)
        written = replace(notation, view=NoteView.WRITTEN)
        as_read = notation.view is NoteView.WRITTEN or not notation.reading.shift_semitones
        clef = notation.reading.clef if as_read else clef_for(midi)
        just = Tuning(Temperament.JUST, setup.tuning.tonic).offset_cents(midi) / 100
        return cls(
            midi=midi,
            name=spelling.named(notation.naming),
            sounding=notation.sounding_name(midi),
            written=written.name(midi),
            also=[
                other.named(notation.naming)
                for other in enharmonics(midi + notation.shift_semitones)
                if other != spelling
            ],
            octave=spelling.octave_words,
            begins_octave=spelling.begins_octave,
            clef=clef,
            staff_steps=spelling.staff_steps(clef),
            alter=spelling.alter,
            pedal=line.pedal,
            pedal_words=words.pedal_words(line),
            standard=line.standard,
            equal_hz=round(hz_from_midi(midi, setup.a4_hz), 3),
            just_hz=round(hz_from_midi(midi + just, setup.a4_hz), 3),
            target_hz=round(horn.target_hz(midi), 3),
            target_cents=round(setup.tuning.offset_cents(midi), 2),
            ways=[WayOut.of(way) for way in line.ways],
        )


class KeyOut(Shape):
    """A major key to spell in, and what it is called."""

    key: str
    name: str


class HornOut(Shape):
    """A player's horn: all lengths with their slots, and the chart over the whole range."""

    key: str
    name: str
    is_slide: bool
    valve_count: int
    furthest_mm: float | None
    seventh_mm: float | None
    a4_hz: float
    temperature_c: float
    tuning: str
    tonic: str
    cold: str
    own: bool
    normal_low: int
    normal_high: int
    start_midi: int
    view: NoteView
    keys: list[KeyOut]
    lengths: list[LengthOut]
    notes: list[NoteOut]

    @classmethod
    def of(cls, horn: Horn, chart: Sequence[ChartLine], notation: Notation, own: bool) -> "HornOut":
        """The horn for a player who names notes in `notation`; `own` when it was set up."""
        instrument, setup = horn.instrument, horn.setup
        return cls(
            key=instrument.key,
            name=instrument.name,
            is_slide=instrument.is_slide,
            valve_count=horn.lengths[0].valve_count,
            furthest_mm=_mm(horn.furthest_mm) if instrument.is_slide else None,
            seventh_mm=_mm(seventh_mm(horn.open_m)) if instrument.is_slide else None,
            a4_hz=setup.a4_hz,
            temperature_c=setup.temperature_c,
            tuning=setup.tuning.temperament.value,
            tonic=notation.tonic_name(setup.tuning.tonic),
            cold=words.cold_words(horn),
            own=own,
            normal_low=instrument.normal_low,
            normal_high=instrument.normal_high,
            start_midi=instrument.start_midi,
            view=notation.view,
            keys=[KeyOut(key=key, name=notation.key_name(key)) for key in MAJOR_KEYS],
            lengths=[LengthOut.of(horn, length, notation) for length in horn.lengths],
            notes=[NoteOut.of(horn, line, notation) for line in chart],
        )


def _mm(value: float | None) -> float | None:
    return None if value is None else round(value, 1)
