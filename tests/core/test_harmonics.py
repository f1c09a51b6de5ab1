"""A low note with one strong harmonic stays low; a higher note that is rough stays high."""

import numpy as np
import pytest

from orexis.core.listening.analysis import analyse
from orexis.core.listening.tracking.period import one_stands_out
from tests.core.hearing import tracked
from tests.sounds import RATE, Samples

PERIOD = 60.0
WINDOW = np.arange(480)


def harmonics(strengths_db: dict[int, float]) -> Samples:
    """A sound of eight periods, its harmonics as strong as said."""
    phases = [2 * np.pi * order / PERIOD * WINDOW + order for order in strengths_db]
    levels = [10 ** (db / 20) for db in strengths_db.values()]
    sound: Samples = np.sum([a * np.sin(p) for a, p in zip(levels, phases, strict=True)], axis=0)
    return sound


def stands_out(sound: Samples, multiple: int) -> bool:
    """Whether one harmonic does in the whole of a sound."""
    told = one_stands_out(
        sound, np.array([0]), len(sound), np.array([PERIOD]), np.array([multiple])
    )
    return bool(told[0])


LONE_SECOND = {1: -16.0, 2: 0.0, 3: -16.0, 4: -17.0, 5: -18.0, 6: -20.0}
# Every second swing weaker: all that lies between the harmonics of the upper note is weak.
ROUGH = {1: -16.0, 2: 0.0, 3: -18.0, 4: -3.0, 5: -21.0, 6: -6.0}
LONE_THIRD = {
    1: -16.0,
    2: -17.0,
    3: 0.0,
    4: -16.0,
    5: -17.0,
    6: -18.0,
    7: -19.0,
    8: -20.0,
    9: -21.0,
}


@pytest.mark.parametrize(
    ("strengths_db", "multiple", "stands"),
    [(LONE_SECOND, 2, True), (LONE_THIRD, 3, True), (ROUGH, 2, False)],
)
def test_one_harmonic_stands_out_where_those_beyond_it_are_alike(
    strengths_db: dict[int, float], multiple: int, stands: bool
) -> None:
    assert stands_out(harmonics(strengths_db), multiple) == stands


def test_it_is_not_told_in_too_few_periods_nor_under_noise() -> None:
    window = harmonics(LONE_SECOND)
    assert not stands_out(window[:180], 2)
    noise = np.random.default_rng(3).standard_normal(window.shape)
    assert not stands_out(window + noise, 2)


def slurred_down(low_hz: float, second_db: float) -> Samples:
    """An octave down on one breath, onto a note whose second harmonic stands over its first and
    third, swelling and fading by itself by 4 dB."""
    time_s = np.arange(round(2.2 * RATE)) / RATE
    turn = np.clip((time_s - 1.0) / 0.03 + 0.5, 0, 1)
    phase = 2 * np.pi * np.cumsum(low_hz * 2 ** (1 - turn)) / RATE
    upper = sum(np.sin(k * phase + k) / k for k in range(1, 7))
    second = 10 ** ((second_db + 4 * np.sin(2 * np.pi * 1.7 * time_s)) / 20)
    lower = sum(np.sin(k * phase + k) for k in (1, 3)) + second * np.sin(2 * phase + 2)
    lower = lower + sum(0.7 ** (k - 3) * np.sin(k * phase + k) for k in range(4, 9))
    edge = np.clip(time_s / 0.03, 0, 1) * np.clip((2.2 - time_s) / 0.03, 0, 1)
    sound: Samples = 0.1 * edge * (upper * (1 - turn) + lower / 3 * turn)
    return sound


@pytest.mark.parametrize("second_db", [8.0, 12.0, 16.0])
@pytest.mark.parametrize("low_hz", [58.27, 77.78, 116.54, 164.81, 233.08])
def test_a_low_note_after_its_octave_is_heard_though_its_second_harmonic_is_strong(
    low_hz: float, second_db: float
) -> None:
    sound = slurred_down(low_hz, second_db)
    heard_hz = tracked(sound).f0_hz
    assert np.abs(1200 * np.log2(heard_hz[10:95] / (2 * low_hz))).max() < 25
    # From 80 ms after the change, about half the window of a pedal.
    assert np.abs(1200 * np.log2(heard_hz[108:210] / low_hz)).max() < 50
    upper, lower = analyse([sound], RATE).notes
    assert upper.midi - lower.midi == 12
