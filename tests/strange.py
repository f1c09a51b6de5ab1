"""Sound and frames as nobody would play them, to look for what listening falls over.

Everything is drawn from a numpy generator, so that one number says the whole case. Pitches lie near
a few slots, so that cases in which two of them meet, cross or lie a few cents apart are common.
"""

from collections.abc import Callable, Iterable

import numpy as np
from numpy.random import Generator

from orexis.core.listening.tracking.frames import SILENCE_DB, Frames
from tests.sounds import Samples, bent

_NEAR_CENTS = (0.0, 1.0, 4.0, 12.0, 30.0, 44.0, 46.0, 58.0, 62.0, 75.0, 100.0, 129.0, 131.0, 151.0)
_LEVELS_DB = (-100.0, -80.0, -62.0, -45.0, -33.0, -28.0, -24.0, -20.0, -14.0, 0.0)


def _frames_long(rng: Generator) -> int:
    """From one frame to a second, short ones as often as long ones."""
    return int(np.exp(rng.uniform(0, np.log(100))))


def _pitch(rng: Generator, slots: Samples) -> float:
    """One of a few slots in cents (100 a MIDI number), or a little beside it."""
    return float(rng.choice(slots) + rng.choice((-1, 1)) * rng.choice(_NEAR_CENTS))


def strange_frames(rng: Generator, first: int = 0) -> Frames:
    """Frames of rests, glides, trills, holes, room and noise, of every length, in any order."""
    slots = np.sort(rng.choice(np.arange(1200, 9600, 100), size=int(rng.integers(1, 5))))
    cents: list[Samples] = []
    level_db: list[Samples] = []
    level = float(rng.choice(_LEVELS_DB))
    for _ in range(int(rng.integers(0, 14))):
        count = _frames_long(rng)
        start, end = _pitch(rng, slots), _pitch(rng, slots)
        match rng.integers(0, 9):
            case 0 | 1 | 2 | 3:
                part = np.full(count, start)
            case 4:
                part = np.linspace(start, end, count)
            case 5:
                part = np.where(np.arange(count) // int(rng.integers(1, 12)) % 2, start, end)
            case 6:
                part = np.full(count, np.nan)
            case 7:
                swing = float(rng.choice((3.0, 20.0, 60.0, 300.0)))
                part = start + swing * np.sin(np.arange(count) * rng.uniform(0.02, 2.0))
            case _:
                part = rng.uniform(1200, 9900, count)
        if rng.random() < 0.3:
            part = np.where(rng.random(count) < rng.choice((0.05, 0.5)), np.nan, part)
        cents.append(part + rng.normal(0, rng.choice((0.0, 0.0, 2.0, 15.0)), count))
        if rng.random() < 0.5:
            level = float(rng.choice(_LEVELS_DB))
        ending = level if rng.random() < 0.7 else float(rng.choice(_LEVELS_DB))
        level_db.append(np.linspace(level, ending, count) + rng.normal(0, rng.choice((0, 0, 1, 8))))
        level = ending
    pitch = np.concatenate([*cents, np.empty(0)])
    f0_hz = np.clip(440 * 2 ** ((pitch / 100 - 69) / 12), 15.0, 2200.0)
    loud_db = np.clip(np.concatenate([*level_db, np.empty(0)]), SILENCE_DB, 3.0)
    voiced = np.isfinite(f0_hz)
    clear_db = np.where(voiced, rng.uniform(-20, 60, len(f0_hz)), np.nan)
    bright = np.where(voiced, rng.uniform(0.5, 12, len(f0_hz)), np.nan)
    return Frames(first, f0_hz, loud_db, clear_db, bright)


def strange_sound(rng: Generator, rate: int) -> Samples:
    """Up to three seconds of tones, clicks, noise, full scale, hum and nothing, in any order."""
    parts: list[Samples] = [np.empty(0)]
    for _ in range(int(rng.integers(0, 8))):
        count = int(np.exp(rng.uniform(0, np.log(rate))))
        loud = 10.0 ** rng.uniform(-5, 0.3)
        match rng.integers(0, 9):
            case 0:
                part = np.zeros(count)
            case 1:
                part = rng.normal(0, loud, count)
            case 2:
                part = np.full(count, rng.choice((-1.0, 1.0, 0.5)))
            case 3:
                part = np.where(np.arange(count) % int(rng.integers(1, 3000)) == 0, loud, 0.0)
            case 4:
                part = np.sign(np.sin(np.arange(count) * rng.uniform(0.001, 3.1))) * loud
            case 5:
                part = np.cumsum(rng.normal(0, loud / 50, count))
            case 6:
                spectrum = np.exp(np.cumsum(rng.normal(0, 0.01, count)))
                part = spectrum * np.sin(np.cumsum(np.full(count, rng.uniform(0.002, 0.3))))
            case _:
                f0_hz = float(np.exp(rng.uniform(np.log(18), np.log(2100))))
                wanders = np.cumsum(rng.normal(0, rng.choice((0.0, 0.05, 2.0)), count))
                part = 5 * loud * bent(f0_hz, wanders, rate)
        parts.append(part)
    sound = np.concatenate(parts)
    if rng.random() < 0.3:
        sound = sound + rng.normal(0, 10.0 ** rng.uniform(-5, -1), len(sound))
    return np.clip(sound, -1.0, 1.0) if rng.random() < 0.8 else sound


def pieces(rng: Generator, length: int, most: int = 60) -> list[int]:
    """Sizes that add up to a length: all at once or in at most about so many pieces, some empty and
    some of a single value."""
    count = int(rng.integers(1, most + 1))
    cuts = np.sort(rng.integers(0, length + 1, count - 1))
    if rng.random() < 0.5:
        cuts = np.sort(np.concatenate((cuts, np.minimum(cuts + 1, length))))
    return [int(size) for size in np.diff(np.concatenate(([0], cuts, [length])))]


def failing(check: Callable[[int], None], seeds: Iterable[int]) -> list[str]:
    """The seeds whose check fails, each with what is raised."""
    found: list[str] = []
    for seed in seeds:
        try:
            check(seed)
        except Exception as error:
            found.append(f"{seed}: {type(error).__name__} {error}"[:200])
    return found
