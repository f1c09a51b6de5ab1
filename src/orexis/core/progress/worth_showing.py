"""Which takes of some weeks are worth showing to somebody: the best and those that went worst."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime

MOST_SHOWN = 3


@dataclass(frozen=True, slots=True)
class TakeCandidate:
    """A take that could be shown: what it was of, whether it counts as passed, how many aims were
    not met, and how far off its notes were (`None` where nothing was measured): the mean of
    |centre| and spread, each by the normal standard's limit, taken together."""

    take_id: str
    at: datetime
    exercise: str
    passed: bool
    missed: int
    off: float | None


def best_of(takes: Iterable[TakeCandidate]) -> list[TakeCandidate]:
    """The best that passed, nearest first, one of an exercise; of two as good the later."""
    passed = [take for take in takes if take.passed and take.off is not None]
    return _one_of_each(
        sorted(passed, key=lambda take: (take.off or 0.0, -take.at.timestamp())), MOST_SHOWN
    )


def worst_of(takes: Iterable[TakeCandidate]) -> list[TakeCandidate]:
    """Those that missed most, then lay farthest off, one of an exercise; of two as bad the
    later."""
    failed = [take for take in takes if not take.passed]
    return _one_of_each(
        sorted(failed, key=lambda take: (-take.missed, -(take.off or 0.0), -take.at.timestamp())),
        MOST_SHOWN,
    )


def _one_of_each(takes: Iterable[TakeCandidate], most: int) -> list[TakeCandidate]:
    chosen: dict[str, TakeCandidate] = {}
    for take in takes:
        chosen.setdefault(take.exercise, take)
    return list(chosen.values())[:most]
