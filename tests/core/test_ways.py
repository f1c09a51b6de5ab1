"""What can be set of how an exercise is practised: each way by its words, bounds, step and what is
usual."""

import pytest

from orexis.core.exercises.book import FAMILIES
from orexis.core.parameter import Parameter
from orexis.core.session.building import ways_of
from tests.core.exercises.writing import writer

W = writer("cornet-bb")


def ways(family: str) -> dict[str, Parameter]:
    return {way.key: way for way in ways_of(FAMILIES[family], W)}


NUMBERS: list[tuple[str, str, str, float, float, float, float]] = [
    ("rungs", "steps at most", "", 1, 12, 1, 8),
    ("needed", "good ones a step", "", 1, 40, 1, 1),
    ("fails", "misses that end a step", "", 1, 40, 1, 3),
    ("sets", "sets", "", 1, 5, 1, 1),
    ("minutes", "minutes at most, 0 for no limit", "min", 0, 60, 0.5, 0),
    ("rest_s", "rest after an attempt", "s", 0, 120, 5, 0),
    ("set_rest_s", "rest between sets", "s", 10, 600, 10, 240),
    ("block_rest_s", "rest after it", "s", 0, 900, 10, 60),
    ("parts", "clicks per beat", "", 1, 4, 1, 1),
    ("bpm", "beats a minute where it is free", "", 30, 240, 1, 60),
    ("ramp_bpm", "faster or slower by the end", "", -60, 60, 2, 0),
]


@pytest.mark.parametrize(("key", "label", "unit", "least", "most", "by", "usual"), NUMBERS)
def test_numbers_of_a_ladder(
    key: str, label: str, unit: str, least: float, most: float, by: float, usual: float
) -> None:
    way = ways("chromatic-ladder")[key]
    assert (way.label, way.unit) == (label, unit)
    assert (way.least, way.most, way.step, way.usual) == (least, most, by, usual)


CHOICES: list[tuple[str, str, dict[str, str], str]] = [
    ("steps", "steps go", {"up": "up", "down": "down"}, "up"),
    (
        "after_fail",
        "after a miss",
        {"back": "one step back, and earn it again", "again": "once more"},
        "back",
    ),
    ("ends_well", "end on a good one", {"on": "on", "off": "off"}, "on"),
    ("reaches", "one step beyond the top, at the end", {"off": "off", "on": "on"}, "off"),
    ("as_played", "rest as long as you played", {"off": "off", "on": "on"}, "on"),
    ("probe", "low note between attempts", {"off": "off", "on": "on"}, "on"),
    ("metronome", "metronome", {"off": "off", "on": "on"}, "off"),
    (
        "before",
        "before the first attempt",
        {
            "nothing": "nothing",
            "hear": "hear it first",
            "sing": "sing it first",
            "finger": "finger it first",
        },
        "nothing",
    ),
    (
        "follow",
        "how attempts follow",
        {
            "ladder": "a step further each time",
            "repeat": "again until it is good",
            "breaths": "breath by breath",
            "sets": "in sets, each start counted",
        },
        "ladder",
    ),
]


@pytest.mark.parametrize(("key", "label", "choices", "usual"), CHOICES)
def test_choices_of_a_ladder(key: str, label: str, choices: dict[str, str], usual: str) -> None:
    way = ways("chromatic-ladder")[key]
    assert way.label == label
    assert {choice.value: choice.label for choice in way.choices} == choices
    assert way.usual == usual


@pytest.mark.parametrize(
    ("family", "usual"),
    [
        # As often as it is written to be played, and given up after four misses.
        ("long-tone", {"follow": "repeat", "steps": "down", "fails": 4.0, "ends_well": "off"}),
        ("lip-slur", {"follow": "lengths", "steps": "up", "after_fail": "again", "probe": "off"}),
        ("pedal-sets", {"follow": "sets", "sets": 2.0, "as_played": "off", "block_rest_s": 60.0}),
        ("pyramid", {"follow": "grow", "fails": 3.0, "ends_well": "on", "after_fail": "again"}),
        ("couplets", {"follow": "breaths", "needed": 1.0, "block_rest_s": 0.0}),
        ("interval-rhythms", {"follow": "repeat", "needed": 3.0, "metronome": "on"}),
    ],
)
def test_what_is_usual_goes_by_how_attempts_follow(
    family: str, usual: dict[str, float | str]
) -> None:
    found = ways(family)
    assert {key: found[key].usual for key in usual} == usual
