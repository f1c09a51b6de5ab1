"""How a note begins: on itself, in another slot, or off its pitch.

A short rest at the start, left by a jump from another slot than the note it leads to, is a crack;
a pitch that is slid out of, up to 150 cents off, is the note's own scoop.
"""

from collections.abc import Callable, Iterable

from orexis.core.listening.notes.contour import Contour, Stretch, frames_of

LONG_NEIGHBOUR = 2.0
"""A note is at least so many times as long as the short rests beside it."""

_CRACK_MOST = frames_of(0.16)
_CRACK_LEAST_CENTS, _SCOOP_MOST_CENTS = 130.0, 150.0
"""Slots lie no nearer to each other where horns are played; a scoop reaches no farther."""

_NEAREST_SLOTS_CENTS, _ON_A_SLOT_CENTS = 70.0, 60.0
"""Where the horn is known, slots as near as this are told apart, and a crack lies on one."""

_JUMP_MOST, _ON_ITS_WAY_CENTS = frames_of(0.03), 25.0

SlotsBeside = Callable[[int], Iterable[float]]
"""Gives the slots (MIDI, fractions for cents) that may be hit in place of a note."""


def begins(stretch: Stretch, following: Stretch) -> bool:
    """Whether the first rest of a group is only how the next one began."""
    return len(stretch) <= _CRACK_MOST and len(following) >= LONG_NEIGHBOUR * len(stretch)


def is_crack(
    contour: Contour, stretch: Stretch, following: Stretch, slots_beside: SlotsBeside | None
) -> bool:
    """Whether another slot spoke before the note's own, and was left by a jump."""
    apart = abs(stretch.cents - following.cents)
    least = _CRACK_LEAST_CENTS if slots_beside is None else _NEAREST_SLOTS_CENTS
    if not begins(stretch, following) or apart < least:
        return False
    if apart <= _SCOOP_MOST_CENTS and not _jumps(contour, stretch, following):
        return False
    if slots_beside is None:
        return True
    slots = slots_beside(round(following.cents / 100))
    return any(abs(100 * slot - stretch.cents) <= _ON_A_SLOT_CENTS for slot in slots)


def is_scoop(stretch: Stretch, following: Stretch) -> bool:
    """Whether it is the note itself, begun off its pitch but in its own slot."""
    apart = abs(stretch.cents - following.cents)
    return begins(stretch, following) and apart <= _SCOOP_MOST_CENTS


def _jumps(contour: Contour, before: Stretch, after: Stretch) -> bool:
    """Whether pitch goes from one rest to the next too quickly to have slid."""
    low, high = sorted((before.cents, after.cents))
    way = contour.cents[before.start : after.end]
    on_its_way = (way > low + _ON_ITS_WAY_CENTS) & (way < high - _ON_ITS_WAY_CENTS)
    return int(on_its_way.sum()) <= _JUMP_MOST
