"""Days as a diary has them: what was played on each, and what that comes to."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import date

from orexis.core.counting import counted, time_words
from orexis.core.horn.words import from_to_words


@dataclass(frozen=True, slots=True)
class DiaryDay:
    """A day with anything on it: attempts and those that were good, how many seconds they sounded,
    how many were played freely, whole sessions, minutes that were written down elsewhere, spots
    that were marked, whether something hurt, and what was on ("" for nothing)."""

    on: date
    attempts: int = 0
    passed: int = 0
    sounded_s: float = 0.0
    free_s: float = 0.0
    sessions: int = 0
    typed_min: float = 0.0
    bookmarks: int = 0
    hurt: bool = False
    event: str = ""

    @property
    def practised(self) -> bool:
        """Whether anything was played."""
        return self.attempts > 0 or self.free_s > 0

    @property
    def playing_s(self) -> float:
        """The time of playing, in seconds: what attempts sounded, and what was played freely."""
        return self.sounded_s + self.free_s


def month_words(days: Sequence[DiaryDay]) -> str:
    """What some days come to, in a sentence."""
    practised = [day for day in days if day.practised]
    typed = typed_words(sum(day.typed_min for day in days))
    if not practised:
        return typed or "No practice."
    told = _playing(practised, ())
    return f"Practice on {counted(len(practised), 'day')}: {told}. {typed}".strip()


def _playing(days: Sequence[DiaryDay], good: Sequence[str]) -> str:
    """How many attempts and which of them were `good`, how long was played, and how much of that
    freely."""
    attempts, free_s = sum(day.attempts for day in days), sum(day.free_s for day in days)
    playing = f"{time_words(sum(day.playing_s for day in days))} of playing"
    if not attempts:
        return f"{playing}, all of it free"
    freely = [f"{time_words(free_s)} of it free"] if free_s else []
    return ", ".join([counted(attempts, "attempt"), *good, playing, *freely])


def typed_words(minutes: float) -> str:
    """So many minutes that were written down elsewhere, "" for none."""
    return f"{time_words(60 * minutes)} written down elsewhere." if minutes else ""


def day_words(day: DiaryDay, span: tuple[int, int] | None, name: Callable[[int], str]) -> str:
    """What was played on a day, in a sentence; `span` is from the lowest note that spoke to the
    highest."""
    typed = typed_words(day.typed_min)
    if not day.practised:
        return typed or "No practice."
    told = _playing((day,), (f"{day.passed} good",))
    if span is not None:
        told += f", {from_to_words(*span, name)}"
    return f"{told}. {typed}".strip()
