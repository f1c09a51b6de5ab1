"""Eight players at once: how long the listening of one 10 ms hop takes, live.

Each stream is fed two chunks of 512 samples at a time, as the socket gathers them, in turn in
one process; the Stand's whole chain runs (frames, passages, glimpses, gate). Wanted: p99 of a
hop within 5 ms with eight streams at once. The whole analysis of a file is timed beside it
(wanted: 0.03 of real time).
"""

import time

import numpy as np

from bench.goals import at_most
from bench.sounds import RATE, REGISTERS, phrase
from orexis.core.exercises.longtone import LongTone
from orexis.core.horn.instruments import INSTRUMENTS
from orexis.core.horn.setup import Horn
from orexis.core.judging.gate import DEFAULT_LIMITS, GateLevel
from orexis.core.listening.analysis import analyse
from orexis.core.listening.tracking.frames import HOP_S
from orexis.core.session.stand import Stand

_STREAMS, _CHUNK = 8, 1024


def main() -> None:
    """Prints hop times and the shares of real time."""
    exercise = LongTone(Horn(INSTRUMENTS["trombone-tenor"]), 58, 4.0)
    sounds = [phrase(register).samples for register in REGISTERS]
    stands = [Stand(exercise, DEFAULT_LIMITS[GateLevel.NORMAL], RATE) for _ in range(_STREAMS)]
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
    print("Whole analysis of a file, share of real time on one core")
    for register, sound in zip(REGISTERS, sounds, strict=True):
        started = time.process_time()
        analyse([sound[i : i + RATE] for i in range(0, len(sound), RATE)], RATE)
        share = (time.process_time() - started) / (len(sound) / RATE)
        print(f"{register:<10}{share:>8.4f}")
        at_most(f"whole analysis in {register}, of real time", share, 0.03)
