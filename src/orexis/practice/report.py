"""A report of some weeks for somebody else to read, and what comes back of it."""

from dataclasses import dataclass, replace
from datetime import date, datetime, timedelta

from sqlalchemy.orm import Session

from orexis.core.progress.diary import month_words
from orexis.core.progress.ranges import PlayerRange
from orexis.core.progress.worth_showing import TakeCandidate, best_of, worst_of
from orexis.practice.progress import Changes, changes_over, range_over
from orexis.practice.takes import TakePage, take_page
from orexis.store.diary import diary_of
from orexis.store.kept import find_kept
from orexis.store.models import Player, Take
from orexis.store.showing import shown_takes

LONGEST_WORDS = 4000
USUAL_WEEKS, LONGEST_WEEKS = 8, 520
_WEEK, _DAY = timedelta(weeks=1), timedelta(days=1)


class ReportRefusedError(ValueError):
    """A report that cannot be made; the message says what to change."""


@dataclass(frozen=True, slots=True)
class Report:
    """Some weeks of a player's: their own words, what was played, how far they came, what
    changed, and their best and worst takes that can be heard."""

    player: Player
    made_at: datetime
    first: date
    last: date
    words: str
    summary: str
    range: PlayerRange
    changes: Changes
    best: tuple[TakePage, ...]
    worst: tuple[TakePage, ...]

    @property
    def takes(self) -> tuple[TakePage, ...]:
        """All takes in it."""
        return self.best + self.worst


def begins(last: date, weeks: int = USUAL_WEEKS) -> date:
    """The first day of a report that covers `weeks` weeks up to `last`."""
    return last - weeks * _WEEK + _DAY


def report_of(
    session: Session, player: Player, first: date, last: date, words: str, now: datetime
) -> Report:
    """The report of some days, both ends among them. Raises `ReportRefusedError`."""
    if first > last:
        raise ReportRefusedError("The first day comes after the last. Turn them round.")
    if last > now.date():
        raise ReportRefusedError(f"The last day is still to come. Choose one up to {now.date()}.")
    if last - first > LONGEST_WEEKS * _WEEK:
        raise ReportRefusedError(f"A report covers at most {LONGEST_WEEKS} weeks.")
    if len(words) > LONGEST_WORDS:
        raise ReportRefusedError(f"There is room for {LONGEST_WORDS} letters.")
    shown = shown_takes(session, player, first, last)
    today = now.date()
    return Report(
        player,
        now,
        first,
        last,
        words.strip(),
        month_words(diary_of(session, player, first, last)),
        range_over(session, player, first, last, today),
        changes_over(session, player, first, last, today),
        _pages(session, best_of(shown)),
        _pages(session, worst_of(shown)),
    )


def _pages(session: Session, shown: list[TakeCandidate]) -> tuple[TakePage, ...]:
    takes = (find_kept(session, Take, take.take_id) for take in shown)
    # What it would be compared with does not come along.
    return tuple(replace(take_page(session, take), others=[]) for take in takes if take is not None)
