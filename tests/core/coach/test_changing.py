"""A day's plan changed by the player: nothing is forbidden, and what breaks is said."""

import pytest

from orexis.core.coach.about import About, Experience, Wish
from orexis.core.coach.changing import (
    ChangeRefusedError,
    dropped,
    lengthened,
    moved,
    swapped,
)
from orexis.core.coach.day import DayPlan
from orexis.core.exercises.family import Group
from orexis.formats.day_plan import plan_document, whole_document, whole_plan
from tests.core.coach.days import known, planned, tried

# Low work and pedals were yesterday, so that the day is about high work.
KNOWN = known(
    tried(1, 60, family="chained-intervals"),
    tried(1, 46, family="pedal-chromatic"),
    about=About(Experience.SOME_YEARS, Wish.UP, 40),
)
PLAN = planned(KNOWN)
KINDS = [block.kind for block in PLAN.blocks]


def at(kind: Group) -> int:
    return KINDS.index(kind)


def length(plan: DayPlan) -> float:
    return sum(block.all_minutes for block in plan.blocks)


def test_a_plan_the_coach_made_breaks_nothing() -> None:
    assert PLAN.warnings == ()


def test_high_work_first_is_done_as_asked_and_told() -> None:
    plan = moved(PLAN, at(Group.HIGH), 0, KNOWN)
    assert plan.blocks[0].kind is Group.HIGH
    assert length(plan) == length(PLAN)
    assert plan.warnings == (f"{plan.blocks[0].title} comes before the lips are warm.",)
    # And put back it is as it was.
    assert moved(plan, 0, at(Group.HIGH), KNOWN) == PLAN


def test_a_longer_block_takes_its_time_from_the_others() -> None:
    plan = lengthened(PLAN, at(Group.SLURS), 3, KNOWN)
    assert plan.blocks[at(Group.SLURS)].all_minutes == PLAN.blocks[at(Group.SLURS)].all_minutes + 3
    assert length(plan) == pytest.approx(length(PLAN), abs=1.5)


def test_too_much_high_work_is_told() -> None:
    plan = lengthened(PLAN, at(Group.HIGH), 8, KNOWN)
    assert any("a quarter is the most" in warning for warning in plan.warnings)
    high = plan.blocks[at(Group.HIGH)]
    assert high.rest_minutes == high.minutes


def test_a_dropped_block_leaves_its_time_to_the_others() -> None:
    plan = dropped(PLAN, at(Group.MUSIC), KNOWN)
    assert Group.MUSIC not in [block.kind for block in plan.blocks]
    assert length(plan) == pytest.approx(length(PLAN), abs=2)
    # Hard work does not grow by what is dropped.
    assert plan.blocks[at(Group.HIGH)].all_minutes == PLAN.blocks[at(Group.HIGH)].all_minutes


def test_another_exercise_of_the_same_kind_takes_its_place() -> None:
    plan = swapped(PLAN, at(Group.SLURS), KNOWN)
    old, new = PLAN.blocks[at(Group.SLURS)], plan.blocks[at(Group.SLURS)]
    assert (new.kind, new.all_minutes) == (old.kind, old.all_minutes)
    assert new.setting.family != old.setting.family
    assert new.facts[-1] == f"You put it in place of {old.title}."
    with pytest.raises(ChangeRefusedError, match="the only exercise of this kind"):
        swapped(PLAN, at(Group.BREATH), KNOWN)


def test_what_cannot_be_is_refused_in_words() -> None:
    with pytest.raises(ChangeRefusedError, match="no such block"):
        moved(PLAN, 0, 99, KNOWN)
    with pytest.raises(ChangeRefusedError, match="Drop it instead"):
        lengthened(PLAN, 0, -30, KNOWN)
    alone = PLAN
    while len(alone.blocks) > 1:
        alone = dropped(alone, 0, KNOWN)
    with pytest.raises(ChangeRefusedError, match="To rest today, just do not start"):
        dropped(alone, 0, KNOWN)


def test_a_changed_plan_comes_back_from_its_document_as_it_was() -> None:
    plan = lengthened(swapped(PLAN, at(Group.SLURS), KNOWN), at(Group.HIGH), 4, KNOWN)
    assert whole_plan(whole_document(plan)) == plan


def test_the_document_of_a_plan() -> None:
    document = plan_document(PLAN)
    assert list(document) == ["schema", "date", "minutes", "lips", "blocks", "warnings"]
    assert (document["schema"], document["date"]) == ("orexis.plan/1", "2026-05-29")
    block = document["blocks"][at(Group.HIGH)]
    assert list(block) == [
        *("kind", "minutes", "rest_minutes", "exercise", "highest_midi", "reason"),
    ]
    assert block["kind"] == "high"
    assert set(block["exercise"]) == {"family", "parameters"}
