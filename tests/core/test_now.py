"""The note that sounds now."""

import numpy as np
import pytest

from orexis.core.listening.now import note_now
from orexis.core.listening.tracking.frames import Frames
from orexis.core.listening.tracking.tracker import FrameTracker
from tests.sounds import RATE, noise, silence, steady


def heard(*parts: np.ndarray) -> Frames:
    tracker = FrameTracker(RATE)
    return Frames.joined([tracker.feed(np.concatenate(parts)), tracker.finish()])


@pytest.mark.parametrize(("hz", "midi", "cents"), [(440, 69, 0.0), (452.893, 69, 50 - 0.001)])
def test_it_is_the_nearest_note_and_how_far_off_it_is(hz: float, midi: int, cents: float) -> None:
    now = note_now(heard(steady(hz, 0.6)))
    assert now is not None
    assert now.midi == midi
    assert now.cents == pytest.approx(cents, abs=0.5)


def test_it_goes_by_the_tuning_of_the_horn() -> None:
    now = note_now(heard(steady(440, 0.6)), a4_hz=442)
    assert now is not None
    assert now.cents == pytest.approx(-7.85, abs=0.1)


def test_nothing_sounds_in_silence_in_noise_or_after_a_note() -> None:
    assert note_now(Frames.none()) is None
    assert note_now(heard(silence(0.5))) is None
    assert note_now(heard(noise(0.5, 0.01))) is None
    assert note_now(heard(steady(440, 0.6), silence(0.4))) is None


def test_what_is_as_soft_as_a_room_is_no_note() -> None:
    assert note_now(heard(0.001 * steady(440, 0.6))) is None
