"""A whole recording: frames, passages and silences, from the same steps the live path takes."""

import itertools
from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np

from orexis.core.horn.pitch import A4_HZ, FloatArray
from orexis.core.listening.events import Change, Glide, Note, Passage, Transition
from orexis.core.listening.frames import HOP_S, Frames, FrameTracker
from orexis.core.listening.passages import PassageFollower
from orexis.core.listening.trills import Trill

_SHORTEST_SILENCE_S = 0.1
_QUIETEST_UNDER_LOUDEST_DB = 45.0


@dataclass(frozen=True, slots=True)
class Analysis:
    """All that was heard in one recording."""

    duration_s: float
    sample_rate: int
    clipped: bool
    frames: Frames
    passages: tuple[Passage, ...]

    @property
    def notes(self) -> tuple[Note, ...]:
        """Every note, in order."""
        return tuple(note for passage in self.passages for note in passage.notes)

    @property
    def glides(self) -> tuple[Glide, ...]:
        """Every glide and siren, in order."""
        return tuple(glide for passage in self.passages for glide in passage.glides)

    @property
    def trills(self) -> tuple[Trill, ...]:
        """Every trill, in order."""
        return tuple(trill for passage in self.passages for trill in passage.trills)

    @property
    def transitions(self) -> tuple[Transition, ...]:
        """How each note but the last became the next; across passages with a breath between."""
        found: list[Transition] = []
        with_notes = [passage for passage in self.passages if passage.notes]
        for passage, following in itertools.pairwise([*with_notes, None]):
            if passage is None:
                break
            found += passage.transitions
            if following is not None:
                found.append(_breath(passage.notes[-1], following.notes[0]))
        return tuple(found)

    @property
    def silences(self) -> list[tuple[float, float]]:
        """Start and end in seconds of each stretch of 100 ms or more without a pitch."""
        edges = np.flatnonzero(np.diff(np.concatenate(([0], ~self.frames.voiced, [0]))))
        return [
            (float(start * HOP_S), float(end * HOP_S))
            for start, end in edges.reshape(-1, 2)
            if (end - start) * HOP_S >= _SHORTEST_SILENCE_S
        ]


def analyse(
    chunks: Iterable[FloatArray],
    sample_rate: int,
    a4_hz: float = A4_HZ,
    drone_hz: float | None = None,
) -> Analysis:
    """Listens to mono chunks (1-D, full scale ±1) in order. Raises as `FrameTracker`."""
    tracker = FrameTracker(sample_rate, drone_hz=drone_hz)
    follower = PassageFollower(a4_hz)
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
        passages=_of_the_player(passages),
    )


def _of_the_player(passages: list[Passage]) -> tuple[Passage, ...]:
    """Passages without those too soft beside the rest to be the player's: hum, a distant voice."""
    loudest = max(
        (note.measures.level_db for passage in passages for note in passage.notes),
        default=-np.inf,
    )
    return tuple(
        passage
        for passage in passages
        if not passage.notes
        or max(note.measures.level_db for note in passage.notes)
        >= loudest - _QUIETEST_UNDER_LOUDEST_DB
    )


def _breath(before: Note, after: Note) -> Transition:
    gap_s = after.start_s - before.end_s
    return Transition(
        kind=Change.BREATH,
        start_s=before.end_s,
        duration_s=gap_s,
        gap_s=gap_s,
        touched=(),
        dip_db=0.0,
        waning_db=0.0,
        overshoot_cents=0.0,
        level_change_db=after.measures.level_db - before.measures.level_db,
    )
