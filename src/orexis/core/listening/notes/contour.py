"""The contour of a run of sound: where pitch rests, where it moves, and where it is silent.

A frame is *silent* when it lies 15 dB under what sounded since the last rise (what is left then
is the room, whose tail falls; a pitch that goes on and holds or grows there is the note itself) or
28 dB under the loud part of its run (that is hum, or a far voice), or when it
has no pitch and lies 10 dB under; a few pitchless frames as loud as the rest are a change of
slot. Elsewhere pitch rests where it moves less than 18 cents from
frame to frame; such stretches are *islands*. A slow glide lies within an island: where the
pitch, freed of vibrato by a mean over 250 ms, moves by 70 cents and more without turning, the
raw contour tells how long that took. 130 ms and more is a glide, less is a slur.
"""

import math
from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from orexis.core.arrays import FloatArray
from orexis.core.compiled import compiled
from orexis.core.listening.notes.quantiles import median, percentiles
from orexis.core.listening.notes.runs import runs
from orexis.core.listening.tracking.frames import HOP_S

ROOM_DB = 15.0
_FAR_DB = 28.0
_RISE_DB = 9.0
_FADES_DB_A_FRAME = 0.08
_HELD_FRAMES, _HELD_WITHIN_CENTS, _HELD_FALLS_DB = 20, 80.0, 0.8
_PITCHLESS_DB = 10.0
_MOST_BRIDGED, _MOST_BRIDGED_LOW, _LOW_CENTS = 3, 6, 5500.0
SOUNDS_ON_DB = 7.0
"""Less far under what sounded, the sound goes on: tongue, gap and the room after it are softer."""
_STILL_CENTS = 18.0
_SMOOTH_FRAMES = 25
_SLOPE_REACH = 5
_MOVING_CENTS_A_FRAME = 0.2
_GLIDE_LEAST_CENTS = 70.0
GLIDE_LEAST_FRAMES = 13
_SWEEP_LEAST, _SWEEP_MOST = 4.0, 100.0
MOST_SWEPT, _SWEPT_SEEN = 50, 4
"""So many frames may be swept over without a pitch that can be told, where it goes that way in so
many on one side of them."""
_SHORTEST_ISLAND = 2
_ISLAND_TO_SPLIT = 12
_OUTLIER_CENTS = 60.0
_OCTAVE_CENTS = 45.0
_DROP_CENTS = 400.0
_MOST_TOGETHER = round(0.12 / HOP_S)
"""So long two notes of a slur may sound together in a room."""
_OCTAVES = (1200.0, 1902.0, 2400.0)
_FRACTIONS = tuple(1200 * math.log2(part) for part in range(2, 10))
"""How many cents the fractions of a pitch, from a half to a ninth, lie under it."""


class Kind(StrEnum):
    """What a stretch of the contour is."""

    REST = "rest"
    GLIDE = "glide"


@dataclass(slots=True)
class Stretch:
    """Frames `start` up to `end` of a run: a rest on one pitch, or a glide."""

    kind: Kind
    start: int
    end: int
    cents: float = float("nan")

    def __len__(self) -> int:
        return self.end - self.start


@dataclass(frozen=True, slots=True)
class Contour:
    """A run's pitch in cents (NaN without), level in dB, and which frames are silent."""

    cents: FloatArray
    level_db: FloatArray
    silent: np.ndarray

    def median(self, start: int, end: int) -> float:
        """Median pitch of the sounding frames of a stretch."""
        part = self.cents[start:end][~self.silent[start:end]]
        return median(part) if len(part) else float("nan")

    def loudness(self, start: int, end: int) -> float:
        """Median level of a stretch, in dB."""
        return median(self.level_db[start:end])


def contour_of(cents: FloatArray, level_db: FloatArray) -> Contour:
    """The contour of a run from its frames, with slips of a frame or two put right."""
    unvoiced = ~np.isfinite(cents)
    before, silent = _sounded(level_db, cents)
    silent |= unvoiced & (level_db < before - _PITCHLESS_DB)
    if not unvoiced.all():
        silent |= level_db < percentiles(level_db[~unvoiced], 90)[0] - _FAR_DB
    bridged = _bridged(cents, silent, level_db >= before - SOUNDS_ON_DB)
    return Contour(_repaired(bridged, silent), level_db, silent | ~np.isfinite(bridged))


@compiled
def _sounded(level_db: FloatArray, cents: FloatArray) -> tuple[FloatArray, np.ndarray]:
    """The loudest level since sound last rose out of a trough, at every frame, and where only
    the room is left of it. Once there it stays so until something rises: a tail is uneven. A
    player fades more slowly than a room does, and what holds its level on the pitch that went
    before, however soft, is the player still."""
    loudest = np.empty(len(level_db))
    room = np.zeros(len(level_db), np.bool_)
    sounded = trough = -np.inf
    left = False
    left_at = 0
    for frame in range(len(level_db)):
        level = level_db[frame]
        sounded -= _FADES_DB_A_FRAME
        trough = min(trough, level) if trough > -np.inf else level
        if level >= sounded or level > trough + _RISE_DB:
            sounded = trough = level
            left = False
        if not left and level < sounded - ROOM_DB:
            left, left_at = True, frame
        if left and frame - left_at >= _HELD_FRAMES and _goes_on(level_db, cents, frame):
            sounded = trough = level
            left = False
            since = frame - 1
            while since >= left_at and math.isfinite(cents[since]):
                room[since] = False
                since -= 1
        loudest[frame], room[frame] = sounded, left
    return loudest, room


@compiled
def _goes_on(level_db: FloatArray, cents: FloatArray, frame: int) -> bool:
    """Whether, up to a frame, one pitch has sounded for 200 ms without falling as a room does."""
    lowest, highest = np.inf, -np.inf
    for value in cents[frame - _HELD_FRAMES : frame + 1]:
        if not math.isfinite(value):
            return False
        lowest, highest = min(lowest, value), max(highest, value)
    half = _HELD_FRAMES // 2
    # By the means of both halves: one frame says nothing, and a tail is uneven.
    fell = 0.0
    for place in range(half):
        fell += level_db[frame - _HELD_FRAMES + place] - level_db[frame - place]
    return highest - lowest <= _HELD_WITHIN_CENTS and fell / half <= _HELD_FALLS_DB


def _bridged(cents: FloatArray, silent: np.ndarray, sounds_on: np.ndarray) -> FloatArray:
    """Pitch carried over a few pitchless frames that are not silent: to the half from before,
    then from after. A low note's windows are long, so more of them go without, and so they do where
    the sound goes on all through and pitch only moves too quickly to be told."""
    whole = cents.copy()
    missing = ~np.isfinite(cents)
    for start, end in runs(missing):
        inside = start > 0 and end < len(cents)
        low = inside and min(cents[start - 1], cents[end]) < _LOW_CENTS
        most = _MOST_BRIDGED_LOW if low or sounds_on[start:end].all() else _MOST_BRIDGED
        if inside and end - start <= most and not silent[start:end].any():
            half = (start + end) // 2
            whole[start:half], whole[half:end] = cents[start - 1], cents[end]
        elif inside and sounds_on[start:end].all() and _sweeps_over(cents, start, end):
            whole[start:end] = np.linspace(cents[start - 1], cents[end], end - start + 2)[1:-1]
    return whole


def _sweeps_over(cents: FloatArray, start: int, end: int) -> bool:
    """Whether pitch moves too quickly to be told from one frame up to another: on one side of them
    it already goes where it is on the other."""
    way = cents[end] - cents[start - 1]
    if end - start > MOST_SWEPT or abs(way) < (end - start) * _SWEEP_LEAST:
        return False
    before = np.diff(cents[max(start - _SWEPT_SEEN, 0) : start])
    after = np.diff(cents[end : end + _SWEPT_SEEN])
    return any(
        len(side) == _SWEPT_SEEN - 1 and bool((np.sign(way) * side >= _SWEEP_LEAST).all())
        for side in (before, after)
    )


def _repaired(cents: FloatArray, silent: np.ndarray) -> FloatArray:
    """Pitch with slips mended: one frame off on its own, or two an octave or twelfth off."""
    mended = _without_common_fundamentals(cents, silent)
    count = len(cents)
    with np.errstate(invalid="ignore"):
        leaps = (np.flatnonzero(np.abs(np.diff(mended)) > _OUTLIER_CENTS) + 1).tolist()
    for length in (1, 2):
        for start in leaps:
            end = start + length
            if end >= count:
                continue
            before, after = mended[start - 1], mended[end]
            if not (abs(before - after) <= _OUTLIER_CENTS) or silent[start - 1 : end + 1].any():
                continue
            off = np.abs(mended[start:end] - (before + after) / 2)
            octave = min(abs(float(off.mean()) - interval) for interval in _OCTAVES)
            if (length == 1 and off[0] > _OUTLIER_CENTS) or octave <= _OCTAVE_CENTS:
                mended[start:end] = np.interp(
                    np.arange(start, end), (start - 1, end), (before, after)
                )
    return mended


def _without_common_fundamentals(cents: FloatArray, silent: np.ndarray) -> FloatArray:
    """Pitch without the low one that is heard where two notes meet: a frame or three below both, at
    a fraction of one of them, as a window hears it; or longer, where both are its harmonics and the
    first sounds on in the room."""
    mended = cents.copy()
    count = len(cents)
    drops = np.flatnonzero(np.diff(cents) < -_DROP_CENTS) + 1
    for start in drops.tolist():
        end = start + 1
        most = min(start + _MOST_TOGETHER, count - 1)
        while end < most and abs(cents[end] - cents[start]) <= _OUTLIER_CENTS:
            end += 1
        if end >= count or silent[start - 1 : end + 1].any():
            continue
        before, after, low = cents[start - 1], cents[end], median(cents[start:end])
        if not (low < before - _DROP_CENTS and low < after - _DROP_CENTS):
            continue
        off = [min(abs(note - low - part) for part in _FRACTIONS) for note in (before, after)]
        if (min(off) if end - start <= _MOST_BRIDGED else max(off)) <= _OCTAVE_CENTS:
            half = (start + end) // 2
            mended[start:half], mended[half:end] = before, after
    return mended


def stretches_of(contour: Contour) -> list[Stretch]:
    """The rests and glides of a run in order; what lies between two rests is a change."""
    sweeps = _sweeps(contour)
    found = [Stretch(Kind.GLIDE, start, end) for start, end in sweeps]
    islands = _islands(contour, sweeps)
    for place, (start, end) in enumerate(islands):
        found += _split(contour, start, end)
        if place + 1 < len(islands):
            following = islands[place + 1][0]
            sounding = not contour.silent[end:following].any()
            swept = any(end <= a < following for a, _ in sweeps)
            if sounding and not swept and following - end >= GLIDE_LEAST_FRAMES:
                found.append(Stretch(Kind.GLIDE, end, following))
    return _joined(contour, sorted(found, key=lambda stretch: stretch.start))


def _sweeps(contour: Contour) -> list[tuple[int, int]]:
    """Stretches where pitch goes one way at every frame, quickly, for as long as a glide."""
    return sorted(
        (a, b + 1)
        for sign in (1, -1)
        for a, b in runs(_sweeping(contour.cents, contour.silent, sign))
        if b - a >= GLIDE_LEAST_FRAMES
        and abs(contour.cents[b] - contour.cents[a]) >= _GLIDE_LEAST_CENTS
    )


@compiled
def _sweeping(cents: FloatArray, silent: np.ndarray, sign: int) -> np.ndarray:
    """From which frames to the next the pitch goes one way, quickly."""
    count = max(len(cents) - 1, 0)
    going, quick = np.zeros(count, np.bool_), np.zeros(count, np.bool_)
    for frame in range(count):
        step = sign * (cents[frame + 1] - cents[frame])
        quick[frame] = not silent[frame] and not silent[frame + 1] and abs(step) <= _SWEEP_MOST
        going[frame] = quick[frame] and step >= _SWEEP_LEAST
    swept = going.copy()
    for frame in range(1, count - 1):
        # One frame that hesitates does not end it.
        swept[frame] |= quick[frame] and going[frame - 1] and going[frame + 1]
    return swept


def _islands(contour: Contour, sweeps: list[tuple[int, int]]) -> list[tuple[int, int]]:
    cents, silent = contour.cents, contour.silent.copy()
    for start, end in sweeps:
        silent[start + 1 : end - 1] = True
    with np.errstate(invalid="ignore"):
        still = np.abs(np.diff(cents)) <= _STILL_CENTS
    still &= ~silent[:-1] & ~silent[1:]
    # Frames first to last, the last one included: n still steps join n + 1 frames.
    return [(a, b + 1) for a, b in runs(still) if b + 1 - a >= _SHORTEST_ISLAND]


def _split(contour: Contour, start: int, end: int) -> list[Stretch]:
    """An island as its rests and slow glides."""
    if end - start < _ISLAND_TO_SPLIT:
        return [Stretch(Kind.REST, start, end)]
    cents = contour.cents[start:end]
    smooth = smoothed(cents)
    found: list[Stretch] = []
    at = 0
    for first, last in _motions(smooth):
        glide = _measured_motion(cents, first, last)
        if glide is None:
            continue
        begin, stop, middle = glide
        begin, stop = max(begin, at), min(stop, len(cents))
        if stop - begin >= GLIDE_LEAST_FRAMES:
            if begin > at:
                found.append(Stretch(Kind.REST, start + at, start + begin))
            found.append(Stretch(Kind.GLIDE, start + begin, start + stop))
            at = stop
        elif at < middle < len(cents):
            found.append(Stretch(Kind.REST, start + at, start + middle))
            at = middle
    if at < len(cents):
        found.append(Stretch(Kind.REST, start + at, end))
    return found


@compiled
def smoothed(cents: FloatArray) -> FloatArray:
    """Mean over 250 ms, over less near the ends."""
    smooth = np.empty(len(cents))
    for frame in range(len(cents)):
        reach = min(_SMOOTH_FRAMES // 2, frame, len(cents) - 1 - frame)
        smooth[frame] = cents[frame - reach : frame + reach + 1].mean()
    return smooth


def _motions(smooth: FloatArray) -> list[tuple[int, int]]:
    """Stretches of a smoothed contour that go one way by enough to be a glide or a slur."""
    slope = _slope(smooth, min(_SLOPE_REACH, len(smooth) // 4))
    return sorted(
        (a, b)
        for moving in (slope > _MOVING_CENTS_A_FRAME, slope < -_MOVING_CENTS_A_FRAME)
        for a, b in runs(moving)
        if abs(smooth[b - 1] - smooth[a]) >= _GLIDE_LEAST_CENTS
    )


@compiled
def _slope(smooth: FloatArray, reach: int) -> FloatArray:
    """Cents a frame, over so many frames either way; near the ends as there where it is known."""
    slope = np.empty(len(smooth))
    for frame in range(len(smooth)):
        at = min(max(frame, reach), len(smooth) - 1 - reach)
        slope[frame] = (smooth[at + reach] - smooth[at - reach]) / (2 * reach)
    return slope


def _measured_motion(cents: FloatArray, first: int, last: int) -> tuple[int, int, int] | None:
    """Where a motion of the raw contour begins, ends and is half done; `None` when the raw
    contour does not go that far."""
    reach = _SMOOTH_FRAMES // 2
    before = median(cents[max(0, first - 2) : first + 4])
    after = median(cents[last - 4 : last + 2])
    net = after - before
    if abs(net) < _GLIDE_LEAST_CENTS:
        return None
    low, high = max(0, first - reach), min(len(cents), last + reach)
    share = (cents[low:high] - before) / net
    early = np.flatnonzero(share <= 0.15)
    early = early[early <= np.argmax(share >= 0.85)] if (share >= 0.85).any() else early
    begun = int(early[-1]) if len(early) else 0
    late = np.flatnonzero(share[begun:] >= 0.85)
    done = begun + int(late[0]) if len(late) else high - low - 1
    halves = np.flatnonzero(share[begun : done + 1] >= 0.5)
    middle = begun + (int(halves[0]) if len(halves) else (done - begun) // 2)
    spill = round(0.15 / 0.7 * (done - begun))
    return low + begun - spill + 1, low + done + spill, low + middle


def _joined(contour: Contour, found: list[Stretch]) -> list[Stretch]:
    """Glides that touch, or leave each other no time to rest, as one."""
    joined: list[Stretch] = []
    for stretch in found:
        last = joined[-1] if joined else None
        both_glide = last is not None and last.kind is stretch.kind is Kind.GLIDE
        if last and both_glide and not contour.silent[last.end : stretch.start].any():
            last.end = stretch.end
            continue
        joined.append(stretch)
    for stretch in joined:
        if stretch.kind is Kind.REST:
            stretch.cents = contour.median(stretch.start, stretch.end)
    return joined


def frames_of(seconds: float) -> int:
    """Whole frames in a time."""
    return round(seconds / HOP_S)
