"""Two ways held against each other: from when on something is told, and how sure that is."""

import pytest

from orexis.core.coach.approaches import BY_KEY
from orexis.core.coach.trial import Arm, arms_of, compared, first_better
from tests.core.coach.days import back

SLOWER, FASTER = BY_KEY["low-air"].options[:2]


def arm(share: float, *, days: int = 7, attempts: int = 40, worth: float = 40.0) -> Arm:
    return Arm(days, attempts, round(share * attempts), share, worth)


@pytest.mark.parametrize(
    ("days", "attempts", "is_told"),
    [(4, 20, True), (3, 20, False), (4, 19, False), (3, 19, False), (5, 21, True)],
)
def test_four_days_and_twenty_attempts_of_each_are_enough_to_tell(
    days: int, attempts: int, is_told: bool
) -> None:
    few, many = arm(0.9, days=days, attempts=attempts), arm(0.5)
    for first, second in ((few, many), (many, few)):
        found = compared(SLOWER, first, FASTER, second, over=False)
        assert (found.first_better is not None) is is_told
        assert found.words.startswith("So far there are") is not is_told
    assert compared(SLOWER, arm(0.9, days=1), FASTER, many, over=True).words == (
        "It ended with 1 and 7 days, 40 and 40 attempts at what you played both ways: too little "
        "to tell."
    )


def test_the_winner_is_the_better_one_whichever_stands_first() -> None:
    good, bad = arm(0.9), arm(0.4)
    first = compared(SLOWER, good, FASTER, bad, over=True)
    second = compared(SLOWER, bad, FASTER, good, over=True)
    assert (first.better, second.better) == (SLOWER.key, FASTER.key)
    for found, winner, shares in (
        (first, SLOWER, "90 % against 40 % good"),
        (second, FASTER, "40 % against 90 % good"),
    ):
        assert found.words.startswith(
            f"“{winner.label}” works very likely better for you: {shares}"
        )
    assert first.first_better == pytest.approx(1 - (second.first_better or 0.0), abs=1e-6)


def test_how_likely_it_is_is_one_half_where_both_are_the_same_and_adds_up_to_one() -> None:
    for share in (0.0, 0.3, 1.0):
        for worth in (5.0, 50.0):
            one = arm(share, worth=worth)
            assert first_better(one, one) == pytest.approx(0.5, abs=1e-6)
            other = arm(0.6, worth=worth)
            both = first_better(one, other) + first_better(other, one)
            assert both == pytest.approx(1.0, abs=1e-6)
    # With one attempt each, good and bad: Beta(2, 1) over Beta(1, 2) is 5 in 6.
    assert first_better(arm(1.0, worth=1.0), arm(0.0, worth=1.0)) == pytest.approx(5 / 6, abs=2e-3)


def test_what_was_not_played_both_ways_counts_for_neither() -> None:
    scale, slur = ("low-scales", 50, 60), ("lip-slur", 58, 65)
    first, second = arms_of({scale: {back(1): (4, 4)}}, {slur: {back(2): (4, 0)}})
    assert first == second == Arm(0, 0, 0, 0.0, 0.0)
    first, second = arms_of(
        {scale: {back(1): (1, 1), back(3): (1, 0)}, slur: {back(5): (9, 9)}},
        {scale: {back(2): (1, 0)}},
    )
    assert (first.days, first.attempts, first.passes, first.share) == (2, 2, 1, 0.5)
    assert (second.days, second.attempts, second.passes, second.share) == (1, 1, 0, 0.0)
    # One attempt a day counts for itself, two days for two.
    assert first.worth == pytest.approx(2.0)
    assert second.worth == pytest.approx(1.0)
