"""Enough for today: signs in a session's notes, made by hand."""

import pytest

from orexis.core.coach.fatigue import signs_of_tiring
from orexis.core.coach.history import NoteRow


def notes(count: int, held: float = 1.0, spread: float = 5.0, rise: float = 0.06) -> list[NoteRow]:
    """Notes of four seconds on five pitches in turn."""
    return [
        NoteRow(60 + at % 5, True, True, 60 + at % 5, 4.0, 4.0 * held, -20.0, spread, rise)
        for at in range(count)
    ]


def test_two_signs_are_told_in_numbers() -> None:
    found = signs_of_tiring([*notes(20), *notes(10, held=0.6, spread=9.0)])
    assert found == (
        "notes hold for 60 % of their length, 100 % at first",
        "notes spread over 9 cents, 5 at first",
    )


@pytest.mark.parametrize(
    ("held", "spread", "rise"), [(0.6, 5.0, 0.06), (1.0, 9.0, 0.06), (1.0, 5.0, 0.15)]
)
def test_one_sign_may_be_chance(held: float, spread: float, rise: float) -> None:
    assert signs_of_tiring([*notes(20), *notes(10, held, spread, rise)]) == ()


def test_a_later_response_is_a_sign() -> None:
    found = signs_of_tiring([*notes(20), *notes(10, held=0.6, rise=0.15)])
    assert found[1] == "notes take 150 ms to speak, 60 at first"


def test_small_changes_and_few_notes_tell_nothing() -> None:
    assert signs_of_tiring([*notes(20), *notes(10, held=0.8, spread=7.0)]) == ()
    assert signs_of_tiring(notes(10, held=0.3, spread=20)) == ()
    assert signs_of_tiring([]) == ()


def test_other_pitches_are_not_held_against_each_other() -> None:
    high = [
        NoteRow(80 + at % 5, True, True, 80 + at % 5, 4.0, 1.0, -20.0, 15.0, 0.3)
        for at in range(10)
    ]
    assert signs_of_tiring([*notes(20), *high]) == ()
