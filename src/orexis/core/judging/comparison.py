"""Which takes of the same exercise are worth hearing beside one."""

from collections.abc import Callable, Iterator, Sequence
from datetime import date
from typing import TypeVar

from orexis.core.judging.attempts import Verdict

T = TypeVar("T")


def worth_comparing(
    take: T,
    alike: Sequence[T],
    *,
    day: Callable[[T], date],
    passed: Callable[[T], bool],
    verdict: Callable[[T], Verdict],
) -> list[tuple[str, T]]:
    """The first of its day, the last before it that passed, and the best, each named; none of
    them twice, and never the take itself. `alike` are the takes of the same exercise, this one
    too, oldest first.
    """
    found: list[tuple[str, T]] = []
    for which, other in _candidates(take, alike, day, passed, verdict):
        if other is not take and all(other is not known for _, known in found):
            found.append((which, other))
    return found


def _candidates(
    take: T,
    alike: Sequence[T],
    day: Callable[[T], date],
    passed: Callable[[T], bool],
    verdict: Callable[[T], Verdict],
) -> Iterator[tuple[str, T]]:
    before = alike[: next(i for i, one in enumerate(alike) if one is take)]
    yield "first of that day", next(one for one in alike if day(one) == day(take))
    last = next((one for one in reversed(before) if passed(one)), None)
    if last is not None:
        yield "last good one", last
    yield "best", min(alike, key=lambda one: verdict(one).badness)
