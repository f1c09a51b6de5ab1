"""How soon the command answers, beside what Python takes to load numpy, and the server to be up.

The runs alternate, so that a slow moment of the machine hits both; the ratio of the medians is
what counts.
"""

import statistics
import subprocess
import sys
import tempfile
import time
from pathlib import Path

from bench.goals import at_most
from orexis.store.database import Database

_ROUNDS = 9
_COMMANDS = {
    "--help": ("--help",),
    "horn list": ("horn", "list"),
    "horn slur": ("horn", "tenor-horn-eb", "slur", "Bb3", "F4"),
}
_STARTS = 5


def main() -> None:
    """Prints the medians and their ratios."""
    numpy = [sys.executable, "-c", "import numpy"]
    seconds: dict[str, list[float]] = {name: [] for name in ("import numpy", *_COMMANDS)}
    for _ in range(_ROUNDS):
        seconds["import numpy"].append(_seconds(numpy))
        for name, words in _COMMANDS.items():
            seconds[name].append(_seconds([sys.executable, "-m", "orexis.cli", *words]))
    middle = {name: statistics.median(taken) for name, taken in seconds.items()}
    print(f"The command, median of {_ROUNDS} runs, s, and as a multiple of loading numpy")
    for name, taken in middle.items():
        print(f"{name:<16}{taken:>8.2f}{taken / middle['import numpy']:>8.2f}")
    for name in _COMMANDS:
        at_most(f"orexis {name} against numpy", middle[name] / middle["import numpy"], 2.5)
    starts = [_start_s() for _ in range(_STARTS)]
    print(f"The server on an existing file, s until it answers: {statistics.median(starts):.2f}")
    at_most("server up, s", statistics.median(starts), 3.0)


def _seconds(words: list[str]) -> float:
    begun = time.perf_counter()
    subprocess.run(words, check=True, stdout=subprocess.DEVNULL)
    return time.perf_counter() - begun


def _start_s() -> float:
    with tempfile.TemporaryDirectory() as folder:
        data = Path(folder) / "orexis.db"
        Database(data).close()
        begun = time.perf_counter()
        process = subprocess.Popen(
            [
                *(sys.executable, "-m", "orexis.cli", "serve"),
                *("--data", str(data), "--port", "8497"),
            ],
            stdout=subprocess.PIPE,
            text=True,
        )
        assert process.stdout is not None
        while "http://" not in process.stdout.readline():
            pass
        taken = time.perf_counter() - begun
        process.terminate()
        process.wait()
        return taken
