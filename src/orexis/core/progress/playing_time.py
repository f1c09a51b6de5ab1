"""Playing time by register, week by week."""

from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date

from orexis.core.horn.registers import Register
from orexis.core.progress.weeks import monday_of, week_of

RECENT_WEEKS = 4
"""So many weeks are told of in words."""
_MOST_ROWS = 26


@dataclass(frozen=True, slots=True)
class RegisterSeconds:
    """How long a register sounded on a day, in seconds."""

    on: date
    register: Register
    seconds: float


@dataclass(frozen=True, slots=True)
class RegisterWeek:
    """A week, or as many as `weeks` says taken together, and the minutes of each register in it."""

    monday: date
    weeks: int
    minutes: Mapping[Register, float]


@dataclass(frozen=True, slots=True)
class RegisterMinutes:
    """Playing time by register: rows of weeks, and that in words."""

    rows: tuple[RegisterWeek, ...]
    answer: str
    words: str


def register_minutes(sounded: Sequence[RegisterSeconds], today: date) -> RegisterMinutes:
    """Playing time by register, up to today's week."""
    by_week: dict[int, dict[Register, float]] = defaultdict(lambda: defaultdict(float))
    for played in sounded:
        by_week[week_of(played.on)][played.register] += played.seconds / 60
    if not by_week:
        return RegisterMinutes((), "Too little to tell yet.", "Play, and it appears here.")
    first, last = min(by_week), max(week_of(today), max(by_week))
    size = 1
    while (last - first + 1) > _MOST_ROWS * size:
        size *= 2
    # The last row is whole.
    begins = last + 1 - size * -(-(last - first + 1) // size)
    rows = tuple(
        RegisterWeek(monday_of(at), size, _together(by_week, range(at, at + size)))
        for at in range(begins, last + 1, size)
    )
    recent = _together(by_week, range(last - RECENT_WEEKS + 1, last + 1))
    return RegisterMinutes(rows, *_said(recent))


def _together(
    by_week: Mapping[int, Mapping[Register, float]], weeks: range
) -> dict[Register, float]:
    return {
        register: sum(by_week[week].get(register, 0.0) for week in weeks if week in by_week)
        for register in Register
    }


def _said(recent: Mapping[Register, float]) -> tuple[str, str]:
    whole = sum(recent.values())
    if not whole:
        return "Nothing was played lately.", f"In the last {RECENT_WEEKS} weeks."
    most = max(recent, key=lambda register: recent[register])
    shares = [
        f"{register} {100 * minutes / whole:.0f} %"
        for register, minutes in recent.items()
        if minutes and register is not most
    ]
    answer = f"Mostly {most}: {100 * recent[most] / whole:.0f} %."
    return (
        answer,
        f"{', '.join([*shares, f'{whole:.0f} min in all'])}; the last {RECENT_WEEKS} weeks.",
    )
