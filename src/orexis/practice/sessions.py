"""One session: its sound on disk, its listening, and what comes of it.

A session is its plan, its log and its spool. Taking it up again after a dropped socket, a reload
or a killed server folds the log and replays the spool through the same listening; what was judged
already makes no take again. Where listening fails, that attempt is kept as a recording and played
again, and the session goes on.
"""

import logging
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, field
from datetime import datetime
from functools import partial
from math import ceil

from sqlalchemy.exc import SQLAlchemyError

from orexis.core.exercises.writer import Writer
from orexis.core.horn.setup import Horn
from orexis.core.judging.marks import Mark, marks
from orexis.core.judging.matching import Place
from orexis.core.judging.standard import Standard
from orexis.core.listening.tracking.frames import HOP_S, Frames
from orexis.core.session.building import Setting
from orexis.core.session.log import (
    ButtonPressed,
    Disturbed,
    Entry,
    ExercisePut,
    HelpAsked,
    Overruled,
    Press,
    SessionResumed,
    SoundLost,
    TimeUp,
    Tuned,
)
from orexis.core.session.plan import SessionKind
from orexis.core.session.questions import Question
from orexis.core.session.running import step
from orexis.core.session.stand import Attempt, AttemptSoFar, FollowedSound, Stand
from orexis.core.session.state import Phase, SessionState, due, stretch_at
from orexis.formats.audio import BYTES_PER_SAMPLE, floats_from_pcm
from orexis.practice.care import check_care
from orexis.practice.exercises import writer_for
from orexis.practice.live_sound import Heard, LiveSound, ReplayStoppedError
from orexis.practice.plans import SessionSetup, block_for
from orexis.practice.session_record import SessionRecord
from orexis.practice.takes import JudgedTake, judged
from orexis.store.database import Database
from orexis.store.models import Player, Take
from orexis.store.players import notation_of
from orexis.store.spool import Spool
from orexis.store.takes import passed_tones

log = logging.getLogger(__name__)

_PART_S = 1
"""Sound is listened to in parts no longer than this, which is less than anything lasts that is over
by time alone."""
_NEVER = 1 << 40


_NOT_OF_LISTENING = (OSError, SQLAlchemyError, ReplayStoppedError)
"""What comes from the disk, the data or a newer window, and is no fault of listening."""


@dataclass(frozen=True, slots=True)
class MarksSoFar:
    """What has been heard of the attempt that still sounds: marks, in seconds of the session and
    complete from a frame on, and where in the score it is."""

    first: int
    marks: tuple[Mark, ...]
    reached: Place | None


@dataclass(slots=True)
class Result(Heard):
    """What a stretch of sound brought to a session besides: takes now kept, a glimpse of the
    attempt that still sounds, and whether the session has moved on."""

    takes: list[JudgedTake] = field(default_factory=list)
    glimpsed: MarksSoFar | None = None
    moved: bool = False


class Session(LiveSound):
    """Sound in, frames and takes out. Raises as `SessionRecord`; the spool is then as it was."""

    def __init__(self, database: Database, spool: Spool) -> None:
        self._database = database
        setup = SessionSetup.read(spool.hello)
        self._record = SessionRecord(database, spool.session_id, setup)
        self._record.changed = self._move
        super().__init__(spool, setup, self._record.rate)
        self._horn = self._record.horn
        self._result = Result()
        self._told_to = spool.first_frame
        self._attempt_from: int | None = None
        judged_until = max(self._listen_from, self._record.judged_before)
        self._stand = self._new_stand(spool.first_frame, judged_until)

    def _new_stand(
        self, first_frame: int, judged_until: int, first_sample: int | None = None
    ) -> Stand:
        """A Stand that listens from a frame on."""
        stand = Stand(
            self.state.task,
            self._horn,
            self.state.level,
            self._rate,
            first_frame,
            self.drone_hz,
            judged_until,
            first_sample,
        )
        stand.started, stand.ended, stand.disturbed = self._start, self._judge, self._disturb
        softest_db = self._record.softest_db
        if softest_db is not None:
            stand.learn_level(softest_db)
        return stand

    @property
    def drone_hz(self) -> float | None:
        """As `LiveSound.drone_hz`; the stand-in's sound does not come through it."""
        return self.state.drone_hz if self._record.heard_by_microphone else None

    @property
    def _listen_from(self) -> int:
        """The frame from which a sound starts an attempt."""
        sample = self.state.listen_from
        return _NEVER if sample is None else ceil(sample / (self._rate * HOP_S))

    def _start(self) -> None:
        """Tells the Stand what has passed so far, as the player says by now. The low note between
        attempts is held against the first one."""
        self._attempt_from = self._stand.needed_from
        with self._database.session() as session:
            passed = passed_tones(session, self.player, self._record.row.source)
        reference = self.state.reference
        if self.state.probing is not None and reference is not None:
            passed = [reference, *passed]
        self._stand.learn(passed)

    @property
    def id(self) -> str:
        """Which one it is."""
        return self._record.row.id

    @property
    def state(self) -> SessionState:
        """Where it is."""
        return self._record.state

    @property
    def player(self) -> Player:
        """Whose it is."""
        return self._record.player

    @property
    def horn(self) -> Horn:
        """The horn it began on."""
        return self._horn

    @property
    def title(self) -> str:
        """The session's title, "" for one exercise by itself."""
        return self._record.row.title

    @property
    def latency_s(self) -> float | None:
        """How long its sounds take back to the microphone, where that was measured."""
        return self._record.row.latency_s

    @property
    def a4_hz(self) -> float:
        """What the horn is tuned to."""
        return self._horn.setup.a4_hz

    @property
    def playing_since(self) -> int | None:
        """The frame the sounding attempt started at, if one is sounding."""
        return self._stand.started_frame

    def replay(self) -> Result:
        """As `LiveSound.replay`."""
        with self._calling:
            result = self._heard(
                part for pcm, start in self._spooled() for part in self._listen(pcm, start)
            )
            # Whoever has taken it up knows nothing of it yet.
            result.moved = True
            return result

    def take_in(self, seq: int, pcm: bytes) -> Result:
        """As `LiveSound.take_in`."""
        with self._calling:
            fresh, start = self._written(seq, pcm)
            return self._heard(self._listen(fresh, start)) if fresh else Result()

    def press(self, press: Press) -> Result:
        """The player said something. An attempt that is sounding is kept as far as it went."""
        with self._calling:
            self._cut()
            return self._enter_now(ButtonPressed(self.sample, press))

    def put(self, setting: Setting) -> Result:
        """Puts another exercise in place of the present one. Raises `ExerciseRefusedError`."""
        with self._calling:
            with self._database.session() as session:
                check_care(session, self.player.id, [setting])
            block = block_for(setting, self._writer(), self.state.now.open)
            self._cut()
            return self._enter_now(ExercisePut(self.sample, block))

    def help(self, question: Question) -> Result:
        """A short exercise for a question that was answered with no, then back. Raises
        `ExerciseRefusedError`."""
        with self._calling:
            block = question.block(self._writer())
            self._cut()
            return self._enter_now(HelpAsked(self.sample, block))

    def tune(self, level: Standard, drone_hz: float | None) -> Result:
        """Sets the standard, and the drone that sounds in the room from now on."""
        with self._calling:
            before = self.drone_hz
            if drone_hz != self.state.drone_hz:
                self._cut()
            self._record.enter(Tuned(self.sample, level, drone_hz))
            heard: list[FollowedSound] = []
            if self.drone_hz != before:
                listen = partial(self._stand.sound_in_the_room, self.drone_hz)
                heard = [self._hear(listen, self.sample)]
            return self._heard(heard)

    def overrule(self, take_id: str, passed: bool | None) -> Result:
        """The player says whether a take passed (`None`: as Orexis judged). Raises `LookupError`
        where it is no take of this session."""
        with self._calling:
            with self._database.session() as session:
                take = session.get(Take, take_id)
                if take is None or take.session_id != self.id:
                    raise LookupError(take_id)
                take.overruled_passed = passed
                counts = take.passed
                take.player = self.player
                told = judged(session, take)
            turn = self.state.turn
            after = step(self.state, Overruled(self.sample, take_id, counts))
            if after.turn != turn:
                self._cut()
            result = self._enter_now(Overruled(self.sample, take_id, counts))
            result.takes.append(told)
            return result

    def lose_sound(self) -> Result:
        """The microphone went away."""
        with self._calling:
            self._cut()
            return self._enter_now(SoundLost(self.sample))

    def resume(self, started_at: datetime) -> Result:
        """Goes on with a new clock whose next sample is at a time."""
        with self._calling:
            heard_until = self._record.time_of(self.sample)
            gap_s = max((started_at - heard_until).total_seconds(), 0.0)
            if self.state.ended is not None:
                return Result()
            self._cut()
            return self._enter_now(SessionResumed(self.sample, round(gap_s, 3)))

    def _writer(self) -> Writer:
        with self._database.session() as session:
            return writer_for(session, self.player, self._horn)

    def end(self) -> Result:
        """Leaves the session: an attempt that was sounding is kept as far as it went. One exercise
        by itself is over then; one with a plan is paused, to be gone on with."""
        with self._calling:
            heard = [self._hear(self._stand.finish, self.sample)]
            planned = self._record.row.kind != SessionKind.TASK
            if self.state.ended is None and not self.state.paused:
                press = Press.PAUSE if planned else Press.END
                self._record.enter(ButtonPressed(self.sample, press))
            result = self._heard(heard)
            self._record.left_at(self.sample)
            self._spool.remove()
            return result

    def _listen(self, pcm: bytes, start: int) -> Iterator[FollowedSound]:
        """Listens to sound that begins at a sample, in parts where time is up within it."""
        while pcm:
            up = due(self.state)
            if up is not None and up <= start:
                self._record.enter(TimeUp(up))
                continue
            end = start + _PART_S * self._rate
            size = (end if up is None else min(up, end)) - start
            part, pcm = pcm[: size * BYTES_PER_SAMPLE], pcm[size * BYTES_PER_SAMPLE :]
            start += len(part) // BYTES_PER_SAMPLE
            yield self._hear(partial(self._stand.feed, floats_from_pcm(part)), start)

    def _hear(self, listen: Callable[[], FollowedSound], end: int) -> FollowedSound:
        """What listening up to a sample brings. Where it fails, the attempt that was sounding is
        kept as a recording, and listening begins anew at that sample."""
        try:
            heard = listen()
        except _NOT_OF_LISTENING:
            raise
        except Exception:
            log.exception("Listening to session %s failed before sample %d.", self.id, end)
            heard = self._begin_anew(end)
        if not self._stand.playing:
            self._attempt_from = None
        self._told_to = heard.frames.first + len(heard.frames)
        return heard

    def _begin_anew(self, end: int) -> FollowedSound:
        """Listens anew from a sample on, and keeps what is lost by that."""
        next_frame = ceil(end / (self._rate * HOP_S))
        first = self._stand.needed_from if self._attempt_from is None else self._attempt_from
        self._stand = self._new_stand(next_frame, _NEVER, end)
        pcm = self._spool.read(max(first, self._spool.first_frame), next_frame)
        self._record.keep_unheard(first, end, pcm)
        return FollowedSound(Frames.unheard(self._told_to, next_frame), [])

    def _heard(self, heard: Iterable[FollowedSound]) -> Result:
        frames: list[Frames] = []
        glimpse: AttemptSoFar | None = None
        for part in heard:
            frames.append(part.frames)
            glimpse = part.glimpse
        if not self._stand.playing:
            self._spool.forget_before(self._stand.needed_from)
        result, self._result = self._result, Result()
        result.frames = Frames.joined(frames, self._spool.first_frame)
        result.early = self._stand.early
        result.glimpsed = None if glimpse is None else self._glimpsed(glimpse)
        return result

    def _glimpsed(self, glimpse: AttemptSoFar) -> MarksSoFar | None:
        """What is said of a glimpse; one that cannot be told is left out."""
        name = notation_of(self.player).name
        try:
            found = marks(glimpse.events, name, self.a4_hz, sounding=True)
        except Exception:
            log.exception("A glimpse of session %s could not be told.", self.id)
            return None
        recent = tuple(mark for mark in found if mark.at_s >= glimpse.first * HOP_S)
        return MarksSoFar(glimpse.first, recent, glimpse.reached)

    def _enter_now(self, entry: Entry) -> Result:
        self._record.enter(entry)
        return self._heard([])

    def _move(self, before: SessionState, after: SessionState) -> None:
        """The state has changed: the Stand asks for what is next."""
        self._result.moved = True
        asked = (after.task, after.level, after.listen_from)
        if asked != (before.task, before.level, before.listen_from):
            self._stand.put(after.task, after.level, self._listen_from)

    def _cut(self) -> None:
        """Keeps an attempt that is sounding as far as it went; it counts for nothing."""

        def cut() -> FollowedSound:
            for attempt in self._stand.cut():
                self._keep(attempt, cut=True)
            return FollowedSound(Frames.none(self._told_to), [])

        self._hear(cut, self.sample)

    def _judge(self, attempt: Attempt) -> None:
        self._keep(attempt, cut=False)

    def _keep(self, attempt: Attempt, *, cut: bool) -> None:
        frames = attempt.frames
        pcm = self._spool.read(frames.first, frames.first + len(frames))
        self._result.takes.append(self._record.keep(attempt, pcm, cut=cut))

    def _disturb(self, frame: int) -> None:
        """A note is played where none is listened for."""
        sample = round(frame * HOP_S * self._rate)
        here = stretch_at(self.state, sample)
        resting = here.phase is Phase.REST and here.start <= sample
        if resting and not self.state.disturbed:
            self._record.enter(Disturbed(sample))
