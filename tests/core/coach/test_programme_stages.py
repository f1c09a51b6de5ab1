"""What the stages of each programme are, what they ask for, and what counts for them."""

import pytest

from orexis.core.coach.about import About, Experience, Wish
from orexis.core.coach.programmes import PROGRAMMES, Stage, wanted_by
from tests.core.coach.days import COMFORTABLE, tried

Asked = tuple[str, dict[str, float | str], dict[str, float | str]]


def stages(key: str) -> tuple[Stage, ...]:
    """A programme's stages, from a comfortable top of F5 (77) as it sounds."""
    return PROGRAMMES[key].stages(COMFORTABLE)


def asks(stage: Stage) -> Asked | None:
    """The exercise of a stage: family, values and way."""
    setting = stage.setting
    return None if setting is None else (setting.family, dict(setting.values), dict(setting.way))


def test_each_of_the_first_buzz_is_named_and_asks_for_its_step() -> None:
    assert [(stage.name, stage.words, asks(stage)) for stage in stages("first-buzz")] == [
        (
            "with rests",
            "High for four counts, rest, low for four, rest.",
            ("first-buzz", {"step": "1"}, {}),
        ),
        ("without rests", "High and low in turn.", ("first-buzz", {"step": "2"}, {})),
        ("two counts each", "Quicker turns.", ("first-buzz", {"step": "3"}, {})),
        ("sirens", "Up and down without a break.", ("siren", {}, {})),
    ]
    buzz, siren = tried(1, 58, 53, family="first-buzz"), tried(1, 58, family="siren")
    counts = [(stage.counts(buzz), stage.counts(siren)) for stage in stages("first-buzz")]
    assert counts == [(True, False), (True, False), (True, False), (False, True)]


def test_braces_go_from_soft_to_as_usual() -> None:
    told = [(stage.name, stage.words, stage.share, stage.no_high) for stage in stages("braces")]
    assert told == [
        ("the middle, softly", "Short and soft in the middle.", 0.5, True),
        ("slurs again", "Slurs and low work; still nothing high.", 0.7, True),
        ("slowly up", "High work again, with a light hold.", 0.85, False),
        ("as usual", "As usual, pressing as little as you can.", 1.0, False),
    ]
    assert not any(stage.counts(tried(1, 60)) for stage in stages("braces"))


def test_a_return_goes_by_shares_and_stays_lower_at_first() -> None:
    weeks = [(stage.share, stage.no_high, stage.below) for stage in stages("graded-return")]
    assert weeks == [
        (0.3, True, 12),
        (0.5, True, 9),
        (0.7, False, 7),
        (0.85, False, 4),
        (1.0, False, 0),
    ]
    assert [stage.words for stage in stages("graded-return")][1:3] == [
        "50 % of your usual time, and nothing high.",
        "70 % of your usual time.",
    ]


def test_pedal_sets_grow_from_two_to_five() -> None:
    assert [asks(stage) for stage in stages("pedal-sets")] == [
        ("pedal-sets", {}, {"sets": sets}) for sets in (2, 3, 4, 5)
    ]
    assert [stage.name for stage in stages("pedal-sets")][::3] == ["2 sets of 20", "5 sets of 20"]


def test_low_intervals_ask_for_their_interval_and_notes() -> None:
    wanted = [
        (1, 5),
        (1, 6),
        (1, 7),
        (1, 8),
        (2, 5),
        (2, 6),
        (2, 7),
        (3, 5),
        (3, 6),
        (4, 5),
        (5, 5),
    ]
    assert [asks(stage) for stage in stages("low-intervals")] == [
        ("chained-intervals", {"semitones": interval, "notes": notes}, {})
        for interval, notes in wanted
    ]


def test_two_octaves_and_triads_take_turns_and_both_count() -> None:
    for step, stage in enumerate(stages("two-octaves")):
        top = COMFORTABLE + step
        assert asks(stage) == ("two-octave-scale", {"from_midi": top - 24}, {})
        assert stage.or_else is not None
        assert stage.or_else.family == "rising-triads"
        assert stage.or_else.values["from_midi"] == top - 7
        for family in ("two-octave-scale", "rising-triads"):
            assert stage.counts(tried(1, top - 24, top, family=family))
            assert not stage.counts(tried(1, top - 24, top - 1, family=family))
        assert not stage.counts(tried(1, top, family="long-tone"))
    assert len(stages("two-octaves")) == 13


def test_a_pyramid_counts_from_as_many_partials_as_its_stage_has() -> None:
    assert [asks(stage) for stage in stages("slur-pyramid")] == [
        ("pyramid", {"slots": slots}, {}) for slots in range(3, 9)
    ]
    four = stages("slur-pyramid")[1]
    # Up four partials and back: each is one of them, however often it is played.
    there_and_back = (58, 65, 70, 74, 70, 65, 58)
    for family in ("pyramid", "light-hold-pyramid"):
        assert four.counts(tried(1, *there_and_back, family=family))
        assert not four.counts(tried(1, 58, 65, 70, 65, 58, family=family))
    assert not four.counts(tried(1, *there_and_back, family="lip-slur"))


@pytest.mark.parametrize(
    ("key", "earns", "rests"),
    [
        (
            "pedal-sets",
            "3 good days, and 10 days in all, earn the next stage.",
            "At least a day of rest between two of it.",
        ),
        ("low-intervals", "2 good days earn the next stage.", "It can come every day."),
        ("graded-return", "7 days earn the next stage.", "It can come every day."),
        ("braces", "14 days earn the next stage.", "It can come every day."),
    ],
)
def test_what_earns_a_stage_and_how_often_it_comes_is_said(
    key: str, earns: str, rests: str
) -> None:
    assert (PROGRAMMES[key].earns(), PROGRAMMES[key].rests()) == (earns, rests)


@pytest.mark.parametrize(
    ("about", "wanted"),
    [
        (About(Experience.SOME_YEARS, Wish.FIT, 30), set()),
        (About(Experience.SOME_YEARS, Wish.FIT, 30, weeks_off=2), set()),
        (About(Experience.SOME_YEARS, Wish.FIT, 30, weeks_off=3), {"graded-return"}),
        (About(Experience.SOME_YEARS, Wish.FIT, 30, braces=True), {"braces"}),
        (About(Experience.FIRST_WEEKS, Wish.UP, 10), {"first-buzz"}),
        (
            About(Experience.FIRST_WEEKS, Wish.UP, 10, braces=True, weeks_off=10),
            {"first-buzz", "braces", "graded-return"},
        ),
    ],
)
def test_what_one_says_of_oneself_asks_for_programmes(about: About, wanted: set[str]) -> None:
    assert wanted_by(about) == wanted
