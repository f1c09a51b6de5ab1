"""A note that sounds roughly stays the note it was; a lower note that follows it does not."""

import numpy as np
import pytest

from orexis.core.listening.tracking.rough import MEMORY_FRAMES, goes_on
from orexis.core.listening.tracking.weighing import PENDING
from tests.core.hearing import tracked
from tests.sounds import RATE, Samples, steady

HELD = np.full(MEMORY_FRAMES, 466.0)


@pytest.mark.parametrize(
    ("f0_hz", "swing_hz", "depth"),
    [
        (174.61, 174.61 / 2, 0.4),  # every second swing weaker
        (466.16, 466.16 / 2, 0.4),
        (233.08, 233.08 / 3, 0.4),  # every third
        (349.23, 349.23 / 5, 0.5),
        (233.08, 26.0, 0.8),  # a fluttering tongue
        (349.23, 70.0, 0.6),  # a growl
    ],
)
def test_a_note_that_turns_rough_keeps_its_pitch(
    f0_hz: float, swing_hz: float, depth: float
) -> None:
    time_s = np.arange(round(1.2 * RATE)) / RATE
    growing = depth * np.clip((time_s - 0.4) / 0.05, 0, 1)
    rough = 1 + growing * np.sin(2 * np.pi * swing_hz * time_s)
    heard = tracked(steady(f0_hz, 1.2) * rough).f0_hz[5:-10]
    assert np.abs(1200 * np.log2(heard / f0_hz)).max() < 50


@pytest.mark.parametrize("part", [2, 3, 4])
@pytest.mark.parametrize("upper_hz", [116.54, 174.61, 233.08, 349.23, 466.16])
def test_a_slur_down_to_an_octave_or_more_is_heard(upper_hz: float, part: int) -> None:
    slur = np.concatenate((steady(upper_hz, 0.5), steady(upper_hz / part, 0.6)))
    heard = tracked(slur).f0_hz
    assert np.abs(1200 * np.log2(heard[5:40] / upper_hz)).max() < 10
    assert np.abs(1200 * np.log2(heard[62:100] * part / upper_hz)).max() < 10


def on_the_note(
    f0_hz: list[float],
    clarity: float,
    nearly_hz: float,
    nearly_clarity: float,
    before_hz: Samples = HELD,
) -> tuple[list[bool], list[float]]:
    """Which frames go on in the note before them, and what its pitch is after them."""
    frames = np.zeros(len(f0_hz), PENDING)
    frames["f0_hz"], frames["clarity"] = f0_hz, clarity
    frames["nearly_hz"], frames["nearly_clarity"] = nearly_hz, nearly_clarity
    note_hz = before_hz.copy()
    goes, _ = goes_on(note_hz, frames)
    return goes.tolist(), note_hz[-len(f0_hz) :].tolist()


def test_a_frame_far_under_the_note_belongs_to_it_while_it_is_heard_there_too() -> None:
    goes, note_hz = on_the_note([155.0, 233.0], 0.98, 466.0, 0.85)
    assert goes == [True, True]
    assert note_hz == pytest.approx([466, 466])


@pytest.mark.parametrize(
    ("before_hz", "nearly_hz", "nearly_clarity"),
    [
        (HELD, 466.0, 0.5),  # it is hardly heard there any more
        (HELD, 699.0, 0.9),  # nor is that the note that sounded
        (np.full(MEMORY_FRAMES, np.nan), 466.0, 0.9),  # nothing sounded before
        (np.repeat((np.nan, 466.0), MEMORY_FRAMES // 2), 466.0, 0.9),  # not for long enough
    ],
)
def test_else_the_lower_pitch_stands(
    before_hz: Samples, nearly_hz: float, nearly_clarity: float
) -> None:
    goes, note_hz = on_the_note([155.0], 0.98, nearly_hz, nearly_clarity, before_hz)
    assert goes == [False]
    assert note_hz == [155.0]


def test_an_unclear_frame_off_the_note_counts_as_none() -> None:
    _, (first_hz, second_hz) = on_the_note([300.0, 470.0], 0.7, 466.0, 0.3)
    assert np.isnan(first_hz)
    assert second_hz == 470
