"""Ways to play a note: every length and partial that gives it, with what to do about its pitch.

The standard way is the one players learn first; which it is does not depend on how a player's
own horn is tuned. The others follow by how near they are and how much the hand has to do.
"""

from dataclasses import dataclass
from enum import StrEnum
from functools import lru_cache
from math import floor, inf

from orexis.core.horn.instruments import Instrument
from orexis.core.horn.pitch import hz_from_midi
from orexis.core.horn.setup import Horn, Tendency
from orexis.core.horn.tube import Length, Slot, extra_length_mm
from orexis.core.horn.valves import pull_mm, slide_to_pull

LEARNED_WITHIN_CENTS = 80.0
"""Long valve combinations are learned for a note though they lie so far above it."""

FLATTEST_CENTS = -20.0
"""Farther below a note than this, a tube that cannot get shorter does not serve."""

_WORTH_PULLING_CENTS = 0.5
_CENTS_WORTH_A_FINGER = 12.0
_SLIDE_CENTS_WORTH_A_POSITION = 60.0
_OTHER_SIDE_EFFORT = 100.0


class Pedal(StrEnum):
    """What holds a pedal: the horn's resonance, or the lips alone."""

    TRUE = "true"
    LIP_LED = "lip-led"


@dataclass(frozen=True, slots=True)
class Pull:
    """A valve slide to pull: its valve (the highest-numbered way to say it) and how far."""

    valve: int
    mm: float


@dataclass(frozen=True, slots=True)
class Way:
    """A slot that gives a note. `cents` is where the model puts it from equal temperament, and
    `tendency` what was measured of this player, if anything; `hz` is the pitch to expect of both.

    `extension_mm` is the slide's position and `correction_mm` what to add to it (negative: in)
    to be in tune; `slide_share` is where that puts the slide, of how far it goes. `lip_led`
    marks a pedal with no resonance to rest on. A way that is not `usable` says why in `reason`.
    """

    slot: Slot
    midi: int
    cents: float
    hz: float
    usable: bool
    reason: str
    lip_led: bool
    extension_mm: float | None
    correction_mm: float | None
    slide_share: float | None
    pull: Pull | None
    tendency: Tendency | None

    @property
    def length(self) -> Length:
        """The length in hand."""
        return self.slot.length

    @property
    def partial(self) -> int:
        """Which slot of the length it is."""
        return self.slot.partial

    @property
    def slide_mm(self) -> float:
        """Where the slide really stands: its position with its correction, in mm; 0 without."""
        return (self.extension_mm or 0.0) + (self.correction_mm or 0.0)

    @property
    def expected_cents(self) -> float:
        """The model, replaced by what was measured as takes accumulate."""
        return self.cents if self.tendency is None else self.tendency.with_model(self.cents)


@dataclass(frozen=True, slots=True)
class ChartLine:
    """One note of the fingering chart: its ways, standard first when `standard` is true."""

    midi: int
    ways: tuple[Way, ...]
    standard: bool

    @property
    def pedal(self) -> Pedal | None:
        """What kind of pedal it is: partial 1, or below every slot; `None` above."""
        if not self.standard:
            return Pedal.LIP_LED
        first = self.ways[0]
        if first.partial > 1:
            return None
        return Pedal.LIP_LED if first.lip_led else Pedal.TRUE


def ways(horn: Horn, midi: int) -> tuple[Way, ...]:
    """Every way to play a sounding note: the standard one, then usable ones by how readily they
    serve, then those that will not do."""
    learned = _learned(horn.instrument).get(midi)
    found = {(slot.length.name, slot.partial): slot for slot in horn.slots_near(midi)}
    if learned is not None and learned not in found:
        found[learned] = horn.slot(*learned)
    made = [way_of(horn, slot, midi) for slot in found.values()]
    made.sort(key=lambda way: _rank(way, learned))
    return tuple(made)


def slots_beside(horn: Horn, midi: int) -> tuple[float, ...]:
    """Where the slots of the lengths lie on which a sounding note is played (MIDI, fractions for
    cents), lowest first: what a player may hit in its place without moving a finger."""
    lengths = {way.length.name for way in ways(horn, midi) if way.usable}
    return tuple(sorted(slot.pitch for name in lengths for slot in horn.slots[name]))


def standard_slot(horn: Horn, midi: int) -> tuple[str, int] | None:
    """Length name and partial of the way players learn first for a sounding note; `None` when no
    slot gives it."""
    return _learned(horn.instrument).get(midi)


def standard_way(horn: Horn, midi: int) -> Way | None:
    """The way players learn first for a sounding note; `None` when no slot gives it."""
    learned = standard_slot(horn, midi)
    return None if learned is None else way_of(horn, horn.slot(*learned), midi)


def chart(horn: Horn) -> tuple[ChartLine, ...]:
    """The fingering chart over the instrument's whole range, lowest note first."""
    learned = _learned(horn.instrument)
    lowest, highest = horn.instrument.lowest_midi, horn.instrument.highest_midi
    return tuple(
        ChartLine(midi, ways(horn, midi), midi in learned) for midi in range(lowest, highest + 1)
    )


def way_of(horn: Horn, slot: Slot, midi: int) -> Way:
    """One slot as a way to play a note: how far off it is, and what brings it in."""
    length = slot.length
    cents = 100 * (slot.pitch - midi)
    tendency = horn.setup.tendencies.get((length.name, midi))
    expected = cents if tendency is None else tendency.with_model(cents)
    off = expected - horn.setup.tuning.offset_cents(midi)
    own = cents - horn.offset_cents
    correction = slide_share = pull = None
    if length.extension_mm is not None:
        wanted = extra_length_mm(horn.tube_m(length), off) / 2
        furthest = max(horn.furthest_mm - length.extension_mm, 0.0)
        correction = min(max(wanted, -length.extension_mm), furthest)
        slide_share = (length.extension_mm + correction) / horn.furthest_mm
    elif off > _WORTH_PULLING_CENTS:
        valve = slide_to_pull(length.valves)
        if valve is not None:
            pull = Pull(valve, pull_mm(horn.tube_m(length), off))
    reason = _reason(horn, slot, own)
    return Way(
        slot=slot,
        midi=midi,
        cents=cents,
        hz=hz_from_midi(midi + expected / 100, horn.setup.a4_hz),
        usable=not reason,
        reason=reason,
        lip_led=slot.partial == 1 and not horn.instrument.true_pedals,
        extension_mm=length.extension_mm,
        correction_mm=correction,
        slide_share=slide_share,
        pull=pull,
        tendency=tendency,
    )


def _reason(horn: Horn, slot: Slot, own_cents: float) -> str:
    """Why a slot will not do for a note it lies `own_cents` from on a horn in tune, or ""."""
    length = slot.length
    if not length.reaches:
        extension = length.extension_mm or 0.0
        return f"beyond the slide: {extension:.0f} mm out, and it goes to {horn.furthest_mm:.0f} mm"
    if length.extension_mm is None:
        if own_cents < FLATTEST_CENTS:
            return f"too flat: {-own_cents:.0f} cents, and the tube cannot get shorter"
        return ""
    needed = extra_length_mm(horn.tube_m(length), own_cents) / 2
    if length.position == 1 and own_cents < FLATTEST_CENTS:
        return f"too flat in first position: {-own_cents:.0f} cents, and the slide cannot come in"
    if length.extension_mm + needed > horn.furthest_mm:
        return f"beyond the slide: it would need to go {needed:.0f} mm past the position"
    return ""


def _rank(way: Way, learned: tuple[str, int] | None) -> tuple[bool, bool, float]:
    length = way.length
    is_standard = learned == (length.name, way.partial)
    if length.position is not None:
        work = length.position + 3.0 * len(length.triggers)
        worth = _SLIDE_CENTS_WORTH_A_POSITION
    else:
        work = len(length.valves) + length.thumb
        worth = _CENTS_WORTH_A_FINGER
    return not is_standard, not way.usable, work + abs(way.expected_cents) / worth


@lru_cache(maxsize=64)
def _learned(instrument: Instrument) -> dict[int, tuple[str, int]]:
    """Length name and partial of the standard way to each note that has one."""
    best: dict[int, tuple[float, tuple[str, int]]] = {}
    horn = Horn(instrument)
    for slots in horn.slots.values():
        for slot in slots:
            effort = _effort(instrument, slot)
            for midi in {floor(slot.pitch), round(slot.pitch)}:
                cents = 100 * (slot.pitch - midi)
                if effort == inf or not _may_be_learned(slot, cents) or _reason(horn, slot, cents):
                    continue
                cost = effort + (0 if _right_side(instrument, slot, midi) else _OTHER_SIDE_EFFORT)
                if midi not in best or cost < best[midi][0]:
                    best[midi] = (cost, (slot.length.name, slot.partial))
    return {midi: way for midi, (_, way) in best.items()}


def _may_be_learned(slot: Slot, cents: float) -> bool:
    """Whether a slot so far off can be what one learns: a slide goes to where the note is."""
    if slot.length.position is not None:
        return abs(cents) <= 50
    return FLATTEST_CENTS <= cents <= LEARNED_WITHIN_CENTS


def _effort(instrument: Instrument, slot: Slot) -> float:
    length = slot.length
    by_partial = instrument.thumb_partial_effort if length.thumb else instrument.partial_effort
    partial_effort = by_partial.get(slot.partial, 0.0)
    if length.effort is None or partial_effort is None or not length.reaches:
        return inf
    return length.effort + partial_effort


def _right_side(instrument: Instrument, slot: Slot, midi: int) -> bool:
    border = instrument.thumb_from_midi
    return border is None or slot.length.thumb == (midi >= border)
