"""Memory while a long recording is listened to, in a process of its own for each length.

What is kept grows only by the frames (five numbers each) and the events; wanted: flat.
"""

import resource
import subprocess
import sys
from collections.abc import Iterator

from bench.sounds import RATE, phrase
from orexis.core.arrays import FloatArray
from orexis.core.listening.analysis import analyse

_MINUTES = (1, 10, 60)


def main() -> None:
    """Prints the largest resident size after each length."""
    print("Memory of a whole analysis, MiB at most")
    for minutes in _MINUTES:
        answer = subprocess.run(
            [sys.executable, "-m", "bench.memory", str(minutes)],
            check=True, capture_output=True, text=True,
        )  # fmt: skip
        print(f"{minutes:>4} min{answer.stdout.strip():>10}")


def _listen(minutes: int) -> None:
    sound = phrase("upper").samples[: 8 * RATE]

    def seconds() -> Iterator[FloatArray]:
        for number in range(60 * minutes):
            start = (number % 8) * RATE
            yield sound[start : start + RATE]

    analyse(seconds(), RATE)
    print(f"{resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024:.0f}")


if __name__ == "__main__":
    _listen(int(sys.argv[1]))
