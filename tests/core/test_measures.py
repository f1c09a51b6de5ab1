"""What is measured of a note, on pitch and level curves written out by hand."""

import numpy as np
import pytest

from orexis.core.listening.notes.measures import measure_note
from tests.sounds import Samples

STILL = np.zeros(400)
LOUD = np.full(400, -20.0)
TIME_S: Samples = np.arange(400, dtype=np.float64) * 0.01


def test_centre_is_the_median_of_the_settled_part() -> None:
    assert measure_note(STILL - 12.0, LOUD).centre_cents == pytest.approx(-12)


def test_spread_is_half_the_middle_two_thirds() -> None:
    # Normally distributed wander of 5 cents: half of 16–84 % is one standard deviation.
    wander: Samples = np.random.default_rng(3).normal(0, 5, 4000)
    assert measure_note(wander, np.full(4000, -20.0)).spread_cents == pytest.approx(5, abs=0.3)


def test_drift_is_told_apart_from_spread() -> None:
    measures = measure_note(3.0 * TIME_S, LOUD)
    assert measures.drift_cents_per_s == pytest.approx(3, abs=0.05)
    assert measures.spread_cents < 0.1


def test_vibrato_has_rate_and_extent_and_does_not_count_as_spread() -> None:
    measures = measure_note(20 * np.sin(2 * np.pi * 5.5 * TIME_S), LOUD)
    assert measures.vibrato is not None
    assert measures.vibrato.rate_hz == pytest.approx(5.5, abs=0.15)
    assert measures.vibrato.extent_cents == pytest.approx(20, abs=1.5)
    assert measures.spread_cents < 3


def test_a_slow_wobble_is_no_vibrato_and_counts() -> None:
    measures = measure_note(20 * np.sin(2 * np.pi * 2.0 * TIME_S), LOUD)
    assert measures.vibrato is None
    # A sine is within ±0.844 of its peak for 16–84 %: sin(0.34·π) = 0.876.
    assert measures.spread_cents == pytest.approx(20 * 0.876, abs=2)


def scooped(cents: float, time_s: float) -> Samples:
    curve = STILL.copy()
    length = round(time_s * 100)
    curve[:length] = np.linspace(cents, 0, length)
    return curve


@pytest.mark.parametrize("cents", [-38.0, 45.0])
def test_scoop_is_signed_and_close_to_where_the_note_began(cents: float) -> None:
    measures = measure_note(scooped(cents, 0.2), LOUD)
    # The 40 ms farthest out are the first four frames, whose median lies 1.5 steps of 1/19 in.
    assert measures.scoop_cents == pytest.approx(cents * (1 - 1.5 / 19), abs=0.5)
    # Within 10 cents once 1 − t/0.19 is under 10/|cents|.
    assert measures.settle_s == pytest.approx(0.19 * (1 - 10 / abs(cents)), abs=0.011)


def test_a_clean_start_has_no_scoop_and_settles_at_once() -> None:
    measures = measure_note(STILL, LOUD)
    assert measures.scoop_cents == 0
    assert measures.settle_s == 0


def test_sag_is_the_end_falling() -> None:
    curve = STILL.copy()
    curve[-20:] = np.linspace(0, -24, 20)
    assert measure_note(curve, LOUD).sag_cents == pytest.approx(-24 * (1 - 1.5 / 19), abs=0.5)


def test_scoop_and_sag_do_not_move_the_centre() -> None:
    curve = scooped(-80, 0.15) + 7
    curve[-20:] -= 40
    assert measure_note(curve, LOUD).centre_cents == pytest.approx(7)


def test_hold_ends_when_the_pitch_leaves_30_cents() -> None:
    curve = STILL.copy()
    curve[300:] = -40
    assert measure_note(curve, LOUD).hold_s == pytest.approx(3.0)


def test_hold_ends_when_the_level_falls_10_db() -> None:
    level = LOUD.copy()
    level[250:] = -31
    assert measure_note(STILL, level).hold_s == pytest.approx(2.5)


def test_hold_is_the_whole_note_when_nothing_is_lost() -> None:
    assert measure_note(STILL, LOUD).hold_s == pytest.approx(4.0)


@pytest.mark.parametrize("change_db", [10.0, -14.0, 0.0])
def test_level_change_is_from_end_to_end(change_db: float) -> None:
    level_db = np.linspace(-30, -30 + change_db, 400)
    assert measure_note(STILL, level_db).level_change_db == pytest.approx(change_db, abs=0.1)
    # Neither noise nor a loud frame moves it.
    noisy = level_db + np.random.default_rng(1).normal(0, 0.8, 400)
    noisy[[5, 200, 399]] += 20
    assert measure_note(STILL, noisy).level_change_db == pytest.approx(change_db, abs=0.6)


def test_frames_without_a_pitch_are_bridged() -> None:
    curve = STILL + 4.0
    curve[100:103] = np.nan
    assert measure_note(curve, LOUD).centre_cents == pytest.approx(4)


@pytest.mark.parametrize("length", [1, 4, 9, 30])
def test_short_notes_are_measured_without_falling_over(length: int) -> None:
    measures = measure_note(np.full(length, 5.0), np.full(length, -20.0))
    assert measures.centre_cents == pytest.approx(5)
    assert measures.hold_s == pytest.approx(length * 0.01)


def test_a_note_without_any_pitch_is_refused() -> None:
    with pytest.raises(ValueError, match="at least one frame"):
        measure_note(np.full(5, np.nan), np.zeros(5))
    with pytest.raises(ValueError, match="level frames"):
        measure_note(STILL, LOUD[:-1])


@pytest.mark.parametrize("extent", [15, 25, 40])
def test_a_wide_vibrato_settles_at_once_and_keeps_its_centre(extent: float) -> None:
    swing = extent * np.sin(2 * np.pi * 5.5 * TIME_S) - 3.0
    swing[:12] -= 60.0 * (1 - TIME_S[:12] / 0.12)
    measures = measure_note(swing, LOUD)
    assert measures.centre_cents == pytest.approx(-3, abs=1)
    assert measures.settle_s <= 0.15
    assert measures.vibrato is not None
    assert measures.vibrato.extent_cents == pytest.approx(extent, rel=0.1)
