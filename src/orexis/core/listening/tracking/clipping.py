"""What a microphone gives that cannot be measured: samples at full scale in a row, where the sound
was too loud for it, and samples that are no numbers."""

import math

from orexis.core.arrays import FloatArray
from orexis.core.compiled import compiled

FULL, FULL_IN_A_ROW = 0.999, 3
"""So many samples of at least this (full scale 1) in a row were too loud for a microphone."""


@compiled
def finite_and_full(samples: FloatArray, full: float, before: int) -> tuple[bool, int, int]:
    """Whether all samples are numbers; the most of at least `full` (either way) in a row; and
    how many of those there are at the end. `before` of them went before the first."""
    finite = True
    longest = row = before
    for sample in samples:
        finite = finite and math.isfinite(sample)
        row = row + 1 if abs(sample) >= full else 0
        longest = max(longest, row)
    return finite, longest, row
