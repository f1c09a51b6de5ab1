"""Frames in a row in which something holds."""

import numpy as np

from orexis.core.compiled import compiled


def runs(holds: np.ndarray) -> list[tuple[int, int]]:
    """Where something holds without a break: the first frame of each run, and the one after its
    last, in order. `holds` has one truth value a frame."""
    return [(first, last) for first, last in _runs(holds).tolist()]


@compiled
def _runs(holds: np.ndarray) -> np.ndarray:
    found = np.empty((len(holds) // 2 + 1, 2), np.int64)
    count, held = 0, False
    for frame in range(len(holds)):
        if holds[frame] and not held:
            found[count, 0] = frame
        if held and not holds[frame]:
            found[count, 1] = frame
            count += 1
        held = holds[frame]
    if held:
        found[count, 1] = len(holds)
        count += 1
    return found[:count]
