"""The running of the Stand: sound in, repetitions and verdicts out, with no hand on anything.

Playing starts a repetition, half a second without a pitch ends it, and the verdict follows at
once. Sound shorter than a quarter of a second is not a try; three minutes end one.
"""

from dataclasses import dataclass, replace

from orexis.core.coaching.gate import GateLimits, Verdict, judge
from orexis.core.exercises.longtone import LongTone
from orexis.core.horn.pitch import FloatArray
from orexis.core.listening.events import Events, Note, Passage
from orexis.core.listening.frames import Frames
from orexis.core.listening.measures import NoteMeasures
from orexis.core.listening.passages import GLIMPSED_FRAMES, PassageFollower
from orexis.core.listening.tracker import FrameTracker

_STARTING_FRAMES = 8
_SILENCE_FRAMES = 50
_SHORTEST_TRY_FRAMES = 25
_MARGIN_FRAMES = 50
_LONGEST_TRY_FRAMES = 18_000
_GLIMPSE_FRAMES = 25


@dataclass(frozen=True, slots=True)
class Repetition:
    """One try: its frames with half a second either side, its note, and the verdict.

    `measures.centre_cents` is against the pitch asked for; `note` keeps the nearest note.
    `events` is all that was heard, counted from the first of the frames.
    """

    frames: Frames
    events: Events
    note: Note
    measures: NoteMeasures
    verdict: Verdict


@dataclass(frozen=True, slots=True)
class Glimpse:
    """What has been heard of a try that still sounds, in the session's time; complete from
    frame `first` on."""

    first: int
    events: Events


@dataclass(frozen=True, slots=True)
class Heard:
    """What one feed of sound brought: new frames, and the repetitions that ended in them.

    A `glimpse` of the sounding try is there every quarter of a second.
    """

    frames: Frames
    repetitions: list[Repetition]
    glimpse: Glimpse | None = None


class Stand:
    """Listens to one exercise. `feed` it sound; `playing` tells whether a try is sounding.

    `first_frame` and `drone_hz` are as for `FrameTracker`.
    """

    def __init__(
        self,
        exercise: LongTone,
        limits: GateLimits,
        sample_rate: int,
        first_frame: int = 0,
        drone_hz: float | None = None,
    ) -> None:
        self._exercise = exercise
        self._limits = limits
        self._tracker = FrameTracker(sample_rate, first_frame, drone_hz)
        self._follower = PassageFollower(exercise.a4_hz)
        self._kept: list[Frames] = []
        self._needed_from = first_frame
        self._passages: list[Passage] = []
        self._glimpsed_at = first_frame
        self._voiced_row = 0
        self._unvoiced_row = 0
        self.started_frame: int | None = None

    @property
    def playing(self) -> bool:
        """Whether a try is sounding now."""
        return self.started_frame is not None

    @property
    def needed_from(self) -> int:
        """The first frame whose sound may still be wanted for a repetition to come."""
        return self._needed_from

    @property
    def early(self) -> Frames:
        """What may be drawn already after the frames told; it may still change."""
        return self._tracker.early()

    def feed(self, samples: FloatArray) -> Heard:
        """Takes mono samples (full scale ±1). Raises as `FrameTracker.feed`."""
        return self._follow(self._tracker.feed(samples))

    def finish(self) -> Heard:
        """Ends the session: a try that was sounding is judged as far as it went."""
        heard = self._follow(self._tracker.finish())
        self._passages += self._follower.finish()
        return Heard(heard.frames, heard.repetitions + self._end())

    def _follow(self, frames: Frames) -> Heard:
        repetitions: list[Repetition] = []
        taken = frames.first
        for number, voiced in enumerate(frames.voiced, start=frames.first):
            self._voiced_row = self._voiced_row + 1 if voiced else 0
            self._unvoiced_row = 0 if voiced else self._unvoiced_row + 1
            if self.started_frame is None:
                if self._voiced_row >= _STARTING_FRAMES:
                    self.started_frame = number + 1 - _STARTING_FRAMES
            elif (
                self._unvoiced_row >= _SILENCE_FRAMES
                or number - self.started_frame >= _LONGEST_TRY_FRAMES
            ):
                self._keep(frames.between(taken, number + 1))
                taken = number + 1
                repetitions += self._end()
        self._keep(frames.between(taken, frames.first + len(frames)))
        if not self.playing:
            self._forget()
        return Heard(frames, repetitions, self._glimpse(frames.first + len(frames)))

    def _glimpse(self, now: int) -> Glimpse | None:
        if self.started_frame is None or now - self._glimpsed_at < _GLIMPSE_FRAMES:
            return None
        self._glimpsed_at = now
        events = Events.of([*self._passages, *self._follower.glimpse()])
        return Glimpse(max(self.started_frame, now - GLIMPSED_FRAMES), events)

    def _keep(self, frames: Frames) -> None:
        if len(frames):
            self._kept.append(frames)
            self._passages += self._follower.step(frames)

    def _forget(self) -> None:
        """While nothing sounds, only the margin before the next start is kept."""
        end = self._kept[-1].first + len(self._kept[-1]) if self._kept else self._needed_from
        keep_from = end - _MARGIN_FRAMES - _STARTING_FRAMES
        if keep_from > self._needed_from:
            self._needed_from = keep_from
            self._kept = [Frames.joined(self._kept).between(keep_from, end)]

    def _end(self) -> list[Repetition]:
        started, self.started_frame = self.started_frame, None
        events, self._passages = Events.of(self._passages), []
        heard = Frames.joined(self._kept)
        self._forget()
        if started is None or not events.notes:
            return []
        longest = max(events.notes, key=lambda note: note.last - note.first)
        if longest.last - longest.first < _SHORTEST_TRY_FRAMES:
            return []
        frames = heard.between(started - _MARGIN_FRAMES, heard.first + len(heard))
        offset_cents = 100 * (longest.midi - self._exercise.midi) - self._exercise.target_cents
        measures = replace(
            longest.measures, centre_cents=longest.measures.centre_cents + offset_cents
        )
        verdict = judge(measures, self._exercise.hold_s, self._limits)
        return [Repetition(frames, events.earlier(frames.first), longest, measures, verdict)]
