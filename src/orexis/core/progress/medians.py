"""How something is now and how it was at first: medians over a few days at either end."""

from collections.abc import Sequence
from statistics import median

FEW_DAYS = 5
"""So many days at either end of a time are held against each other."""


def recent_median(days: Sequence[float]) -> float:
    """The median over the last few of some days, in order. Raises `StatisticsError` for none."""
    return median(days[-FEW_DAYS:])


def first_median(days: Sequence[float]) -> float | None:
    """The median over the first few of some days, `None` where there are fewer than twice as many:
    they would be held against themselves."""
    return median(days[:FEW_DAYS]) if len(days) >= 2 * FEW_DAYS else None
