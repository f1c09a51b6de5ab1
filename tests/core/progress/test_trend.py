"""Trends: sums done by hand, and how often what is said holds for players whose growth is known."""

from datetime import date, timedelta

import numpy as np
import pytest

from orexis.core.progress.changes import (
    CENTRE,
    MINUTES,
    PYRAMID,
    RIGHT,
    STEADY_LATE,
    Question,
    changed,
    lasting,
)
from orexis.core.progress.trend import (
    Cell,
    Curve,
    MinuteCell,
    _students,
    curve_of,
    late_curve_of,
)

START = date(2026, 1, 5)


def day(number: int) -> date:
    return START + timedelta(days=number)


def test_a_straight_line_is_found_with_no_doubt() -> None:
    # A tenth a day for 49 days, from 20 on.
    cells = [Cell(day(n), "a", 20 + 0.1 * n, 5) for n in range(0, 50, 7)]
    cells += [Cell(day(n + 1), "a", 20 + 0.1 * (n + 1), 1) for n in range(0, 49, 7)]
    trend = curve_of(cells).trend
    assert trend is not None
    assert trend.change == pytest.approx(4.9)
    assert (trend.first.at, trend.last.at) == (day(0), day(49))
    assert [trend.first.value, trend.last.value] == pytest.approx([20, 24.9])
    assert [trend.low, trend.high] == pytest.approx([4.9, 4.9])
    assert trend.sure


def test_harder_notes_played_later_are_no_change_for_the_worse() -> None:
    # Each note stays as it is, 4 and 16 cents; the second is played in the second half alone, and
    # then more often.
    cells = [Cell(day(n), "easy", 4.0, 10) for n in range(60)]
    cells += [Cell(day(n), "hard", 16.0, 30) for n in range(30, 60)]
    trend = curve_of(cells).trend
    assert trend is not None
    assert trend.change == pytest.approx(0, abs=1e-9)
    assert not trend.sure
    # Its days are told as if all of it had been played on each: 10 and 34 attempts weigh 10/14 and
    # 30/34, on 60 and 30 days.
    level = (60 * 10 / 14 * 4 + 30 * 30 / 34 * 16) / (60 * 10 / 14 + 30 * 30 / 34)
    assert [value.value for value in curve_of(cells).values] == pytest.approx(60 * [level])
    assert [value.times for value in curve_of(cells).values][29:31] == [10, 40]


def test_too_few_days_or_weeks_tell_nothing() -> None:
    eleven = [Cell(day(7 * n), "a", float(n), 9) for n in range(11)]
    assert curve_of(eleven).trend is None
    assert curve_of([*eleven, Cell(day(77), "a", 11.0, 9)]).trend is not None
    five_weeks = [Cell(day(n), "a", float(n), 9) for n in range(35)]
    assert curve_of(five_weeks).trend is None
    assert curve_of([*five_weeks, Cell(day(35), "a", 35.0, 9)]).trend is not None
    assert curve_of([]) == Curve()


def test_many_things_played_on_one_day_each_tell_nothing() -> None:
    cells = [Cell(day(n), str(n), float(n), 9) for n in range(60)]
    assert curve_of(cells).trend is None


def practised(seed: int, days: int, a_day: float, carries_over: float) -> list[Cell]:
    """What a player measures on some days: twelve notes of different heights, each played on half
    of them, three days of four; good and bad days, which carry over to the next."""
    random = np.random.default_rng(seed)
    heights = random.normal(10, 4, 12)
    cells, mood = [], 0.0
    for number in range(days):
        mood = carries_over * mood + random.normal(0, 1)
        if random.random() > 0.75:
            continue
        for note in np.flatnonzero(random.random(12) < 0.5).tolist():
            times = int(random.integers(1, 30))
            noise = random.normal(0, 3 / np.sqrt(times))
            value = heights[note] + a_day * number + mood + noise
            cells.append(Cell(day(number), str(note), float(value), times))
    return cells


CONDITIONS = pytest.mark.parametrize(
    ("days", "carries_over"), [(70, 0.0), (70, 0.5), (180, 0.3), (45, 0.3)]
)


@pytest.mark.one_in(4)
@CONDITIONS
def test_known_growth_lies_within_what_is_stated_in_90_of_100(
    days: int, carries_over: float
) -> None:
    within = 0
    for seed in range(200):
        cells = practised(seed, days, -0.03, carries_over)
        trend = curve_of(cells).trend
        assert trend is not None
        played = sorted({cell.on for cell in cells})
        within += trend.low <= -0.03 * (played[-1] - played[0]).days <= trend.high
    assert within >= 180


@pytest.mark.one_in(4)
@CONDITIONS
def test_who_does_not_change_is_told_so_in_95_of_100(days: int, carries_over: float) -> None:
    trends = [
        curve_of(practised(5000 + seed, days, 0.0, carries_over)).trend for seed in range(200)
    ]
    assert sum(trend is not None and not trend.sure for trend in trends) >= 190


def told(question: Question, a_day: float, noise: float = 0.0) -> tuple[str, str]:
    random = np.random.default_rng(1)
    cells = [
        Cell(day(n), "a", 40 + a_day * n + float(random.normal(0, noise)), 9) for n in range(71)
    ]
    found = changed(question, cells)
    return found.answer, found.words


def test_the_answer_says_which_way_and_how_sure() -> None:
    # 40 − 0.1 · 70 = 33.
    assert told(CENTRE, -0.1) == (
        "Yes: 33.0 cents now, 40.0 at first.",
        "Over 10 weeks between 7.0 and 7.0 cents less (19 times of 20), each note against itself.",
    )
    assert told(RIGHT, -0.1)[0] == "No, the other way: 33 % now, 40 at first."
    assert told(MINUTES, 0.1)[0] == "More: 47 min now, 40 at first."
    answer, words = told(CENTRE, 0.0, noise=8.0)
    assert answer == "No change that can be told."
    assert "less and" in words
    few = changed(CENTRE, [Cell(day(0), "a", 1.0, 1)])
    assert (few.answer, few.words, few.curve.trend) == (
        "Too little to tell yet.",
        "12 days in 6 weeks are needed; so far there are 1 in 1.",
        None,
    )


def test_a_week_without_practice_is_a_break_and_six_days_are_none() -> None:
    # Between the 8th day and the 16th lie seven days.
    cells = [Cell(day(n), "a", 1.0, 1) for n in (1, 8, 16, 17)]
    assert changed(CENTRE, cells).breaks() == [(day(8), day(16))]
    # Who played elsewhere meanwhile had none.
    assert changed(CENTRE, cells).breaks([day(12)]) == []
    # Before the first day and after the last there is nothing to break off.
    assert changed(CENTRE, cells).breaks([day(-9), day(30)]) == [(day(8), day(16))]
    assert changed(CENTRE, []).breaks() == []


def test_where_values_are_notes_they_are_called_by_their_names() -> None:
    # From 60 up by a half step in 14 days, 65 after 70.
    cells = [Cell(day(n), "", 60 + n / 14, 1) for n in range(0, 71, 2)]
    found = changed(PYRAMID, cells, lambda midi: f"<{midi}>")
    assert found.answer == "Yes: <65> now, <60> at first."
    assert found.words.startswith("Over 10 weeks between 5 and 5 half steps more")
    assert found.notes == range(60, 66)
    assert found.question.scale == "highest note of a good pyramid"
    centre = changed(CENTRE, cells)
    assert (centre.notes, centre.question.scale) == (range(0), "cents, off on average")


def lately(seed: int, a_minute: float, days: int = 40) -> list[MinuteCell]:
    """What a player measures after so many minutes: days of their own heights, long and short."""
    random = np.random.default_rng(seed)
    cells = []
    for number in range(days):
        height = random.normal(8, 2)
        # As lips tire, they do so more on some days than on others.
        tires = a_minute + random.normal(0, 0.05)
        for minutes in range(2, int(random.integers(8, 30)), 4):
            for note in range(4):
                times = int(random.integers(1, 12))
                noise = random.normal(0, 3 / np.sqrt(times))
                value = height + 2 * note + tires * minutes + noise
                cells.append(
                    MinuteCell(day(number), float(minutes), str(note), float(value), times)
                )
    return cells


@pytest.mark.deep
def test_how_lips_tire_lies_within_what_is_stated_in_90_of_100() -> None:
    within = 0
    for seed in range(200):
        trend = late_curve_of(lately(seed, 0.1)).trend
        assert trend is not None
        within += trend.low <= 0.1 * (trend.last.at - trend.first.at) <= trend.high
    assert within >= 180


@pytest.mark.deep
def test_who_does_not_tire_is_told_so_in_95_of_100() -> None:
    trends = [late_curve_of(lately(9000 + seed, 0.0)).trend for seed in range(200)]
    assert sum(trend is not None and not trend.sure for trend in trends) >= 190


def test_long_days_played_worse_are_no_tiring() -> None:
    # On short days everything lies at 4, on long ones at 9: nothing changes within any of them.
    cells = [MinuteCell(day(n), minutes, "a", 4.0, 5) for n in range(12) for minutes in (2.0, 6.0)]
    cells += [
        MinuteCell(day(n), minutes, "a", 9.0, 5)
        for n in range(12, 24)
        for minutes in (2.0, 6.0, 14.0)
    ]
    found = lasting(STEADY_LATE, cells)
    assert found.curve.trend is not None
    assert found.curve.trend.change == pytest.approx(0, abs=1e-9)
    assert found.answer == "No difference that can be told."


def test_what_becomes_of_a_tone_is_said_with_its_minutes() -> None:
    # 5 cents and a quarter more a minute: 5.5 after 2 and 8.5 after 14.
    cells = [
        MinuteCell(day(n), minutes, "a", 5 + minutes / 4, 5)
        for n in range(12)
        for minutes in (2, 6, 14)
    ]
    found = lasting(STEADY_LATE, cells)
    assert found.answer == "No: 8.5 cents after 14 min, 5.5 at the start."
    assert found.words == (
        "After 14 min between 3.0 and 3.0 cents more than at the start (19 times of 20), "
        "each note against itself on the same day."
    )
    short = lasting(STEADY_LATE, [cell for cell in cells if cell.minutes < 10])
    assert (short.answer, short.curve.ends) == ("Too little to tell yet.", ())
    assert "so far there are 12" in short.words


@pytest.mark.parametrize(
    ("free", "quantile"),
    # Two-sided 95 %, from any table of Student's t.
    [(5, 2.5706), (6, 2.4469), (8, 2.3060), (10, 2.2281), (20, 2.0860), (30, 2.0423)],
)
def test_few_groups_widen_what_is_stated_as_students_t_does(free: int, quantile: float) -> None:
    assert _students(1.959964, free) == pytest.approx(quantile, abs=0.004)


@pytest.mark.parametrize(("free", "quantile"), [(3, 3.1824), (4, 2.7764)])
def test_very_few_groups_widen_it_nearly_so(free: int, quantile: float) -> None:
    assert _students(1.959964, free) == pytest.approx(quantile, abs=0.03)
