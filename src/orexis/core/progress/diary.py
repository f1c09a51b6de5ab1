"""Days as a diary has them: what was played on each, and what that comes to."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import date

from orexis.core.counting import counted, time_words


@dataclass(frozen=True, slots=True)
class DiaryDay:
    """A day with anything on it: tries and those that passed, how long they sounded, whole
    sessions, minutes that were written down elsewhere, spots that were pinned, whether something
    hurt, and what was on ("" for nothing)."""

    on: date
    tries: int = 0
    passed: int = 0
    sounded_s: float = 0.0
    sessions: int = 0
    typed_min: float = 0.0
    pins: int = 0
    hurt: bool = False
    event: str = ""

    @property
    def practised(self) -> bool:
        """Whether anything was played."""
        return self.tries > 0


def month_words(days: Sequence[DiaryDay]) -> str:
    """What some days come to, in a sentence."""
    practised = [one for one in days if one.practised]
    typed = typed_words(sum(one.typed_min for one in days))
    if not practised:
        return typed or "No practice."
    seconds = sum(one.sounded_s for one in practised)
    tries = counted(sum(one.tries for one in practised), "attempt")
    on = counted(len(practised), "day")
    told = f"Practice on {on}: {tries}, {time_words(seconds)} of playing."
    return f"{told} {typed}".strip()


def typed_words(minutes: float) -> str:
    """So many minutes that were written down elsewhere, "" for none."""
    return f"{time_words(60 * minutes)} written down elsewhere." if minutes else ""


def day_words(day: DiaryDay, span: tuple[int, int] | None, name: Callable[[int], str]) -> str:
    """What was played on a day, in a sentence; `span` is from the lowest note that spoke to the
    highest."""
    typed = typed_words(day.typed_min)
    if not day.practised:
        return typed or "No practice."
    attempts = counted(day.tries, "attempt")
    told = f"{attempts}, {day.passed} good, {time_words(day.sounded_s)} of playing"
    if span is not None:
        low, high = span
        told += f", {name(low)}{'' if low == high else f' to {name(high)}'}"
    return f"{told}. {typed}".strip()
