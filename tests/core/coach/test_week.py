"""Hard and easy days take turns, and a rest day comes at least every seven."""

from dataclasses import replace
from datetime import date, timedelta

import pytest

from orexis.core.coach.about import About, Experience, Wish
from orexis.core.coach.day import DayPlan
from orexis.core.coach.history import PastAttempt
from orexis.core.coach.known import Event, EventKind
from orexis.core.coach.week import DayKind, days_about, kind_of_plan
from orexis.core.exercises.family import WORKS, Group
from tests.core.coach.days import TODAY, back, known, planned, tried

UP = About(Experience.SOME_YEARS, Wish.UP, 45, high_midi=72)


def played(days_ago: int, midi: int = 60, family: str = "long-tone") -> PastAttempt:
    """A usual day's quarter of an hour on a note."""
    return tried(days_ago, midi, family=family, seconds=900)


def plan_after(*hard: int, days_a_week: int, easy: tuple[int, ...] = ()) -> DayPlan:
    """The plan after hard and easy days, by how many days ago they were."""
    rows = [played(day, 70, "chromatic-ladder") for day in hard]
    rows += [played(day) for day in easy]
    rows.sort(key=lambda attempt: attempt.day)
    return planned(known(*rows, about=replace(UP, days_a_week=days_a_week)), 45)


def is_hard(plan: DayPlan) -> bool:
    return any(block.kind in WORKS for block in plan.blocks)


@pytest.mark.parametrize(
    ("days_a_week", "hard", "easy", "may_be_hard"),
    [
        (4, (1,), (3,), False),
        (4, (2,), (1,), True),
        (4, (2,), (), True),
        (5, (1,), (2,), True),
        (6, (1, 2), (4,), False),
        (6, (1, 3), (2,), True),
    ],
)
def test_hard_and_easy_days_take_turns(
    days_a_week: int, hard: tuple[int, ...], easy: tuple[int, ...], may_be_hard: bool
) -> None:
    plan = plan_after(*hard, days_a_week=days_a_week, easy=easy)
    assert is_hard(plan) is may_be_hard
    assert ("Yesterday was a hard day" in plan.summary) is not may_be_hard


def test_a_few_picks_from_cold_and_double_pedals_make_no_hard_day() -> None:
    rows = (
        tried(2, 60),
        tried(1, 70, family="cold-picks"),
        tried(1, 34, family="double-pedals"),
    )
    assert is_hard(planned(known(*rows, about=replace(UP, days_a_week=3)), 45))


def test_a_rest_day_comes_after_six_days() -> None:
    six = plan_after(days_a_week=7, easy=(1, 2, 3, 4, 5, 6))
    assert {block.kind for block in six.blocks} <= {Group.BREATH}
    assert "You have played 6 days running" in six.summary
    assert six.headline.endswith("rest.")
    five = plan_after(days_a_week=7, easy=(1, 2, 3, 4, 5, 7, 8, 9))
    assert len(five.blocks) > 2


def test_where_a_concert_is_the_seventh_day_the_rest_comes_two_days_before_it() -> None:
    four = [played(day) for day in range(1, 5)]
    coming = (Event(TODAY + timedelta(days=2), EventKind.CONCERT),)
    plan = planned(known(*four, about=replace(UP, days_a_week=7), events=coming), 45)
    assert {block.kind for block in plan.blocks} <= {Group.BREATH}
    assert "The concert is in 2 days and you have played 4 days running" in plan.summary
    # On the day itself nobody rests.
    six = [played(day) for day in range(1, 7)]
    today = (Event(TODAY, EventKind.CONCERT),)
    plan = planned(known(*six, about=replace(UP, days_a_week=7), events=today), 45)
    assert "for rest" not in plan.summary


def test_days_played_elsewhere_are_no_rest() -> None:
    rows = [played(day) for day in (6, 5, 4, 2, 1)]
    rehearsal = Event(back(3), EventKind.REHEARSAL)
    plan = planned(known(*rows, about=UP, events=(rehearsal,)), 45)
    assert {block.kind for block in plan.blocks} <= {Group.BREATH}


def test_nobody_rests_on_the_day_of_a_concert() -> None:
    rows = [played(day) for day in range(6, 0, -1)]
    plan = planned(known(*rows, about=UP, events=(Event(TODAY, EventKind.CONCERT),)), 45)
    assert len(plan.blocks) > 2


@pytest.mark.parametrize("days_a_week", [3, 4, 5, 6, 7])
def test_a_month_of_practice_keeps_the_shape(days_a_week: int) -> None:
    about = replace(UP, days_a_week=days_a_week)
    rows = [played(day) for day in range(28, 1, -1) if day % 5]
    hard: list[date] = []
    on: list[date] = []
    for number in range(28):
        day = TODAY + timedelta(days=number)
        one = replace(known(*rows, about=about), today=day)
        plan = planned(one, 45)
        if is_hard(plan):
            hard.append(day)
        if any(block.kind is not Group.BREATH for block in plan.blocks):
            on.append(day)
            family = "chromatic-ladder" if is_hard(plan) else "long-tone"
            rows.append(replace(played(0, 66, family), day=day))
    runs = 1 if days_a_week < 5 else 2
    assert not any({day + timedelta(days=n) for n in range(runs + 1)} <= set(hard) for day in hard)
    assert not any({day + timedelta(days=n) for n in range(7)} <= set(on) for day in on)
    assert len(hard) >= 8


def test_the_days_about_today_are_hard_easy_for_rest_or_what_is_in_the_calendar() -> None:
    rows = [played(4, 70, "chromatic-ladder"), played(2)]
    events = (
        Event(back(-2), EventKind.REHEARSAL),
        Event(back(-5), EventKind.CONCERT),
    )
    about = replace(known(*rows), events=events)
    days = days_about(about, DayKind.HARD)
    assert [day.day for day in days] == [TODAY + timedelta(days=by) for by in range(-6, 8)]
    assert [day.kind.value for day in days] == [
        *("rest", "rest", "hard", "rest", "easy", "rest", "hard"),
        *("open", "rehearsal", "open", "open", "concert", "open", "open"),
    ]


def test_a_plan_is_hard_by_high_notes_and_pedals_and_rest_by_breathing_alone() -> None:
    assert kind_of_plan([Group.LONG, Group.HIGH]) is DayKind.HARD
    assert kind_of_plan([Group.PEDALS]) is DayKind.HARD
    assert kind_of_plan([Group.LONG, Group.MUSIC]) is DayKind.EASY
    assert kind_of_plan([Group.BREATH]) is DayKind.REST
    assert kind_of_plan([]) is DayKind.REST
