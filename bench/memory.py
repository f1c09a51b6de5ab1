"""Memory while a long recording is listened to, in a process of its own for each length.

What is kept grows only by the frames (five numbers each) and the events; wanted: flat.
"""

import resource
import subprocess
import sys
from collections.abc import Iterator

from bench.goals import at_most
from bench.sounds import RATE, phrase
from orexis.core.arrays import FloatArray
from orexis.core.listening.analysis import analyse

_MINUTES = (1, 10, 60)


def main() -> None:
    """Prints the largest resident size after each length."""
    print("Memory of a whole analysis, MiB at most")
    found: list[float] = []
    for minutes in _MINUTES:
        answer = subprocess.run(
            [sys.executable, "-m", "bench.memory", str(minutes)],
            check=True, capture_output=True, text=True,
        )  # fmt: skip
        found.append(float(answer.stdout))
        print(f"{minutes:>4} min{found[-1]:>10.0f}")
    at_most("MiB of an hour over those of a minute", found[-1] - found[0], 40.0)


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
