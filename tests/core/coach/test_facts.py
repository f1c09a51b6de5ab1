"""What a plan says is so: every sentence of it, held against what was played."""

from dataclasses import replace

import pytest
from bench.facts import players, watched, wrong

from orexis.core.coach.day import DayPlan, PlanRequest
from orexis.core.coach.known import PlayerFacts
from orexis.practice.simulation import simulate
from tests.core.coach.days import TODAY, known, planned, tried

PLAYERS = players()


@pytest.mark.one_in(6)
@pytest.mark.parametrize("number", range(len(PLAYERS)))
def test_every_sentence_of_every_plan_is_so(number: int) -> None:
    player, habits = PLAYERS[number]
    found = watched(player, habits, 3, seed=11)
    assert found.sentences > 60
    assert found.wrong == []


def test_what_is_not_so_is_noticed() -> None:
    one = known(tried(3, 65, family="low-long-tones"))
    plan = planned(one)
    assert wrong(one, plan.asked, plan) == []
    block = next(each for each in plan.blocks if any("Low long" in fact for fact in each.facts))
    said = (
        "Low long tones was last played 4 days ago.",
        "F4 is secure.",
        "High work came to C5 in the last two weeks.",
        "Nothing above C3 today: your lips are tired.",
        "You are getting better every day.",
    )
    lies = replace(
        plan,
        blocks=(replace(block, facts=said),),
        summary="5 days without playing; nothing is lost by that.",
    )
    found = wrong(one, plan.asked, lies)
    assert len(found) == 6
    assert found[-1] == "unknown: You are getting better every day."


def test_a_break_is_told_to_the_day() -> None:
    player, _ = PLAYERS[1]
    plans: list[tuple[PlayerFacts, PlanRequest, DayPlan]] = []

    def late(seen: PlayerFacts, asked: PlanRequest) -> DayPlan:
        plan = planned(replace(seen, today=TODAY), asked.minutes)
        plans.append((replace(seen, today=TODAY), plan.asked, plan))
        return plan

    simulate(player, TODAY.replace(month=TODAY.month - 2), 1, 3, late)
    assert plans
    assert all(wrong(*plan) == [] for plan in plans)
