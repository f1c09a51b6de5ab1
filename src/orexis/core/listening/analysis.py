"""A whole recording: frames, notes and silences, from the same steps the live path takes."""

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np

from orexis.core.horn.pitch import A4_HZ, FloatArray
from orexis.core.listening.frames import HOP_S, Frames, FrameTracker
from orexis.core.listening.notes import Note, NoteFollower

_SHORTEST_SILENCE_S = 0.1


@dataclass(frozen=True, slots=True)
class Analysis:
    """All that was heard in one recording."""

    duration_s: float
    sample_rate: int
    clipped: bool
    frames: Frames
    notes: list[Note]

    @property
    def silences(self) -> list[tuple[float, float]]:
        """Start and end in seconds of each stretch of 100 ms or more without a pitch."""
        edges = np.flatnonzero(np.diff(np.concatenate(([0], ~self.frames.voiced, [0]))))
        return [
            (float(start * HOP_S), float(end * HOP_S))
            for start, end in edges.reshape(-1, 2)
            if (end - start) * HOP_S >= _SHORTEST_SILENCE_S
        ]


def analyse(chunks: Iterable[FloatArray], sample_rate: int, a4_hz: float = A4_HZ) -> Analysis:
    """Listens to mono chunks (1-D, full scale ±1) in order. Raises as `FrameTracker.feed`."""
    tracker = FrameTracker(sample_rate)
    follower = NoteFollower(a4_hz)
    parts: list[Frames] = []
    notes: list[Note] = []
    samples = 0
    for chunk in chunks:
        samples += len(chunk)
        parts.append(tracker.feed(chunk))
        notes += follower.step(parts[-1])
    parts.append(tracker.finish())
    notes += follower.step(parts[-1]) + follower.finish()
    return Analysis(
        duration_s=samples / sample_rate,
        sample_rate=sample_rate,
        clipped=tracker.clipped,
        frames=Frames.joined(parts),
        notes=notes,
    )
