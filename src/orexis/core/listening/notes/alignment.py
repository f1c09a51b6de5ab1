"""Two rows in order beside each other, as alike as can be: what was asked and what was heard.

By dynamic programming over the costs of every pair. Source: S. B. Needleman and C. D. Wunsch, "A
general method applicable to the search for similarities in the amino acid sequence of two
proteins", J. Mol. Biol. 48, 1970.
"""

import numpy as np

from orexis.core.arrays import FloatArray
from orexis.core.compiled import compiled

_SAME_COST = 1e-9


def pairs_of(cost: FloatArray, left_over: FloatArray | None = None) -> list[tuple[int, int]]:
    """The pairs of one row's places with the other's columns, in order, that cost least in all.

    `cost` (rows × columns) is what each pair costs; to leave a row's place out costs 1, and a
    column's 1 or what `left_over` says of it there. Of ways that cost the same, the one that pairs
    what comes first.
    """
    if left_over is None:
        left_over = np.ones_like(cost)
    columns = _column_of(np.ascontiguousarray(cost), np.ascontiguousarray(left_over))
    return [(row, int(column)) for row, column in enumerate(columns) if column >= 0]


@compiled
def _column_of(cost: FloatArray, left_over: FloatArray) -> np.ndarray:
    """For each row's place the column it is paired with, -1 for none."""
    rows, columns = cost.shape
    total = np.zeros((rows + 1, columns + 1))
    for i in range(rows + 1):
        total[i, 0] = i
    for j in range(1, columns + 1):
        total[0, j] = j
    for i in range(1, rows + 1):
        for j in range(1, columns + 1):
            total[i, j] = min(
                total[i - 1, j] + 1.0,
                total[i, j - 1] + left_over[i - 1, j - 1],
                total[i - 1, j - 1] + cost[i - 1, j - 1],
            )
    paired = np.full(rows, -1)
    i, j = rows, columns
    while i > 0 and j > 0:
        if abs(total[i, j] - total[i - 1, j] - 1.0) <= _SAME_COST:
            i -= 1
        elif abs(total[i, j] - total[i - 1, j - 1] - cost[i - 1, j - 1]) <= _SAME_COST:
            paired[i - 1] = j - 1
            i, j = i - 1, j - 1
        else:
            j -= 1
    return paired
