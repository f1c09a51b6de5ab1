"""The round trip of a sound: found in what a loudspeaker, a room and a microphone make of it."""

import numpy as np
import pytest
from scipy.signal import butter, sosfilt

from orexis.core.listening.round_trip import (
    NotHeardError,
    RoundTrip,
    clicks,
    round_trip,
    round_trip_words,
)
from tests.sounds import Samples


def through_a_room(rate: int, delay_s: float, level: float = 0.1, noise: float = 0.0005) -> Samples:
    """The clicks later by a delay, dull, with the echoes of a room and its noise."""
    played = clicks(rate)
    # A delay that is no whole number of samples, exactly, as a turn of every frequency's phase.
    spectrum = np.fft.rfft(played, 2 * len(played))
    hz = np.fft.rfftfreq(2 * len(played), 1 / rate)
    later = np.fft.irfft(spectrum * np.exp(-2j * np.pi * hz * delay_s))[: len(played)]
    dull: Samples = sosfilt(butter(1, 6000, fs=rate, output="sos"), later)
    for echo_s, share in ((0.004, 0.5), (0.011, 0.35), (0.023, 0.3), (0.05, 0.2)):
        steps = round(echo_s * rate)
        dull[steps:] += share * dull[:-steps]
    return level * dull + noise * np.random.default_rng(3).normal(size=len(dull))


@pytest.mark.parametrize("rate", [44_100, 48_000])
@pytest.mark.parametrize("delay_s", [0.0071, 0.0263, 0.0884, 0.2417])
def test_the_round_trip_is_found_within_2_ms(rate: int, delay_s: float) -> None:
    found = round_trip(through_a_room(rate, delay_s), rate)
    assert found.delay_s == pytest.approx(delay_s, abs=0.002)
    assert (found.clicks, found.spread_s < 0.0005) == (10, True)


def test_soft_clicks_in_a_noisy_room_are_found() -> None:
    found = round_trip(through_a_room(48_000, 0.06, level=0.01, noise=0.002), 48_000)
    assert found.delay_s == pytest.approx(0.06, abs=0.002)


def test_headphones_and_silence_are_told() -> None:
    with pytest.raises(NotHeardError, match="Turn the loudspeaker up"):
        round_trip(np.random.default_rng(1).normal(size=9 * 48_000) * 0.001, 48_000)
    with pytest.raises(NotHeardError, match="Only 0 of 10"):
        round_trip(np.zeros(100), 48_000)


def test_a_wandering_clock_is_told() -> None:
    recorded = through_a_room(48_000, 0.03)
    # Sound was lost in the middle, so half of the clicks come early.
    cut = np.concatenate((recorded[: 4 * 48_000], recorded[4 * 48_000 + 960 :]))
    with pytest.raises(NotHeardError, match="apart from each other"):
        round_trip(cut, 48_000)


@pytest.mark.parametrize(("delay_s", "warns"), [(0.03, False), (0.119, False), (0.12, True)])
def test_a_long_way_is_told_to_be_that_of_bluetooth(delay_s: float, warns: bool) -> None:
    words = round_trip_words(RoundTrip(delay_s, 0.0004, 9))
    assert words.startswith("From 9 clicks, ± 0.4 ms.")
    assert ("with a cable" in words) is warns
