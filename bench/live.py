"""Eight players at once: how long the listening of one 10 ms hop takes, live.

Each stream is fed 512 samples at a time, as the socket feeds it, in turn in one process; the
Stand's whole chain runs (frames, passages, gate). Wanted: p99 of all eight together within
5 ms a hop. The whole analysis of a file is timed beside it (wanted: 0.03 of real time).
"""

import time

import numpy as np

from bench.sounds import RATE, REGISTERS, phrase
from orexis.core.coaching.gate import DEFAULT_LIMITS, GateLevel
from orexis.core.coaching.stand import Stand
from orexis.core.exercises.longtone import LongTone
from orexis.core.horn.instruments import INSTRUMENTS
from orexis.core.horn.setup import Horn
from orexis.core.listening.analysis import analyse

_STREAMS, _CHUNK = 8, 512
_HOP_S = 0.01


def main() -> None:
    """Prints hop times and the shares of real time."""
    exercise = LongTone(Horn(INSTRUMENTS["trombone-tenor"]), 58, 4.0)
    sounds = [phrase(register).samples for register in REGISTERS]
    stands = [Stand(exercise, DEFAULT_LIMITS[GateLevel.NORMAL], RATE) for _ in range(_STREAMS)]
    rounds: list[float] = []
    for at in range(0, min(map(len, sounds)) - _CHUNK, _CHUNK):
        started = time.perf_counter()
        for stream, stand in enumerate(stands):
            stand.feed(sounds[stream % len(sounds)][at : at + _CHUNK])
        rounds.append(time.perf_counter() - started)
    hop_ms = 1000 * np.array(rounds) * _HOP_S / (_CHUNK / RATE)
    print(f"Live, {_STREAMS} streams in turn: ms a hop for all, and for one")
    for name, value in (("median", np.median(hop_ms)), ("p99", np.percentile(hop_ms, 99))):
        print(f"{name:<10}{value:>8.2f}{value / _STREAMS:>8.2f}")
    print("Whole analysis of a file, share of real time on one core")
    for register, sound in zip(REGISTERS, sounds, strict=True):
        started = time.process_time()
        analyse([sound[i : i + RATE] for i in range(0, len(sound), RATE)], RATE)
        print(f"{register:<10}{(time.process_time() - started) / (len(sound) / RATE):>8.4f}")
