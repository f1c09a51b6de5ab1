"""Glides: what belongs to one, and which are only how a note begins or ends.

A short rest that a glide passes is a turn of it. A quick glide into the first note is its scoop
and one out of the last its sag.
"""

from collections.abc import Sequence

import numpy as np

from orexis.core.listening.notes.contour import (
    GLIDE_LEAST_FRAMES,
    Contour,
    Kind,
    Stretch,
    frames_of,
    smoothed,
)
from orexis.core.listening.notes.trills import Trill

_EDGE_GLIDE_MOST = frames_of(0.35)
_EDGE_GLIDE_MOST_CENTS = 300.0
_GLIDE_NOTE_LEAST, _TURN_NOTE_LEAST = frames_of(0.3), frames_of(0.5)
_SURELY_A_NOTE = frames_of(3.0)
_TURN_FLAT_CENTS = 15.0


def without_passing_rests(
    contour: Contour, stretches: list[Stretch], trills: Sequence[Trill]
) -> list[Stretch]:
    """Glides with what they only pass: a short rest between two glides is a turn of one. What
    stands on the other side of a trill is another matter."""
    kept: list[Stretch] = []
    for place, stretch in enumerate(stretches):
        after = stretches[place + 1] if place + 1 < len(stretches) else None
        trilled = bool(kept) and _trill_between(kept[-1], stretch, trills)
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
    glides = [place for place, stretch in enumerate(kept) if stretch.kind is Kind.GLIDE]
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
    ends = [contour.cents[[stretch.start, stretch.end - 1]] for stretch in (before, after)]
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


def _trill_between(before: Stretch, after: Stretch, trills: Sequence[Trill]) -> bool:
    """Whether a trill stands between two stretches."""
    return any(before.end <= trill.first and trill.last <= after.start for trill in trills)


def without_edge_glides(
    contour: Contour, stretches: list[Stretch], trills: Sequence[Trill]
) -> list[Stretch]:
    """Short glides from silence into a note, or from one into silence, as part of the note. One
    that a trill begins or ends with stays a glide."""
    kept = list(stretches)
    for place, stretch in enumerate(stretches):
        if stretch.kind is not Kind.GLIDE or len(stretch) > _EDGE_GLIDE_MOST:
            continue
        ends = contour.cents[[stretch.start, stretch.end - 1]]
        if abs(ends[1] - ends[0]) > _EDGE_GLIDE_MOST_CENTS:
            continue
        before = stretches[place - 1] if place else None
        after = stretches[place + 1] if place + 1 < len(stretches) else None
        beside = [(before, stretch)] if before else []
        beside += [(stretch, after)] if after else []
        if any(_trill_between(*two, trills) for two in beside):
            continue
        from_silence = before is None or contour.silent[before.end : stretch.start].any()
        to_silence = after is None or contour.silent[stretch.end : after.start].any()
        if from_silence and after is not None and not to_silence:
            after.start = stretch.start
            kept.remove(stretch)
        elif to_silence and before is not None and not from_silence:
            before.end = stretch.end
            kept.remove(stretch)
    return kept
