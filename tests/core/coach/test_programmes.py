"""Programmes over weeks, told from days made by hand."""

import pytest

from orexis.core.coach.following import Following, Place, place_of
from orexis.core.coach.history import History, HurtPeriod, PastAttempt
from orexis.core.coach.programmes import PROGRAMMES, ProgrammeUnknownError, find_programme
from orexis.core.exercises.book import find_family, refusal_of
from tests.core.coach.days import COMFORTABLE, TODAY, back, tried
from tests.core.exercises.writing import writer


def place(
    key: str, since: int, *attempts: PastAttempt, hurts: tuple[HurtPeriod, ...] = ()
) -> Place:
    ordered = tuple(sorted(attempts, key=lambda attempt: attempt.day))
    return place_of(Following(key, back(since), COMFORTABLE), History(ordered, hurts=hurts), TODAY)


def pedal_days(*days: int, passed: bool = True) -> list[PastAttempt]:
    return [tried(day, 46, family="pedal-sets", passed=passed) for day in days]


def test_pedal_sets_stay_at_two_for_a_month_however_good_they_are() -> None:
    every_other = pedal_days(*range(27, 0, -2))
    assert place("pedal-sets", 27, *every_other).now.name == "2 sets of 20"
    assert place("pedal-sets", 28, *every_other).now.name == "3 sets of 20"


def test_then_one_set_more_each_ten_days_and_five_at_most() -> None:
    days = pedal_days(*range(99, 0, -2))
    # 28 days, then ten each.
    for since, sets in ((37, 3), (38, 4), (47, 4), (48, 5), (99, 5)):
        assert place("pedal-sets", since, *days).now.name == f"{sets} sets of 20"


def test_a_month_that_was_not_practised_earns_nothing() -> None:
    assert place("pedal-sets", 40, *pedal_days(39, 38)).stage == 0
    assert place("pedal-sets", 40, *pedal_days(39, 30, 20, passed=False)).stage == 0


def test_between_two_pedal_days_there_is_one_of_rest() -> None:
    assert place("pedal-sets", 10, *pedal_days(2)).due
    assert not place("pedal-sets", 10, *pedal_days(1)).due


def chain(day: int, interval: int, notes: int, *, passed: bool = True) -> PastAttempt:
    midis = [70 - interval * number for number in range(notes)]
    return tried(day, *midis, family="chained-intervals", passed=passed)


def test_low_intervals_get_longer_then_wider_after_two_good_days_each() -> None:
    names = [stage.name for stage in PROGRAMMES["low-intervals"].stages(COMFORTABLE)][:5]
    assert names == [
        *(f"{count} notes, half steps" for count in (5, 6, 7, 8)),
        "5 notes, whole steps",
    ]
    days = [chain(9, 1, 5), chain(8, 1, 5, passed=False), chain(7, 1, 5)]
    assert place("low-intervals", 10, *days[:2]).now.name == "5 notes, half steps"
    assert place("low-intervals", 10, *days).now.name == "6 notes, half steps"
    # Shorter ones do not earn longer ones, nor other intervals.
    more = [chain(6, 1, 5), chain(5, 2, 6), chain(4, 1, 6), chain(3, 1, 6)]
    assert place("low-intervals", 10, *days, *more).now.name == "7 notes, half steps"


def test_a_half_step_is_earned_by_the_standard_on_two_days() -> None:
    def scale(day: int, top: int) -> PastAttempt:
        return tried(day, top - 24, top - 12, top, family="two-octave-scale")

    one = place("two-octaves", 9, scale(8, COMFORTABLE), scale(6, COMFORTABLE))
    assert one.now.name == "1 half step above it"
    setting = one.now.setting
    assert setting is not None
    assert setting.values["from_midi"] == COMFORTABLE - 24 + 1
    lower = place("two-octaves", 9, scale(8, COMFORTABLE - 1), scale(6, COMFORTABLE - 1))
    assert lower.stage == 0


def test_two_weeks_without_playing_set_it_back_by_a_stage() -> None:
    earned = [chain(40, 1, 5), chain(39, 1, 5), chain(38, 1, 6), chain(37, 1, 6)]
    assert place("low-intervals", 41, *earned).now.name == "7 notes, half steps"
    back_again = place("low-intervals", 41, *earned, tried(2, 60))
    assert back_again.now.name == "6 notes, half steps"
    assert back_again.words.endswith("One back, since two weeks without playing.")
    assert place("low-intervals", 41, *earned, tried(24, 60)).stage == 2


def test_the_last_stage_that_is_earned_is_the_end_of_it() -> None:
    def days(family: str, *ago: int) -> list[PastAttempt]:
        return [tried(one, 58, family=family) for one in ago]

    # Three good days for each of three steps, then sirens.
    buzzed = days("first-buzz", *range(19, 10, -1))
    there = place("first-buzz", 20, *buzzed, *days("siren", 5, 4))
    assert (there.now.name, there.done) == ("sirens", False)
    assert there.words == "Stage 4 of 4: sirens. 2 of 3 good days."
    over = place("first-buzz", 20, *buzzed, *days("siren", 5, 4, 3))
    assert over.done
    assert over.words == "Stage 4 of 4: sirens. The whole of it is done."
    # Before the last stage, a stage that is earned is not said to be the whole.
    early = place("first-buzz", 20, *buzzed[:3])
    assert (early.now.name, early.done) == ("without rests", False)
    assert early.words == "Stage 2 of 4: without rests. 0 of 3 good days."


def test_something_that_hurts_sets_it_back() -> None:
    earned = [chain(9, 1, 5), chain(8, 1, 5)]
    hurt = place("low-intervals", 10, *earned, hurts=(HurtPeriod(back(3)),))
    assert hurt.stage == 0
    assert hurt.words.endswith("since something hurt.")


@pytest.mark.parametrize(("days", "share"), [(0, 0.3), (7, 0.5), (14, 0.7), (21, 0.85), (28, 1.0)])
def test_a_graded_return_goes_by_weeks(days: int, share: float) -> None:
    assert place("graded-return", days).now.share == share
    assert place("graded-return", days + 6).now.share == share


def test_a_paused_programme_is_not_due_and_says_so() -> None:
    following = Following("slur-pyramid", back(20), COMFORTABLE, paused=back(3))
    place = place_of(following, History(), TODAY)
    assert not place.due
    assert place.words == "Stage 1 of 6: 3 partials. Paused since 26.05."


def test_the_first_day_of_it_is_due() -> None:
    for key in PROGRAMMES:
        place = place_of(Following(key, TODAY, COMFORTABLE), History(), TODAY)
        assert place.due
        assert place.stage == 0


@pytest.mark.parametrize("key", PROGRAMMES)
def test_the_first_stages_of_a_programme_can_be_played_or_are_a_measure(key: str) -> None:
    stages = PROGRAMMES[key].stages(COMFORTABLE)[:5]
    settings = [stage.setting for stage in stages if stage.setting is not None]
    assert len(settings) == (0 if key in ("graded-return", "braces") else len(stages))
    cornet = writer("cornet-bb")
    for setting in settings:
        assert refusal_of(find_family(setting.family), cornet, setting.values) == ""


def test_what_earns_and_what_rests_is_said() -> None:
    sets = PROGRAMMES["pedal-sets"]
    assert sets.earns() == "3 good days, and 10 days in all, earn the next stage."
    assert sets.rests() == "At least a day of rest between two of it."
    assert PROGRAMMES["graded-return"].earns() == "7 days earn the next stage."


def test_an_unknown_programme_is_refused_with_those_there_are() -> None:
    with pytest.raises(ProgrammeUnknownError, match="there are pedal-sets, low-intervals"):
        find_programme("miracle")


def test_nothing_before_it_began_counts() -> None:
    assert place("low-intervals", 5, chain(9, 1, 5), chain(8, 1, 5)).stage == 0
    assert place("low-intervals", 9, chain(9, 1, 5), chain(8, 1, 5)).since == back(8)
