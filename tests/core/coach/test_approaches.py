"""Approaches: what each choice changes in a plan, and when a measure says which works better."""

from datetime import timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import integrate, stats

from orexis.core.coach.about import About, Experience, Lips, Wish
from orexis.core.coach.approaches import QUESTIONS, ApproachRefusedError, checked, choice
from orexis.core.coach.choosing import chosen_for
from orexis.core.coach.history import History
from orexis.core.coach.known import PlayerFacts
from orexis.core.coach.trial import Arm, Trial, approaches_on, arms_of, first_better, outcome_of
from orexis.core.exercises.family import Group
from orexis.core.session.building import Setting, block_of
from tests.core.coach.days import TODAY, back, known, planned, tried
from tests.core.exercises.writing import writer

UP = About(Experience.MANY_YEARS, Wish.UP, 60)


def settings_for(kind: Group, **approaches: str) -> list[Setting]:
    one: PlayerFacts = known(
        tried(1, 60, family="own-line"),
        about=UP,
        approaches={key.replace("_", "-"): value for key, value in approaches.items()},
    )
    return [chosen.setting for chosen in chosen_for(kind, one, Lips.NORMAL)]


def ladder(**approaches: str) -> Setting:
    return next(
        setting
        for setting in settings_for(Group.HIGH, **approaches)
        if setting.family == "chromatic-ladder"
    )


def test_the_default_comes_first() -> None:
    assert [choice({}, question.key) for question in QUESTIONS] == [
        *("grow", "back", "stop", "re-centre", "slower", "strength", "still", "least", "off"),
        *("slur-first", "daily"),
    ]


@pytest.mark.parametrize(
    ("answer", "after_fail", "fails"),
    [("back", "back", 3), ("once-more", "again", 2), ("stop", "again", 1)],
)
def test_what_follows_a_failure_at_the_top(answer: str, after_fail: str, fails: int) -> None:
    way = ladder(after_failure=answer).way
    assert (way["after_fail"], way["fails"]) == (after_fail, fails)


def test_what_follows_a_good_one_at_the_top() -> None:
    assert "reaches" not in ladder().way
    reaching = ladder(after_top="reach")
    assert reaching.way["reaches"] == "on"
    made = block_of(reaching.family, writer("cornet-bb"), reaching.values, reaching.way)
    assert made.reaches


def test_between_attempts() -> None:
    assert "probe" not in ladder().way
    fresh = ladder(between_attempts="breath").way
    assert (fresh["probe"], fresh["rest_s"]) == ("off", 5)
    from_bottom = {
        setting.family for setting in settings_for(Group.HIGH, between_attempts="bottom")
    }
    assert "chromatic-ladder" not in from_bottom
    assert {"two-octave-scale", "light-hold-pyramid"} <= from_bottom


def test_dynamics_going_up() -> None:
    for answer in ("grow", "open-close", "level"):
        slurs = {
            setting.family: setting for setting in settings_for(Group.SLURS, dynamics_up=answer)
        }
        assert slurs["lip-slur"].values["dynamics"] == answer
        assert ("shaped-slur" in slurs) == (answer != "level")


def test_low_air_and_starts() -> None:
    slow, fast = (
        {setting.family: setting for setting in settings_for(Group.LOW, low_air=answer)}
        for answer in ("slower", "faster")
    )
    assert float(slow["low-scales"].values["beats"]) > float(fast["low-scales"].values["beats"])
    (tenuto,) = (
        setting
        for setting in settings_for(Group.LOW, starts="tongued")
        if setting.family == "chained-intervals"
    )
    assert tenuto.values["how"] == "tenuto"
    assert settings_for(Group.PEDALS, starts="breath")[0].family == "pedal-sets"


def test_pressing_metronome_pedals_and_buzzing() -> None:
    assert settings_for(Group.HIGH, pressure="zero")[0].family == "light-hold-pyramid"
    some = [setting.family for setting in settings_for(Group.HIGH, pressure="some")]
    assert "light-hold-pyramid" not in some
    assert ladder(metronome="on").way["metronome"] == "on"
    assert settings_for(Group.PEDALS, pedals="loosening") == []
    plan = planned(known(about=UP, approaches={"buzzing": "diagnosis"}))
    assert Group.BUZZ not in [block.kind for block in plan.blocks]


@pytest.mark.parametrize(
    ("kind", "question", "answer", "says"),
    [
        (Group.SLURS, "jaw", "still", "Let the tongue lead, and keep the jaw quiet."),
        (Group.SLURS, "jaw", "moves", "Let the jaw move to find each note."),
        (Group.HIGH, "pressure", "zero", "Do not press at all."),
        (Group.LONG, "starts", "breath", "Begin each note on the air alone."),
    ],
)
def test_what_cannot_be_set_is_said_on_the_stand(
    kind: Group, question: str, answer: str, says: str
) -> None:
    one = known(about=UP, approaches={question: answer})
    assert all(chosen.says == says for chosen in chosen_for(kind, one, Lips.NORMAL))
    plan = planned(one, 60)
    blocks = [block for block in plan.blocks if block.kind is kind]
    assert all(block.setting.why.endswith(says) for block in blocks)


def test_every_answer_changes_a_plan_or_what_is_said() -> None:
    def told(**approaches: str) -> list[object]:
        # Low work was yesterday, so that pedals and high work are due together.
        one = known(tried(1, 60, family="low-scales"), about=UP, approaches=approaches)
        chosen = [
            (each.setting, each.says)
            for kind in Group
            for each in chosen_for(kind, one, Lips.NORMAL)
        ]
        return [chosen, [block.kind for block in planned(one, 60).blocks]]

    for question in QUESTIONS:
        answers = [told(**{question.key: option.key}) for option in question.options]
        for place, answer in enumerate(answers):
            assert answer not in answers[:place], question.options[place]


def test_a_choice_there_is_not_is_refused_with_those_there_are() -> None:
    with pytest.raises(ApproachRefusedError, match="There are: dynamics-up"):
        checked("diet", "soup")
    with pytest.raises(ApproachRefusedError, match="one of off, on"):
        checked("metronome", "loud")


TRIAL = Trial("low-air", "slower", "faster", back(14), TODAY)


def test_both_answers_take_turns_and_no_weekday_belongs_to_one() -> None:
    days = [TRIAL.begins + timedelta(days=number) for number in range(14)]
    options = [TRIAL.option_on(day) for day in days]
    assert options.count("slower") == options.count("faster") == 7
    # Each pair of days holds both.
    assert all({options[at], options[at + 1]} == {"slower", "faster"} for at in range(0, 14, 2))
    assert {options[0], options[7]} == {"slower", "faster"}
    assert TRIAL.option_on(TODAY) is None
    assert approaches_on({"low-air": "slower"}, [TRIAL], days[1]) == {"low-air": options[1]}


def played(share_slower: float, share_faster: float, attempts: int) -> History:
    """Fourteen days with so many attempts each."""
    rows = []
    for number in range(14):
        day = 14 - number
        slower = TRIAL.option_on(back(day)) == "slower"
        passes = round(attempts * (share_slower if slower else share_faster))
        rows += [tried(day, 60, family="low-scales", passed=at < passes) for at in range(attempts)]
    return History(tuple(rows))


def test_there_is_no_winner_without_evidence() -> None:
    few = outcome_of(TRIAL, played(1.0, 0.0, 2), TODAY)
    assert (few.better, few.first_better) == ("", None)
    assert few.words == (
        "It ended with 7 and 7 days, 14 and 14 attempts at what you played both ways: too little "
        "to tell."
    )
    alike = outcome_of(TRIAL, played(0.6, 0.6, 10), TODAY)
    assert alike.first_better == pytest.approx(0.5, abs=0.01)
    assert (
        alike.words
        == "No difference that can be told: 60 % against 60 % good at the same exercises."
    )


def test_a_clear_winner_is_told_with_how_sure_that_is() -> None:
    found = outcome_of(TRIAL, played(0.9, 0.3, 10), TODAY)
    assert found.better == "slower"
    assert found.words.startswith("“open, unforced, slower” works very likely better for you: 90 %")
    leaning = outcome_of(TRIAL, played(0.5, 0.7, 10), TODAY)
    assert leaning.better == ""
    assert "works perhaps better" in leaning.words


def test_what_else_was_played_tells_nothing_of_it() -> None:
    other = History(tuple(tried(day, 60, family="lip-slur") for day in range(14, 0, -1)))
    assert outcome_of(TRIAL, other, TODAY).first.attempts == 0


def test_only_what_was_played_both_ways_is_held_against_itself() -> None:
    # The second way always had the harder exercise too, and did equally well at the shared one.
    rows = []
    for day in range(14, 0, -1):
        slower = TRIAL.option_on(back(day)) == "slower"
        rows += [tried(day, 60, family="low-scales", passed=at < 8) for at in range(10)]
        harder = 48 if slower else 36
        rows += [tried(day, harder, family="low-scales", passed=slower) for _ in range(10)]
    found = outcome_of(TRIAL, History(tuple(rows)), TODAY)
    assert (found.first.attempts, found.second.attempts) == (70, 70)
    assert found.first.share == found.second.share == pytest.approx(0.8)
    assert found.better == ""


def test_an_exercise_weighs_the_same_under_both_answers() -> None:
    easy, hard = ("low-scales", 60, 67), ("low-scales", 48, 60)
    days = [back(day) for day in range(1, 11)]
    # 90 % of the easy one and 30 % of the hard one, whichever way it is played.
    first, second = arms_of(
        {easy: dict.fromkeys(days, (10, 9)), hard: {days[0]: (10, 3)}},
        {easy: {days[0]: (10, 9)}, hard: dict.fromkeys(days, (10, 3))},
    )
    assert first.attempts == second.attempts == 110
    assert first.share == pytest.approx(second.share)
    assert first.share == pytest.approx(0.6)


def test_tries_of_a_day_count_for_less_than_as_many_on_as_many_days() -> None:
    task = ("low-scales", 60, 67)
    one_day, ten_days = arms_of(
        {task: {back(1): (10, 5)}}, {task: {back(day): (1, day % 2) for day in range(1, 11)}}
    )
    assert one_day.attempts == ten_days.attempts == 10
    assert one_day.worth == pytest.approx(10 / (1 + 9 * 0.2))
    assert ten_days.worth == 10


@pytest.mark.deep
@given(st.integers(0, 30), st.integers(1, 30), st.integers(0, 30), st.integers(1, 30))
def test_how_likely_one_share_is_larger_is_the_integral_of_two_beta_densities(
    passes: int, fails: int, other_passes: int, other_fails: int
) -> None:
    def arm(good: int, bad: int) -> Arm:
        return Arm(5, good + bad, good, good / (good + bad), good + bad)

    mine = stats.beta(passes + 1, fails + 1)
    theirs = stats.beta(other_passes + 1, other_fails + 1)
    wanted, _ = integrate.quad(lambda share: mine.pdf(share) * theirs.cdf(share), 0, 1, limit=200)
    found = first_better(arm(passes, fails), arm(other_passes, other_fails))
    assert found == pytest.approx(wanted, abs=2e-3)


def test_a_question_is_found_by_the_key_it_had_before() -> None:
    assert checked("between-tries", "breath") == ("between-attempts", "breath")
