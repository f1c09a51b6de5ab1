"""The running of the Stand: sound in, attempts and verdicts out, with no hand on anything.

Playing starts an attempt, silence ends it (how long is its task's), and the verdict follows at
once. Sound of less than a quarter of a second in all is no attempt; three minutes end one, or
twice the time that its music takes.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import partial

from orexis.core.arrays import FloatArray
from orexis.core.exercises.task import Task
from orexis.core.horn.setup import Horn
from orexis.core.horn.ways import slots_beside
from orexis.core.judging.attempts import Verdict, judge
from orexis.core.judging.matching import Answer, Place, last_reached, lay_beside
from orexis.core.judging.standard import Standard
from orexis.core.listening.notes.events import Events, Note, Passage
from orexis.core.listening.notes.passages import GLIMPSED_FRAMES, PassageFollower
from orexis.core.listening.notes.players import of_the_player
from orexis.core.listening.notes.tone import Tone
from orexis.core.listening.tracking.frames import HOP_S, Frames
from orexis.core.listening.tracking.tracker import FrameTracker
from orexis.core.session.starting import Starting
from orexis.core.session.steadiness import SteadyFrames

_TOLD_FRAMES = 6
"""What is heard is followed in steps of so many frames: only the eye cannot wait."""
_SILENT_FRAMES = 5
"""What sounded on from before is over after so many unvoiced frames."""
_SHORTEST_TRY_FRAMES = 25
_MARGIN_FRAMES = 50
_LONGEST_TRY_FRAMES = 18_000
_GLIMPSE_FRAMES, _NOTHING_NEW_FRAMES = 25, 100
_TOLD_OF_FRAMES = 60
"""A glimpse has seen a note that has gone on for so long, and how it began."""
_CUT_FRAMES = 100
"""Where a glimpse begins within a note, what is so near may be the rest of it, not a note."""


@dataclass(frozen=True, slots=True)
class Attempt:
    """One repetition: its frames with half a second before and the silence after, how each note
    that was asked for was answered, and the verdict. `events` is all that was heard, counted from
    the first of the frames."""

    frames: Frames
    events: Events
    answers: tuple[Answer, ...]
    verdict: Verdict


@dataclass(frozen=True, slots=True)
class AttemptSoFar:
    """What has been heard of an attempt that still sounds, in the session's time; complete from
    frame `first` on. `reached` is where in the score it is."""

    first: int
    events: Events
    reached: Place | None


@dataclass(frozen=True, slots=True)
class FollowedSound:
    """What one feed of sound brought: new frames, and the attempts that ended in them.

    A `glimpse` of the sounding attempt is there every quarter of a second, and once a second
    while one note just goes on.
    """

    frames: Frames
    attempts: list[Attempt]
    glimpse: AttemptSoFar | None = None


class Stand:
    """Listens to one exercise, repetition by repetition. `feed` it sound; `playing` tells whether
    an attempt is sounding. How the sound is cut up when it is fed changes nothing in what starts an
    attempt, ends it or is judged: `started`, `ended` and `disturbed` are called at the frame where
    that happens, and what they `put` holds from the next frame on.

    `first_frame` and `drone_hz` are as for `FrameTracker`; `first_sample` is the first that is fed,
    where that comes before the frame. Sound before frame `judged_until` was judged before: it may
    lead to an attempt, but makes none.
    """

    def __init__(
        self,
        task: Task,
        horn: Horn,
        level: Standard,
        sample_rate: int,
        first_frame: int = 0,
        drone_hz: float | None = None,
        judged_until: int = 0,
        first_sample: int | None = None,
    ) -> None:
        self.started: Callable[[], None] = lambda: None
        self.ended: Callable[[Attempt], None] = lambda attempt: None
        self.disturbed: Callable[[int], None] = lambda frame: None
        self._horn = horn
        self._starting = Starting(task)
        self._ask(task, level)
        self._rate = sample_rate
        self._tracker = FrameTracker(sample_rate, first_frame, drone_hz, _TOLD_FRAMES)
        self._skip_to = round(first_frame * sample_rate * HOP_S)
        self._fed_to = self._skip_to if first_sample is None else first_sample
        self._follower = self._new_follower()
        self._kept: list[Frames] = []
        self._needed_from = first_frame
        self._passages: list[Passage] = []
        self._followed: list[Note] = []
        self._glimpsed_at = first_frame
        self._going_on = SteadyFrames()
        self._judged_until = judged_until
        self._passed: list[Tone] = []
        self._unvoiced_row = 0
        self._sounds_on = False
        self.started_frame: int | None = None

    def _ask(self, task: Task, level: Standard) -> None:
        self._task = task.once
        self._level = level
        self._done_frames = round(task.ending.done_s / HOP_S)
        self._silence_frames = round(task.ending.silence_s / HOP_S)
        written_frames = round(2 * self._task.score.seconds / HOP_S)
        self._longest_frames = max(_LONGEST_TRY_FRAMES, written_frames)

    @property
    def playing(self) -> bool:
        """Whether an attempt is sounding now."""
        return self.started_frame is not None

    @property
    def needed_from(self) -> int:
        """The first frame whose sound may still be wanted for an attempt to come."""
        return self._needed_from

    @property
    def early(self) -> Frames:
        """What may be drawn already after the frames told; it may still change."""
        return self._tracker.early()

    def put(self, task: Task, level: Standard, listen_from: int) -> None:
        """Asks for something else, from a frame on. What sounds on from before it makes no
        attempt."""
        self._ask(task, level)
        self._starting.put(task)
        self._judged_until = listen_from

    def cut(self) -> list[Attempt]:
        """Ends an attempt that is sounding, judged as far as it went; `ended` is not called."""
        return self._end()

    def sound_in_the_room(self, drone_hz: float | None) -> FollowedSound:
        """Says which tone sounds in the room from now on (none: `None`); an attempt that is
        sounding goes on."""
        frames, self._tracker, self._skip_to = self._tracker.with_drone(drone_hz)
        return self._follow(frames)

    def learn(self, passed: Sequence[Tone]) -> None:
        """Tells which notes have passed so far, newest first; the next ones are held against
        them."""
        self._passed = list(passed)

    def learn_level(self, level_db: float) -> None:
        """Tells how softly the player has played so far: what is far softer starts no attempt."""
        self._starting.learn(level_db)

    def feed(self, samples: FloatArray) -> FollowedSound:
        """Takes mono samples (full scale ±1). Raises as `FrameTracker.feed`."""
        heard = self._tracker.feed(samples[max(self._skip_to - self._fed_to, 0) :])
        self._fed_to += len(samples)
        return self._follow(heard)

    def finish(self) -> FollowedSound:
        """Ends the session: an attempt that was sounding is judged as far as it went."""
        heard = self._follow(self._tracker.finish())
        left = self._end()
        for attempt in left:
            self.ended(attempt)
        return FollowedSound(heard.frames, heard.attempts + left)

    def _follow(self, frames: Frames) -> FollowedSound:
        if not len(frames):
            return FollowedSound(frames, [])
        attempts: list[Attempt] = []
        taken = frames.first
        for place, voiced in enumerate(frames.voiced.tolist()):
            number = frames.first + place
            self._unvoiced_row = 0 if voiced else self._unvoiced_row + 1
            if self.started_frame is None:
                self._look_for_a_start(frames, place)
            elif self._may_be_over(number):
                self._keep(frames.between(taken, number + 1))
                taken = number + 1
                if self._is_over(number):
                    for attempt in self._end():
                        attempts.append(attempt)
                        self.ended(attempt)
        self._keep(frames.between(taken, frames.first + len(frames)))
        self._going_on.step(frames)
        if not self.playing:
            self._forget()
        return FollowedSound(frames, attempts, self._glimpse(frames.first + len(frames)))

    def _look_for_a_start(self, frames: Frames, place: int) -> None:
        """Whether an attempt begins, with one more frame that belongs to none."""
        number = frames.first + place
        started = self._starting.step(frames, place)
        if number < self._judged_until:
            self._sounds_on = self._unvoiced_row < _SILENT_FRAMES
            if started is not None:
                self._starting.reset()
                self.disturbed(started)
        elif self._sounds_on and started is None:
            self._sounds_on = self._unvoiced_row < _SILENT_FRAMES
            if self._sounds_on:
                self._starting.reset()
        elif started is not None and not self._sounds_on:
            self.started_frame = started
            self.started()

    def _may_be_over(self, number: int) -> bool:
        """Whether it is time to look if the attempt is over."""
        at_a_silence = self._unvoiced_row in (self._done_frames, self._silence_frames)
        return at_a_silence or self._is_too_long(number)

    def _is_over(self, number: int) -> bool:
        """Whether the attempt is over: by its silence, its length, or since all of it was heard."""
        silent = self._unvoiced_row >= self._silence_frames
        return silent or self._is_too_long(number) or self._is_done()

    def _is_too_long(self, number: int) -> bool:
        return number - (self.started_frame or 0) >= self._longest_frames

    def _is_done(self) -> bool:
        """Whether as many notes as were asked for have been heard, and the last of them last."""
        heard = self._players([*self._of_the_attempt(), *self._follower.so_far()])
        asked = lay_beside(self._task, heard, self._horn).asked
        return bool(asked) and len(heard.notes) >= len(asked) and asked[-1].heard is not None

    def _heard(self) -> Events:
        """All that has been heard of the sounding attempt."""
        return self._players([*self._of_the_attempt(), *self._follower.glimpse()])

    def _players(self, passages: list[Passage]) -> Events:
        return Events.of(of_the_player(passages, self._starting.room_db))

    def _of_the_attempt(self) -> list[Passage]:
        """The passages that are over and belong to the sounding attempt, its margin included."""
        since = (self.started_frame or 0) - _MARGIN_FRAMES
        return [passage for passage in self._passages if passage.last > since]

    def _glimpse(self, now: int) -> AttemptSoFar | None:
        goes_on = self._going_on.frames >= _TOLD_OF_FRAMES
        waits_frames = _NOTHING_NEW_FRAMES if goes_on else _GLIMPSE_FRAMES
        if self.started_frame is None or now - self._glimpsed_at < waits_frames:
            return None
        self._glimpsed_at = now
        events = self._heard()
        first = max(self.started_frame, now - GLIMPSED_FRAMES + _CUT_FRAMES)
        # A glimpse does not reach back over a long breath: what came before is known from others.
        before = [note for note in self._followed if note.first < first]
        self._followed = before + [note for note in events.notes if note.first >= first]
        reached = last_reached(self._task, self._followed, self._horn)
        return AttemptSoFar(first, events, reached)

    def _keep(self, frames: Frames) -> None:
        if not len(frames):
            return
        end = frames.first + len(frames)
        if frames.first < self._judged_until:
            self._kept.append(frames.between(frames.first, self._judged_until))
            self._hear_afresh()
        if end > self._judged_until:
            unjudged = frames.between(self._judged_until, end)
            self._kept.append(unjudged)
            self._passages += self._follower.step(unjudged)

    def _hear_afresh(self) -> None:
        """Starts a new run of sound here; of what went before, only the levels lead to it."""
        kept = Frames.joined(self._kept)
        end = kept.first + len(kept)
        self._follower = self._new_follower()
        self._follower.step(kept.between(end - _MARGIN_FRAMES, end).hushed)

    def _forget(self) -> None:
        """While nothing sounds, only the margin before the next start is kept."""
        end = self._kept[-1].first + len(self._kept[-1]) if self._kept else self._needed_from
        first = self._starting.first_frame
        keep_from = (end if first is None else first) - _MARGIN_FRAMES
        if keep_from > self._needed_from:
            self._needed_from = keep_from
            self._kept = [Frames.joined(self._kept).between(keep_from, end)]
            self._passages = [passage for passage in self._passages if passage.last > keep_from]

    def _end(self) -> list[Attempt]:
        events = self._players([*self._of_the_attempt(), *self._follower.finish()])
        started, self.started_frame = self.started_frame, None
        self._passages, self._followed = [], []
        self._starting.reset()
        # What sounds on after this is heard as it is when a session is taken up here.
        self._hear_afresh()
        heard = Frames.joined(self._kept)
        self._forget()
        if started is None or events.sounding_frames < _SHORTEST_TRY_FRAMES:
            return []
        frames = heard.between(started - _MARGIN_FRAMES, heard.first + len(heard))
        events = events.earlier(frames.first)
        seen = lay_beside(self._task, events, self._horn, tuple(self._passed))
        verdict = judge(seen, self._level)
        levels = [answer.heard.measures.level_db for answer in seen.answers if answer.heard]
        if levels:
            self._starting.learn(min(levels))
        if verdict.passed:
            tones = [answer.tone for answer in seen.answers]
            self._passed[:0] = [tone for tone in reversed(tones) if tone is not None]
        return [Attempt(frames, events, seen.answers, verdict)]

    def _new_follower(self) -> PassageFollower:
        return PassageFollower(self._horn.setup.a4_hz, partial(slots_beside, self._horn))
