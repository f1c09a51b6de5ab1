"""Eight players at once: how long the listening of one 10 ms hop takes, live.

Each stream is fed two chunks of 512 samples at a time, as the socket gathers them, in turn in
one process; the Stand's whole chain runs (frames, passages, glimpses, verdict). Wanted: p99 of a
hop within 5 ms with eight streams at once. The whole analysis of a file is timed beside it, in
turn, so that both have the machine as it is (wanted: 0.03 of real time, half of what a
general-purpose tracker takes for the pitch alone, and live at most three times as much).
"""

import math
import statistics
import time
from collections.abc import Callable, Sequence

import numpy as np

from bench.goals import at_most
from bench.sounds import RATE, REGISTERS, phrase
from bench.tracker import peers
from orexis.core.arrays import FloatArray
from orexis.core.exercises.book import FAMILIES, task_of
from orexis.core.exercises.writer import Reach, Writer
from orexis.core.horn.instruments import INSTRUMENTS
from orexis.core.horn.setup import Horn
from orexis.core.judging.standard import Standard
from orexis.core.listening.analysis import analyse
from orexis.core.listening.tracking.frames import HOP_S
from orexis.core.session.stand import Stand

_STREAMS, _CHUNK = 8, 1024
_HORN = Horn(INSTRUMENTS["trombone-tenor"])
_TASK = task_of(FAMILIES["pyramid"], Writer(_HORN, Reach.usual(_HORN.instrument)), {})
"""Twelve notes and more: the score is followed too."""


def _stand() -> Stand:
    return Stand(_TASK, _HORN, Standard.NORMAL, RATE)


def main() -> None:
    """Prints hop times and the shares of real time."""
    sounds = [phrase(register).samples for register in REGISTERS]
    stands = [_stand() for _ in range(_STREAMS)]
    calls: list[float] = []
    rounds: list[float] = []
    for at in range(0, min(map(len, sounds)) - _CHUNK, _CHUNK):
        started = time.perf_counter()
        for stream, stand in enumerate(stands):
            begun = time.perf_counter()
            stand.feed(sounds[stream % len(sounds)][at : at + _CHUNK])
            _ = stand.early
            calls.append(time.perf_counter() - begun)
        rounds.append(time.perf_counter() - started)
    a_hop = 1000 * HOP_S / (_CHUNK / RATE)
    print(f"Live, {_STREAMS} streams in turn: ms a hop, of one stream and of all of them")
    for name, percent in (("median", 50), ("p99", 99)):
        one, all_of_them = (a_hop * np.percentile(times, percent) for times in (calls, rounds))
        print(f"{name:<10}{one:>8.2f}{all_of_them:>8.2f}")
    at_most("a hop of one of eight streams, p99, ms", float(one), 5.0)
    print("Share of real time on one core: a file's whole analysis, the same live, a peer's pitch")
    peer = peers().get("praat ac")
    for register, sound in zip(REGISTERS, sounds, strict=True):
        works = (_analysed, _followed, *([peer] if peer else []))
        took = _shares(works, sound)
        whole, live, *theirs = (min(shares) for shares in took)
        print(f"{register:<10}{whole:>8.4f}{live:>8.4f}{theirs[0] if theirs else math.nan:>8.4f}")
        at_most(f"whole analysis in {register}, of real time", whole, 0.03)
        at_most(f"live in {register}, times a file's cost", _against(took[1], took[0]), 3.0)
        if theirs:
            part = _against(took[0], took[2])
            at_most(f"whole analysis in {register}, of a peer's pitch alone", part, 0.5)


def _shares(
    works: Sequence[Callable[[FloatArray], object]], sound: FloatArray
) -> list[list[float]]:
    """How long each takes, nine times in turn, as a share of how long the sound is."""
    took: list[list[float]] = [[] for _ in works]
    for _ in range(9):
        for work, times in zip(works, took, strict=True):
            started = time.process_time()
            work(sound)
            times.append((time.process_time() - started) / (len(sound) / RATE))
    return took


def _against(ours: Sequence[float], theirs: Sequence[float]) -> float:
    """How many times what went beside it one took: the middle of what each turn says, since the
    machine is not as quick in every one."""
    return statistics.median(one / other for one, other in zip(ours, theirs, strict=True))


def _analysed(sound: FloatArray) -> object:
    return analyse([sound[at : at + RATE] for at in range(0, len(sound), RATE)], RATE)


def _followed(sound: FloatArray) -> object:
    stand = _stand()
    for at in range(0, len(sound) - _CHUNK, _CHUNK):
        stand.feed(sound[at : at + _CHUNK])
        _ = stand.early
    return stand
