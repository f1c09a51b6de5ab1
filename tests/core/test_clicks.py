"""Clicks in a note are bridged; what really speaks is not."""

import numpy as np
import pytest

from orexis.core.listening.tracking.clicks import without_clicks
from tests.core.hearing import tracked
from tests.sounds import RATE, Samples, steady

BEFORE = (220.0, 220.0)
SHORT = (1800.0, 1790.0, 1805.0)


def bridged(
    pitches: tuple[float, ...], clarity: float | Samples = 0.7, final: bool = False
) -> tuple[list[float], int]:
    f0_hz = np.array(pitches)
    found, count = without_clicks(BEFORE, f0_hz, np.broadcast_to(clarity, f0_hz.shape), final)
    return found.tolist(), count


@pytest.mark.parametrize("length", [1, 2, 3])
def test_a_short_unclear_leap_that_comes_back_is_bridged(length: int) -> None:
    found, count = bridged((*SHORT[:length], 221.0, 221.0))
    assert count == length + 2
    assert all(220 < pitch < 221 for pitch in found[:length])
    # Evenly in cents: one frame stands half way.
    if length == 1:
        assert found[0] == pytest.approx((220 * 221) ** 0.5)


@pytest.mark.parametrize("part", [2, 3])
def test_a_clear_moment_an_octave_or_a_twelfth_under_is_bridged(part: int) -> None:
    found, count = bridged((220 / part, 221 / part, 220.0, 220.0), 0.99)
    assert count == 4
    assert found == pytest.approx([220.0] * 4)


@pytest.mark.parametrize(
    ("pitches", "clarity"),
    [
        ((*SHORT, 1800.0, 220.0, 220.0), 0.7),  # too long
        ((330.0, 330.0, 220.0, 220.0), 0.96),  # clear: a slot that speaks
        ((440.0, 440.0, 220.0, 220.0), 0.96),  # over the note, not under it
        ((110.0, 110.0, 110.0, 110.0, 220.0, 220.0), 0.99),  # too long: the lower octave speaks
        ((330.0, 331.0, 440.0, 440.0), 0.7),  # goes on elsewhere
        ((1800.0, 220.0, 330.0), 0.7),  # one frame is no return
        ((np.nan, 220.0, 220.0), 0.3),  # a gap
    ],
)
def test_what_is_no_click_stays(pitches: tuple[float, ...], clarity: float) -> None:
    found, count = bridged(pitches, clarity, final=True)
    assert np.array_equal(found, pitches, equal_nan=True)
    assert count == len(pitches)


def test_a_leap_waits_until_it_can_be_told() -> None:
    for known in (SHORT[:1], SHORT, (*SHORT, 220.0)):
        assert bridged((220.0, *known))[1] == 1
    assert bridged((220.0, *SHORT, 220.0, 220.0))[1] == 6
    assert bridged((220.0, *SHORT), final=True)[1] == 4


def test_a_metronome_over_a_soft_note_does_not_move_its_pitch() -> None:
    time_s = np.arange(round(0.012 * RATE)) / RATE
    click = 0.15 * np.sin(2 * np.pi * 1800 * time_s) * np.exp(-time_s / 0.004)
    for hz in (97.0, 349.228, 698.456, 1174.66):
        sound = 0.3 * steady(hz, 2.0)
        for at in (0.6, 1.2):
            sound[round(at * RATE) :][: len(click)] += click
        inner = tracked(sound).f0_hz[5:-5]
        assert np.abs(1200 * np.log2(inner / hz)).max() < 30, hz
