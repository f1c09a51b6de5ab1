"""Things counted, in words."""

import pytest

from orexis.core.counting import counted, in_unit, length_words, listed


@pytest.mark.parametrize(
    ("number", "unit", "said"),
    [
        (1, "half steps", "1 half step"),
        (2, "half steps", "2 half steps"),
        (1.5, "half steps", "1.5 half steps"),
        (1, "cents", "1 cent"),
        (1, "s", "1 s"),
        (1, "ms", "1 ms"),
        (1, "beats a minute", "1 beats a minute"),
        (3, "", "3"),
    ],
)
def test_a_number_agrees_with_its_unit(number: float, unit: str, said: str) -> None:
    assert in_unit(number, unit) == said


def test_things_are_counted_and_listed() -> None:
    assert (counted(1, "break"), counted(2, "break")) == ("1 break", "2 breaks")
    assert listed(["C5", "A4", "G4"]) == "C5, A4 and G4"


@pytest.mark.parametrize(
    ("seconds", "words"),
    [(0.04, "0.0 s"), (29.58, "29.6 s"), (120.0, "2 min 0 s"), (3581.9, "59 min 42 s")],
)
def test_how_long_a_sound_is_is_told_in_seconds_then_in_minutes(seconds: float, words: str) -> None:
    assert length_words(seconds) == words
