"""The tube: the lengths an instrument can take and the slots (partials) each one has.

A length is given as a ratio to the open horn, so slot n of length r sounds n·f1/r. Valves
alone are tuned to their interval and add v = 2^(s/12) − 1 of the open tube; together they
fall short, so combinations are sharp. A slide position p lowers by exactly p − 1 semitones.
Source: the length sums written out in `docs/measures.md`.
"""

from collections.abc import Iterable
from dataclasses import dataclass
from itertools import combinations
from math import log2

_VALVE_SEMITONES = {1: 2, 2: 1, 3: 3, 4: 5}
_F_TRIGGER_SEMITONES, _G_FLAT_TRIGGER_SEMITONES = 5, 4
_SLIDE_REACH = 1.09
"""How far the slide goes, as a multiple of the open horn's seventh position."""

_HIGHEST_PARTIAL = 16
_OUT_OF_TUNE_PARTIALS = frozenset({7, 11, 13, 14})
_SHARPEST_USABLE_CENTS = 60.0
_FLATTEST_USABLE_CENTS = -20.0
_ONE_TRIGGER_EFFORT = 2.5


@dataclass(frozen=True, slots=True)
class Length:
    """One valve combination or slide position.

    `ratio` is tube length over the open horn's; `effort` orders lengths as players learn
    them (least first); `gives_in` says that the slide can still come in to raise a slot.
    """

    name: str
    hand: str
    ratio: float
    effort: float
    valves: tuple[int, ...] = ()
    valve_count: int = 0
    position: int | None = None
    triggers: tuple[str, ...] = ()
    gives_in: bool = False


@dataclass(frozen=True, slots=True)
class Slot:
    """One partial of one length: fractional MIDI number relative to the open fundamental."""

    partial: int
    semitones: float


@dataclass(frozen=True, slots=True)
class Way:
    """A way to play a note: a length, a partial and what it gives in cents from equal."""

    length: Length
    partial: int
    cents: float


def valve_lengths(valve_count: int, *, compensating: bool = False) -> tuple[Length, ...]:
    """Lengths of a horn with three or four valves, shortest first.

    The third valve alone is left out: first and second together stand for it. On a
    compensating horn the loops of valves 1 to 3 grow by (1 + v4) when the fourth is down.
    """
    lengths: list[Length] = []
    valves = range(1, valve_count + 1)
    for count in range(valve_count + 1):
        for pressed in combinations(valves, count):
            if pressed != (3,):
                lengths.append(_valve_length(pressed, valve_count, compensating))
    return tuple(sorted(lengths, key=lambda length: length.effort))


def _valve_length(pressed: tuple[int, ...], valve_count: int, compensating: bool) -> Length:
    added = {valve: 2 ** (_VALVE_SEMITONES[valve] / 12) - 1 for valve in pressed}
    if compensating and 4 in added:
        added = {v: x if v == 4 else x * (1 + added[4]) for v, x in added.items()}
    ratio = 1 + sum(added.values())
    semitones = sum(_VALVE_SEMITONES[valve] for valve in pressed)
    return Length(
        name="".join(map(str, pressed)) or "0",
        hand=_valve_words(pressed),
        ratio=ratio,
        effort=semitones + 0.1 * len(pressed),
        valves=pressed,
        valve_count=valve_count,
    )


def _valve_words(pressed: tuple[int, ...]) -> str:
    if not pressed:
        return "open"
    if len(pressed) == 1:
        return f"valve {pressed[0]}"
    return f"valves {', '.join(map(str, pressed[:-1]))} and {pressed[-1]}"


def slide_lengths() -> tuple[Length, ...]:
    """Positions of a trombone with F and G♭ triggers; those past the slide's reach are out."""
    reach = _SLIDE_REACH * (2 ** (6 / 12) - 1)
    lengths: list[Length] = []
    for triggers, semitones in (
        ((), 0),
        (("F",), _F_TRIGGER_SEMITONES),
        (("G♭",), _G_FLAT_TRIGGER_SEMITONES),
        (("F", "G♭"), _F_TRIGGER_SEMITONES + _G_FLAT_TRIGGER_SEMITONES - 1),
    ):
        trigger_ratio = 2 ** (semitones / 12)
        for position in range(1, 8):
            if trigger_ratio * (2 ** ((position - 1) / 12) - 1) > reach:
                break
            words = f"position {position}"
            if triggers:
                words = f"{' and '.join(triggers)} trigger, {words}"
            lengths.append(
                Length(
                    name="+".join((*triggers, str(position))),
                    hand=words,
                    ratio=trigger_ratio * 2 ** ((position - 1) / 12),
                    effort=position + _ONE_TRIGGER_EFFORT * len(triggers),
                    position=position,
                    triggers=triggers,
                    gives_in=position > 1,
                )
            )
    return tuple(sorted(lengths, key=lambda length: length.effort))


def slots(length: Length, highest_partial: int = _HIGHEST_PARTIAL) -> tuple[Slot, ...]:
    """The slots of a length from partial 1 up, in semitones above the open fundamental."""
    return tuple(
        Slot(partial, 12 * log2(partial / length.ratio))
        for partial in range(1, highest_partial + 1)
    )


def standard_way(lengths: Iterable[Length], semitones: int) -> Way | None:
    """The way players learn first for a note `semitones` above the open fundamental.

    That is the least effort among the ways that are neither too flat nor on a partial far
    from equal temperament; a slide that is out can come in, so there every partial serves.
    `None` when no length gives the note.
    """
    for length in lengths:
        for slot in slots(length):
            cents = 100 * (slot.semitones - semitones)
            slide_corrects = length.gives_in and abs(cents) < 50
            in_tune = _FLATTEST_USABLE_CENTS <= cents <= _SHARPEST_USABLE_CENTS
            if slide_corrects or (in_tune and slot.partial not in _OUT_OF_TUNE_PARTIALS):
                return Way(length, slot.partial, cents)
    return None
