"""The glide planner: from where, on which slot and to where the slide moves.

A glide stays on one partial while the slide moves: k half steps up want a start at least k
positions out. So before gliding up, one chooses the alternate far enough out.
"""

from collections.abc import Sequence
from dataclasses import dataclass

from orexis.core.horn.setup import Horn
from orexis.core.horn.slide import LAST_POSITION
from orexis.core.horn.ways import Way, standard_way, way_of, ways

_LONGEST = LAST_POSITION - 1
_HARD_PARTIALS = frozenset({7, 9, 11, 13, 14, 15})
_PARTIAL_EFFORT = 2.5
_TRIGGER_EFFORT = 6.0
_FARTHEST_CLIMB = 24


@dataclass(frozen=True, slots=True)
class GlideWay:
    """One glide: the way it starts and the way it ends, on one partial."""

    start: Way
    end: Way

    @property
    def partial(self) -> int:
        """The slot it stays on."""
        return self.start.partial


@dataclass(frozen=True, slots=True)
class GlideStop:
    """Where a plan ends for want of a glide: from which sounding note and how many half steps,
    the farthest that goes from there, and the nearest note from which the whole distance goes
    (`None`: from none)."""

    midi: int
    semitones: int
    farthest: int
    nearest_midi: int | None


@dataclass(frozen=True, slots=True)
class GlidePlan:
    """A glide or a sequence of them, one after the other. `stop` says where it cannot go on.

    `instead` is what replaces a glide on valves: the standard way of each half step.
    """

    midi: int
    semitones: tuple[int, ...]
    route: tuple[GlideWay, ...]
    stop: GlideStop | None
    instead: tuple[Way | None, ...] = ()

    @property
    def possible(self) -> bool:
        """Whether every glide asked for is there."""
        return self.stop is None and not self.instead


def plan_glides(horn: Horn, midi: int, semitones: Sequence[int]) -> GlidePlan:
    """Plans glides from a sounding note, each from where the last one ended.

    `semitones` are signed half steps, up being positive. Raises `ValueError` when there are
    none, or one is zero.
    """
    asked = tuple(semitones)
    if not asked or 0 in asked:
        raise ValueError("A glide needs a distance: one half step or more, up or down.")
    if not horn.instrument.is_slide:
        end = midi + sum(asked)
        step = 1 if end >= midi else -1
        notes = range(midi, end + step, step)
        return GlidePlan(midi, asked, (), None, tuple(standard_way(horn, note) for note in notes))
    route: list[GlideWay] = []
    here = midi
    for distance in asked:
        options = glides(horn, here, distance)
        if not options:
            return GlidePlan(midi, asked, tuple(route), _stop(horn, here, distance))
        route.append(options[0])
        here += distance
    return GlidePlan(midi, asked, tuple(route), None)


def plan_climb(horn: Horn, from_midi: int, to_midi: int) -> GlidePlan | None:
    """Plans the way between two sounding notes by glides of a half step; `None` on valves, and
    where they are the same or more than two octaves apart."""
    distance = to_midi - from_midi
    if not horn.instrument.is_slide or not 0 < abs(distance) <= _FARTHEST_CLIMB:
        return None
    return plan_glides(horn, from_midi, (1 if distance > 0 else -1,) * abs(distance))


def glides(horn: Horn, midi: int, semitones: int) -> tuple[GlideWay, ...]:
    """Every single glide of signed half steps from a sounding note, easiest first."""
    found: list[GlideWay] = []
    for start in ways(horn, midi):
        length = start.length
        if not start.usable or length.position is None:
            continue
        position = length.position - semitones
        if not 1 <= position <= LAST_POSITION:
            continue
        name = "+".join((*length.triggers, str(position)))
        end = way_of(horn, horn.slot(name, start.partial), midi + semitones)
        if end.usable:
            found.append(GlideWay(start, end))
    return tuple(sorted(found, key=_effort))


def _effort(glide: GlideWay) -> float:
    length = glide.start.length
    position = length.position or 0
    hard = _PARTIAL_EFFORT if glide.partial in _HARD_PARTIALS else 0.0
    return position + hard + _TRIGGER_EFFORT * len(length.triggers)


def _stop(horn: Horn, midi: int, distance: int) -> GlideStop:
    up = 1 if distance > 0 else -1
    nearer = range(min(abs(distance) - 1, _LONGEST), 0, -1)
    farthest = next((up * k for k in nearer if glides(horn, midi, up * k)), 0)
    lowest, highest = horn.instrument.lowest_midi, horn.instrument.highest_midi
    starts = sorted(range(lowest, highest + 1), key=lambda note: (abs(note - midi), note))
    nearest = next((note for note in starts if glides(horn, note, distance)), None)
    return GlideStop(midi, distance, farthest, nearest)
