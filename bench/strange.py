"""Sound nobody would play and files nobody would write: how many cases of each layer of listening
and of each reader are fallen over.

The cases are those of the tests (`tests/core/any_sound.py`, `tests/formats/any_file.py`), many more
of them, over all cores.
"""

import os
from concurrent.futures import ProcessPoolExecutor
from functools import partial

from tests.core.any_sound import CHECKS
from tests.formats.any_file import READERS, check_reader
from tests.strange import failing

from bench.goals import at_most

HOW_MANY = {
    "tracker": 5_000,
    "microphone": 5_000,
    "passages": 200_000,
    "judging": 100_000,
    "stand": 5_000,
}
A_READER = 5000
_AT_ONCE = 500


def _failing(name: str, first: int) -> list[str]:
    """The cases of a batch that fail, with what is raised."""
    check = CHECKS.get(name) or partial(check_reader, name)
    return [f"{name} {one}" for one in failing(check, range(first, first + _AT_ONCE))]


def main() -> None:
    """Runs every check and prints what failed."""
    print("layer        cases  failing")
    with ProcessPoolExecutor(os.cpu_count()) as pool:
        for name, count in {**HOW_MANY, **dict.fromkeys(READERS, A_READER)}.items():
            batches = range(0, count, _AT_ONCE)
            results = pool.map(_failing, [name] * len(batches), batches)
            failing = [one for batch in results for one in batch]
            print(f"{name:<10} {count:>7,} {len(failing):>8}")
            for one in failing[:5]:
                print(f"  {one}")
            at_most(f"strange: {name} failing", len(failing), 0)
