"""What is measured of one note.

Inputs are a note's frames, one value per 10 ms hop: `cents` against any fixed pitch and
`level_db`. Results are in cents, seconds or dB; signed cents are negative below. Definitions,
with the same words as on the screen:

- settled part: from where the pitch has come within ±10 cents (or its own swing, up to ±40,
  where that is wider) of where the note stays, to 250 ms before its end (at most a third of it);
- centre: median cents of the settled part, vibrato taken out;
- spread: half the 16–84 % range of the settled part once drift (its straight line) and
  vibrato (a regular 3.5–8 Hz swing) are taken out;
- scoop: the 40 ms of the first 150 ms that lie farthest from the settled pitch;
- sag: the 40 ms of the last 250 ms that lie farthest from the settled pitch;
- lowest, highest: the 100 ms where pitch lies farthest under and over the settled pitch;
- hold: seconds from the start until the pitch leaves ±30 cents, the level falls 10 dB or the
  sound stops;
- response: seconds of audible air (8 dB over the room, at most 35 under the note) right before
  a note that begins a run of sound, less what the window itself takes;
- rise: seconds from 10 to 90 % of the settled amplitude, less what the window itself takes;
- level change: by the straight line through the settled part, from one end of the note to the
  other;
- shape: how the level goes over the settled part: within ±2 dB steady, else crescendo,
  diminuendo, or a swell when its middle stands above both ends.
"""

from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from orexis.core.arrays import FloatArray
from orexis.core.compiled import compiled
from orexis.core.listening.notes.quantiles import median, percentiles
from orexis.core.listening.tracking.frames import HOP_S

SETTLED_WITHIN_CENTS = 10.0
HOLD_WITHIN_CENTS = 30.0
HOLD_FALL_DB = 10.0
_START_S, _END_S, _GLIMPSE_S = 0.15, 0.25, 0.04
_EXTREME_S = 0.1
_SETTLE_RUN_S = 0.05
_WIDEST_SWING_CENTS = 40.0
_VIBRATO_LOWEST_HZ, _VIBRATO_HIGHEST_HZ = 3.5, 8.0
SLOT_CENTS = (5.0, 10.0, 20.0)
_WINDOW_RISE_S = 0.02
_ROOM_S, _ROOM_PERCENT = 0.25, 10.0
_AIR_OVER_ROOM_DB, _AIR_UNDER_NOTE_DB, _WINDOW_AIR_S = 8.0, 35.0, 0.02
_STEADY_DB, _SHAPED_DB = 2.0, 3.0
_SHAPE_SMOOTH_S = 0.15
_WOBBLE_LOWEST_HZ, _WOBBLE_HIGHEST_HZ = 0.5, 3.0
_VIBRATO_LEAST_S, _VIBRATO_LEAST_EXTENT_CENTS, _VIBRATO_SHARE = 0.6, 4.0, 0.5


@dataclass(frozen=True, slots=True)
class Vibrato:
    """A regular swing of pitch: rate in Hz and extent in ± cents."""

    rate_hz: float
    extent_cents: float


class Shape(StrEnum):
    """How a note's level goes."""

    STEADY = "steady"
    CRESCENDO = "crescendo"
    DIMINUENDO = "diminuendo"
    SWELL = "swell"


@dataclass(frozen=True, slots=True)
class NoteMeasures:
    """The measures of one note; `centre_cents` is against what `cents` was given against.

    `in_slot` is the share of its voiced frames within ±5, ±10 and ±20 cents of that;
    `wobble_cents` the ± extent of a slow swing (0.5 to 3 Hz). `lowest_cents` and `highest_cents`
    are against the centre. `response_s` is `None` where it cannot be told.
    """

    centre_cents: float
    spread_cents: float
    drift_cents_per_s: float
    scoop_cents: float
    settle_s: float
    sag_cents: float
    hold_s: float
    vibrato: Vibrato | None
    level_db: float
    level_change_db: float
    rise_s: float = 0.0
    shape: Shape = Shape.STEADY
    in_slot: tuple[float, float, float] = (1.0, 1.0, 1.0)
    wobble_cents: float = 0.0
    response_s: float | None = None
    lowest_cents: float = 0.0
    highest_cents: float = 0.0


def _frames(seconds: float) -> int:
    return round(seconds / HOP_S)


def measure_note(
    cents: FloatArray, level_db: FloatArray, level_before_db: FloatArray | None = None
) -> NoteMeasures:
    """All measures of one note from its frames; unvoiced frames (NaN cents) are bridged.

    `level_before_db` is the level of the frames before it, for the rise.

    Raises `ValueError` when the note has no voiced frame or the lengths differ.
    """
    if len(cents) != len(level_db):
        raise ValueError(f"{len(cents)} pitch frames but {len(level_db)} level frames.")
    if not np.isfinite(cents).any():
        raise ValueError("A note needs at least one frame with a pitch.")
    voiced = cents[np.isfinite(cents)]
    cents = _bridged(cents)
    settle = _settle_frame(cents)
    # A short note is over before its last quarter of a second begins.
    last = max(len(cents) - min(_frames(_END_S), len(cents) // 3), settle + 1)
    settled = cents[settle:last]
    drift = _drift(settled)
    level = median(level_db[settle:last])
    lean = drift * HOP_S * np.arange(len(settled))
    straight = settled - lean
    vibrato, steady = _without_vibrato(straight)
    # Half a swing too many must not move the centre.
    centre_cents = median(steady + lean if vibrato else settled)
    before = np.empty(0) if level_before_db is None else level_before_db
    low, high = percentiles(steady, 16, 84)
    rise_frames = _rise_frames(np.concatenate((before, level_db)), level)
    extremes = _means(cents, min(_frames(_EXTREME_S), len(cents)))
    return NoteMeasures(
        centre_cents=centre_cents,
        spread_cents=float(high - low) / 2,
        drift_cents_per_s=drift,
        scoop_cents=_beyond(_farthest(cents[: _frames(_START_S)] - centre_cents), vibrato),
        settle_s=settle * HOP_S,
        sag_cents=_beyond(_farthest(cents[-_frames(_END_S) :] - centre_cents), vibrato),
        hold_s=_hold_frames(cents - centre_cents, level_db, settle, last) * HOP_S,
        vibrato=vibrato,
        level_db=level,
        level_change_db=_level_change(level_db[settle:last], len(level_db)),
        rise_s=max(HOP_S * rise_frames - _WINDOW_RISE_S, 0.0),
        shape=_shape(level_db[settle:last]),
        in_slot=in_slot(voiced),
        wobble_cents=_swing_extent(straight, _WOBBLE_LOWEST_HZ, _WOBBLE_HIGHEST_HZ),
        lowest_cents=float(extremes.min()) - centre_cents,
        highest_cents=float(extremes.max()) - centre_cents,
    )


def air_before(level_db: FloatArray, note_db: float) -> float | None:
    """Seconds of air right before a note, from the levels of the frames that lead to it;
    `None` when there are too few to know the room by."""
    if len(level_db) < _frames(_ROOM_S):
        return None
    (room_db,) = percentiles(level_db, _ROOM_PERCENT)
    audible = level_db >= max(room_db + _AIR_OVER_ROOM_DB, note_db - _AIR_UNDER_NOTE_DB)
    quiet = np.flatnonzero(~audible)
    air = len(level_db) if not len(quiet) else len(level_db) - 1 - int(quiet[-1])
    return max(air * HOP_S - _WINDOW_AIR_S, 0.0)


def _bridged(cents: FloatArray) -> FloatArray:
    voiced = np.isfinite(cents)
    if voiced.all():
        return cents
    index = np.arange(len(cents))
    return np.interp(index, index[voiced], cents[voiced])


def _settle_frame(cents: FloatArray) -> int:
    """First frame from which the pitch stays for 50 ms where the note's middle lies."""
    start, end = _frames(_START_S), len(cents) - _frames(_END_S)
    middle = cents[start:end] if end - start >= 5 else cents[len(cents) // 4 :]
    # A wide vibrato never stays within ±10 cents, and is settled all the same.
    low, high = percentiles(middle, 5, 95)
    within = max(SETTLED_WITHIN_CENTS, min((high - low) / 2, _WIDEST_SWING_CENTS))
    settled = _settled_from(cents, median(middle), within, _frames(_SETTLE_RUN_S))
    # A note that never settles is taken from its first third on.
    return settled if settled < len(cents) else len(cents) // 3


@compiled
def _settled_from(cents: FloatArray, middle: float, within: float, frames: int) -> int:
    """From which frame on the pitch stays near the middle for so many; 0 in a shorter note, past
    the end where it never does."""
    if len(cents) < frames:
        return 0
    row = 0
    for frame in range(len(cents)):
        row = row + 1 if abs(cents[frame] - middle) <= within else 0
        if row == frames:
            return frame + 1 - frames
    return len(cents)


def _drift(settled: FloatArray) -> float:
    """Slope in cents per second; 0 when the settled part is too short to have one."""
    if len(settled) < _frames(0.3):
        return 0.0
    time_s = HOP_S * (np.arange(len(settled)) - (len(settled) - 1) / 2)
    return float(time_s @ settled / (time_s @ time_s))


def _without_vibrato(settled: FloatArray) -> tuple[Vibrato | None, FloatArray]:
    """The vibrato, if the swing is regular enough to be one, and what is left without it."""
    rest = settled - settled.mean()
    if len(rest) < _frames(_VIBRATO_LEAST_S):
        return None, settled
    size = 1 << (4 * len(rest) - 1).bit_length()
    rate_hz = np.fft.rfftfreq(size, HOP_S)
    windowed = np.abs(np.fft.rfft(rest * np.hanning(len(rest)), size)) ** 2
    swings = (rate_hz >= _VIBRATO_LOWEST_HZ) & (rate_hz <= _VIBRATO_HIGHEST_HZ)
    peak_hz = float(rate_hz[swings][np.argmax(windowed[swings])])
    around = np.abs(rate_hz - peak_hz) <= max(1.0, 2 / (len(rest) * HOP_S))
    share = windowed[around].sum() / max(windowed.sum(), 1e-20)
    mirrored = np.concatenate((rest[::-1], rest, rest[::-1]))
    spectrum = np.fft.rfft(mirrored)
    spectrum[np.abs(np.fft.rfftfreq(len(mirrored), HOP_S) - peak_hz) > 1.0] = 0
    swing = np.fft.irfft(spectrum, len(mirrored))[len(rest) : 2 * len(rest)]
    extent_cents = float(np.sqrt(2) * swing.std())
    if share < _VIBRATO_SHARE or extent_cents < _VIBRATO_LEAST_EXTENT_CENTS:
        return None, settled
    return Vibrato(peak_hz, extent_cents), settled - swing


def _farthest(deviation: FloatArray) -> float:
    """The median over the 40 ms where the deviation is largest, signed."""
    return _farthest_of(deviation, min(_frames(_GLIMPSE_S), len(deviation)))


@compiled
def _farthest_of(deviation: FloatArray, size: int) -> float:
    farthest = 0.0
    for frame in range(len(deviation) + 1 - size):
        total = lowest = highest = deviation[frame]
        for value in deviation[frame + 1 : frame + size]:
            total += value
            lowest, highest = min(lowest, value), max(highest, value)
        # Of three or four values, the median is the mean of those between the outer ones.
        middle = total / size if size < 3 else (total - lowest - highest) / (size - 2)
        if abs(middle) > abs(farthest):
            farthest = middle
    return farthest


def _beyond(cents: float, vibrato: Vibrato | None) -> float:
    """What of a deviation goes past a note's own vibrato."""
    swing = 0.0 if vibrato is None else 1.1 * vibrato.extent_cents
    return float(np.sign(cents)) * max(abs(cents) - swing, 0.0)


def _hold_frames(deviation: FloatArray, level_db: FloatArray, settle: int, last: int) -> int:
    """Frames from the start until pitch or level is lost for longer than a glimpse."""
    least_db = median(level_db[settle:last]) - HOLD_FALL_DB
    return _held_frames(deviation, level_db, settle, least_db, _frames(_GLIMPSE_S))


@compiled
def _held_frames(
    deviation: FloatArray, level_db: FloatArray, settle: int, least_db: float, glimpse: int
) -> int:
    held = row = 0
    for frame in range(len(deviation)):
        lost = abs(deviation[frame]) > HOLD_WITHIN_CENTS or level_db[frame] < least_db
        if not lost:
            held = frame + 1
        row = row + 1 if lost and frame >= settle else 0
        if row == glimpse:
            return frame + 1 - glimpse
    # Lost frames at the very end are too few to fill a glimpse, but they are not held.
    return held if len(deviation) - settle >= glimpse else len(deviation)


def _level_change(settled_db: FloatArray, frames: int) -> float:
    """Level at the end of a note of so many frames less that at its start, by the straight line
    through its settled part: the median of the slopes between points of its first and second
    half, which no single frame can move. Source: P. K. Sen, "Estimates of the regression
    coefficient based on Kendall's tau", 1968, with points taken in pairs half the part apart."""
    half = len(settled_db) // 2
    if half == 0:
        return 0.0
    slopes = (settled_db[half:] - settled_db[: len(settled_db) - half]) / half
    return median(slopes) * (frames - 1)


def in_slot(cents: FloatArray) -> tuple[float, float, float]:
    """Share of voiced frames within ±5, ±10 and ±20 cents of what they are given against."""
    tight, usual, wide = (_share_within(cents, width) for width in SLOT_CENTS)
    return tight, usual, wide


@compiled
def _share_within(cents: FloatArray, width: float) -> float:
    within = 0
    for value in cents:
        if abs(value) <= width:
            within += 1
    return within / len(cents)


@compiled
def _rise_frames(level_db: FloatArray, settled_db: float) -> float:
    """Frames from 10 to 90 % of the settled amplitude, at the first time it is reached."""
    amplitude = 10 ** ((level_db - settled_db) / 20)
    high = 0
    while high < len(amplitude) and amplitude[high] < 0.9:
        high += 1
    low = min(high, len(amplitude) - 1)
    while low >= 0 and amplitude[low] > 0.1:
        low -= 1
    if high == len(amplitude) or low < 0:
        return 0.0
    after_low = (0.1 - amplitude[low]) / (amplitude[low + 1] - amplitude[low])
    before_high = (amplitude[high] - 0.9) / (amplitude[high] - amplitude[high - 1])
    return float(high - before_high - low - after_low)


def _shape(level_db: FloatArray) -> Shape:
    """How the level goes, smoothed over 150 ms."""
    size = min(_frames(_SHAPE_SMOOTH_S), len(level_db))
    smooth = _means(level_db, size)
    part = max(1, len(smooth) // 5)
    start, end = median(smooth[:part]), median(smooth[-part:])
    bottom, top = percentiles(smooth, 5, 95)
    if top - max(start, end) >= _SHAPED_DB:
        return Shape.SWELL
    if top - bottom <= 2 * _STEADY_DB and abs(end - start) < _SHAPED_DB:
        return Shape.STEADY
    return Shape.CRESCENDO if end > start else Shape.DIMINUENDO


@compiled
def _means(values: FloatArray, size: int) -> FloatArray:
    """The mean of every so many in a row."""
    means = np.empty(len(values) + 1 - size)
    for place in range(len(means)):
        means[place] = values[place : place + size].sum() / size
    return means


def _swing_extent(cents: FloatArray, lowest_hz: float, highest_hz: float) -> float:
    """± extent of what swings within a band; 0 when there is too little to tell."""
    if len(cents) < _frames(2 / highest_hz):
        return 0.0
    mirrored = np.concatenate((cents[::-1], cents, cents[::-1])) - cents.mean()
    spectrum = np.fft.rfft(mirrored)
    rate_hz = np.fft.rfftfreq(len(mirrored), HOP_S)
    spectrum[(rate_hz < lowest_hz) | (rate_hz > highest_hz)] = 0
    swing = np.fft.irfft(spectrum, len(mirrored))[len(cents) : 2 * len(cents)]
    return float(np.sqrt(2) * swing.std())
