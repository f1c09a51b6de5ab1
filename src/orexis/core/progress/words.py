"""What changed, in sentences."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date

from orexis.core.coach.standing import Standing
from orexis.core.counting import counted
from orexis.core.horn.words import tuned_words
from orexis.core.progress.course import StandingReached
from orexis.core.progress.medians import first_median, recent_median
from orexis.core.progress.one_note import NoteDay
from orexis.core.progress.reach import LEAST_WEEKS, Change

Name = Callable[[int], str]


@dataclass(frozen=True, slots=True)
class Answer:
    """The answer to a question in a few words, and what else is to be said to it."""

    headline: str
    words: str


def range_answer(
    standings: Mapping[int, Standing], change: Change | None, name: Name, today: date
) -> Answer:
    """How far a player comes. `standings` are of the range above the pedals."""
    held = _from_to(standings, (Standing.SECURE, Standing.HELD), name)
    secure = _from_to(standings, (Standing.SECURE,), name)
    if held is None:
        return Answer(
            "No note is held yet.",
            "A note is held once it was good and lasted two seconds. Play, and it appears here.",
        )
    told = f"Held from {held}, secure from {secure}." if secure else f"Held from {held}."
    if change is None:
        return Answer(told, f"How it changes can be told after {LEAST_WEEKS} weeks of practice.")
    since = f"{change.since:%B}" if change.since.year == today.year else f"{change.since:%B %Y}"
    if change.wider:
        size = counted(abs(change.wider), "half step")
        headline = f"{size} {'wider' if change.wider > 0 else 'less wide'} than in {since}."
    else:
        headline = f"As wide as in {since}."
    return Answer(headline, f"{told} {_ends(change)}")


def _ends(change: Change) -> str:
    moves = [
        f"{counted(abs(by), 'half step')} {'more' if by > 0 else 'less'} at the {end}"
        for by, end in ((change.top, "top"), (change.bottom, "bottom"))
        if by
    ]
    return f"{', '.join(moves).capitalize()}." if moves else "Neither end has moved."


def _from_to(
    standings: Mapping[int, Standing], wanted: Sequence[Standing], name: Name
) -> str | None:
    notes = [midi for midi, standing in standings.items() if standing in wanted]
    return f"{name(min(notes))} to {name(max(notes))}" if notes else None


def course_words(course: Sequence[StandingReached]) -> str:
    """How a note stands and came to it: "secure since 21 November; first held 3 November"."""
    if not course:
        return "not played yet"
    now = course[-1]
    told = f"{now.standing} since {_day(now.on)}"
    first: dict[Standing, date] = {}
    for reached in course:
        first.setdefault(reached.standing, reached.on)
    earlier = [
        f"first {standing} {_day(first[standing])}"
        for standing in (Standing.TOUCHED, Standing.HELD, Standing.SECURE)
        if standing in first and (standing is not now.standing or first[standing] != now.on)
    ]
    return "; ".join((told, *earlier[-2:]))


def _day(day: date) -> str:
    return f"{day.day}\N{NO-BREAK SPACE}{day:%B}"


def days_words(days: Sequence[NoteDay]) -> list[str]:
    """What became of a note over its days, a line each: how often it spoke, where it lies and how
    fast it speaks, lately and at first."""
    if not days:
        return []
    asked, spoke = sum(day.asked for day in days), sum(day.spoke for day in days)
    lines = [f"spoke {spoke} of {counted(asked, 'time')}, on {counted(len(days), 'day')}"]
    lines += _then_and_now([day.centre_cents for day in days], "", tuned_words)
    lines += _then_and_now([day.rise_s for day in days], "speaks in ", _milliseconds)
    return lines


def _milliseconds(seconds: float) -> str:
    return f"{1000 * seconds:.0f} ms"


def _then_and_now(
    values: Sequence[float | None], what: str, told: Callable[[float], str]
) -> list[str]:
    known = [value for value in values if value is not None]
    if not known:
        return []
    now, first = told(recent_median(known)), first_median(known)
    then = "" if first is None else told(first)
    return [f"{what}{now}, {then} at first" if then not in ("", now) else f"{what}{now}"]
