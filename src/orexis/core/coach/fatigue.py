"""Enough for today: what the sound of a session says of the lips, before the player would.

Notes played early and late in a session are held against each other, pitch by pitch: later ones
that hold less well, spread wider or speak later are signs. One sign may be chance; two are told.
"""

from collections.abc import Callable, Sequence
from statistics import median

from orexis.core.coach.history import NoteRow

LATE = 10
"""How many of the last notes are looked at."""
_LEAST_PAIRS = 6
_HOLDS_LESS = 0.75
_SPREADS, _SPREADS_CENTS = 1.5, 3.0
_LATER, _LATER_S = 1.5, 0.05
_SIGNS = 2


def signs_of_tiring(notes: Sequence[NoteRow]) -> tuple[str, ...]:
    """The signs in a session's notes so far, in order of playing; none while there are fewer than
    two."""
    spoke = [one for one in notes if one.spoke and one.on_horn]
    early: dict[int, list[NoteRow]] = {}
    for one in spoke[: -LATE or None]:
        early.setdefault(one.asked_midi, []).append(one)
    pairs = [(one, early[one.asked_midi]) for one in spoke[-LATE:] if one.asked_midi in early]
    if len(pairs) < _LEAST_PAIRS:
        return ()
    found = [sign for sign in (_holds(pairs), _spread(pairs), _later(pairs)) if sign]
    return tuple(found) if len(found) >= _SIGNS else ()


_Pairs = Sequence[tuple[NoteRow, Sequence[NoteRow]]]


def _medians(
    pairs: _Pairs, measure: Callable[[NoteRow], float | None]
) -> tuple[float, float] | None:
    """The median of a measure late and early, over notes that have both."""
    late: list[float] = []
    early: list[float] = []
    for one, others in pairs:
        mine = measure(one)
        theirs = [value for other in others if (value := measure(other)) is not None]
        if mine is not None and theirs:
            late.append(mine)
            early.append(median(theirs))
    return (median(late), median(early)) if len(late) >= _LEAST_PAIRS else None


def _holds(pairs: _Pairs) -> str:
    told = _medians(pairs, lambda one: one.held_s / one.sounded_s if one.sounded_s else None)
    if told is None or told[0] > _HOLDS_LESS * told[1]:
        return ""
    return f"notes hold for {100 * told[0]:.0f} % of their length, {100 * told[1]:.0f} % at first"


def _spread(pairs: _Pairs) -> str:
    told = _medians(pairs, lambda one: one.spread_cents)
    if told is None or told[0] < max(_SPREADS * told[1], told[1] + _SPREADS_CENTS):
        return ""
    return f"notes spread over {told[0]:.0f} cents, {told[1]:.0f} at first"


def _later(pairs: _Pairs) -> str:
    told = _medians(pairs, lambda one: one.rise_s)
    if told is None or told[0] < max(_LATER * told[1], told[1] + _LATER_S):
        return ""
    return f"notes take {1000 * told[0]:.0f} ms to speak, {1000 * told[1]:.0f} at first"
