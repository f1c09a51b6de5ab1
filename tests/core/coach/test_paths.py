"""Paths: steps for every exercise that has one, and where days of practice lead on them."""

from collections.abc import Sequence
from dataclasses import replace
from datetime import timedelta

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from orexis.core.coach.about import About, Experience, Lips, Wish
from orexis.core.coach.choosing import chosen_for
from orexis.core.coach.history import DayAttempts
from orexis.core.coach.known import PlayerFacts
from orexis.core.coach.limits import limits_for
from orexis.core.coach.paths import OnPath, StepByHand, place_on
from orexis.core.exercises.book import FAMILIES, task_of
from orexis.core.exercises.family import Group, usual_values
from orexis.core.exercises.paths import path_of
from orexis.core.exercises.practised import AttemptOrder, Value
from tests.core.coach.days import TODAY, back, known, regular, tried
from tests.core.exercises.writing import writer

HORNS = ("cornet-bb", "trombone-bass", "tuba-eb-4v", "horn-f")
WITH_PATH = [key for key, family in FAMILIES.items() if family.practised.path is not None]


@pytest.mark.parametrize("horn", HORNS)
@pytest.mark.parametrize("key", WITH_PATH)
def test_every_step_is_an_exercise_of_the_horn_and_says_what_changes(key: str, horn: str) -> None:
    bare = writer(horn)
    for number, step in enumerate(path_of(key, bare)):
        task = task_of(FAMILIES[key], bare, step.values)
        assert step.was_played(task.given.values)
        assert step.words, f"step {number} of {key}"
    steps = path_of(key, bare)
    assert len({tuple(sorted(step.values.items())) for step in steps}) == len(steps)


def test_whatever_the_coach_plans_grows_or_climbs() -> None:
    planned = [
        family
        for family in FAMILIES.values()
        if family.practised.turn or family.practised.in_first_weeks
    ]
    grows = [
        family for family in planned if family.practised.path is not None or family.practised.climbs
    ]
    # What is done by breathing is judged by nobody, and changes by the day.
    assert [family.key for family in planned if family not in grows] == ["breath"]


def days(
    *shares: tuple[int, int], key: str = "sustained-buzz", values: Sequence[int] | None = None
) -> list[DayAttempts]:
    """A day each of so many good attempts of so many, at the steps named (the first otherwise)."""
    steps = path_of(key, writer("cornet-bb"))
    at = values or [0] * len(shares)
    first = TODAY - timedelta(days=len(shares))
    return [
        DayAttempts(first + timedelta(days=number), key, steps[step].values, attempts, good)
        for number, ((good, attempts), step) in enumerate(zip(shares, at, strict=True))
    ]


def place(
    worked: list[DayAttempts], key: str = "sustained-buzz", moved: StepByHand | None = None
) -> OnPath:
    family, bare = FAMILIES[key], writer("cornet-bb")
    steps = path_of(key, bare)
    return place_on(steps, family, usual_values(family, bare), Experience.FIRST_YEAR, worked, moved)


def test_two_good_days_earn_a_step_and_one_does_not() -> None:
    assert place(days((2, 3))).at == 0
    assert place(days((2, 3))).words() == "Step 1 of 13: beats a note 4. 1 of 2 good days."
    assert place(days((2, 3), (2, 3))).at == 1
    # They need not be one after the other.
    assert place(days((3, 3), (5, 9), (4, 6))).at == 1
    assert place(days((3, 3), (1, 2), (4, 6))).at == 1


def test_a_good_day_has_three_attempts_and_two_thirds_of_them_good() -> None:
    assert place(days((2, 2), (2, 2), (2, 2))).at == 0
    assert place(days((5, 8), (5, 8))).at == 0
    assert place(days((6, 9), (6, 9))).at == 1


def test_two_bad_days_running_cost_a_step() -> None:
    reached = [(3, 3), (3, 3), (3, 3), (3, 3)]
    at = [0, 0, 1, 1]
    assert place(days(*reached, values=at)).at == 2
    assert place(days(*reached, (1, 4), (1, 4), values=[*at, 2, 2])).at == 1
    assert place(days(*reached, (5, 8), (5, 8), values=[*at, 2, 2])).at == 1
    # A good day in between, and they are not running.
    assert place(days(*reached, (1, 4), (3, 4), (1, 4), values=[*at, 2, 2, 2])).at == 2
    # Nor is there anything below the first.
    assert place(days((0, 4), (0, 4), (0, 4))).at == 0


def test_three_bad_days_at_the_first_step_are_stuck_and_a_step_gone_is_not() -> None:
    assert not place(days((0, 4), (0, 4))).is_stuck
    assert place(days((0, 4), (0, 4), (0, 4))).is_stuck
    # They need not be running, and a good one among them takes none of them away.
    assert place(days((0, 4), (3, 3), (0, 4), (0, 4))).is_stuck
    assert not place(days((0, 4), (0, 4), (3, 3), (3, 3), (0, 4), values=[0, 0, 0, 0, 1])).is_stuck


def test_what_is_easier_counts_for_nothing_and_what_is_harder_for_itself() -> None:
    assert place(days((3, 3), (3, 3), (3, 3), (3, 3), values=[0, 0, 0, 0])).at == 1
    assert place(days((0, 9), (0, 9), values=[0, 0]), moved=StepByHand(back(30), 3)).at == 3
    # Two good days at a harder one lead to the one after it.
    assert place(days((3, 3), (3, 3), values=[4, 6])).at == 5


def test_where_one_goes_by_hand_counts_from_that_day() -> None:
    before = days((3, 3), (3, 3))
    assert place(before, moved=StepByHand(TODAY, 7)).at == 7
    assert place(before, moved=StepByHand(TODAY, 0)).at == 0
    assert place(before, moved=StepByHand(TODAY, 999)).is_last
    after = [replace(day, day=day.day + timedelta(days=9)) for day in before]
    assert place(after, moved=StepByHand(TODAY, 0)).at == 1


def test_the_end_of_a_path_is_said() -> None:
    steps = path_of("first-buzz", writer("cornet-bb"))
    last = len(steps) - 1
    end = place(
        days((3, 3), (3, 3), key="first-buzz", values=[last, last]),
        "first-buzz",
        StepByHand(back(30), last),
    )
    assert (end.at, end.is_last) == (last, True)
    assert end.words().endswith("You have come to the end of this path.")
    assert end.earns(FAMILIES["first-buzz"]) == ""


def test_what_grows_by_itself_needs_one_good_attempt_a_day() -> None:
    assert FAMILIES["pyramid"].practised.follow is AttemptOrder.GROW
    assert place(days((1, 1), (1, 2), key="pyramid"), "pyramid").at == 1
    assert place(days((1, 1), (0, 1), key="pyramid"), "pyramid").at == 0
    assert "good once" in place([], "pyramid").earns(FAMILIES["pyramid"])
    assert "two thirds of at least three" in place([]).earns(FAMILIES["sustained-buzz"])


def test_of_sets_there_may_be_one_a_day() -> None:
    key, sets = "pedal-sets", FAMILIES["pedal-sets"]
    steps = path_of(key, writer("trombone-bass"))

    def after(*shares: tuple[int, int]) -> OnPath:
        worked = [
            DayAttempts(
                TODAY - timedelta(days=len(shares) - at), key, steps[0].values, attempts, good
            )
            for at, (good, attempts) in enumerate(shares)
        ]
        return place_on(steps, sets, {}, Experience.FIRST_YEAR, worked)

    assert after((1, 1)).at == 0
    assert after((1, 1), (1, 1)).at == 1
    assert after((1, 2), (1, 2)).at == 0
    assert "two thirds of the sets good" in after((1, 1)).earns(sets)


def test_a_beginner_starts_at_the_first_step_and_others_as_it_usually_is() -> None:
    family, bare = FAMILIES["low-long-tones"], writer("cornet-bb")
    steps, usual = path_of(family.key, bare), usual_values(family, bare)
    for experience in Experience:
        on_path = place_on(steps, family, usual, experience, ())
        if experience in (Experience.FIRST_WEEKS, Experience.FIRST_YEAR):
            assert on_path.at == 0
        else:
            assert on_path.now.was_played(usual)
            assert on_path.at > 0


@given(st.lists(st.tuples(st.integers(0, 6), st.integers(0, 6), st.integers(0, 11)), max_size=40))
@settings(max_examples=200)
def test_whatever_is_played_one_day_moves_a_step_back_at_most(
    played: list[tuple[int, int, int]],
) -> None:
    rows = [(min(good, attempts), attempts) for good, attempts, _ in played]
    at = [step for _, _, step in played]
    last = 0
    for count in range(len(rows) + 1):
        now = place(days(*rows[:count], values=at[:count]) if count else [])
        assert 0 <= now.at < len(now.steps)
        assert now.at >= last - 1
        last = now.at


STEADY = About(Experience.MANY_YEARS, Wish.FIT, 40)


def at_step(key: str, step: int, **more: object) -> PlayerFacts:
    one = known(*regular(20), about=About(Experience.MANY_YEARS, Wish.FIT, 40), **more)  # type: ignore[arg-type]
    return replace(one, moved={key: StepByHand(back(1), step)})


@pytest.mark.parametrize("key", ["sustained-buzz", "siren", "lip-slur", "buzz-then-play"])
def test_the_coach_sets_the_step_one_is_at(key: str) -> None:
    group = FAMILIES[key].group
    for step in (0, 2, 3):
        known = at_step(key, step)
        (chosen,) = (
            each for each in chosen_for(group, known, Lips.NORMAL) if each.setting.family == key
        )
        wanted = path_of(key, known.bare)[step]
        assert wanted.was_played(chosen.setting.values)
        assert any(fact.startswith(f"Step {step + 1} of ") for fact in chosen.facts)


def test_a_step_above_what_the_day_allows_waits() -> None:
    key = "siren"
    steps = path_of(key, writer("cornet-bb"))
    known = at_step(key, len(steps) - 1)
    for lips in (Lips.NORMAL, Lips.TIRED):
        highest = limits_for(known, lips).usual
        (chosen,) = (
            each for each in chosen_for(Group.BUZZ, known, lips) if each.setting.family == key
        )
        task = task_of(FAMILIES[key], known.writer, chosen.setting.values)
        assert max(task.score.pitches) <= highest
        (at,) = {
            place
            for place, each in enumerate(steps)
            if each.values == _of(chosen.setting.values, each.values)
        }
        harder = task_of(
            FAMILIES[key], known.writer, {**chosen.setting.values, **steps[at + 1].values}
        )
        assert max(harder.score.pitches) > highest


def set_over(days: int, key: str, **more: object) -> list[dict[str, Value]]:
    """What an exercise whose path is finished is set to, each day it is played."""
    group, finished = FAMILIES[key].group, at_step(key, 99, **more)
    steps = path_of(key, finished.bare)
    found: list[dict[str, Value]] = []
    for played in range(days):
        # Good days at the last step since one went there by hand.
        worked = tuple(
            DayAttempts(TODAY - timedelta(days=played - day), key, steps[-1].values, 3, 3)
            for day in range(played)
        )
        history = replace(finished.history, worked=worked)
        known = replace(
            finished, history=history, moved={key: StepByHand(TODAY - timedelta(99), 99)}
        )
        found += [
            dict(each.setting.values)
            for each in chosen_for(group, known, Lips.NORMAL)
            if each.setting.family == key
        ]
    return found


@pytest.mark.parametrize("key", ["finding-the-centre", "dynamics", "skip-slur"])
def test_at_the_end_of_its_path_an_exercise_takes_its_notes_and_forms_in_turn(key: str) -> None:
    found = set_over(9, key)
    assert len(found) == 9
    for first in range(2, 6):
        assert len({repr(sorted(one.items())) for one in found[first : first + 4]}) > 1


def test_what_is_varied_stays_as_hard_as_it_was() -> None:
    last = path_of("finding-the-centre", writer("cornet-bb"))[-1].values["push_cents"]
    assert {one["push_cents"] for one in set_over(9, "finding-the-centre")} == {last}


def _of(values: object, keys: object) -> dict[str, Value]:
    return {key: values[key] for key in keys}  # type: ignore[index, attr-defined]


def test_coming_back_one_comes_back_along_paths_too() -> None:
    away = known(*(tried(one, 65) for one in range(60, 30, -1)), about=STEADY)
    key = "sustained-buzz"
    one = replace(away, moved={key: StepByHand(back(31), 10)})
    (chosen,) = (
        each for each in chosen_for(Group.BUZZ, one, Lips.NORMAL) if each.setting.family == key
    )
    # Thirty days off: five weeks of coming back, the first at a third of it.
    assert path_of(key, one.bare)[3].was_played(chosen.setting.values)
    assert one.on_path(FAMILIES[key]).at == 10  # type: ignore[union-attr]


def test_what_an_approach_says_is_no_step_of_the_path() -> None:
    tongued = known(*regular(20), approaches={"starts": "tongued"})
    on_path = tongued.on_path(FAMILIES["skip-slur"])
    assert on_path is not None
    assert {step.values["first"] for step in on_path.steps} == {"tongued-first"}
    assert len(on_path.steps) < len(path_of("skip-slur", tongued.bare))
