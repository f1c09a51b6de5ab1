"""A note that sounds roughly stays the note it was; a lower note that follows it does not."""

import numpy as np
import pytest

from orexis.core.listening.tracking.rough import MEMORY_FRAMES, goes_on
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


def test_a_frame_far_under_the_note_belongs_to_it_while_it_is_heard_there_too() -> None:
    goes, note_hz = goes_on(
        HELD, np.array([155.0, 233.0]), np.array([0.98, 0.98]), HELD[:2], np.array([0.85, 0.85])
    )
    assert goes.all()
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
    goes, note_hz = goes_on(
        before_hz,
        np.array([155.0]),
        np.array([0.98]),
        np.array([nearly_hz]),
        np.array([nearly_clarity]),
    )
    assert not goes.any()
    assert note_hz.tolist() == [155.0]


def test_an_unclear_frame_off_the_note_counts_as_none() -> None:
    _, note_hz = goes_on(
        HELD, np.array([300.0, 470.0]), np.array([0.7, 0.7]), HELD[:2], np.array([0.3, 0.3])
    )
    assert np.isnan(note_hz[0])
    assert note_hz[1] == 470
