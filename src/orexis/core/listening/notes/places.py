"""Places: which rests of a contour are notes, and what the others are.

A short rest (up to 150 ms) on the way from one longer note to another, strictly between them,
is a touched slot of that change; one past the note it leads up to is that note flipped over. One
at the start, left by a jump from another slot than the note it leads to, is a crack; a pitch that
is slid out of, up to 150 cents off, is the note's own scoop. A dip of 9 dB and more within a rest
is the tongue: two notes of one pitch. A quick glide into the first note is its scoop and one out
of the last its sag.
"""

import itertools
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from orexis.core.arrays import FloatArray
from orexis.core.listening.notes.contour import (
    GLIDE_LEAST_FRAMES,
    Contour,
    Kind,
    Stretch,
    frames_of,
    smoothed,
)
from orexis.core.listening.notes.trills import Trill

_SHORTEST_NOTE = frames_of(0.05)
_TOUCHED_MOST = frames_of(0.15)
_TOUCHED_ONE_OF_SEVERAL_MOST = frames_of(0.10)
_MOST_TOUCHED = 4
_LONG_NEIGHBOUR = 2.0
_CRACK_MOST = frames_of(0.16)
_CRACK_LEAST_CENTS, _SCOOP_MOST_CENTS = 130.0, 150.0
"""Slots lie no nearer to each other where horns are played; a scoop reaches no farther."""

_NEAREST_SLOTS_CENTS, _ON_A_SLOT_CENTS = 70.0, 60.0
"""Where the horn is known, slots as near as this are told apart, and a crack lies on one."""

_JUMP_MOST, _ON_ITS_WAY_CENTS = frames_of(0.03), 25.0
_FLIPPED_MOST, _FLIPPED_LEAST_CENTS = frames_of(0.15), 130.0
_SAME_PITCH_CENTS = 45.0
_GLIMPSE, _GLIMPSES_CENTS = frames_of(0.05), 75.0
_BETWEEN_MARGIN_CENTS = 60.0
TONGUE_DIP_DB = 9.0
_TONGUE_REACH = frames_of(0.12)
_EDGE_GLIDE_MOST = frames_of(0.35)
_EDGE_GLIDE_MOST_CENTS = 300.0
_GLIDE_NOTE_LEAST, _TURN_NOTE_LEAST = frames_of(0.3), frames_of(0.5)
_SURELY_A_NOTE = frames_of(3.0)
_TURN_FLAT_CENTS = 15.0


SlotsBeside = Callable[[int], Iterable[float]]
"""Gives the slots (MIDI, fractions for cents) that may be hit in place of a note."""


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
    kept = _without_edge_glides(contour, _without_passing_rests(contour, kept, trills))
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


def _without_passing_rests(
    contour: Contour, stretches: list[Stretch], trills: Sequence[Trill]
) -> list[Stretch]:
    """Glides with what they only pass: a short rest between two glides is a turn of one. What
    stands on the other side of a trill is another matter."""
    kept: list[Stretch] = []
    for place, stretch in enumerate(stretches):
        after = stretches[place + 1] if place + 1 < len(stretches) else None
        trilled = bool(kept) and any(
            kept[-1].end <= trill.first and trill.last <= stretch.start for trill in trills
        )
        after_glide = bool(kept) and kept[-1].kind is Kind.GLIDE and not trilled
        open_ended = after is None or after.kind is Kind.GLIDE
        if after_glide and (
            stretch.kind is Kind.GLIDE
            or (open_ended and not _dwells(contour, stretch, kept[-1], after))
        ):
            kept[-1].end = stretch.end
        else:
            kept.append(stretch)
    return _without_edge_rests(contour, kept)


def _without_edge_rests(contour: Contour, stretches: list[Stretch]) -> list[Stretch]:
    """Glides with the short rests that lead into the first or out of the last one."""
    kept = list(stretches)
    glides = [place for place, one in enumerate(kept) if one.kind is Kind.GLIDE]
    if not glides:
        return kept
    first, last = kept[glides[0]], kept[glides[-1]]
    while kept[-1] is not last and _leads(contour, last, kept[kept.index(last) + 1]):
        last.end = kept.pop(kept.index(last) + 1).end
    while kept[0] is not first and _leads(contour, kept[kept.index(first) - 1], first):
        first.start = kept.pop(kept.index(first) - 1).start
    return kept


def _leads(contour: Contour, before: Stretch, after: Stretch) -> bool:
    """Whether one of two stretches is a short rest that the other, a glide, goes on from."""
    rest = before if before.kind is Kind.REST else after
    sounding = not contour.silent[before.end : after.start].any()
    # Farther apart there was something else between them, as a trill.
    near = after.start - before.end < GLIDE_LEAST_FRAMES
    return near and sounding and not _dwells(contour, rest)


def _opposite(contour: Contour, before: Stretch, after: Stretch) -> bool:
    """Whether two glides go opposite ways, so that what lies between is a turn."""
    ends = [contour.cents[[one.start, one.end - 1]] for one in (before, after)]
    return bool((ends[0][1] - ends[0][0]) * (ends[1][1] - ends[1][0]) < 0)


def _dwells(
    contour: Contour, stretch: Stretch, before: Stretch | None = None, after: Stretch | None = None
) -> bool:
    """Whether a rest beside a glide, or between two, is a note: long, and flat as no turn is.
    Where the second goes on as the first came, being flat for a while is enough; the note may
    have shifted since."""
    if len(stretch) >= _SURELY_A_NOTE:
        return True
    turns = passes = False
    if before is not None and after is not None:
        turns = _opposite(contour, before, after)
        passes = not turns
    least = _TURN_NOTE_LEAST if turns else _GLIDE_NOTE_LEAST
    if len(stretch) < least:
        return False
    smooth = smoothed(contour.cents[stretch.start : stretch.end])
    parts = np.lib.stride_tricks.sliding_window_view(smooth, least) if passes else smooth
    low, high = np.nanpercentile(parts, (10, 90), axis=-1)
    return bool(np.min(high - low) <= _TURN_FLAT_CENTS)


def _without_edge_glides(contour: Contour, stretches: list[Stretch]) -> list[Stretch]:
    """Short glides from silence into a note, or from one into silence, as part of the note."""
    kept = list(stretches)
    for place, stretch in enumerate(stretches):
        if stretch.kind is not Kind.GLIDE or len(stretch) > _EDGE_GLIDE_MOST:
            continue
        ends = contour.cents[[stretch.start, stretch.end - 1]]
        if abs(ends[1] - ends[0]) > _EDGE_GLIDE_MOST_CENTS:
            continue
        before = stretches[place - 1] if place else None
        after = stretches[place + 1] if place + 1 < len(stretches) else None
        from_silence = before is None or contour.silent[before.end : stretch.start].any()
        to_silence = after is None or contour.silent[stretch.end : after.start].any()
        if from_silence and after is not None and not to_silence:
            after.start = stretch.start
            kept.remove(stretch)
        elif to_silence and before is not None and not from_silence:
            before.end = stretch.end
            kept.remove(stretch)
    return kept


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
            cracked = _is_crack(contour, stretch, following, slots_beside)
            if not cracked and _is_scoop(stretch, following):
                # The next rest begins where the note first spoke.
                following.start = stretch.start
                continue
            if cracked:
                waiting.append(stretch)
                continue
            if slots_beside is not None and _begins(stretch, following):
                # No slot of this horn: nothing that a player did.
                continue
        if _is_blip(stretch, places, following):
            places[-1].end = stretch.end
            continue
        if len(stretch) <= _TOUCHED_MOST and places and following is not None:
            waiting.append(stretch)
            continue
        places += _resolved(places, waiting, stretch)
        waiting = []
    for stretch in waiting:
        if len(stretch) >= _SHORTEST_NOTE:
            places.append(Place(stretch.start, stretch.end, stretch.cents))
    tongued: list[Place] = []
    for place_ in places:
        tongued += _tongued(contour, place_)
    return tongued


def _begins(stretch: Stretch, following: Stretch) -> bool:
    """Whether the first rest of a group is only how the next one began."""
    return len(stretch) <= _CRACK_MOST and len(following) >= _LONG_NEIGHBOUR * len(stretch)


def _is_crack(
    contour: Contour, stretch: Stretch, following: Stretch, slots_beside: SlotsBeside | None
) -> bool:
    """Whether another slot spoke before the note's own, and was left by a jump."""
    apart = abs(stretch.cents - following.cents)
    least = _CRACK_LEAST_CENTS if slots_beside is None else _NEAREST_SLOTS_CENTS
    if not _begins(stretch, following) or apart < least:
        return False
    if apart <= _SCOOP_MOST_CENTS and not _jumps(contour, stretch, following):
        return False
    if slots_beside is None:
        return True
    slots = slots_beside(round(following.cents / 100))
    return any(abs(100 * slot - stretch.cents) <= _ON_A_SLOT_CENTS for slot in slots)


def _is_scoop(stretch: Stretch, following: Stretch) -> bool:
    """Whether it is the note itself, begun off its pitch but in its own slot."""
    apart = abs(stretch.cents - following.cents)
    return _begins(stretch, following) and apart <= _SCOOP_MOST_CENTS


def _jumps(contour: Contour, before: Stretch, after: Stretch) -> bool:
    """Whether pitch goes from one rest to the next too quickly to have slid."""
    low, high = sorted((before.cents, after.cents))
    way = contour.cents[before.start : after.end]
    on_its_way = (way > low + _ON_ITS_WAY_CENTS) & (way < high - _ON_ITS_WAY_CENTS)
    return int(on_its_way.sum()) <= _JUMP_MOST


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
    if _all_touched(places[-1], waiting, stretch):
        note.touched_before = list(waiting)
        return [note]
    spoken = [Place(one.start, one.end, one.cents) for one in waiting if len(one) >= _SHORTEST_NOTE]
    if not spoken and all(
        abs(one.cents - stretch.cents) < abs(places[-1].cents - stretch.cents) for one in waiting
    ):
        # Too short for notes and not in between: pitch on its way past the next note.
        note.start = waiting[0].start
    return [*spoken, note]


def _is_flipped(before: Place, last: Stretch, after: Stretch) -> bool:
    """Whether, going up, the slot above a note spoke first, shortly."""
    return (
        after.cents > before.cents
        and last.cents - after.cents >= _FLIPPED_LEAST_CENTS
        and len(last) <= _FLIPPED_MOST
        and min(len(before), len(after)) >= _LONG_NEIGHBOUR * len(last)
    )


def _all_touched(before: Place, waiting: list[Stretch], after: Stretch) -> bool:
    """Whether short rests lie on the way from one longer note to another, in order."""
    most = _TOUCHED_MOST if len(waiting) == 1 else _TOUCHED_ONE_OF_SEVERAL_MOST
    longest = max((len(one) for one in waiting), default=0)
    if len(waiting) > _MOST_TOUCHED or longest > most:
        return False
    if min(len(before), len(after)) < _LONG_NEIGHBOUR * longest:
        return False
    way = [before.cents, *(one.cents for one in waiting), after.cents]
    steps = np.diff(way) * np.sign(after.cents - before.cents)
    return bool(np.all(steps >= _BETWEEN_MARGIN_CENTS))


def _tongued(contour: Contour, place: Place) -> list[Place]:
    """A rest as the notes the tongue made of it."""
    level = contour.level_db[place.start : place.end]
    parts: list[Place] = []
    start = 0
    for at in _low_points(level):
        if at < start + _SHORTEST_NOTE or at >= len(level) - _SHORTEST_NOTE:
            continue
        before = level[max(start, at - _TONGUE_REACH) : at].max()
        after = level[at + 1 : at + 1 + _TONGUE_REACH].max()
        if min(before, after) - level[at] >= TONGUE_DIP_DB:
            parts.append(replace(place, start=place.start + start, end=place.start + at))
            start = at
    parts.append(replace(place, start=place.start + start, end=place.end))
    for part in parts[1:]:
        part.touched_before, part.flipped_before, part.cracked_cents = [], None, None
    for part in parts:
        part.cents = contour.median(part.start, part.end)
    return parts


def _low_points(level_db: FloatArray) -> list[int]:
    """Frames where the level is lowest of the three to each side."""
    if len(level_db) < 7:
        return []
    around = np.lib.stride_tricks.sliding_window_view(level_db, 7).min(axis=-1)
    found: list[int] = (np.flatnonzero(level_db[3:-3] <= around) + 3).tolist()
    return found


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
