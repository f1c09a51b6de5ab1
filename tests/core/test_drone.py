"""The drone that the application plays itself, leaking into the microphone."""

import numpy as np
import pytest

from orexis.core.listening.tracking.drone import DroneCanceller, DroneGate
from tests.sounds import RATE, Samples, noise, silence, softened, steady

DRONE_HZ = 220.0


def leak(seconds: float, level_db: float = -38.0, hz: float = DRONE_HZ) -> Samples:
    """The drone at the microphone, its RMS given."""
    sound = steady(hz, seconds)
    return sound * 10 ** (level_db / 20) / float(sound.std())


def level_db(sound: Samples) -> float:
    return float(20 * np.log10(max(float(sound.std()), 1e-12)))


def cancelled(sound: Samples, hz: float = DRONE_HZ, chunk: int = 512) -> Samples:
    canceller = DroneCanceller(RATE, hz)
    return np.concatenate(
        [canceller.feed(sound[at : at + chunk]) for at in range(0, len(sound), chunk)]
    )


@pytest.mark.parametrize("hz", [65.4, 110.0, 220.0, 466.2])
@pytest.mark.parametrize("leak_db", [-50.0, -38.0, -30.0])
def test_a_drone_alone_is_gone_after_a_moment(hz: float, leak_db: float) -> None:
    left = cancelled(leak(2.0, leak_db, hz), hz)
    # Harmonics over 6 kHz stay: of 466 Hz the last three of fifteen, 20 dB under the whole.
    assert level_db(left[RATE:]) <= leak_db - (25 if 15 * hz < 6000 else 19)


def test_noise_in_the_room_does_not_keep_it_from_being_measured() -> None:
    left = cancelled(leak(2.0) + noise(2.0, 10 ** (-60 / 20)))
    assert level_db(left[RATE:]) <= -55


def test_the_player_is_left_as_they_are() -> None:
    player = np.concatenate((silence(1.0), softened(steady(311.127, 1.0))))
    left = cancelled(leak(2.0) + player)
    played = slice(round(1.1 * RATE), round(1.9 * RATE))
    assert level_db(left[played] - player[played]) <= level_db(player[played]) - 35


def test_a_player_on_its_very_pitch_is_not_taken_for_it() -> None:
    player = np.concatenate((silence(1.0), softened(0.3 * steady(DRONE_HZ, 2.0))))
    left = cancelled(leak(3.0) + player)
    end = slice(round(2.5 * RATE), round(2.9 * RATE))
    assert level_db(left[end]) == pytest.approx(level_db(player[end]), abs=0.5)


def test_a_drone_that_fades_is_followed_when_it_sounds_alone_again() -> None:
    sound = np.concatenate((leak(1.0, -34), leak(2.0, -44)))
    left = cancelled(sound)
    assert level_db(left[-RATE:]) <= -60


def test_chunks_of_any_size_give_the_same_sound() -> None:
    sound = leak(1.0)
    sound[RATE // 2 :] += softened(steady(311.127, 0.5))
    whole = cancelled(sound, chunk=len(sound))
    for chunk in (97, 480, 512, 4800):
        assert np.allclose(cancelled(sound, chunk=chunk), whole, atol=1e-12)


def test_silence_stays_silence() -> None:
    assert np.array_equal(cancelled(silence(0.5)), silence(0.5))


def test_how_loud_it_leaks_is_known_from_when_it_was_measured() -> None:
    canceller = DroneCanceller(RATE, DRONE_HZ)
    canceller.feed(leak(1.0, -36))
    assert canceller.leak_db(RATE // 2) == pytest.approx(-36, abs=0.5)
    # Where it was heard once it may be as loud as that; before, it could be anything a loudspeaker
    # does.
    assert canceller.leak_db(10) == pytest.approx(-36, abs=0.5)
    assert DroneCanceller(RATE, DRONE_HZ).leak_db(10) == -25
    unheard = DroneCanceller(RATE, DRONE_HZ)
    unheard.feed(noise(1.0, 1e-5))
    assert unheard.leak_db(RATE - 1) == -44


def test_what_was_taken_for_it_and_is_gone_in_a_pause_is_the_players() -> None:
    # A note on its very pitch, again and again, and nothing of the drone in the microphone.
    note = np.concatenate((steady(DRONE_HZ, 1.0) * 10 ** (-20 / 20), silence(0.6)))
    canceller = DroneCanceller(RATE, DRONE_HZ)
    left = canceller.feed(np.tile(note, 8)).reshape(8, -1)
    whole = float((note**2).sum())
    assert float((left[0] ** 2).sum()) < 0.5 * whole
    for again in left[3:]:
        assert float((again**2).sum()) == pytest.approx(whole, rel=0.01)


@pytest.mark.parametrize(
    ("pitch", "level", "kept"),
    [
        (220.0, -37, False),  # the drone itself
        (440.0, -37, False),  # its octave, left over
        (110.0, -37, False),  # or heard an octave low
        (55.0, -37, True),  # a pedal
        (73.3, -37, True),
        (220.0, -30, True),  # a player on it, louder than it leaks
        (247.0, -45, True),  # any other note, however soft
    ],
)
def test_only_what_may_be_the_drone_is_kept_back(pitch: float, level: float, kept: bool) -> None:
    found = DroneGate(DRONE_HZ).pass_on(np.array([pitch]), np.array([level]), np.array([-38.0]))
    assert np.isfinite(found[0]) == kept


@pytest.mark.parametrize("hz", [29.9, 1201.0])
def test_a_drone_nobody_could_sound_is_refused(hz: float) -> None:
    with pytest.raises(ValueError, match="between 30 and 1200 Hz"):
        DroneCanceller(RATE, hz)
