"""A note goes on while its frames lie where it began, in pitch and level."""

import numpy as np
import pytest

from orexis.core.listening.tracking.frames import Frames
from orexis.core.session.steadiness import SteadyFrames


def frames(f0_hz: list[float], level_db: list[float] | None = None) -> Frames:
    rest = np.full(len(f0_hz), 20.0)
    levels = np.array(level_db) if level_db else np.full(len(f0_hz), -20.0)
    return Frames(0, np.array(f0_hz), levels, rest, rest)


def counted(*parts: Frames) -> int:
    going_on = SteadyFrames()
    for part in parts:
        going_on.step(part)
    return going_on.frames


def test_frames_on_one_pitch_are_counted_over_every_step() -> None:
    assert counted(frames([233.0] * 4), frames([234.0] * 4)) == 7


def test_another_note_a_rest_and_a_rise_begin_anew() -> None:
    # A half step is 100 cents, a rise of 8 dB is a new start.
    assert counted(frames([233.0] * 6), frames([246.9] * 3)) == 2
    assert counted(frames([233.0] * 6), frames([np.nan, 233.0, 233.0])) == 1
    assert counted(frames([233.0] * 4, [-30.0, -30.0, -22.0, -22.0])) == 1


@pytest.mark.parametrize(
    ("cents", "rise_db", "count"),
    [
        (39.99, 0.0, 1),
        (-39.99, 0.0, 1),
        (40.01, 0.0, 0),
        (0.0, 6.0, 1),
        (0.0, -6.0, 1),
        (0, 6.1, 0),
    ],
)
def test_it_goes_on_up_to_40_cents_and_6_db(cents: float, rise_db: float, count: int) -> None:
    moved = frames([233.0, 233.0 * 2 ** (cents / 1200)], [-26.0, -26.0 + rise_db])
    assert counted(moved) == count


def test_nothing_goes_on_in_silence() -> None:
    assert counted() == 0
    assert counted(frames([np.nan] * 8)) == 0
