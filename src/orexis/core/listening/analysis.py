"""A whole recording: frames, passages and silences, from the same steps the live path takes."""

import logging
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from math import ceil

from orexis.core.arrays import FloatArray
from orexis.core.horn.pitch import A4_HZ
from orexis.core.listening.notes.beginnings import SlotsBeside
from orexis.core.listening.notes.events import Events, Glide, Note, Passage, Transition
from orexis.core.listening.notes.passages import PassageFollower
from orexis.core.listening.notes.players import of_the_player, room_level_db
from orexis.core.listening.notes.runs import runs
from orexis.core.listening.notes.trills import Trill
from orexis.core.listening.tracking.frames import HOP_S, Frames
from orexis.core.listening.tracking.tracker import FrameTracker

log = logging.getLogger(__name__)

_SHORTEST_SILENCE_S = 0.1


@dataclass(frozen=True, slots=True)
class Analysis:
    """All that was heard in one recording. `unheard` are the stretches in which listening failed,
    start and end in seconds: a fault of Orexis and not of the sound."""

    duration_s: float
    sample_rate: int
    clipped: bool
    frames: Frames
    events: Events
    unheard: tuple[tuple[float, float], ...] = ()

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
    def unheard_words(self) -> str:
        """Where listening failed, in a sentence; "" where it did not."""
        if not self.unheard:
            return ""
        where = " and ".join(f"from {start:.1f} s to {end:.1f} s" for start, end in self.unheard)
        return f"Orexis failed to listen {where}. You see what it heard of the rest."

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
    listening = Listening(sample_rate, a4_hz, drone_hz, slots_beside)
    for chunk in chunks:
        for part in _parts(chunk, sample_rate):
            listening.feed(part)
    return listening.finish()


@dataclass(frozen=True, slots=True)
class HeardPart:
    """What was heard with the last part of a sound: how many seconds there have been of it, the
    levels (dB) of the frames now known, and the passages that ended."""

    duration_s: float
    level_db: FloatArray
    passages: tuple[Passage, ...]


def heard_parts(
    chunks: Iterable[FloatArray],
    sample_rate: int,
    a4_hz: float = A4_HZ,
    drone_hz: float | None = None,
    slots_beside: SlotsBeside | None = None,
) -> Iterator[HeardPart]:
    """Listens as `analyse` does and keeps nothing: tells after each second or less what was heard
    with it."""
    listening = Listening(sample_rate, a4_hz, drone_hz, slots_beside)

    def told() -> HeardPart:
        frames, passages = Frames.joined(listening.frames), tuple(listening.passages)
        listening.frames, listening.passages = [], []
        return HeardPart(listening.samples / sample_rate, frames.level_db, passages)

    for chunk in chunks:
        for part in _parts(chunk, sample_rate):
            listening.feed(part)
            yield told()
    listening.end()
    yield told()


def _parts(chunk: FloatArray, sample_rate: int) -> Iterator[FloatArray]:
    """A chunk in parts of at most a second: no more than one is lost where listening fails."""
    yield from (chunk[at : at + sample_rate] for at in range(0, len(chunk), sample_rate))


class Listening:
    """Listens to a recording part by part, of at most a second each, and keeps what was heard.
    Where a part cannot be listened to for a fault of ours, the rest still is."""

    def __init__(
        self,
        sample_rate: int,
        a4_hz: float,
        drone_hz: float | None,
        slots_beside: SlotsBeside | None,
    ) -> None:
        self.samples = 0
        self.clipped = False
        self.frames: list[Frames] = []
        self.passages: list[Passage] = []
        self.unheard: list[tuple[float, float]] = []
        self._rate, self._drone_hz = sample_rate, drone_hz
        self._tracker = FrameTracker(sample_rate, drone_hz=drone_hz)
        self._follower = PassageFollower(a4_hz, slots_beside, self._leave_out)
        self._told_to = self._skip = 0

    def feed(self, part: FloatArray) -> None:
        """Takes the next samples. Raises `ValueError` for what is no sound."""
        start, self.samples = self.samples, self.samples + len(part)
        heard, self._skip = part[self._skip :], max(self._skip - len(part), 0)
        try:
            frames = self._tracker.feed(heard)
        except ValueError:
            raise
        except Exception:
            frames = self._begin_anew(start)
        self._follow(frames)
        self.clipped = self.clipped or self._tracker.clipped

    def sound_in_the_room(self, drone_hz: float | None) -> None:
        """Says which tone sounds in the room from now on (none: `None`)."""
        if drone_hz == self._drone_hz:
            return
        frames, self._tracker, begins = self._tracker.with_drone(drone_hz)
        self._follow(frames)
        self._drone_hz = drone_hz
        self._skip = max(begins - self.samples, 0)

    def sounding(self) -> list[Passage]:
        """The passage that is sounding, as far as it has gone: its last seconds."""
        return self._follower.glimpse()

    def early(self) -> Frames:
        """The frames after those that are known, as far as they can be told; they may change."""
        return self._tracker.early()

    def end(self) -> None:
        """Ends the recording."""
        try:
            frames = self._tracker.finish()
        except Exception:
            frames = self._begin_anew(self.samples)
        self._follow(frames)
        self.passages += self._follower.finish()

    def finish(self) -> Analysis:
        """Ends the recording; all that was heard in it."""
        self.end()
        frames = Frames.joined(self.frames)
        return Analysis(
            duration_s=self.samples / self._rate,
            sample_rate=self._rate,
            clipped=self.clipped,
            frames=frames,
            events=Events.of(of_the_player(self.passages, room_level_db(frames.level_db))),
            unheard=tuple(self.unheard),
        )

    def _follow(self, frames: Frames) -> None:
        self.frames.append(frames)
        self._told_to = frames.first + len(frames)
        self.passages += self._follower.step(frames)

    def _begin_anew(self, start: int) -> Frames:
        """Tracks anew from the first frame after what could not be, which is given as unheard."""
        log.exception("Tracking failed after sample %d.", start)
        first = ceil(self.samples / (self._rate * HOP_S))
        self._tracker = FrameTracker(self._rate, first, self._drone_hz)
        self._skip = round(first * self._rate * HOP_S) - self.samples
        self._note(self._told_to, first)
        return Frames.unheard(self._told_to, first)

    def _leave_out(self, first: int, last: int) -> None:
        """A run of sound that could not be made sense of."""
        log.exception("Listening failed between frames %d and %d.", first, last)
        self._note(first, last)

    def _note(self, first: int, last: int) -> None:
        self.unheard.append((first * HOP_S, last * HOP_S))
