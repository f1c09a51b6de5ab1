"""Runs every bench, or those named: `python -m bench horn`."""

import sys

from bench import horn, latency, lips, live, memory, tracker, truth

BENCHES = {
    "horn": horn.main,
    "live": live.main,
    "latency": latency.main,
    "memory": memory.main,
    "tracker": tracker.main,
    "lips": lips.main,
    "truth": truth.main,
}

for name in sys.argv[1:] or BENCHES:
    BENCHES[name]()
    print()
