"""What is wanted of each number: printed beside it, and kept, so that a bench that falls short
ends with code 1."""

import operator
from collections.abc import Callable

_missed: list[str] = []


def at_most(what: str, measured: float, wanted: float) -> None:
    """A number that may be so large."""
    _hold(what, measured, "at most", wanted, operator.le)


def at_least(what: str, measured: float, wanted: float) -> None:
    """A number that must be so large."""
    _hold(what, measured, "at least", wanted, operator.ge)


def _hold(
    what: str, measured: float, how: str, wanted: float, holds: Callable[[float, float], bool]
) -> None:
    kept = holds(measured, wanted)
    line = f"{what}: {measured:.4g}, wanted {how} {wanted:.4g}"
    print(f"  {'holds' if kept else 'FALLS SHORT'}: {line}")
    if not kept:
        _missed.append(line)


def missed() -> list[str]:
    """What fell short so far."""
    return list(_missed)
