"""Phrases by the stand-in player, and what rooms, microphones and metronomes do to them."""

from collections.abc import Callable

import numpy as np
from scipy.signal import butter, fftconvolve, sosfilt

from orexis.core.arrays import FloatArray
from orexis.standin.performance import Performance, perform
from orexis.standin.score import Change, Faults, Score, ScoreNote
from orexis.standin.tone import LARGE, MIDDLE, SMALL, Timbre

RATE = 48_000
DRONE_HZ = 220.0
_SLUR = Change("slur")
_TONGUE = Change("tongued")


def _phrase(*midis: int) -> Score:
    """Long notes soft and loud, slurs, and a run of short notes on some pitches."""
    low, *rest = midis
    notes = [ScoreNote(low, 1.6, -26.0, 10.0, faults=Faults(vibrato_cents=8.0))]
    notes += [ScoreNote(midi, 0.9, -20.0, reached=_SLUR) for midi in rest]
    notes += [ScoreNote(midi, 0.16, -18.0, reached=_TONGUE) for midi in midis[::-1]]
    notes += [ScoreNote(rest[-1], 1.4, -30.0, reached=Change("breath"))]
    return tuple(notes)


REGISTERS: dict[str, tuple[Score, Timbre]] = {
    "pedals": (_phrase(28, 33, 31, 29), LARGE),
    "low": (_phrase(39, 46, 51, 43), LARGE),
    "middle": (_phrase(53, 58, 65, 62), MIDDLE),
    "upper": (_phrase(65, 70, 74, 77), SMALL),
    "high": (_phrase(79, 82, 86, 89), SMALL),
}


def phrase(register: str) -> Performance:
    """One register's phrase, with its truth."""
    score, timbre = REGISTERS[register]
    return perform(score, timbre, RATE, seed=7)


def _noise(sound: FloatArray) -> FloatArray:
    random = np.random.default_rng(11)
    loud = np.sqrt(np.mean(sound[np.abs(sound) > 0.01] ** 2))
    noise: FloatArray = random.standard_normal(len(sound)) * loud / 10
    return sound + noise


def _clicks(sound: FloatArray) -> FloatArray:
    """A metronome at 100: 12 ms of a 1.8 kHz burst, as loud at the microphone as the horn."""
    time_s = np.arange(round(0.012 * RATE)) / RATE
    click = 0.15 * np.sin(2 * np.pi * 1800 * time_s) * np.exp(-time_s / 0.004)
    out = sound.copy()
    for at in range(0, len(sound) - len(click), round(0.6 * RATE)):
        out[at : at + len(click)] += click
    return out


def _drone(sound: FloatArray) -> FloatArray:
    time_s = np.arange(len(sound)) / RATE
    drone: FloatArray = np.zeros(len(sound))
    for k in range(1, 7):
        drone += np.sin(2 * np.pi * k * DRONE_HZ * time_s + k) / k
    loud = np.sqrt(np.mean(sound[np.abs(sound) > 0.01] ** 2))
    return sound + drone * float(loud / np.std(drone) * 10 ** (-18 / 20))


def _phone(sound: FloatArray) -> FloatArray:
    """A microphone that loses what lies below 250 Hz (24 dB an octave), and adds its hiss."""
    filtered: FloatArray = sosfilt(butter(4, 250, "highpass", fs=RATE, output="sos"), sound)
    hiss: FloatArray = np.random.default_rng(3).standard_normal(len(sound)) * 3e-4
    return filtered + hiss


def _room(sound: FloatArray) -> FloatArray:
    """A lively room: 0.5 s of decaying reflections, 12 dB under the direct sound in all."""
    random = np.random.default_rng(5)
    time_s = np.arange(round(0.5 * RATE)) / RATE
    tail = random.standard_normal(len(time_s)) * 10 ** (-3 * time_s / 0.5)
    tail[: round(0.004 * RATE)] = 0
    tail *= 10 ** (-12 / 20) / np.sqrt((tail**2).sum())
    tail[0] = 1.0
    wet: FloatArray = fftconvolve(sound, tail)[: len(sound)]
    return wet


def _clipped(sound: FloatArray) -> FloatArray:
    limit = 0.35 * np.abs(sound).max()
    cut: FloatArray = np.clip(sound, -limit, limit) / limit
    return cut


CONDITIONS: dict[str, Callable[[FloatArray], FloatArray]] = {
    "clean": lambda sound: sound,
    "noise 20 dB": _noise,
    "clicks": _clicks,
    "drone −18 dB": _drone,
    "phone": _phone,
    "room": _room,
    "clipped": _clipped,
}
