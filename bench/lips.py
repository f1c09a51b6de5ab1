"""Brass sound from a model of lips on a tube, as unlike our stand-in player as it can be had.

One mass is the lips: it opens and closes a slit against the pressure in the mouthpiece, and the
tube answers with its resonances, near multiples of a fundamental above the first. Nothing says
what is to sound: notes catch in slots, hang in between and turn rough as they do on a horn. The
truth is read from the lips themselves, swing by swing. Counted are frames where they hold a
pitch, as in the tracker's bench, and where a tracker hears one a fifth or more too low.
Source of the model: S. J. Elliott and J. M. Bowsher, "Regeneration in brass wind instruments",
J. Sound Vib. 83, 1982; the tube as a sum of resonances.
"""

from dataclasses import dataclass

import numpy as np
from numba import njit
from scipy.ndimage import gaussian_filter1d
from scipy.signal import butter, sosfilt, sosfiltfilt

from bench.goals import at_most
from bench.sounds import RATE
from bench.tracker import orexis, peers, steady_frames
from orexis.core.arrays import FloatArray
from orexis.core.listening.tracking.frames import HOP_S

_OVERSAMPLED = 8
_LIP_QUALITY, _REST_OPENING_M = 10.0, 3e-4
_LEAD_S, _TAIL_S = 0.3, 0.5
_SLUR_S, _TONGUE_S, _PRESSURE_RISE_S = 0.06, 0.04, 0.006
_TUBE_IMPEDANCE = 3.1e6
_AIR_DENSITY = 1.2
_BELL_FROM_HZ, _BELL_TO_HZ = 800.0, 9000.0
_TROMBONE_HZ = 57.8
_PUSH, _PUSH_AT_HZ = 0.11, 200.0
"""Acceleration of the lips by pressure (m²/kg), which grows with the pitch they are set for."""

_WIDTH_M = 12e-3
"""How wide a trombone's lips are open; a longer tube has a wider mouthpiece."""

_PEAK, _HISS = 0.4, 0.0008
_SWING_REACH_S, _LOUDNESS_S, _SOUNDS_SHARE = 0.012, 0.03, 0.05
_FIFTH_CENTS = 700.0


@dataclass(frozen=True, slots=True)
class Slurs:
    """Lip frequencies in multiples of the tube's fundamental, slurred one to the next."""

    f1_hz: float
    lips: tuple[float, ...]
    pressure_pa: float
    note_s: float = 0.8


_PLAYED = (
    Slurs(_TROMBONE_HZ, (2.4, 3.6, 4.3, 5.6), 2500.0),
    Slurs(_TROMBONE_HZ, (6.2, 4.3, 3.6, 2.4), 2500.0),
    Slurs(_TROMBONE_HZ, (6.2, 8.3, 9.5, 8.3), 2500.0),
    Slurs(_TROMBONE_HZ, (2.4, 3.6) * 6, 2500.0, 0.2),
    Slurs(115.6, (2.4, 3.6, 4.3, 3.6), 3500.0),
    Slurs(115.6, (4.3, 6.2, 8.3, 6.2), 3500.0),
    Slurs(29.1, (2.4, 3.6, 4.3, 3.6), 1800.0),
)
_BREATHS = (0.05, 0.2)


def main() -> None:
    """Prints what each tracker makes of all that the lips play, with little breath and much."""
    trackers = {"orexis": orexis, **{n: t for n, t in peers().items() if "yin" not in n}}
    print("Lips on a tube: % of frames, and median error in cents where held")
    print(f"{'':<16}{'gross':>8}{'missed':>8}{'median':>8}{'a fifth low':>13}{'frames':>8}")
    played = [_play(slurs, breath) for slurs in _PLAYED for breath in _BREATHS]
    lost: dict[str, float] = {}
    too_low: dict[str, float] = {}
    for name, tracker in trackers.items():
        errors: list[FloatArray] = []
        held_ones: list[np.ndarray] = []
        for sound, truth_hz in played:
            given = tracker(sound)[: len(truth_hz)]
            errors.append(1200 * np.log2(given / truth_hz[: len(given)]))
            held_ones.append(steady_frames(truth_hz)[: len(given)])
        error, held = np.concatenate(errors), np.concatenate(held_ones)
        heard = np.abs(error[held & np.isfinite(error)])
        gross = 100 * (heard > 50).sum() / held.sum()
        missed = 100 * (1 - len(heard) / held.sum())
        low = 100 * (error < -_FIFTH_CENTS).mean()
        middle = np.median(heard[heard <= 50])
        print(f"{name:<16}{gross:8.2f}{missed:8.2f}{middle:8.2f}{low:13.2f}{len(error):8}")
        lost[name], too_low[name] = gross + missed, low
    for what, shares in (("wrong or missed", lost), ("a fifth low", too_low)):
        ours = shares.pop("orexis")
        at_most(f"lips, {what}, %", ours, min(shares.values(), default=0.0))


def _play(slurs: Slurs, breath: float) -> tuple[FloatArray, FloatArray]:
    """The sound in front of the bell, and how fast the lips swing every 10 ms (NaN: not at all)."""
    count = round((_LEAD_S + slurs.note_s * len(slurs.lips) + _TAIL_S) * RATE)
    time_s = np.arange(count) / RATE
    lips = np.full(count, slurs.lips[0])
    pressure = np.where(time_s < count / RATE - _TAIL_S, slurs.pressure_pa, 0.0)
    pressure[time_s < _LEAD_S + _TONGUE_S] = 0
    for number, target in enumerate(slurs.lips[1:], start=1):
        turn = (time_s - _LEAD_S - slurs.note_s * number) / _SLUR_S + 0.5
        lips += (target - slurs.lips[number - 1]) * np.clip(turn, 0, 1)
    pressure = gaussian_filter1d(pressure, _PRESSURE_RISE_S * RATE)
    random = np.random.default_rng(0)
    inside, opening = _lips_on_tube(
        lips * slurs.f1_hz,
        pressure,
        breath * random.standard_normal(count),
        *_tube(slurs.f1_hz),
        _PUSH * slurs.lips[0] * slurs.f1_hz / _PUSH_AT_HZ,
        _WIDTH_M * _TROMBONE_HZ / slurs.f1_hz,
    )
    sound = sosfilt(butter(1, _BELL_FROM_HZ, "highpass", fs=RATE, output="sos"), inside)
    sound = sosfilt(butter(2, _BELL_TO_HZ, fs=RATE, output="sos"), sound)
    sound = _PEAK * sound / np.abs(sound).max() + _HISS * random.standard_normal(count)
    return sound, _swings_hz(opening, inside)


def _tube(f1_hz: float) -> tuple[FloatArray, FloatArray, FloatArray]:
    """Resonances of a brass tube: Hz, quality, and impedance in Pa·s/m³."""
    n = np.arange(1, 25, dtype=np.float64)
    hz = f1_hz * n
    hz[0] = 0.62 * f1_hz  # The first one of a horn lies far under its pedal.
    quality = (12 + 2.2 * n) * np.exp(-np.maximum(hz - 700, 0) / 500)
    impedance = _TUBE_IMPEDANCE * np.where(n <= 9, 10 + 3 * n, 37 * np.exp((9 - n) / 5))
    return hz, quality, impedance


def _lips_and_tube(
    lips_hz: FloatArray,
    pressure: FloatArray,
    breath: FloatArray,
    hz: FloatArray,
    quality: FloatArray,
    impedance: FloatArray,
    push: float,
    width: float,
) -> tuple[FloatArray, FloatArray]:
    """Pressure in the mouthpiece (Pa) and the lips' opening (m) at every sample."""
    step = 1.0 / (RATE * _OVERSAMPLED)
    turning = 2 * np.pi * hz
    wave, summed = np.zeros(len(hz)), np.zeros(len(hz))
    opening, speed, inside = _REST_OPENING_M, 0.0, 0.0
    out_inside, out_opening = np.zeros(len(lips_hz)), np.zeros(len(lips_hz))
    for i in range(len(lips_hz)):
        lips = 2 * np.pi * lips_hz[i]
        for _ in range(_OVERSAMPLED):
            across = pressure[i] - inside
            speed += step * (
                -push * across - lips**2 * (opening - _REST_OPENING_M) - lips / _LIP_QUALITY * speed
            )
            opening += step * speed
            if opening < 0:  # Closed lips meet stiffly.
                if speed < 0:
                    speed *= 0.995
                speed -= step * (3 * lips) ** 2 * opening
            flow = width * max(opening, 0.0) * np.sqrt(2 / _AIR_DENSITY * abs(across))
            flow *= np.sign(across) * (1 + breath[i])
            inside = 0.0
            for k in range(len(hz)):
                gain = turning[k] / quality[k]
                wave[k] += step * (
                    gain * (impedance[k] * flow - wave[k]) - turning[k] ** 2 * summed[k]
                )
                summed[k] += step * wave[k]
                inside += wave[k]
        out_inside[i], out_opening[i] = inside, opening
    return out_inside, out_opening


_lips_on_tube = njit(cache=True)(_lips_and_tube)


def _swings_hz(opening: FloatArray, inside: FloatArray) -> FloatArray:
    """How often the lips swing about each frame: the median over 24 ms, or the nearest swing."""
    moving = sosfiltfilt(butter(2, 20, "highpass", fs=RATE, output="sos"), opening)
    up = np.flatnonzero((moving[:-1] < 0) & (moving[1:] >= 0))
    crossed_s = (up - moving[up] / (moving[up + 1] - moving[up])) / RATE
    middle_s, hz = crossed_s[:-1] + np.diff(crossed_s) / 2, 1 / np.diff(crossed_s)
    frames = np.arange(int(len(opening) / RATE / HOP_S)) * HOP_S
    found = np.empty(len(frames))
    for number, at_s in enumerate(frames):
        near = np.abs(middle_s - at_s) <= _SWING_REACH_S
        found[number] = (
            np.median(hz[near]) if near.any() else hz[np.argmin(np.abs(middle_s - at_s))]
        )
    window = round(_LOUDNESS_S * RATE)
    loudness = np.sqrt(np.convolve(inside**2, np.ones(window) / window, "same"))
    loudness = loudness[:: round(HOP_S * RATE)][: len(frames)]
    found[loudness < _SOUNDS_SHARE * loudness.max()] = np.nan
    return found
