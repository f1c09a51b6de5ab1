"""What to point at on a ribbon, and in which words.

A mark stands where something happened: in seconds from the start of the stretch, and at a pitch in
cents (100 a MIDI number).
"""

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

from orexis.core.counting import counted
from orexis.core.horn.pitch import A4_HZ, midi_from_hz
from orexis.core.judging.words import Name
from orexis.core.listening.notes.events import Change, Events, Glide, Note, Transition
from orexis.core.listening.notes.measures import NoteMeasures, Shape
from orexis.core.listening.notes.trills import Trill
from orexis.core.listening.tracking.frames import HOP_S

_CENTS, _WOBBLE_CENTS, _OVERSHOOT_CENTS = 10.0, 9.0, 30.0
_SHAPE_DB, _WANING_DB = 3.0, 3.0
_EDGES_FROM_S = 0.3
_GAP_S = 0.06
"""A shorter gap is the tongue's."""
_NEAR_S = 0.3
_LATE_S = 0.08
_WHOLE_FROM_S, _SWINGS_FROM_S = 0.8, 1.2
_WRONG_NOTE = 5.0
"""What another note weighs, however short: as much as 50 cents."""


@dataclass(frozen=True, slots=True)
class Mark:
    """Something that happened at one place: seconds, its pitch in cents, and words, which are
    `short` where there is little room. `off_cents` is there where it was too low or high. `weight`
    is its size as a multiple of the least that is pointed at: where there is room for few words,
    they are those of the heaviest."""

    at_s: float
    pitch_cents: float
    words: str
    short: str
    off_cents: float | None = None
    weight: float = 1.0

    @property
    def side(self) -> Literal["low", "high"] | None:
        """Whether it was low or high, where that is what it tells."""
        if self.off_cents is None:
            return None
        return "low" if self.off_cents < 0 else "high"


def marks(
    events: Events, name: Name, a4_hz: float = A4_HZ, *, sounding: bool = False
) -> tuple[Mark, ...]:
    """What is worth pointing at, in the order it happened. While the last note is still `sounding`
    nothing is said of its end."""
    found = [
        *_of_notes(events, name, sounding),
        *_of_changes(events, name),
        *(_of_glide(glide, events, a4_hz) for glide in events.glides),
        *(_of_trill(trill) for trill in events.trills),
    ]
    return tuple(sorted(found, key=lambda mark: mark.at_s))


def _of_notes(events: Events, name: Name, sounding: bool) -> Iterator[Mark]:
    for index, note in enumerate(events.notes):
        unfinished = sounding and index == len(events.notes) - 1
        if any(trill.first <= note.first < trill.last for trill in events.trills):
            continue
        before = events.transitions[index - 1] if index else None
        after = events.transitions[index] if index < len(events.transitions) else None
        yield from _of_note(note, _parted(before), _parted(after), unfinished, name)


def _parted(change: Transition | None) -> bool:
    """Whether a note stands free on this side, with a start or an end of its own."""
    return change is None or change.kind in (Change.TONGUED, Change.BREATH)


def _of_note(note: Note, starts: bool, ends: bool, unfinished: bool, name: Name) -> Iterator[Mark]:
    measures, length_s = note.measures, note.end_s - note.start_s
    centre = note.pitch_cents
    if note.cracked_from_midi is not None:
        wrong = name(note.cracked_from_midi)
        yield Mark(
            note.start_s, centre, f"cracked, from {wrong}", f"cracked {wrong}", weight=_WRONG_NOTE
        )
    if measures.response_s is not None and measures.response_s >= _LATE_S:
        late = f"{1000 * measures.response_s:.0f} ms"
        yield Mark(
            note.start_s,
            centre,
            f"air for {late} before it speaks",
            f"air {late}",
            weight=measures.response_s / _LATE_S,
        )
    if length_s < _EDGES_FROM_S:
        return
    scoop, sag = measures.scoop_cents, measures.sag_cents
    if starts and abs(scoop) >= _CENTS:
        slid = "slid up" if scoop < 0 else "came down"
        moved = f"{slid} {abs(scoop):.0f}"
        yield Mark(
            note.start_s,
            centre + scoop,
            f"{moved} cents into the note",
            moved,
            scoop,
            abs(scoop) / _CENTS,
        )
    if unfinished:
        if length_s >= _SWINGS_FROM_S:
            # Its middle would wander while it goes on.
            yield from _of_swing(measures, note.start_s + _WHOLE_FROM_S, centre)
        return
    if length_s >= _WHOLE_FROM_S:
        yield from _of_swing(measures, note.start_s + length_s / 2, centre)
        yield from _of_shape(measures, note.start_s + 0.7 * length_s, centre)
    if ends and abs(sag) >= _CENTS:
        moved = f"{'fell' if sag < 0 else 'rose'} {abs(sag):.0f}"
        yield Mark(note.end_s, centre + sag, f"{moved} cents", moved, sag, abs(sag) / _CENTS)


def _of_swing(measures: NoteMeasures, at_s: float, centre: float) -> Iterator[Mark]:
    if measures.vibrato is not None:
        extent = f"± {measures.vibrato.extent_cents:.0f}"
        yield Mark(at_s, centre, f"vibrato {extent} cents", f"vibrato {extent}")
    elif measures.wobble_cents >= _WOBBLE_CENTS:
        extent = f"± {measures.wobble_cents:.0f}"
        yield Mark(
            at_s,
            centre,
            f"wavers {extent} cents",
            f"wavers {extent}",
            weight=measures.wobble_cents / _WOBBLE_CENTS,
        )


def _of_shape(measures: NoteMeasures, at_s: float, centre: float) -> Iterator[Mark]:
    if measures.shape is not Shape.STEADY and abs(measures.level_change_db) >= _SHAPE_DB:
        grows = "grows" if measures.level_change_db > 0 else "fades"
        change_db = abs(measures.level_change_db)
        yield Mark(at_s, centre, f"{grows} {change_db:.0f} dB", grows, weight=change_db / _SHAPE_DB)


def _of_changes(events: Events, name: Name) -> Iterator[Mark]:
    for change, before, after in zip(
        events.transitions, events.notes, events.notes[1:], strict=False
    ):
        here, there = (note.pitch_cents for note in (before, after))
        at_s = change.start_s
        if change.waning_db >= _WANING_DB and change.kind is not Change.BREATH:
            yield Mark(
                at_s - 0.1,
                here,
                f"wanes {change.waning_db:.0f} dB",
                "wanes",
                weight=change.waning_db / _WANING_DB,
            )
        if change.kind is Change.BREATH:
            yield Mark(at_s, (here + there) / 2, "breath", "breath")
        elif change.gap_s >= _GAP_S:
            yield Mark(
                at_s,
                (here + there) / 2,
                f"gap {1000 * change.gap_s:.0f} ms",
                "gap",
                weight=change.gap_s / _GAP_S,
            )
        for touched in change.touched:
            slot = f"touched {name(touched.midi)}"
            words = f"{slot}, {1000 * touched.duration_s:.0f} ms"
            yield Mark(at_s, 100 * touched.midi, words, slot, weight=_WRONG_NOTE)
        if change.flipped is not None:
            slot, ms = f"flipped over to {name(change.flipped.midi)}", change.flipped.duration_s
            cents = 100 * change.flipped.midi
            yield Mark(
                at_s, cents, f"{slot}, {1000 * ms:.0f} ms", "flipped", cents - there, _WRONG_NOTE
            )
        overshoot = change.overshoot_cents
        if abs(overshoot) >= _OVERSHOOT_CENTS:
            past, at_s = f"{abs(overshoot):.0f}", after.start_s + 0.05
            yield Mark(
                at_s,
                there + overshoot,
                f"{past} cents past it",
                f"{past} past",
                overshoot,
                abs(overshoot) / _OVERSHOOT_CENTS,
            )


def _of_glide(glide: Glide, events: Events, a4_hz: float) -> Mark:
    leads = any(
        change.kind is Change.GLIDE
        and glide.start_s - _NEAR_S <= change.start_s <= glide.end_s + _NEAR_S
        for change in events.transitions
    )
    span = round(glide.span_semitones)
    kind = "glide" if leads else "siren"
    words = f"{kind}, {counted(span, 'half step')} in {glide.end_s - glide.start_s:.1f} s"
    if glide.passes > 1:
        words += f", {glide.passes} ways"
    if glide.breaks:
        words += f", {counted(glide.breaks, 'break')}"
    low, high = midi_from_hz(glide.lowest_hz, a4_hz), midi_from_hz(glide.highest_hz, a4_hz)
    middle = 100 * (low + high) / 2
    return Mark((glide.start_s + glide.end_s) / 2, middle, words, kind)


def _of_trill(trill: Trill) -> Mark:
    words = f"trill, {trill.rate_hz:.1f} a second, {100 * trill.clear_share:.0f} % clear"
    return Mark(trill.first * HOP_S, 100 * trill.high_midi, words, "trill")
