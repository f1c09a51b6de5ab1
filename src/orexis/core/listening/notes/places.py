"""Places: which rests of a contour are notes, and what the others are.

A short rest (up to 150 ms) on the way from one longer note to another, strictly between them,
is a touched slot of that change; one past the note it leads up to is that note flipped over. A
dip of 9 dB and more within a rest is the tongue: two notes of one pitch. How a note begins is in
`beginnings.py`, what belongs to a glide in `gliding.py`.
"""

import itertools
from collections.abc import Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from orexis.core.arrays import FloatArray
from orexis.core.compiled import compiled
from orexis.core.listening.notes.beginnings import (
    LONG_NEIGHBOUR,
    SlotsBeside,
    begins,
    is_crack,
    is_scoop,
)
from orexis.core.listening.notes.contour import (
    Contour,
    Kind,
    Stretch,
    frames_of,
)
from orexis.core.listening.notes.gliding import without_edge_glides, without_passing_rests
from orexis.core.listening.notes.trills import Trill

_SHORTEST_NOTE = frames_of(0.05)
_TOUCHED_MOST = frames_of(0.15)
_TOUCHED_ONE_OF_SEVERAL_MOST = frames_of(0.10)
_MOST_TOUCHED = 4
_FLIPPED_MOST, _FLIPPED_LEAST_CENTS = frames_of(0.15), 130.0
_SAME_PITCH_CENTS = 45.0
_GLIMPSE, _GLIMPSES_CENTS = frames_of(0.05), 75.0
_BETWEEN_MARGIN_CENTS = 60.0
TONGUE_DIP_DB = 9.0
_TONGUE_REACH = frames_of(0.12)


@dataclass(slots=True)
class Place:
    """A note on its way to being one: its frames and what happened around it."""

    start: int
    end: int
    cents: float
    cracked_cents: float | None = None
    touched_before: list[Stretch] = field(default_factory=list)
    flipped_before: Stretch | None = None
    glided: bool = False
    trilled: bool = False

    def __len__(self) -> int:
        return self.end - self.start


def notes_and_glides(
    contour: Contour,
    stretches: list[Stretch],
    trills: Sequence[Trill],
    slots_beside: SlotsBeside | None = None,
) -> tuple[list[Place], list[Stretch]]:
    """The notes of a run in order, and its glides. `slots_beside` is known where the horn is."""
    kept = _outside_trills(stretches, trills)
    kept = without_edge_glides(contour, without_passing_rests(contour, kept, trills), trills)
    glides = [stretch for stretch in kept if stretch.kind is Kind.GLIDE]
    return _places(contour, kept, trills, slots_beside), glides


def _outside_trills(stretches: list[Stretch], trills: Sequence[Trill]) -> list[Stretch]:
    """The stretches outside trills, cut where they reach into one."""
    kept: list[Stretch] = []
    for stretch in stretches:
        start, end = stretch.start, stretch.end
        for trill in trills:
            if trill.first <= start < trill.last:
                start = trill.last
            if trill.first < end <= trill.last:
                end = trill.first
            if start < trill.first and end > trill.last:
                kept.append(Stretch(stretch.kind, start, trill.first, stretch.cents))
                start = trill.last
        if end - start >= 2:
            kept.append(Stretch(stretch.kind, start, end, stretch.cents))
    return sorted(kept, key=lambda stretch: stretch.start)


def _places(
    contour: Contour,
    stretches: list[Stretch],
    trills: Sequence[Trill],
    slots_beside: SlotsBeside | None,
) -> list[Place]:
    """The notes of a run, with touched slots and cracks told apart from them."""
    groups: list[list[Stretch]] = [[]]
    for stretch in stretches:
        if stretch.kind is Kind.GLIDE:
            groups.append([])
            continue
        last = groups[-1][-1] if groups[-1] else None
        if last is not None and (
            contour.silent[last.end : stretch.start].any()
            or any(last.end <= trill.first < stretch.start for trill in trills)
        ):
            groups.append([])
        groups[-1].append(stretch)
    places: list[Place] = []
    for group in groups:
        places += _places_of_group(contour, _same_joined(contour, group), slots_beside)
    for trill in trills:
        places += [Place(start, end, cents, trilled=True) for start, end, cents in trill.notes]
    places.sort(key=lambda place: place.start)
    for before, after in itertools.pairwise(places):
        after.glided = any(
            stretch.kind is Kind.GLIDE and before.end <= stretch.start + 1 < after.start + 1
            for stretch in stretches
        )
    return _met(contour, places)


def _same_joined(contour: Contour, group: list[Stretch]) -> list[Stretch]:
    """Rests on one pitch with nothing but a slip between them, as one. Two glimpses of a slot
    may lie farther apart, since each is seen through windows that reach beyond it."""
    joined: list[Stretch] = []
    for stretch in group:
        last = joined[-1] if joined else None
        if last is None:
            joined.append(replace(stretch))
            continue
        glimpses = max(len(last), len(stretch)) <= _GLIMPSE and stretch.start - last.end <= 1
        near = _GLIMPSES_CENTS if glimpses else _SAME_PITCH_CENTS
        if abs(last.cents - stretch.cents) <= near:
            last.end = stretch.end
            last.cents = contour.median(last.start, last.end)
        else:
            joined.append(replace(stretch))
    return joined


def _places_of_group(
    contour: Contour, group: list[Stretch], slots_beside: SlotsBeside | None
) -> list[Place]:
    """The notes of rests that follow each other without silence."""
    places: list[Place] = []
    waiting: list[Stretch] = []
    for place, stretch in enumerate(group):
        following = group[place + 1] if place + 1 < len(group) else None
        if following is not None and not places and not waiting:
            cracked = is_crack(contour, stretch, following, slots_beside)
            if not cracked and is_scoop(stretch, following):
                # The next rest begins where the note first spoke.
                following.start = stretch.start
                continue
            if cracked:
                waiting.append(stretch)
                continue
            if slots_beside is not None and begins(stretch, following):
                # No slot of this horn: nothing that a player did.
                continue
        if _is_blip(stretch, places, following):
            places += _spoken(waiting)
            waiting = []
            places[-1].end = stretch.end
            continue
        if len(stretch) <= _TOUCHED_MOST and places and following is not None:
            waiting.append(stretch)
            continue
        places += _resolved(places, waiting, stretch)
        waiting = []
    places += _spoken(waiting)
    tongued: list[Place] = []
    for place_ in places:
        tongued += _tongued(contour, place_)
    return tongued


def _is_blip(stretch: Stretch, places: list[Place], following: Stretch | None) -> bool:
    """The pitch giving way as a note stops."""
    return following is None and bool(places) and len(stretch) < _SHORTEST_NOTE


def _resolved(places: list[Place], waiting: list[Stretch], stretch: Stretch) -> list[Place]:
    """A note, and what the short rests before it were: its crack, touched slots, or notes."""
    note = Place(stretch.start, stretch.end, stretch.cents)
    if not waiting:
        return [note]
    if not places:
        crack = waiting[0]
        note.start = crack.start
        note.cracked_cents = crack.cents
        return [note]
    if _is_flipped(places[-1], waiting[-1], stretch):
        note.flipped_before = waiting.pop()
    if not waiting or _all_touched(places[-1], waiting, stretch):
        note.touched_before = list(waiting)
        return [note]
    spoken = _spoken(waiting)
    if not spoken and all(
        abs(one.cents - stretch.cents) < abs(places[-1].cents - stretch.cents) for one in waiting
    ):
        # Too short for notes and not in between: pitch on its way past the next note.
        note.start = waiting[0].start
    return [*spoken, note]


def _spoken(waiting: list[Stretch]) -> list[Place]:
    """Short rests as notes of their own, where they are long enough to be some."""
    return [
        Place(stretch.start, stretch.end, stretch.cents)
        for stretch in waiting
        if len(stretch) >= _SHORTEST_NOTE
    ]


def _is_flipped(before: Place, last: Stretch, after: Stretch) -> bool:
    """Whether, going up to another note, the slot above it spoke first, shortly."""
    return (
        after.cents > before.cents + _SAME_PITCH_CENTS
        and last.cents - after.cents >= _FLIPPED_LEAST_CENTS
        and len(last) <= _FLIPPED_MOST
        and min(len(before), len(after)) >= LONG_NEIGHBOUR * len(last)
    )


def _all_touched(before: Place, waiting: list[Stretch], after: Stretch) -> bool:
    """Whether short rests lie on the way from one longer note to another, in order."""
    most = _TOUCHED_MOST if len(waiting) == 1 else _TOUCHED_ONE_OF_SEVERAL_MOST
    longest = max(len(stretch) for stretch in waiting)
    if len(waiting) > _MOST_TOUCHED or longest > most:
        return False
    if min(len(before), len(after)) < LONG_NEIGHBOUR * longest:
        return False
    way = [before.cents, *(stretch.cents for stretch in waiting), after.cents]
    steps = np.diff(way) * np.sign(after.cents - before.cents)
    return bool(np.all(steps >= _BETWEEN_MARGIN_CENTS))


def _tongued(contour: Contour, place: Place) -> list[Place]:
    """A rest as the notes the tongue made of it."""
    level = contour.level_db[place.start : place.end]
    parts: list[Place] = []
    start = 0
    for at in _dips(level).tolist():
        parts.append(replace(place, start=place.start + start, end=place.start + at))
        start = at
    parts.append(replace(place, start=place.start + start, end=place.end))
    for part in parts[1:]:
        part.touched_before, part.flipped_before, part.cracked_cents = [], None, None
    for part in parts:
        part.cents = contour.median(part.start, part.end)
    return parts


@compiled
def _dips(level_db: FloatArray) -> np.ndarray:
    """Frames where the tongue parts one note from the next: lowest of the three to each side,
    far under what goes before and after."""
    found = np.empty(len(level_db), np.int64)
    count = start = 0
    for at in range(3, len(level_db) - max(_SHORTEST_NOTE, 3)):
        if at < start + _SHORTEST_NOTE or level_db[at] > level_db[at - 3 : at + 4].min():
            continue
        before = level_db[max(start, at - _TONGUE_REACH) : at].max()
        after = level_db[at + 1 : at + 1 + _TONGUE_REACH].max()
        if min(before, after) - level_db[at] >= TONGUE_DIP_DB:
            found[count] = start = at
            count += 1
    return found[:count]


def _met(contour: Contour, places: list[Place]) -> list[Place]:
    """Notes long enough to be some, with the frames between two that touch shared out."""
    kept = [place for place in places if place.trilled or len(place) >= _SHORTEST_NOTE]
    for before, after in itertools.pairwise(kept):
        if (
            after.touched_before
            or after.flipped_before
            or after.glided
            or before.end >= after.start
        ):
            continue
        if contour.silent[before.end : after.start].any():
            continue
        halfway = (before.cents + after.cents) / 2
        rising = after.cents > before.cents
        between = contour.cents[before.end : after.start]
        crossed = np.flatnonzero((between > halfway) == rising)
        meet = before.end + (int(crossed[0]) if len(crossed) else len(between))
        before.end = after.start = meet
    return kept
