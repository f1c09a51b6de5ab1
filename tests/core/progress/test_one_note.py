"""One note over its days, and what to hear of it: times made by hand."""

from datetime import UTC, date, datetime, timedelta

from orexis.core.coach.standing import Standing
from orexis.core.progress.course import StandingReached
from orexis.core.progress.one_note import NoteDay, Time, WorthHearing
from orexis.core.progress.words import course_words, days_words

START = date(2026, 9, 1)


def days(*centres: float, rise_s: float) -> list[NoteDay]:
    """A day for each of these, on which it spoke once."""
    return [
        NoteDay(START + timedelta(days=at), 58, 1, 1, 2.0, 1, cents, abs(cents), 4.0, rise_s, 22.0)
        for at, cents in enumerate(centres)
    ]


def time(day: int, off: float | None) -> Time:
    return Time(f"take-{day}", datetime(2026, 9, 1 + day, tzinfo=UTC), off)


def test_what_is_worth_hearing_is_the_first_the_best_and_the_last_of_all() -> None:
    earlier = WorthHearing(time(0, None), time(1, 0.6), time(2, 0.8))
    assert earlier.and_later(WorthHearing()) == earlier
    assert WorthHearing().and_later(earlier) == earlier
    better = earlier.and_later(WorthHearing(time(5, 0.5), time(5, 0.5), time(6, None)))
    assert better == WorthHearing(time(0, None), time(5, 0.5), time(6, None))
    # Of two as good, the later.
    alike = earlier.and_later(WorthHearing(time(5, 0.6), time(5, 0.6), time(5, 0.6)))
    assert alike.best == time(5, 0.6)


def test_a_note_is_told_as_it_is_and_as_it_was() -> None:
    # Ten days: at first 14 cents low and 90 ms, lately 6 high and 60 ms.
    then = days(*5 * [-14.0], rise_s=0.09)
    now = days(*5 * [6.0], rise_s=0.06)
    assert days_words([*then, *now]) == [
        "spoke 10 of 10 times, on 10 days",
        "6 cents sharp, 14 cents flat at first",
        "speaks in 60 ms, 90 ms at first",
    ]
    # Nine are too few to say what it was at first.
    assert days_words([*then, *now][1:]) == [
        "spoke 9 of 9 times, on 9 days",
        "6 cents sharp",
        "speaks in 60 ms",
    ]
    assert days_words([]) == []


def plain(words: str) -> str:
    """The same where days and months may be parted at the end of a line."""
    return words.replace("\N{NO-BREAK SPACE}", " ")


def test_a_course_is_told_by_its_last_step_and_what_came_before() -> None:
    course = (
        StandingReached(Standing.TOUCHED, date(2026, 9, 3)),
        StandingReached(Standing.HELD, date(2026, 9, 20)),
        StandingReached(Standing.SECURE, date(2026, 10, 4)),
    )
    assert plain(course_words(course)) == (
        "secure since 4 October; first touched 3 September; first held 20 September"
    )
    back = (*course, StandingReached(Standing.HELD, date(2026, 11, 1)))
    assert plain(course_words(back)) == (
        "held since 1 November; first held 20 September; first secure 4 October"
    )
    assert course_words(()) == "not played yet"
