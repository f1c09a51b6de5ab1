"""Two sounds of one passage in time beside each other, by their pitch.

By dynamic time warping: every moment of one sound lies at a moment of the other, in order, so that
their pitches are as near as they can be. First coarsely over both, then finely near what that
found. Source: H. Sakoe and S. Chiba, "Dynamic programming algorithm optimization for spoken word
recognition", IEEE Trans. Acoust. 26, 1978.
"""

import numpy as np

from orexis.core.arrays import FloatArray
from orexis.core.compiled import compiled

_FINE_FRAMES = 3
_MOST_CELLS = 12_000_000
_NEAR_COARSE = 4
"""So many coarse steps to each side the fine way may lie of the coarse one."""
_FAR_CENTS = 300.0
"""Farther apart, pitches are as far apart as can be."""
_ONE_SILENT = 0.7
_STANDS_STILL = 0.08
"""What it costs when one sound goes on and the other does not, beside what their pitches cost."""
_CHANGES_CENTS = 60.0
_UNREACHED = np.inf


def warped(cents: FloatArray, other_cents: FloatArray) -> FloatArray:
    """Where each frame of a sound lies in another, as a frame number with fractions that never
    falls; both are given by their pitch in cents (NaN where there is none), with at least a frame
    each."""
    coarse = max(_FINE_FRAMES, int(np.ceil(np.sqrt(len(cents) * len(other_cents) / _MOST_CELLS))))
    rough = _thinned(cents, coarse), _thinned(other_cents, coarse)
    path = _path(*rough, np.zeros(len(rough[0]), np.int64), len(rough[1]))
    if coarse == _FINE_FRAMES:
        return _frames_of(path, coarse, rough[0], len(cents), len(other_cents))
    lies = _frames_of(path, coarse, rough[0], len(cents), len(other_cents))
    fine = _thinned(cents, _FINE_FRAMES), _thinned(other_cents, _FINE_FRAMES)
    middle = lies[::_FINE_FRAMES][: len(fine[0])] / _FINE_FRAMES
    reach = _NEAR_COARSE * -(-coarse // _FINE_FRAMES)
    width = min(2 * reach + 1, len(fine[1]))
    first = np.clip(np.round(middle).astype(np.int64) - reach, 0, len(fine[1]) - width)
    first[0], first[-1] = 0, len(fine[1]) - width
    path = _path(*fine, np.maximum.accumulate(first), width)
    return _frames_of(path, _FINE_FRAMES, fine[0], len(cents), len(other_cents))


def _thinned(cents: FloatArray, step: int) -> FloatArray:
    """The middle pitch of every so many frames, NaN where most have none."""
    count = -(-len(cents) // step)
    padded = np.full(count * step, np.nan)
    padded[: len(cents)] = cents
    rows = padded.reshape(count, step)
    voiced = np.isfinite(rows)
    # The sorted row has what is no number at its end.
    middle = np.sort(rows, axis=1)[np.arange(count), np.maximum(voiced.sum(axis=1) - 1, 0) // 2]
    thinned: FloatArray = np.where(2 * voiced.sum(axis=1) >= step, middle, np.nan)
    return thinned


def _frames_of(
    path: np.ndarray, step: int, one: FloatArray, count: int, other_count: int
) -> FloatArray:
    """A path (pairs of steps, in order) as where each frame of a sound, given by its thinned pitch,
    lies in the other. Only where pitch changes does the path tell; between those it is straight."""
    changes = 1 + np.flatnonzero(
        (np.abs(np.diff(one)) > _CHANGES_CENTS) | np.diff(np.isfinite(one))
    )
    begins = path[np.searchsorted(path[:, 0], changes), 1]
    at = np.concatenate(([0.0], step * changes, [max(float(count), step * len(one))]))
    lies = np.concatenate(([0.0], step * begins, [float(other_count)]))
    frames: FloatArray = np.clip(np.interp(np.arange(count), at, lies), 0, other_count - 1)
    return frames


@compiled
def _path(one: FloatArray, other: FloatArray, first: np.ndarray, width: int) -> np.ndarray:
    """The cheapest way through two rows of pitches from their beginnings to their ends, as pairs of
    places; at each place of one only so many of the other are looked at, from a first on."""
    count = len(one)
    came = np.zeros((count, width), np.uint8)
    before = np.full(width, _UNREACHED)
    for i in range(count):
        now = np.full(width, _UNREACHED)
        moved = first[i] - first[i - 1] if i else 0
        for k in range(width):
            here, there = one[i], other[first[i] + k]
            if here == here and there == there:
                apart = min(abs(here - there), _FAR_CENTS) / _FAR_CENTS
            elif here == here or there == there:
                apart = _ONE_SILENT
            else:
                apart = 0.0
            if i == 0 and k == 0:
                now[k] = apart
                continue
            best, way = _UNREACHED, 0
            # Both go on; or only one does.
            at = k + moved - 1
            if i and 0 <= at < width and before[at] < best:
                best, way = before[at], 1
            at = k + moved
            if i and at < width and before[at] + _STANDS_STILL < best:
                best, way = before[at] + _STANDS_STILL, 2
            if k and now[k - 1] + _STANDS_STILL < best:
                best, way = now[k - 1] + _STANDS_STILL, 3
            now[k] = best + apart
            came[i, k] = way
        before = now
    path = np.zeros((count + width + int(first[-1]), 2), np.int64)
    i, k, length = count - 1, width - 1, 0
    while True:
        path[length, 0], path[length, 1] = i, first[i] + k
        length += 1
        way = came[i, k]
        if way == 0:
            break
        if way == 3:
            k -= 1
        else:
            k += first[i] - first[i - 1] - (1 if way == 1 else 0)
            i -= 1
    return path[:length][::-1]
