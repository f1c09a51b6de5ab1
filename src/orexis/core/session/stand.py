"""The running of the Stand: sound in, repetitions and verdicts out, with no hand on anything.

Playing starts a repetition, half a second without a pitch ends it, and the verdict follows at
once. Sound shorter than a quarter of a second is not a try; three minutes end one.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import partial

from orexis.core.arrays import FloatArray
from orexis.core.exercises.longtone import LongTone
from orexis.core.horn.ways import slots_beside
from orexis.core.judging.gate import NO_NOTE_YET, GateLimits, Likeness, Verdict, judge
from orexis.core.listening.notes.events import Events, Note, Passage
from orexis.core.listening.notes.measures import NoteMeasures
from orexis.core.listening.notes.passages import GLIMPSED_FRAMES, PassageFollower
from orexis.core.listening.notes.tone import Baseline, Tone
from orexis.core.listening.tracking.frames import Frames
from orexis.core.listening.tracking.tracker import FrameTracker

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
class Followed:
    """What one feed of sound brought: new frames, and the repetitions that ended in them.

    A `glimpse` of the sounding try is there every quarter of a second.
    """

    frames: Frames
    repetitions: list[Repetition]
    glimpse: Glimpse | None = None


class Stand:
    """Listens to one exercise. `feed` it sound; `playing` tells whether a try is sounding.

    `first_frame` and `drone_hz` are as for `FrameTracker`. Sound before frame `judged_until`
    was judged before: it may lead to a try, but makes none.
    """

    def __init__(
        self,
        exercise: LongTone,
        limits: GateLimits,
        sample_rate: int,
        first_frame: int = 0,
        drone_hz: float | None = None,
        judged_until: int = 0,
    ) -> None:
        self._exercise = exercise
        self._limits = limits
        self._tracker = FrameTracker(sample_rate, first_frame, drone_hz)
        self._follower = self._new_follower()
        self._kept: list[Frames] = []
        self._needed_from = first_frame
        self._passages: list[Passage] = []
        self._glimpsed_at = first_frame
        self._judged_until = judged_until
        self._passed: list[Tone] = []
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

    def learn(self, passed: Sequence[Tone]) -> None:
        """Tells which notes have passed so far, newest first; the next ones are held against
        them."""
        self._passed = list(passed)

    def feed(self, samples: FloatArray) -> Followed:
        """Takes mono samples (full scale ±1). Raises as `FrameTracker.feed`."""
        return self._follow(self._tracker.feed(samples))

    def finish(self) -> Followed:
        """Ends the session: a try that was sounding is judged as far as it went."""
        heard = self._follow(self._tracker.finish())
        return Followed(heard.frames, heard.repetitions + self._end())

    def _follow(self, frames: Frames) -> Followed:
        repetitions: list[Repetition] = []
        taken = frames.first
        for number, voiced in enumerate(frames.voiced, start=frames.first):
            if number < self._judged_until:
                continue
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
        return Followed(frames, repetitions, self._glimpse(frames.first + len(frames)))

    def _glimpse(self, now: int) -> Glimpse | None:
        if self.started_frame is None or now - self._glimpsed_at < _GLIMPSE_FRAMES:
            return None
        self._glimpsed_at = now
        events = Events.of([*self._passages, *self._follower.glimpse()])
        return Glimpse(max(self.started_frame, now - GLIMPSED_FRAMES), events)

    def _keep(self, frames: Frames) -> None:
        end = frames.first + len(frames)
        before = frames.between(frames.first, self._judged_until)
        if len(before):
            self._kept.append(before)
            self._hear_afresh()
        if end > self._judged_until and len(frames):
            unjudged = frames.between(self._judged_until, end)
            self._kept.append(unjudged)
            self._passages += self._follower.step(unjudged)

    def _hear_afresh(self) -> None:
        """Starts a new run of sound here; of what went before, only the levels lead to it."""
        kept = Frames.joined(self._kept)
        end = kept.first + len(kept)
        self._follower = self._new_follower()
        self._follower.step(kept.between(end - _SILENCE_FRAMES, end).hushed)

    def _forget(self) -> None:
        """While nothing sounds, only the margin before the next start is kept."""
        end = self._kept[-1].first + len(self._kept[-1]) if self._kept else self._needed_from
        keep_from = end - _MARGIN_FRAMES - _STARTING_FRAMES
        if keep_from > self._needed_from:
            self._needed_from = keep_from
            self._kept = [Frames.joined(self._kept).between(keep_from, end)]
            self._passages = [one for one in self._passages if one.last > keep_from]

    def _end(self) -> list[Repetition]:
        started, self.started_frame = self.started_frame, None
        events = Events.of([*self._passages, *self._follower.finish()])
        self._passages, self._voiced_row = [], 0
        # What sounds on after this is heard as it is when a session is taken up here.
        self._hear_afresh()
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
        tone = _tone_of(longest, measures)
        verdict = judge(
            measures,
            self._exercise.hold_s,
            self._limits,
            cracked=longest.cracked_from_midi is not None,
            like=self._likeness(tone),
        )
        if verdict.passed:
            self._passed.insert(0, tone)
        return [Repetition(frames, events.earlier(frames.first), longest, measures, verdict)]

    def _new_follower(self) -> PassageFollower:
        exercise = self._exercise
        return PassageFollower(exercise.a4_hz, partial(slots_beside, exercise.horn))

    def _likeness(self, tone: Tone) -> Likeness:
        """How like the last note that passed a tone is."""
        if not self._passed:
            return NO_NOTE_YET
        last = self._passed[0]
        match = Baseline(self._passed).match(tone, last)
        why = "" if match is not None else "your own tone is not known here yet"
        return Likeness(match, tone.level_db - last.level_db, why)


def _tone_of(note: Note, measures: NoteMeasures) -> Tone:
    return Tone(
        note.midi,
        measures.level_db,
        note.harmonicity_db,
        note.brightness,
        measures.centre_cents,
        measures.spread_cents,
    )
