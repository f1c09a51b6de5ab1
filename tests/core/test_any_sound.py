"""Listening falls over nothing, and does not depend on how sound is delivered."""

from collections.abc import Callable

import numpy as np
import pytest

from orexis.core.listening.analysis import analyse
from orexis.core.listening.notes import passages
from orexis.core.listening.notes.events import Passage
from orexis.core.listening.tracking.frames import Frames
from orexis.core.listening.tracking.tracker import FrameTracker
from tests.core.any_sound import CHECKS, check_judging, check_passages, check_stand, check_tracker
from tests.core.test_places import curve, heard
from tests.sounds import RATE, silence, softened, steady
from tests.strange import failing

_HOW_MANY = {"tracker": 200, "microphone": 200, "passages": 1200, "judging": 600, "stand": 150}
_AT_ONCE = 50
_BATCHES = [(name, first) for name in CHECKS for first in range(0, _HOW_MANY[name], _AT_ONCE)]


@pytest.mark.one_in(11)
@pytest.mark.parametrize(("name", "first"), _BATCHES)
def test_whatever_comes_in_is_listened_to(name: str, first: int) -> None:
    seeds = range(1_000_000 + first, 1_000_000 + first + _AT_ONCE)
    assert failing(CHECKS[name], seeds) == []


@pytest.mark.parametrize(
    ("check", "seed"),
    [
        # Notes that overlapped: a blip after short rests, trills that shared a swing, a glide
        # that was taken for the edge of a note beyond a trill.
        (check_passages, 14),
        (check_passages, 37),
        (check_passages, 5011),
        (check_passages, 5373),
        (check_passages, 15968),
        # Swings that all lay on one side.
        (check_passages, 3012),
        # Response that was told from more of the room in one piece than in several.
        (check_passages, 751),
        (check_passages, 5728),
        # An attempt that began with the very first frame.
        (check_stand, 26),
        (check_stand, 89),
        (check_tracker, 0),
        (check_judging, 0),
    ],
)
def test_what_was_found_stays_mended(check: Callable[[int], None], seed: int) -> None:
    assert failing(check, [seed]) == []


@pytest.mark.parametrize("frames", [5, 6, 7, 8])
@pytest.mark.parametrize("sharper_cents", [1, 6, 30, 46, 58])
def test_a_higher_slot_between_a_note_and_the_same_a_little_sharper(
    frames: int, sharper_cents: float
) -> None:
    places, _, _ = heard(curve((5800, 60), (6500, frames), (5800 + sharper_cents, 60)))
    # Nobody went up to another note, so nothing flipped over: the slot is a note of its own, or
    # between two that lie as far apart as a slip may be, passed over.
    assert [place.cents for place in places][:: len(places) - 1] == [5800, 5800 + sharper_cents]
    if sharper_cents < 45:
        assert [place.cents for place in places] == [5800, 6500, 5800 + sharper_cents]
        assert all(place.flipped_before is None for place in places)


class TestAFaultOfOurs:
    """Three notes with a breath between; one of them makes listening fail."""

    NOTE = softened(steady(233.082, 1.0))
    SOUND = np.concatenate((silence(0.5), NOTE, silence(0.6), NOTE, silence(0.6), NOTE))

    def test_in_one_run_of_a_file_leaves_the_rest(self, monkeypatch: pytest.MonkeyPatch) -> None:
        hear, heard_runs = passages.hear_run, 0

        def failing(*given: object, **named: object) -> Passage:
            nonlocal heard_runs
            heard_runs += 1
            if heard_runs == 2:
                raise IndexError("a fault of ours")
            return hear(*given, **named)  # type: ignore[arg-type]

        monkeypatch.setattr(passages, "hear_run", failing)
        analysis = analyse([self.SOUND], RATE)
        assert [round(note.start_s, 1) for note in analysis.notes] == [0.5, 3.7]
        ((start_s, end_s),) = analysis.unheard
        assert start_s < 2.1 + 0.02
        assert end_s > 3.1 - 0.02
        assert "failed to listen from" in analysis.unheard_words

    def test_in_the_tracker_leaves_the_rest_at_its_own_time(
        self, monkeypatch: pytest.MonkeyPatch
    ) -> None:
        feed, fed = FrameTracker.feed, 0

        def failing(self: FrameTracker, samples: np.ndarray) -> Frames:
            nonlocal fed
            fed += 1
            if fed == 3:
                raise ZeroDivisionError("a fault of ours")
            return feed(self, samples)

        monkeypatch.setattr(FrameTracker, "feed", failing)
        analysis = analyse([self.SOUND[: RATE // 2 + 7], self.SOUND[RATE // 2 + 7 :]], 44_100)
        scale = RATE / 44_100
        starts = [note.start_s for note in analysis.notes]
        assert starts[0] == pytest.approx(0.5 * scale, abs=0.03)
        assert starts[-1] == pytest.approx(3.7 * scale, abs=0.03)
        assert len(analysis.frames) == pytest.approx(len(self.SOUND) / 441, abs=2)
        assert len(analysis.unheard) == 1
