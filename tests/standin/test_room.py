"""Rooms: as loud, as coloured and as long as they say."""

import numpy as np
import pytest

from orexis.standin.room import ROOMS, STILL, Room, heard_in

RATE = 16_000


def _level_db(sound: np.ndarray) -> float:
    return 10 * float(np.log10(np.mean(sound**2)))


def _band_db(sound: np.ndarray, low_hz: float, high_hz: float) -> float:
    power = np.abs(np.fft.rfft(sound)) ** 2
    frequency = np.fft.rfftfreq(len(sound), 1 / RATE)
    return 10 * float(np.log10(power[(frequency >= low_hz) & (frequency < high_hz)].sum()))


@pytest.mark.parametrize("noise", ["hiss_db", "pink_db", "rumble_db", "hum_db", "fan_db"])
def test_noise_is_as_loud_as_said(noise: str) -> None:
    heard = heard_in(Room(**{noise: -50.0}), np.zeros(4 * RATE), RATE)
    assert _level_db(heard) == pytest.approx(-50, abs=0.7)


@pytest.mark.parametrize(("noise", "falls_db"), [("hiss_db", -3), ("pink_db", 0), ("rumble_db", 3)])
def test_an_octave_of_noise_against_the_next_is_its_colour(noise: str, falls_db: float) -> None:
    # An octave is twice as wide as the one below: white rises by 3 dB, brown falls by as much.
    heard = heard_in(Room(**{noise: -40.0}), np.zeros(20 * RATE), RATE)
    below, above = _band_db(heard, 200, 400), _band_db(heard, 400, 800)
    assert below - above == pytest.approx(falls_db, abs=1.0)


def test_a_hum_is_fifty_hertz_and_its_multiples() -> None:
    heard = heard_in(Room(hum_db=-40.0), np.zeros(RATE), RATE)
    lines = np.flatnonzero(np.abs(np.fft.rfft(heard)) > 1.0)
    assert set(lines.tolist()) == {50, 100, 150, 200, 250}


def test_a_tail_falls_by_sixty_decibels_in_its_time() -> None:
    click = np.zeros(RATE)
    click[0] = 1.0
    tail = heard_in(Room(tail_db=-10.0, tail_s=0.5), click, RATE)[1:]
    assert _level_db(tail) + 10 * np.log10(len(tail)) == pytest.approx(-10, abs=0.1)
    early, late = tail[800:2400], tail[5600:7200]
    # 0.3 s apart: 36 dB.
    assert _level_db(early) - _level_db(late) == pytest.approx(36, abs=1.5)


def test_something_knocks_now_and_then() -> None:
    heard = heard_in(Room(knock_db=-30.0, knock_every_s=2.0), np.zeros(30 * RATE), RATE)
    loud = np.abs(heard) > 0.01
    knocks = np.flatnonzero(np.diff(loud.reshape(-1, RATE // 10).any(axis=1).astype(int)) == 1)
    assert 10 <= len(knocks) <= 20


def test_a_room_is_the_same_every_time_and_a_still_one_is_not_heard() -> None:
    sound = 0.1 * np.sin(np.arange(RATE) / 3)
    assert np.array_equal(heard_in(STILL, sound, RATE), sound)
    for room in ROOMS.values():
        assert np.array_equal(heard_in(room, sound, RATE), heard_in(room, sound, RATE))
