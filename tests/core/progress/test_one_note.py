"""One note over its days, and what to hear of it: times made by hand."""

from datetime import UTC, date, datetime, timedelta
from typing import Any

from orexis.core.coach.standing import Standing
from orexis.core.judging.gate import GateLevel
from orexis.core.progress.course import Came
from orexis.core.progress.one_note import Time, days_of, worth_hearing
from orexis.core.progress.words import course_words, days_words

START = datetime(2026, 9, 1, 18, tzinfo=UTC)


def time(number: int, day: int, **said: Any) -> Time:
    at = START + timedelta(days=day, minutes=number)
    usual: dict[str, Any] = {
        "passed": True, "level": GateLevel.NORMAL, "can_be_heard": True, "spoke": True,
        "held_s": 2.0, "centre_cents": 0.0, "spread_cents": 4.0, "rise_s": 0.05,
    }  # fmt: skip
    return Time(f"take-{number}", at, **{**usual, **said})


def test_a_day_has_medians_of_what_spoke_and_its_longest() -> None:
    first, second = days_of(
        [
            time(0, 0, centre_cents=-9.0, held_s=1.0),
            time(1, 0, centre_cents=-3.0, held_s=4.0),
            time(2, 0, centre_cents=30.0, held_s=2.0),
            # Another note sounded in its place: that measures nothing of this one.
            time(3, 0, spoke=False, centre_cents=200.0, held_s=9.0),
            time(4, 1, spoke=False, centre_cents=None, held_s=0.0),
        ]
    )
    assert (first.on, first.asked, first.spoke) == (date(2026, 9, 1), 4, 3)
    assert (first.centre_cents, first.held_s, first.harmonicity_db) == (-3.0, 4.0, None)
    assert (second.asked, second.spoke, second.centre_cents, second.held_s) == (1, 0, None, 0.0)


def test_the_first_the_best_and_the_last_that_can_be_heard() -> None:
    times = [
        time(0, 0, can_be_heard=False),
        time(1, 1, passed=False, centre_cents=0.0, spread_cents=1.0),
        # 3/15 + 4.5/9 = 0.7 is worse than 6/15 + 1.8/9 = 0.6.
        time(2, 2, centre_cents=3.0, spread_cents=4.5),
        time(3, 3, centre_cents=-6.0, spread_cents=1.8),
        time(4, 4, centre_cents=12.0, spread_cents=8.0),
        time(5, 5, spoke=False),
    ]
    hear = worth_hearing(times)
    found = [one.take_id for one in (hear.first, hear.best, hear.last) if one]
    assert found == ["take-1", "take-3", "take-4"]


def test_the_newer_of_two_that_are_as_good_is_the_best() -> None:
    hear = worth_hearing([time(0, 0), time(1, 1)])
    assert hear.best is not None
    assert hear.best.take_id == "take-1"


def test_without_sound_there_is_nothing_to_hear_and_without_a_pass_no_best() -> None:
    nothing = worth_hearing([time(0, 0, can_be_heard=False)])
    assert (nothing.first, nothing.best, nothing.last) == (None, None, None)
    failed = worth_hearing([time(0, 0, passed=False)])
    assert (failed.first, failed.best, failed.last) == (failed.last, None, failed.first)


def test_a_note_is_told_as_it_is_and_as_it_was() -> None:
    # Ten days: at first 14 cents low and 90 ms, lately 6 high and 60 ms.
    then = [time(n, n, centre_cents=-14.0, rise_s=0.09) for n in range(5)]
    now = [time(n, n, centre_cents=6.0, rise_s=0.06) for n in range(5, 10)]
    assert days_words(days_of([*then, *now])) == [
        "spoke 10 of 10 times, on 10 days",
        "6 cents high, 14 cents low at first",
        "speaks in 60 ms, 90 ms at first",
    ]
    # Nine are too few to say what it was at first.
    assert days_words(days_of([*then, *now][1:])) == [
        "spoke 9 of 9 times, on 9 days",
        "6 cents high",
        "speaks in 60 ms",
    ]
    assert days_words([]) == []


def plain(words: str) -> str:
    """The same where days and months may be parted at the end of a line."""
    return words.replace("\N{NO-BREAK SPACE}", " ")


def test_a_course_is_told_by_its_last_step_and_what_came_before() -> None:
    course = (
        Came(Standing.TOUCHED, date(2026, 9, 3)),
        Came(Standing.HELD, date(2026, 9, 20)),
        Came(Standing.SECURE, date(2026, 10, 4)),
    )
    assert plain(course_words(course)) == (
        "secure since 4 October; first touched 3 September; first held 20 September"
    )
    back = (*course, Came(Standing.HELD, date(2026, 11, 1)))
    assert plain(course_words(back)) == (
        "held since 1 November; first held 20 September; first secure 4 October"
    )
    assert course_words(()) == "not played yet"
