"""What each window says of a frame, weighed against what shorter ones said of it.

A frame stays pending, with all that was heard of it, until a window is sure of it or there is no
longer one. A longer window refines a pitch it agrees with, puts one where there was none, and
replaces one that was a strong harmonic of its own.
"""

import math

import numpy as np

from orexis.core.arrays import FloatArray
from orexis.core.compiled import compiled

PENDING = np.dtype(
    [("centre", np.int64), ("stage", np.int64)]
    + [(name, np.float64) for name in ("power", "recent_power", "f0_hz", "clarity")]
    + [(name, np.float64) for name in ("band_power", "band_share", "wide_power")]
    + [(name, np.float64) for name in ("first_hz", "first_clarity", "first_power", "second_hz")]
    + [(name, np.float64) for name in ("nearly_hz", "nearly_clarity")]
    + [("lone", np.bool_)]
)
"""A frame seen but not yet handed out; `stage` is the next window to look at it in. `power` is
what stands inside it, `recent_power` what was before and in it. Its clarity is that of a window
whose band holds `band_power` of `wide_power` (what the shortest window's band holds in that time),
and `band_share` of white noise; what shorter windows said is kept beside."""

_SURE, _SURER = 0.985, 0.995
"""How clear a pitch is that needs no other window."""

_SAME_CENTS = 25.0
_PULSES_SHARE = 0.1
"""A window with less than this of the power around it may lie between two pulses of a pedal."""

_NO_POWER = 1e-20
_INSIDE_SHARE = 0.03
_LEAKS_SHARE = 1e-5
_CLEAR_OF_FEW = 0.9
_CLEAR_OF_HALVES = 0.93
_QUIET_SHARE, _PERFECT = 0.6, 0.99
_FRACTION_CENTS = 40.0
_FEW = 6
_DOUBTFUL, _VERY_DOUBTFUL = 0.965, 0.93
_EXPLAINS_SHARE = 0.4
_SHORTEST_SEES_HZ = 78.0
_FIRST_GLIMPSE, _FIRST_WILL_DO, _CLEAR_PEDAL = 0.45, 0.52, 0.8

TIER = np.dtype(
    [
        (name, np.float64)
        for name in ("lowest_hz", "highest_hz", "few_under_hz", "clear_enough", "band_share")
    ]
)
"""What counts of one window length: as in `windows.Tier`, and the share of white noise's power
that its band holds."""


@compiled
def with_fresh(
    pending: np.ndarray,
    centre: np.ndarray,
    power: FloatArray,
    recent_power: FloatArray,
    voiced_power: float,
    done: int,
) -> np.ndarray:
    """Pending frames and, after them, those about some centres, of which nothing was heard yet;
    of one that holds less than `voiced_power` nothing is to be: it is `done`."""
    grown = np.zeros(len(pending) + len(centre), PENDING)
    for row in range(len(pending)):
        grown[row] = pending[row]
    for place in range(len(centre)):
        frame = grown[len(pending) + place]
        frame["centre"], frame["f0_hz"] = centre[place], np.nan
        frame["power"], frame["recent_power"] = power[place], recent_power[place]
        frame["stage"] = 0 if power[place] >= voiced_power else done
    return grown


@compiled
def done_from(pending: np.ndarray, first: int, done: int) -> int:
    """The first frame from one on that a window is still open for; past the end without."""
    for row in range(first, len(pending)):
        if pending[row]["stage"] < done:
            return row
    return len(pending)


@compiled
def to_look_at(pending: np.ndarray, stage: int, known_until: int) -> np.ndarray:
    """Which frames come next in a window that is known about centres before `known_until`."""
    rows = np.empty(len(pending), np.int64)
    count = 0
    for row in range(len(pending)):
        if pending[row]["stage"] == stage and pending[row]["centre"] < known_until:
            rows[count] = row
            count += 1
    return rows[:count]


@compiled
def harmonics_to_check(
    pending: np.ndarray,
    rows: np.ndarray,
    heard: np.ndarray,
    tiers: np.ndarray,
    stage: int,
    power: FloatArray,
    still_heard: float,
) -> FloatArray:
    """The pitches (Hz) known of some frames that may be no more than a strong harmonic of what a
    longer window heard, NaN where there is nothing to check; the rest is as for `weigh`."""
    harmonic_hz = np.full(len(rows), np.nan)
    for place in range(len(rows)):
        frame, now = pending[rows[place]], heard[place]
        agrees, explains, _ = _compared(frame, now)
        fresh = math.isnan(frame["f0_hz"])
        if not _usable(tiers[stage], now, power[place]) or not (fresh or agrees or explains):
            continue
        other_hz = frame["f0_hz"] if explains else frame["nearly_hz"]
        matters = explains or frame["nearly_clarity"] >= still_heard
        if matters and other_hz > 1.5 * now["f0_hz"]:
            harmonic_hz[place] = other_hz
    return harmonic_hz


@compiled
def weigh(
    pending: np.ndarray,
    rows: np.ndarray,
    heard: np.ndarray,
    tiers: np.ndarray,
    stage: int,
    power: FloatArray,
    lone: np.ndarray,
    still_heard: float,
) -> tuple[np.ndarray, np.ndarray]:
    """Puts down what one tier's windows say of some frames, and what is next for each; returns
    which of them now have their pitch from it, and which are done and still not clear.

    `heard` is what the windows say, a `HEARD` each; `power` what stands inside the frame; `lone`
    where what shorter windows heard is one strong harmonic. How clear a pitch must be to be
    `still_heard` is the rough notes' to say.
    """
    tier, last = tiers[stage], stage + 1 == len(tiers)
    from_here, unclear = np.zeros((2, len(rows)), np.bool_)
    for place in range(len(rows)):
        frame, now = pending[rows[place]], heard[place]
        fresh = math.isnan(frame["f0_hz"])
        agrees, explains, doubtful = _compared(frame, now)
        usable = _usable(tier, now, power[place])
        if stage > 0 and fresh:
            usable = usable and _plausible(frame, now, tiers)
        anew = usable and (fresh or (explains and (doubtful or lone[place])))
        better = anew or (usable and agrees)
        if better:
            frame["f0_hz"], frame["lone"] = now["f0_hz"], lone[place]
        if anew:
            from_here[place] = True
            frame["clarity"] = now["clarity"]
            frame["band_power"] = frame["wide_power"] = now["mean_square"]
            frame["band_share"] = tier["band_share"]
        if stage == 0:
            leaked = _leaked(now, power[place])
            frame["first_hz"], frame["nearly_hz"] = now["f0_hz"], now["nearly_hz"]
            frame["first_clarity"] = 0.0 if leaked else now["clarity"]
            frame["nearly_clarity"] = 0.0 if leaked else now["nearly_clarity"]
            frame["first_power"] = now["mean_square"]
        if stage == 1:
            frame["second_hz"] = now["f0_hz"]
        # Of a note an octave lower, it would hold too few periods to tell the harmonics.
        octave_lower = frame["f0_hz"] < 2 * tier["few_under_hz"]
        sure_from = _SURER if octave_lower and not last else _SURE
        sure = (better and not fresh) or frame["clarity"] >= sure_from
        known = not math.isnan(frame["f0_hz"])
        told = known and sure and not _untold(frame, tier, still_heard)
        frame["stage"] = len(tiers) if told else stage + 1
        if last and not known and _first_will_do(frame, tiers[0]):
            _take_from_shortest(
                frame, frame["first_hz"], frame["first_clarity"], tiers[0]["band_share"]
            )
        unclear[place] = (told or last) and frame["clarity"] < _CLEAR_OF_HALVES
    return from_here, unclear


@compiled
def _compared(frame: np.void, now: np.void) -> tuple[bool, bool, bool]:
    """Whether a longer window's pitch agrees with a shorter one's; whether the shorter one's is
    a multiple of it that explains the sound clearly less well; and whether that one is in doubt,
    so that it gives way."""
    known_hz, known_clarity, clarity = frame["f0_hz"], frame["clarity"], now["clarity"]
    # Where little of the power is in the shortest window, it may lie between the pulses of a low
    # note, where what little there is may look like a high one.
    share = frame["power"] / max(now["mean_square"], _NO_POWER)
    ratio = known_hz / now["f0_hz"]
    multiple = np.rint(ratio)
    agrees = _apart(known_hz, now["f0_hz"]) <= _SAME_CENTS and clarity >= known_clarity - 0.01
    off = _apart(ratio, max(multiple, 1.0))
    fraction = multiple >= 2 and (off <= _FRACTION_CENTS or multiple > _FEW)
    doubtful = known_clarity < (_VERY_DOUBTFUL if multiple > _FEW else _DOUBTFUL)
    quiet = share < _QUIET_SHARE or clarity >= _PERFECT
    doubtful = doubtful or (quiet and known_clarity < _SURE) or share < _PULSES_SHARE
    explains = fraction and 1 - clarity < _EXPLAINS_SHARE * (1 - known_clarity)
    return agrees, explains, doubtful


@compiled
def _usable(tier: np.void, now: np.void, power: float) -> bool:
    """Whether a window decides a pitch, and what it hears is in the frame: a long one that only
    reaches into a note does not put one here."""
    f0_hz = now["f0_hz"]
    clear_enough = _CLEAR_OF_FEW if f0_hz < tier["few_under_hz"] else tier["clear_enough"]
    decided = now["clarity"] >= clear_enough and tier["lowest_hz"] <= f0_hz <= tier["highest_hz"]
    inside = power >= _INSIDE_SHARE * now["mean_square"]
    return bool(decided and inside and not _leaked(now, power))


@compiled
def _leaked(now: np.void, power: float) -> bool:
    """Whether a window holds no more of a sound than its low-pass lets through of what lies
    above."""
    return bool(now["mean_square"] < _LEAKS_SHARE * power)


@compiled
def _plausible(frame: np.void, now: np.void, tiers: np.ndarray) -> bool:
    """Whether a longer window may put a pitch where the shortest one decided nothing.

    Where two notes meet, a long window finds a low pitch that both are multiples of; the
    shortest one, which could see that pitch too, does not.
    """
    f0_hz = now["f0_hz"]
    near = _apart(frame["first_hz"], f0_hz) <= 2 * _SAME_CENTS
    blind = frame["first_clarity"] < _FIRST_GLIMPSE and f0_hz < tiers[0]["lowest_hz"]
    # The longest window has no say where the middle one could see and did not.
    if frame["second_hz"] > 0 and f0_hz >= tiers[1]["lowest_hz"]:
        blind = blind and _apart(frame["second_hz"], f0_hz) <= 2 * _SAME_CENTS
    pedal = f0_hz < _SHORTEST_SEES_HZ and now["clarity"] >= _CLEAR_PEDAL
    return bool(near or blind or pedal)


@compiled
def _untold(frame: np.void, tier: np.void, still_heard: float) -> bool:
    """Where a window cannot be the last word: it may lie between two pulses of a pedal, or
    something above its pitch was heard that may be a harmonic of it or not."""
    f0_hz = frame["f0_hz"]
    above = frame["nearly_hz"] > 1.5 * f0_hz and frame["nearly_clarity"] >= still_heard
    few = f0_hz < tier["few_under_hz"]
    return bool((few and above) or frame["power"] < _PULSES_SHARE * frame["recent_power"])


@compiled
def _first_will_do(frame: np.void, first: np.void) -> bool:
    """Whether the shortest window's pitch is taken after all where no longer one was better."""
    inside = first["lowest_hz"] <= frame["first_hz"] <= first["highest_hz"]
    return bool(inside and frame["first_clarity"] >= _FIRST_WILL_DO)


@compiled
def _take_from_shortest(frame: np.void, f0_hz: float, clarity: float, band_share: float) -> None:
    frame["f0_hz"], frame["clarity"] = f0_hz, clarity
    frame["band_power"] = frame["wide_power"] = frame["first_power"]
    frame["band_share"] = band_share


@compiled
def take_from_shortest(
    pending: np.ndarray, rows: np.ndarray, f0_hz: FloatArray, clarity: FloatArray, share: float
) -> None:
    """Puts down what the shortest window says of some frames, its band with it, which holds a
    `share` of white noise."""
    for place in range(len(rows)):
        _take_from_shortest(pending[rows[place]], f0_hz[place], clarity[place], share)


@compiled
def _apart(one_hz: float, other_hz: float) -> float:
    """Cents between two pitches; NaN when either is, which no limit admits."""
    return float(abs(1200 * np.log2(one_hz / other_hz)))
