"""Months of practice with a body that is a model: no rule is broken on any day of them."""

from dataclasses import replace
from datetime import date, timedelta
from functools import cache
from math import exp

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from orexis.core.coach.about import About, Experience, Wish
from orexis.core.coach.approaches import QUESTIONS
from orexis.core.coach.following import Following
from orexis.core.coach.known import Event, EventKind
from orexis.core.exercises.book import find_family
from orexis.core.exercises.family import Group
from orexis.core.judging.standard import Standard
from orexis.core.session.state import BlockEnd, End
from orexis.practice.practising import RATE
from orexis.practice.simulated import simulation_document
from orexis.practice.simulation import Habits, SimulatedDay, SimulatedPlayer, Simulation, simulate
from orexis.standin.body import Body
from tests.core.exercises.writing import writer

START = date(2026, 3, 2)
HARD = {Group.HIGH, Group.PEDALS}
APPROACHES = st.fixed_dictionaries(
    {
        question.key: st.sampled_from([option.key for option in question.options])
        for question in QUESTIONS
    }
)


def practiser(
    instrument: str = "tenor-horn-eb",
    experience: Experience = Experience.SOME_YEARS,
    wish: Wish = Wish.UP,
    minutes: int = 30,
    **more: object,
) -> SimulatedPlayer:
    about = About(experience, wish, minutes, 6)
    return SimulatedPlayer(about, writer(instrument), **more)  # type: ignore[arg-type]


@cache
def usual() -> Simulation:
    """Four weeks of somebody who wants to go up."""
    return simulate(practiser(), START, 4, seed=4)


def played(simulation: Simulation) -> list[SimulatedDay]:
    return [day for day in simulation.days if day.played is not None]


def check_day(day: SimulatedDay, before: list[SimulatedDay]) -> None:
    """What holds of every day."""
    assert day.plan is not None
    assert day.played is not None
    kinds = [block.kind for block in day.plan.blocks]
    order = [list(Group).index(kind) for kind in kinds]
    assert order == sorted(order)
    whole = sum(block.all_minutes for block in day.plan.blocks)
    assert whole <= day.plan.asked.minutes
    high = sum(block.all_minutes for block in day.plan.blocks if block.kind is Group.HIGH)
    assert high <= whole / 4 + 0.5
    for block in day.plan.blocks:
        if block.kind in HARD:
            assert block.rest_minutes >= block.minutes
    # A ladder ends, and so does every session.
    assert day.played.state.ended is not None
    # No high work the day after one that ended at the ceiling.
    if before and before[-1].at_ceiling:
        assert Group.HIGH not in kinds
    # A stop holds: what follows it in the session is not high again.
    stopped = False
    for closed in day.played.state.closed:
        if stopped and closed.block.group is Group.HIGH:
            assert closed.close is BlockEnd.HELD_BACK
        stopped = stopped or (
            closed.block.group is Group.HIGH and closed.close in (BlockEnd.ENOUGH, BlockEnd.RAGGED)
        )
    # The coach takes nobody over a limit.
    assert day.over == ()


def check(simulation: Simulation) -> None:
    before: list[SimulatedDay] = []
    for day in simulation.days:
        if day.played is not None:
            check_day(day, before)
            before.append(day)


def test_four_weeks_break_no_rule() -> None:
    assert len(played(usual())) > 15
    check(usual())
    assert any(day.at_ceiling for day in usual().days)


@pytest.mark.deep
@given(
    instrument=st.sampled_from(["cornet-bb", "tuba-eb-4v-comp", "trombone-bass", "horn-f"]),
    experience=st.sampled_from(list(Experience)),
    wish=st.sampled_from(list(Wish)),
    level=st.sampled_from(list(Standard)),
    minutes=st.sampled_from([15, 30, 60]),
    approaches=APPROACHES,
    seed=st.integers(0, 1000),
)
@settings(max_examples=4)
def test_no_approach_level_or_horn_breaks_a_rule_in_three_weeks(
    instrument: str,
    experience: Experience,
    wish: Wish,
    level: Standard,
    minutes: int,
    approaches: dict[str, str],
    seed: int,
) -> None:
    one = practiser(instrument, experience, wish, minutes, level=level, approaches=approaches)
    weeks = simulate(one, START, 3, seed=seed)
    assert played(weeks)
    check(weeks)


def test_what_is_planned_is_what_is_played() -> None:
    beginner = practiser("cornet-bb", Experience.FIRST_WEEKS, Wish.FIT, 20)
    days = [*played(usual()), *played(simulate(beginner, START, 3, seed=2))]
    shares = []
    for day in days:
        if day.stopped is None and day.plan is not None and day.played is not None:
            shares.append(day.played.log[-1].sample / RATE / 60 / day.plan.minutes)
    assert len(shares) > 20
    close = [share for share in shares if 0.9 <= share <= 1.1]
    assert len(close) >= 0.9 * len(shares)


def test_the_same_seed_is_the_same_months_and_another_one_is_not() -> None:
    again = simulate(practiser(), START, 1, seed=4)
    first = simulation_document(again)["days"]
    assert first == simulation_document(usual())["days"][:7]
    other = simulate(practiser(), START, 1, seed=5)
    assert simulation_document(other)["days"] != first


@pytest.mark.deep
def test_something_that_hurts_holds_for_its_days_and_comes_back_by_weeks() -> None:
    hurt = START + timedelta(days=14)
    about = replace(practiser().about, days_a_week=7)
    simulation = simulate(
        replace(practiser(), about=about), START, 5, 4, habits=Habits(hurt_days=frozenset({hurt}))
    )
    days = {day.day: day for day in simulation.days}
    ended = days[hurt].played
    assert ended is not None
    assert ended.state.ended is End.HURT
    assert days[hurt].stopped == "something hurt"
    for later in range(1, 14):
        plan = days[hurt + timedelta(days=later)].plan
        assert plan is not None
        # Three days until it is cleared, then two weeks of 30 and 50 %.
        assert not HARD & {block.kind for block in plan.blocks}
        assert plan.minutes <= 15


@pytest.mark.deep
def test_some_missed_days_cost_nothing_of_the_plan_after_them() -> None:
    away = frozenset(START + timedelta(days=21 + day) for day in range(5))
    missed = simulate(practiser(), START, 5, 4, habits=Habits(away=away))
    check(missed)
    after = next(day for day in played(missed) if day.day >= START + timedelta(days=26))
    assert after.plan is not None
    assert after.plan.minutes >= 27
    assert "nothing is lost" in after.plan.summary
    assert missed.last.range.comfortable >= missed.first.range.comfortable


@pytest.mark.deep
def test_a_concert_is_tapered_to_and_followed_by_an_easy_day() -> None:
    day = START + timedelta(days=20)
    events = (Event(day, EventKind.CONCERT, "The centenary"),)
    about = replace(practiser().about, days_a_week=7)
    simulation = simulate(replace(practiser(events=events), about=about), START, 4, 4)
    plans = {each.day: each.plan for each in simulation.days}
    # The day of rest of these days lies two before the concert.
    rest = plans[day - timedelta(days=2)]
    assert rest is not None
    assert "so today is for rest" in rest.summary
    lengths = [
        plan.minutes
        for days in (4, 3, 1, 0, -1)
        if (plan := plans[day - timedelta(days=days)]) is not None
    ]
    assert lengths[0] > lengths[1] > lengths[2] > lengths[3]
    assert lengths[4] <= 15


@pytest.mark.deep
def test_a_beginner_is_led_from_rests_to_sirens() -> None:
    followings = (Following("first-buzz", START, 60),)
    simulation = simulate(
        practiser("cornet-bb", Experience.FIRST_WEEKS, Wish.FIT, 15, followings=followings),
        START,
        4,
        4,
    )
    check(simulation)
    buzzed = [
        block.setting
        for day in played(simulation)
        if day.plan
        for block in day.plan.blocks
        if block.kind is Group.BUZZ
    ]
    steps = [str(each.values.get("step", each.family)) for each in buzzed]
    assert steps[0] == "1"
    assert steps.index("1") < steps.index("2") < steps.index("3")
    assert {find_family(each.family).group for each in buzzed} == {Group.BUZZ}


def test_the_document_of_a_simulation() -> None:
    document = simulation_document(usual())
    assert list(document) == ["schema", "days", "range"]
    assert document["schema"] == "orexis.simulation/1"
    assert len(document["days"]) == 28
    day = document["days"][0]
    assert list(day) == [
        *("date", "plan", "missed", "stopped", "load", "reached_ceiling", "decided"),
    ]
    assert list(day["load"]) == ["day", "week", "month"]
    assert set(document["range"]) == {"first", "last"}
    missed = next(day for day in document["days"] if day["missed"])
    assert (missed["plan"], missed["load"]["day"], missed["decided"]) == (None, 0, [])


class TestBody:
    """The model of lips does what its words say."""

    def body(self, seed: int = 1) -> Body:
        return Body(top=74, bottom=45, skill=0.8, used_to=15, seed=seed)

    def share(self, body: Body, midi: int, times: int = 400) -> float:
        return sum(body.play(midi, 0.01, 1.0).good for _ in range(times)) / times

    def test_high_notes_are_harder_than_middling_ones(self) -> None:
        body = self.body()
        assert self.share(body, 62) > 0.8 > self.share(body, 74) > self.share(body, 77)

    def test_lips_tire_by_playing_and_recover_by_resting(self) -> None:
        body = self.body()
        for _ in range(60):
            body.play(62, 10, 1.0)
        tired = body.tiredness
        assert tired > 0.4
        body.rest(420)
        # To about a third in seven minutes, sooner or later by who it is.
        assert tired * exp(-1 / 0.8) < body.tiredness < tired * exp(-1 / 1.25)

    def test_bodies_differ_in_how_soon_they_tire(self) -> None:
        def tired(seed: int) -> float:
            body = Body(76.0, 40.0, 0.9, 10.0, seed)
            body.play(60, 300.0, 1.0)
            return body.tiredness

        found = [tired(seed) for seed in range(20)]
        assert found == [tired(seed) for seed in range(20)]
        assert max(found) > 1.2 * min(found)

    def test_skill_grows_with_practice_and_only_with_it(self) -> None:
        idle, busy = (Body(76.0, 40.0, 0.6, 10.0, 1) for _ in range(2))
        for _ in range(120):
            busy.play(60, 600.0, 1.0)
            idle.sleep()
            busy.sleep()
        assert idle.skill == 0.6
        assert 0.7 < busy.skill < 0.97

    def test_the_low_end_goes_down_by_notes_near_it(self) -> None:
        low, middle = (Body(76.0, 40.0, 0.9, 10.0, 1) for _ in range(2))
        for _ in range(60):
            for _ in range(20):
                low.play(41, 6.0, 0.8)
                middle.play(60, 6.0, 1.0)
                low.rest(60.0)
            low.sleep()
            middle.sleep()
        assert middle.bottom == 40.0
        assert 40 - 8 < low.bottom < 39

    def test_double_pedals_are_learnt_by_trying_them(self) -> None:
        body = Body(76.0, 40.0, 0.9, 10.0, 1)

        def spoke() -> int:
            return sum(body.play(28, 2.0, 0.3).spoke for _ in range(100))

        first = spoke()
        for _ in range(90):
            body.sleep()
            body.play(28, 20.0, 0.3)
        assert first < 30
        assert spoke() > 60

    def months(self, every: int, notes: int) -> float:
        """What the top comes to in eight weeks of five-second notes near it, every so many days."""
        body = self.body()
        for day in range(56):
            if day % every == 0:
                for _ in range(notes):
                    body.play(round(body.top - 1), 5, 1.6)
            body.play(60, 600, 1.0)
            body.sleep()
        return body.top

    def test_range_grows_by_what_is_played_well_near_its_end(self) -> None:
        assert self.months(3, 8) > 75.5
        # Much more of it every day builds less: the lips stay raw.
        assert self.months(1, 40) < 74

    def test_range_fades_by_doing_nothing(self) -> None:
        body = self.body()
        for _ in range(28):
            body.sleep()
        assert body.top < 73.5

    def test_much_more_than_one_is_used_to_costs_range(self) -> None:
        body = self.body()
        for _ in range(14):
            body.play(73, 3000, 1.6)
            body.sleep()
        assert body.strain > 1.5
        assert body.top < 74
