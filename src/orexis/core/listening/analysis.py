"""A whole recording: frames, passages and silences, from the same steps the live path takes."""

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np

from orexis.core.arrays import FloatArray
from orexis.core.horn.pitch import A4_HZ
from orexis.core.listening.notes.beginnings import SlotsBeside
from orexis.core.listening.notes.events import Events, Glide, Note, Passage, Transition
from orexis.core.listening.notes.passages import PassageFollower
from orexis.core.listening.notes.runs import runs
from orexis.core.listening.notes.trills import Trill
from orexis.core.listening.tracking.frames import HOP_S, Frames
from orexis.core.listening.tracking.tracker import FrameTracker

_SHORTEST_SILENCE_S = 0.1
_QUIETEST_UNDER_LOUDEST_DB = 45.0


@dataclass(frozen=True, slots=True)
class Analysis:
    """All that was heard in one recording."""

    duration_s: float
    sample_rate: int
    clipped: bool
    frames: Frames
    events: Events

    @property
    def notes(self) -> tuple[Note, ...]:
        """Every note, in order."""
        return self.events.notes

    @property
    def transitions(self) -> tuple[Transition, ...]:
        """How each note but the last became the next."""
        return self.events.transitions

    @property
    def glides(self) -> tuple[Glide, ...]:
        """Every glide and siren, in order."""
        return self.events.glides

    @property
    def trills(self) -> tuple[Trill, ...]:
        """Every trill, in order."""
        return self.events.trills

    @property
    def silences(self) -> list[tuple[float, float]]:
        """Start and end in seconds of each stretch of 100 ms or more without a pitch."""
        return [
            (start * HOP_S, end * HOP_S)
            for start, end in runs(~self.frames.voiced)
            if (end - start) * HOP_S >= _SHORTEST_SILENCE_S
        ]


def analyse(
    chunks: Iterable[FloatArray],
    sample_rate: int,
    a4_hz: float = A4_HZ,
    drone_hz: float | None = None,
    slots_beside: SlotsBeside | None = None,
) -> Analysis:
    """Listens to mono chunks (1-D, full scale ±1) in order; `slots_beside` is as for
    `PassageFollower`. Raises as `FrameTracker`."""
    tracker = FrameTracker(sample_rate, drone_hz=drone_hz)
    follower = PassageFollower(a4_hz, slots_beside)
    parts: list[Frames] = []
    passages: list[Passage] = []
    samples = 0
    for chunk in chunks:
        samples += len(chunk)
        parts.append(tracker.feed(chunk))
        passages += follower.step(parts[-1])
    parts.append(tracker.finish())
    passages += follower.step(parts[-1]) + follower.finish()
    return Analysis(
        duration_s=samples / sample_rate,
        sample_rate=sample_rate,
        clipped=tracker.clipped,
        frames=Frames.joined(parts),
        events=Events.of(_of_the_player(passages)),
    )


def _of_the_player(passages: list[Passage]) -> list[Passage]:
    """Passages without those too soft beside the rest to be the player's: hum, a distant voice."""
    loudest = max(
        (note.measures.level_db for passage in passages for note in passage.notes),
        default=-np.inf,
    )
    return [
        passage
        for passage in passages
        if not passage.notes
        or max(note.measures.level_db for note in passage.notes)
        >= loudest - _QUIETEST_UNDER_LOUDEST_DB
    ]
