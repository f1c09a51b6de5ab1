"""What is said of a change: which way, from what to what, and how sure that is."""

from datetime import date

import pytest

from orexis.core.coach.standing import Standing
from orexis.core.progress.changes import (
    CENTRE,
    HOLD,
    MINUTES,
    RIGHT,
    STEADY_LATE,
    Question,
    changed,
    lasting,
)
from orexis.core.progress.playing_time import register_minutes
from orexis.core.progress.reach import Change
from orexis.core.progress.trend import Cell, MinuteCell
from orexis.core.progress.words import range_answer
from tests.core.progress.test_trend import day

TODAY = date(2026, 5, 29)


def moved(question: Question, first: float, last: float) -> tuple[str, str]:
    """What is said of a value that goes straight from one to another in ten weeks."""
    cells = [Cell(day(n), "a", first + (last - first) * n / 70, 1) for n in range(0, 71, 2)]
    found = changed(question, cells)
    return found.answer, found.words


@pytest.mark.parametrize(
    ("question", "first", "last", "answer"),
    [
        (CENTRE, 9.0, 4.0, "Yes: 4.0 cents now, 9.0 at first."),
        (CENTRE, 4.0, 9.0, "No, the other way: 9.0 cents now, 4.0 at first."),
        (RIGHT, 40.0, 70.0, "Yes: 70 % now, 40 at first."),
        (RIGHT, 70.0, 40.0, "No, the other way: 40 % now, 70 at first."),
        # Of playing more or less neither is better.
        (MINUTES, 10.0, 25.0, "More: 25 min now, 10 at first."),
        (MINUTES, 25.0, 10.0, "Less: 10 min now, 25 at first."),
        # A little is a change as well, where it is sure.
        (HOLD, 6.0, 6.8, "Yes: 6.8 s now, 6.0 at first."),
        (HOLD, 6.8, 6.0, "No, the other way: 6.0 s now, 6.8 at first."),
    ],
)
def test_a_change_says_whether_it_is_the_one_that_was_hoped_for(
    question: Question, first: float, last: float, answer: str
) -> None:
    said, words = moved(question, first, last)
    assert said == answer
    by = question.shows(abs(last - first))
    way = "more" if last > first else "less"
    assert words == (
        f"Over 10 weeks between {by} and {by} {question.unit} {way} (19 times of 20), "
        f"{question.alike}."
    )


def test_where_it_may_have_gone_either_way_both_are_said() -> None:
    # Up and down in turn, with no way of its own.
    cells = [Cell(day(n), "a", 8.0 + (1.0 if n % 4 else -1.0), 1) for n in range(0, 71, 2)]
    found = changed(CENTRE, cells)
    assert found.answer == "No change that can be told."
    assert " less and " in found.words
    assert found.words.endswith("more (19 times of 20), each note against itself.")


def test_too_few_days_say_how_many_are_needed() -> None:
    found = changed(CENTRE, [Cell(day(n), "a", 5.0, 1) for n in (0, 1, 9)])
    assert found.answer == "Too little to tell yet."
    assert found.words.endswith("are needed; so far there are 3 in 2.")


def test_a_day_that_was_practised_elsewhere_parts_a_break() -> None:
    cells = [Cell(day(n), "a", 1.0, 1) for n in (1, 20)]
    # Wherever between the two it lies.
    assert changed(CENTRE, cells).breaks([day(2)]) == [(day(2), day(20))]
    assert changed(CENTRE, cells).breaks([day(19)]) == [(day(1), day(19))]
    assert changed(CENTRE, cells).breaks([day(10)]) == [(day(1), day(10)), (day(10), day(20))]


@pytest.mark.parametrize(
    ("a_minute", "answer"),
    [
        (0.25, "No: 8.5 cents after 14 min, 5.5 at the start."),
        (-0.25, "It gets better: 1.5 cents after 14 min, 4.5 at the start."),
        (-0.05, "It gets better: 4.3 cents after 14 min, 4.9 at the start."),
    ],
)
def test_what_comes_of_it_as_one_goes_on_is_better_or_not(a_minute: float, answer: str) -> None:
    cells = [
        MinuteCell(day(n), minutes, "a", 5 + a_minute * minutes, 5)
        for n in range(12)
        for minutes in (2, 6, 14)
    ]
    assert lasting(STEADY_LATE, cells).answer == answer


def test_a_small_difference_says_how_large_it_may_be() -> None:
    # Alike on every day, but for a swing that belongs to no minute.
    cells = [
        MinuteCell(day(n), minutes, "a", 5 + (0.5 if (n + at) % 2 else -0.5), 5)
        for n in range(12)
        for at, minutes in enumerate((2.0, 6.0, 14.0))
    ]
    found = lasting(STEADY_LATE, cells)
    assert found.answer == "No difference that can be told."
    assert found.words.startswith("After 14 min between ")
    assert found.words.endswith("(19 times of 20), each note against itself on the same day.")


def test_where_nothing_was_played_it_says_what_to_do() -> None:
    nothing = register_minutes([], TODAY)
    assert (nothing.rows, nothing.answer, nothing.words) == (
        (),
        "Too little to tell yet.",
        "Play, and it appears here.",
    )


HELD = {60: Standing.SECURE, 67: Standing.SECURE, 70: Standing.HELD, 72: Standing.TOUCHED}


@pytest.mark.parametrize(
    ("change", "headline", "ends"),
    [
        (
            Change(since=date(2026, 3, 2), top=1, bottom=0),
            "1 half step wider than in March.",
            "1 half step more at the top.",
        ),
        (
            Change(since=date(2026, 3, 2), top=-2, bottom=-1),
            "3 half steps less wide than in March.",
            "2 half steps less at the top, 1 half step less at the bottom.",
        ),
        (
            Change(since=date(2025, 12, 1), top=2, bottom=-2),
            "As wide as in December 2025.",
            "2 half steps more at the top, 2 half steps less at the bottom.",
        ),
        (
            Change(since=date(2026, 3, 2), top=0, bottom=0),
            "As wide as in March.",
            "Neither end has moved.",
        ),
    ],
)
def test_a_range_is_said_with_both_its_ends(change: Change, headline: str, ends: str) -> None:
    found = range_answer(HELD, change, lambda midi: f"<{midi}>", TODAY)
    assert found.headline == headline
    assert found.words == f"Held from <60> to <70>, secure from <60> to <67>. {ends}"


def test_where_no_note_is_held_it_says_what_a_held_note_is() -> None:
    found = range_answer({72: Standing.TOUCHED}, None, str, TODAY)
    assert found.headline == "No note is held yet."
    assert found.words == (
        "A note is held once it was good and lasted two seconds. Play, and it appears here."
    )
    early = range_answer({70: Standing.HELD}, None, str, TODAY)
    assert early.headline == "Held from 70 to 70."
    assert early.words.startswith("How it changes can be told after ")
