"""Slurs, trills and lengths: how slots of one length go together, and lengths with each other."""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import combinations

from orexis.core.horn.setup import Horn
from orexis.core.horn.slide import LAST_POSITION, Slide
from orexis.core.horn.tube import Length, Slot
from orexis.core.horn.valves import VALVE_CENTS
from orexis.core.horn.ways import Way, ways

_WIDEST_TRILL_CENTS = 350.0
_MOST_NEAREST = 3
_POSITIONS_WORTH_A_TRIGGER = 2.0
_EFFORT_WORTH_A_MOVE = 0.1
_THROUGH_THREE = ("0", "2", "1", "12", "23", "13", "123")
_THROUGH_FOUR = ("0", "2", "1", "12", "23", "4", "24")


@dataclass(frozen=True, slots=True)
class SameLengthSlur:
    """Two notes on one length, and the slots in between, lowest first."""

    start: Way
    end: Way
    between: tuple[Slot, ...]

    @property
    def length(self) -> Length:
        """The length in hand."""
        return self.start.length

    @property
    def skips(self) -> bool:
        """Whether it is a skip slur: a slot lies between that must not speak."""
        return bool(self.between)


@dataclass(frozen=True, slots=True)
class LengthChange:
    """Two notes on two lengths that lie near each other."""

    start: Way
    end: Way


@dataclass(frozen=True, slots=True)
class Slur:
    """How one goes from one sounding note to another: on one length, best first, or, where no
    length has both, by the smallest changes of length. `without` are the notes of the two that
    this horn has no slot for."""

    from_midi: int
    to_midi: int
    same_length: tuple[SameLengthSlur, ...]
    nearest: tuple[LengthChange, ...]
    without: tuple[int, ...]


@dataclass(frozen=True, slots=True)
class LipTrill:
    """Neighbouring slots of one length near enough to trill with the lips alone."""

    lower: Way
    upper: Slot
    interval_cents: float


@dataclass(frozen=True, slots=True)
class SamePitch:
    """One note on two lengths, for alternating; how much the second lies above the first."""

    first: Way
    second: Way
    mismatch_cents: float


def slur(horn: Horn, from_midi: int, to_midi: int) -> Slur:
    """How two sounding notes go together."""
    starts, ends = _usable(horn, from_midi), _usable(horn, to_midi)
    same = [
        SameLengthSlur(start, end, _between(horn, start, end))
        for start in starts
        for end in ends
        if start.length.name == end.length.name
    ]
    order = {way.slot: place for ways_ in (starts, ends) for place, way in enumerate(ways_)}
    same.sort(key=lambda slur: order[slur.start.slot] + order[slur.end.slot])
    changes: list[LengthChange] = []
    if not same:
        pairs = [LengthChange(start, end) for start in starts for end in ends]
        pairs.sort(
            key=lambda pair: (
                _moved(pair.start.length, pair.end.length)
                + _EFFORT_WORTH_A_MOVE * (order[pair.start.slot] + order[pair.end.slot])
            )
        )
        changes = pairs[:_MOST_NEAREST]
    without = tuple(midi for midi, found in ((from_midi, starts), (to_midi, ends)) if not found)
    return Slur(from_midi, to_midi, tuple(same), tuple(changes), without)


def neighbours(horn: Horn, slot: Slot) -> tuple[Slot | None, Slot | None]:
    """The slots just below and just above on the same length, where there are any."""
    slots = horn.slots[slot.length.name]
    below = slots[slot.partial - 2] if slot.partial > 1 else None
    above = slots[slot.partial] if slot.partial < len(slots) else None
    return below, above


def lip_trills(horn: Horn, midi: int) -> tuple[LipTrill, ...]:
    """Every lip trill upward from a sounding note, narrowest first."""
    found: list[LipTrill] = []
    for way in _usable(horn, midi):
        _, upper = neighbours(horn, way.slot)
        if upper is not None:
            interval = 100 * (upper.pitch - way.slot.pitch)
            if interval <= _WIDEST_TRILL_CENTS:
                found.append(LipTrill(way, upper, interval))
    return tuple(sorted(found, key=lambda trill: trill.interval_cents))


def same_pitch_pairs(horn: Horn, midi: int) -> tuple[SamePitch, ...]:
    """Every pair of lengths that give a sounding note, least mismatch first."""
    pairs = [
        SamePitch(first, second, second.expected_cents - first.expected_cents)
        for first, second in combinations(_usable(horn, midi), 2)
    ]
    return tuple(sorted(pairs, key=lambda pair: abs(pair.mismatch_cents)))


def lengths_in_turn(horn: Horn) -> tuple[Length, ...]:
    """The lengths exercises go through, shortest first: 0, 2, 1, 12, 23, 13, 123 (4 for 13 and
    24 for 123 with a fourth valve), or positions one to seven."""
    if horn.instrument.is_slide:
        names: Sequence[str] = [str(position) for position in range(1, LAST_POSITION + 1)]
    else:
        names = _THROUGH_FOUR if horn.lengths[0].valve_count > 3 else _THROUGH_THREE
    return tuple(horn.length(name) for name in names)


def note_of(horn: Horn, slot: Slot) -> int:
    """The note a slot is written as: its note on the open horn, lowered by the half steps its
    length stands for. A long combination of valves is sharp of that note and is brought down to
    it."""
    length = slot.length
    if length.thumb:
        return slot.midi
    mechanism = horn.instrument.mechanism
    if isinstance(mechanism, Slide):
        cents = {trigger.names: trigger.cents for trigger in mechanism.triggers}
        lowered = (length.position or 1) - 1 + round(cents.get(length.triggers, 0.0) / 100)
    else:
        lowered = round(sum(VALVE_CENTS[valve - 1] for valve in length.valves) / 100)
    return horn.slot(horn.lengths[0].name, slot.partial).midi - lowered


def through_the_lengths(
    horn: Horn, partials: Sequence[int]
) -> tuple[tuple[Length, tuple[Slot, ...]], ...]:
    """A pattern of partials on each length in turn.

    Raises `ValueError` for a pattern that is empty or has a partial no length has.
    """
    if not partials:
        raise ValueError("Give the pattern at least one partial.")
    for partial in partials:
        if not 1 <= partial <= len(horn.slots[horn.lengths[0].name]):
            raise ValueError(f"There is no partial {partial}; partials go from 1 to 16.")
    return tuple(
        (length, tuple(horn.slot(length.name, partial) for partial in partials))
        for length in lengths_in_turn(horn)
    )


def _usable(horn: Horn, midi: int) -> tuple[Way, ...]:
    return tuple(way for way in ways(horn, midi) if way.usable)


def _between(horn: Horn, start: Way, end: Way) -> tuple[Slot, ...]:
    low, high = sorted((start.partial, end.partial))
    return horn.slots[start.length.name][low : high - 1]


def _moved(first: Length, second: Length) -> float:
    """How much the hand does from one length to another, in fingers or positions."""
    if first.position is not None and second.position is not None:
        triggers = set(first.triggers) ^ set(second.triggers)
        return abs(first.position - second.position) + _POSITIONS_WORTH_A_TRIGGER * len(triggers)
    return len(set(first.valves) ^ set(second.valves)) + (first.thumb != second.thumb)
