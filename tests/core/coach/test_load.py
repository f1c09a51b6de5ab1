"""Load, in the numbers of the job's rules, on days made by hand."""

from dataclasses import replace
from datetime import timedelta

import pytest

from orexis.core.coach.history import FreePlayed, History, NoteRow, with_between
from orexis.core.coach.load import Weights, load_of, load_on, load_words, over, room_on
from orexis.core.horn.instruments import INSTRUMENTS
from tests.core.coach.days import TODAY, back, known, minutes_of, note, regular

CORNET = INSTRUMENTS["cornet-bb"]
# Up to 76 dependable: from 52 to 76 a third is eight half steps, so the top one begins above 68.
WEIGHTS = Weights(CORNET, 76)


@pytest.mark.parametrize(
    ("midi", "weight"),
    [
        (30, 0.3),  # an octave under the pedals
        (46, 0.8),  # the pedal of the open horn
        (60, 1.0),
        (68, 1.0),
        (69, 1.6),
        (76, 1.6),
        (77, 2.5),
    ],
)
def test_a_note_weighs_what_its_register_does(midi: int, weight: float) -> None:
    assert WEIGHTS.of(midi, on_horn=True) == weight


def test_the_mouthpiece_weighs_the_same_everywhere() -> None:
    assert {WEIGHTS.of(midi, on_horn=False) for midi in (40, 60, 80)} == {1.2}


def test_loud_is_six_decibels_above_what_is_usual() -> None:
    weights = Weights(CORNET, 76, usual_db=-24)
    assert weights.of(60, True, -18.1) == 1.0
    assert weights.of(60, True, -17.9) == pytest.approx(1.2)
    # Where nothing is known of what is usual nothing is loud.
    assert WEIGHTS.of(60, True, 0.0) == 1.0


def test_a_load_is_weighed_minutes_of_what_sounded() -> None:
    rows = [note(60, 60), note(70, 30), note(60, 30, on_horn=False), note(80, 0)]
    # 1 + 0.5 * 1.6 + 0.5 * 1.2 minutes; the last one did not speak.
    assert load_of(rows, WEIGHTS) == pytest.approx(1 + 0.8 + 0.6)


def test_what_sounds_between_the_notes_of_a_glide_counts_too() -> None:
    rows = with_between((note(60, 1), note(67, 1)), sounded_s=6)
    # Two of six seconds are on the notes.
    assert sum(row.sounded_s for row in rows) == pytest.approx(6)
    assert with_between((note(60, 6),), sounded_s=6) == (note(60, 6),)


def test_averages_count_rest_days() -> None:
    loads = {back(days): 14.0 for days in range(1, 28, 2)}
    found = load_on(loads, TODAY)
    # Days 1, 3 and 5 of seven; half of twenty-eight.
    assert found.week == pytest.approx(3 * 14 / 7)
    assert found.month == pytest.approx(14 / 2)
    assert found.usual == 14


def test_averages_begin_anew_after_two_weeks_without_playing() -> None:
    loads = {back(days): 10.0 for days in (0, 1, 2, 3, 18, 19, 20, 21)}
    found = load_on(loads, TODAY)
    assert found.month == found.week == pytest.approx(40 / 7)


def test_a_week_over_half_as_much_again_is_told_with_how_sure_it_is() -> None:
    loads = {back(days): 10.0 for days in range(7, 28)}
    loads |= {back(days): 20.0 for days in range(7)}
    found = load_on(loads, TODAY)
    # 20 against (7 * 20 + 21 * 10) / 28 = 12.5
    assert found.ratio == pytest.approx(1.6)
    (words,) = over(found)
    assert "1.6 times your month (somewhere from" in words
    assert "rule of thumb" in words


def test_a_day_over_twice_the_usual_is_told() -> None:
    usual = {back(days): 10.0 for days in range(1, 28)}
    assert over(load_on({**usual, TODAY: 20.0}, TODAY)) == ()
    (words,) = over(load_on({**usual, TODAY: 21.0}, TODAY))
    assert words.startswith("This day is 2.1 times your usual one")


def test_a_few_days_are_too_little_to_tell() -> None:
    found = load_on({back(3): 5.0, back(1): 5.0, TODAY: 60.0}, TODAY)
    assert over(found) == ()
    assert load_words(found) == "Too few days to tell the load yet"
    assert room_on({back(3): 5.0, back(1): 5.0}, TODAY) is None


def test_what_is_left_for_today_is_exactly_at_the_nearer_limit() -> None:
    loads = {back(days): 10.0 for days in range(1, 28)}
    room = room_on(loads, TODAY)
    # Twice the usual is the nearer one.
    assert room == pytest.approx(20)
    heavy = {**loads, **{back(days): 20.0 for days in range(1, 7)}}
    room = room_on(heavy, TODAY)
    assert room is not None
    # (120 + x) / 7 = 1.5 * (120 + 210 + x) / 28
    assert room == pytest.approx((1.5 * 330 / 28 - 120 / 7) / (1 / 7 - 1.5 / 28))
    assert load_on({**heavy, TODAY: room}, TODAY).ratio == pytest.approx(1.5)


def test_what_is_left_keeps_the_days_of_rest_after_it_within_the_limit_too() -> None:
    # Three heavy weeks, then a light one; the heavy ones leave the month one after the other.
    loads = {back(days): 4.0 if days < 8 else 10.0 for days in range(1, 28)}
    loads |= {back(days): 30.0 for days in range(22, 28)}
    room = room_on(loads, TODAY)
    assert room is not None
    for rest_days in range(7):
        after = load_on({**loads, TODAY: room}, TODAY + timedelta(days=rest_days))
        assert after.ratio <= 1.5 + 1e-9
    # Only looking ahead keeps it so.
    more = load_on({**loads, TODAY: 1.1 * room}, TODAY + timedelta(days=6))
    assert more.ratio > load_on({**loads, TODAY: room}, TODAY).ratio


def test_what_was_played_today_is_taken_off_what_is_left() -> None:
    rested = known(*regular(10))
    played = known(*regular(10), minutes_of(0, 8))
    assert rested.room is not None
    assert played.room == pytest.approx(rested.room - 8)


def test_what_is_played_without_a_task_is_load_and_a_day_of_playing() -> None:
    free = (FreePlayed(back(2), easy_s=600, high_s=300), FreePlayed(back(1), 30, 0))
    one = known(*regular(10))
    one = replace(one, history=replace(one.history, free=free))
    before = known(*regular(10))
    # 10 min up to the middle at 1.0, 5 min high at 1.6.
    assert one.loads[back(2)] - before.loads.get(back(2), 0.0) == pytest.approx(10 + 5 * 1.6)
    only = replace(known(), history=History(free=free))
    # Half a minute makes no day.
    assert only.history.days == (back(2),)
    assert not only.is_first_day


def test_the_loads_of_days_are_told_apart() -> None:
    one = known(minutes_of(1, 10), minutes_of(1, 5), minutes_of(0, 3))
    assert one.loads[back(1)] == pytest.approx(15)
    assert one.loads[TODAY] == pytest.approx(3)
    assert TODAY - timedelta(days=2) not in one.loads


def test_a_note_that_sounded_in_place_of_another_weighs_what_sounded() -> None:
    row = NoteRow(60, True, False, sounded_midi=77, sounded_s=60)
    assert load_of([row], WEIGHTS) == pytest.approx(2.5)


def test_a_few_easy_minutes_are_under_every_limit() -> None:
    loads = {back(days): 0.1 for days in range(1, 28)}
    assert room_on(loads, TODAY) == 3
    assert over(load_on({**loads, TODAY: 2.9}, TODAY)) == ()
    assert over(load_on({**loads, TODAY: 3.1}, TODAY)) != ()
