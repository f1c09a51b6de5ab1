"""What the tracker makes of a sound, for tests that look at its frames."""

from orexis.core.listening.tracking.frames import Frames
from orexis.core.listening.tracking.tracker import FrameTracker
from tests.sounds import RATE, Samples


def tracked(sound: Samples, rate: int = RATE) -> Frames:
    """All frames of a sound, fed a second at a time."""
    tracker = FrameTracker(rate)
    parts = [tracker.feed(sound[at : at + rate]) for at in range(0, len(sound), rate)]
    return Frames.joined([*parts, tracker.finish()])
