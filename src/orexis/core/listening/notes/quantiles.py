"""Median and percentiles of short rows of numbers, where numpy's own spend most of their time on
generality. Same values: linear between the two nearest ranks."""

from orexis.core.arrays import FloatArray


def median(values: FloatArray) -> float:
    """Median of a 1-D array without NaN. Raises `IndexError` when it is empty."""
    (middle,) = percentiles(values, 50.0)
    return middle


def percentiles(values: FloatArray, *percent: float) -> tuple[float, ...]:
    """Percentiles (0 to 100) of a 1-D array without NaN. Raises `IndexError` when it is empty."""
    ranked = values.copy()
    ranked.sort()
    last = len(ranked) - 1
    found: list[float] = []
    for share in percent:
        at = share / 100 * last
        below = int(at)
        low, high = float(ranked[below]), float(ranked[min(below + 1, last)])
        found.append(low + (at - below) * (high - low))
    return tuple(found)
