"""Enough for today: signs in a session's notes, made by hand."""

from dataclasses import replace

import numpy as np
import pytest

from orexis.core.coach.fatigue import signs_of_tiring, usual_notes
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
    assert signs_of_tiring([*notes(20), *notes(10, held=0.9, spread=6.5)]) == ()
    assert signs_of_tiring(notes(10, held=0.3, spread=20)) == ()
    assert signs_of_tiring([]) == ()


def test_three_signs_and_notes_that_do_not_speak() -> None:
    silent = [replace(row, spoke=False, held_s=0.0, sounded_s=0.0) for row in notes(4)]
    found = signs_of_tiring([*notes(20), *notes(6, spread=9.0, rise=0.15), *silent])
    assert found[-1] == "4 of the last 10 notes did not speak"
    assert len(found) == 3


def test_three_in_ten_that_do_not_speak_are_a_sign_and_two_are_none() -> None:
    def late(count: int) -> list[NoteRow]:
        silent = [replace(row, spoke=False, held_s=0.0, sounded_s=0.0) for row in notes(count)]
        return [*notes(20), *notes(10 - count, spread=9.0, rise=0.15), *silent]

    assert signs_of_tiring(late(3))[-1] == "3 of the last 10 notes did not speak"
    assert not any("speak" in sign and "last" in sign for sign in signs_of_tiring(late(2)))


def test_a_note_held_for_longer_than_was_asked_holds_for_all_of_it() -> None:
    long = [replace(row, held_s=8.0) for row in notes(20)]
    found = signs_of_tiring([*long, *notes(10, held=0.6, spread=9.0)])
    assert found[0] == "notes hold for 60 % of their length, 100 % at first"


def test_notes_given_up_early_are_held_for_less_than_was_asked() -> None:
    # They hold as long as they sound, and sound for half of what was asked.
    short = [replace(row, sounded_s=2.0, held_s=2.0, asked_s=4.0) for row in notes(10, spread=9.0)]
    found = signs_of_tiring([*notes(20), *short])
    assert found[0] == "notes hold for 50 % of their length, 100 % at first"


def test_what_is_usual_stands_in_for_first_notes_of_another_kind() -> None:
    usual = usual_notes(notes(30))
    assert {row.asked_midi: row.spread_cents for row in usual} == pytest.approx(
        dict.fromkeys(range(60, 65), 5.0)
    )
    buzzed = [replace(row, on_horn=False) for row in notes(12)]
    late = notes(10, held=0.6, spread=9.0)
    assert signs_of_tiring([*buzzed, *late]) == ()
    assert signs_of_tiring([*buzzed, *late], usual) == (
        "notes hold for 60 % of their length, usually 100 %",
        "notes spread over 9 cents, usually 5",
    )
    # And is said of the player, whatever the day began like.
    assert len(signs_of_tiring([*notes(20, held=0.6, spread=9.0), *late], usual)) == 2


def test_scatter_alone_is_no_sign() -> None:
    random = np.random.default_rng(1)

    def day() -> list[NoteRow]:
        return [
            replace(
                row,
                held_s=4.0 * float(np.clip(random.normal(0.9, 0.1), 0.2, 1.0)),
                spread_cents=float(random.uniform(3, 11)),
                rise_s=float(random.uniform(0.03, 0.12)),
                spoke=bool(random.random() < 0.95),
            )
            for row in notes(60)
        ]

    usual = usual_notes(note for _ in range(10) for note in day())
    found = 0
    for _ in range(100):
        played = day()
        found += any(signs_of_tiring(played[:count], usual) for count in range(10, 61, 5))
    assert found <= 3


def test_other_pitches_are_not_held_against_each_other() -> None:
    high = [
        NoteRow(80 + at % 5, True, True, 80 + at % 5, 4.0, 1.0, -20.0, 15.0, 0.3)
        for at in range(10)
    ]
    assert signs_of_tiring([*notes(20), *high]) == ()


def with_glides(rows: list[NoteRow]) -> list[NoteRow]:
    """The same notes, each with what sounded between it and the next."""
    between = NoteRow(60, True, False, sounded_s=2.0, is_between=True)
    return [each for row in rows for each in (row, between)]


def test_what_sounds_between_notes_is_no_note_that_did_not_speak() -> None:
    assert signs_of_tiring(with_glides([*notes(20), *notes(10, spread=9.0)])) == ()


def test_another_note_in_its_place_is_a_note_that_did_not_speak() -> None:
    other = [replace(row, spoke=False, sounded_midi=67, held_s=0.0) for row in notes(4)]
    found = signs_of_tiring([*notes(20), *notes(6, spread=9.0, rise=0.15), *other])
    assert found[-1] == "4 of the last 10 notes did not speak"


def test_tiring_shows_as_soon_in_notes_with_glides_between_them() -> None:
    tired = [*notes(20), *notes(6, held=0.6, spread=9.0, rise=0.15)]
    assert signs_of_tiring(with_glides(tired)) == signs_of_tiring(tired) != ()
