"""One session: its sound on disk, its listening, its log, and the takes that come of it.

A session is its plan, its log and its spool. Every entry of the log is on disk before it is
answered, together with the take it is about. Taking it up again after a dropped socket, a reload
or a killed server folds the log and replays the spool through the same listening; what was judged
already makes no take again. Sound that cannot be judged any more is kept as a recording, with the
reason.
"""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field
from datetime import datetime, timedelta
from math import ceil
from threading import Event, Lock

from sqlalchemy.orm import Session as DataSession

from orexis.core.coach.fatigue import signs_of_tiring
from orexis.core.exercises.writer import Writer
from orexis.core.horn.setup import Horn
from orexis.core.judging.gate import GateLevel
from orexis.core.judging.marks import Mark, marks
from orexis.core.judging.seen import Place
from orexis.core.listening.tracking.frames import HOP_S, Frames
from orexis.core.session.building import Setting
from orexis.core.session.log import (
    Disturbed,
    Entry,
    Helped,
    Overruled,
    Press,
    Pressed,
    Put,
    Resumed,
    SoundLost,
    TimeUp,
    Tired,
    Tuned,
)
from orexis.core.session.questions import Question
from orexis.core.session.running import step
from orexis.core.session.stand import Attempt, Followed, Glimpse, Stand
from orexis.core.session.state import Phase, State, due, stretch_at
from orexis.core.session.telling import place_words
from orexis.core.session.timing import Timing, timing_of
from orexis.formats.audio import BYTES_PER_SAMPLE, floats_from_pcm
from orexis.practice.beginning import begin_session, check_care
from orexis.practice.exercises import writer_for
from orexis.practice.kept_sessions import (
    entry_row,
    judged_entry,
    kept_horn,
    kept_log,
    state_of,
    went_documents,
)
from orexis.practice.plans import SessionSetup, block_for
from orexis.practice.takes import JudgedTake, judged, keep_attempt
from orexis.store.database import Database
from orexis.store.history import session_notes
from orexis.store.models import Player, PracticeSession, Take
from orexis.store.players import notation_of
from orexis.store.sessions import report_hurt
from orexis.store.spool import Spool
from orexis.store.takes import Circumstances, judged_until, passed_tones

CHUNK_SAMPLES = 512
_REPLAY_S = 1
_NEVER = 1 << 40


class MissingSoundError(Exception):
    """A chunk came too early; the browser must send again from the one expected."""


class ReplayStoppedError(Exception):
    """A replay was asked to stop; nothing is lost."""


@dataclass(frozen=True, slots=True)
class Glimpsed:
    """What has been heard of the attempt that still sounds: marks, in seconds of the session and
    complete from a frame on, and where in the score it is."""

    first: int
    marks: tuple[Mark, ...]
    reached: Place | None


@dataclass(slots=True)
class Result:
    """What a stretch of sound brought: frames for the ribbon, those after them as far as they
    are known, takes now kept, a glimpse of the attempt that still sounds, and whether the session
    has moved on."""

    frames: Frames = field(default_factory=Frames.none)
    early: Frames = field(default_factory=Frames.none)
    takes: list[JudgedTake] = field(default_factory=list)
    glimpsed: Glimpsed | None = None
    moved: bool = False


class Session:
    """Sound in, frames and takes out. One call at a time: a second waits for the first.

    Raises `ValueError` when what is kept does not say what was played, `NoSuchPlayerError` and
    `ExerciseUnfitError`; the spool is then as it was.
    """

    def __init__(self, database: Database, spool: Spool) -> None:
        self._database = database
        self._calling = Lock()
        self._stopping = Event()
        self._spool = spool
        with database.session() as session:
            row = session.get(PracticeSession, spool.session_id)
            if row is None:
                row = begin_session(session, spool.session_id, SessionSetup.read(spool.hello))
            self._player = session.get_one(Player, row.player_id)
            self._row = row
            log = kept_log(session, row)
            judged_before = judged_until(session, row.id)
        self._rate = row.sample_rate
        self._horn = kept_horn(row)
        self._number = len(log)
        self._state = state_of(row, log)
        self._gaps_s = sum(entry.gap_s for entry in log if isinstance(entry, Resumed))
        self._result = Result()
        self._stand = Stand(
            self._state.task,
            self._horn,
            self._state.level,
            self._rate,
            spool.first_frame,
            self._drone_in_the_room,
            max(self._listen_from, 0 if log else judged_before),
        )
        self._stand.ended = self._judge
        self._stand.disturbed = self._disturb
        self._learn()

    @property
    def _drone_in_the_room(self) -> float | None:
        """The drone that the microphone hears; the stand-in's sound does not come through it."""
        return self._state.drone_hz if self._row.source == "microphone" else None

    @property
    def _listen_from(self) -> int:
        """The frame from which a sound starts a try."""
        sample = self._state.listen_from
        return _NEVER if sample is None else ceil(sample / (self._rate * HOP_S))

    def _learn(self) -> None:
        """Tells the Stand what has passed so far, as the player says; once a try. The low note
        between tries is held against the first one."""
        self._learnt_at = self.playing_since
        with self._database.session() as session:
            passed = passed_tones(session, self._player, self._row.source)
        reference = self._state.reference
        if self._state.probing is not None and reference is not None:
            passed = [reference, *passed]
        self._stand.learn(passed)

    @property
    def id(self) -> str:
        """Which one it is."""
        return self._row.id

    @property
    def state(self) -> State:
        """Where it is."""
        return self._state

    @property
    def player(self) -> Player:
        """Whose it is."""
        return self._player

    @property
    def horn(self) -> Horn:
        """The horn it began on."""
        return self._horn

    @property
    def title(self) -> str:
        """What it is called, "" for one exercise by itself."""
        return self._row.title

    @property
    def sample_rate(self) -> int:
        """Samples a second, from its beginning to its end."""
        return self._rate

    @property
    def latency_s(self) -> float | None:
        """How long its sounds take back to the microphone, where that was measured."""
        return self._row.latency_s

    @property
    def sample(self) -> int:
        """The sample after the last one that is on disk."""
        return self._spool.end_sample

    @property
    def a4_hz(self) -> float:
        """What the horn is tuned to."""
        return self._horn.setup.a4_hz

    @property
    def next_seq(self) -> int:
        """The chunk expected next: everything before it is on disk, written or synced."""
        return self._spool.end_sample // CHUNK_SAMPLES

    @property
    def playing_since(self) -> int | None:
        """The frame the sounding try started at, if one is sounding."""
        return self._stand.started_frame

    def replay(self) -> Result:
        """Listens again to what the spool holds, after it was taken up."""
        with self._calling:
            pcm = self._spool.read(self._spool.first_frame)
            start = self._spool.end_sample - len(pcm) // BYTES_PER_SAMPLE
            size = _REPLAY_S * self._rate
            return self._heard(
                part
                for at in range(0, len(pcm) // BYTES_PER_SAMPLE, size)
                if self._goes_on()
                for part in self._listen(
                    pcm[at * BYTES_PER_SAMPLE : (at + size) * BYTES_PER_SAMPLE], start + at
                )
            )

    def _goes_on(self) -> bool:
        if self._stopping.is_set():
            raise ReplayStoppedError
        return True

    def take_in(self, seq: int, pcm: bytes) -> Result:
        """Writes one or more chunks from number `seq` to disk and listens to them.

        What is already here is passed over. Raises `MissingSoundError` when sound before it is
        missing and `OSError` when the disk is full; nothing is taken in then.
        """
        with self._calling:
            already = self._spool.end_sample - seq * CHUNK_SAMPLES
            if already < 0:
                raise MissingSoundError
            fresh = pcm[already * BYTES_PER_SAMPLE :]
            if not fresh:
                return Result()
            start = self._spool.end_sample
            self._spool.append(fresh)
            return self._heard(self._listen(fresh, start))

    def press(self, press: Press) -> Result:
        """The player said something. A try that is sounding is kept as far as it went."""
        with self._calling:
            self._cut()
            return self._enter_now(Pressed(self.sample, press))

    def put(self, setting: Setting) -> Result:
        """Puts another exercise in place of the present one. Raises `ExerciseRefusedError`."""
        with self._calling:
            with self._database.session() as session:
                check_care(session, self._player.id, [setting])
            block = block_for(setting, self._writer(), self._state.now.open)
            self._cut()
            return self._enter_now(Put(self.sample, block))

    def help(self, question: Question) -> Result:
        """A short exercise for a question that was answered with no, then back. Raises
        `ExerciseRefusedError`."""
        with self._calling:
            block = question.block(self._writer())
            self._cut()
            return self._enter_now(Helped(self.sample, block))

    def tune(self, level: GateLevel, drone_hz: float | None) -> Result:
        """Sets the gate, and the drone that sounds in the room from now on."""
        with self._calling:
            before = self._drone_in_the_room
            if drone_hz != self._state.drone_hz:
                self._cut()
            self._enter(Tuned(self.sample, level, drone_hz))
            heard: list[Followed] = []
            if self._drone_in_the_room != before:
                heard = [self._stand.sound_in_the_room(self._drone_in_the_room)]
            return self._heard(heard)

    def overrule(self, take_id: str, passed: bool | None) -> Result:
        """The player says whether a take passed (`None`: as the gate did). Raises `LookupError`
        where it is no take of this session."""
        with self._calling:
            with self._database.session() as session:
                take = session.get(Take, take_id)
                if take is None or take.session_id != self._row.id:
                    raise LookupError(take_id)
                take.overruled_passed = passed
                counts = take.passed
                take.player = self._player
                told = judged(session, take)
            turn = self._state.turn
            after = step(self._state, Overruled(self.sample, take_id, counts))
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
            heard_until = self._row.started_at + timedelta(
                seconds=self.sample / self._rate + self._gaps_s
            )
            gap_s = max((started_at - heard_until).total_seconds(), 0.0)
            if self._state.ended is not None:
                return Result()
            self._cut()
            self._gaps_s += gap_s
            return self._enter_now(Resumed(self.sample, round(gap_s, 3)))

    def _writer(self) -> Writer:
        with self._database.session() as session:
            return writer_for(session, self._player, self._horn)

    def sync(self) -> int:
        """Forces what was written onto the disk; returns the next chunk wanted after it."""
        with self._calling:
            return self._spool.sync() // CHUNK_SAMPLES

    def interrupt(self) -> None:
        """Makes a replay that is going on stop soon, by `ReplayStoppedError`."""
        self._stopping.set()

    def pause(self) -> None:
        """Lets go of the spool, which stays to be taken up again."""
        with self._calling:
            self._spool.close()

    def end(self) -> Result:
        """Leaves the session: a try that was sounding is kept as far as it went. One exercise by
        itself is over then; one with a plan is paused, to be gone on with."""
        with self._calling:
            heard = [self._stand.finish()]
            planned = bool(self._row.title)
            if self._state.ended is None and not self._state.paused:
                press = Press.PAUSE if planned else Press.END
                self._enter(Pressed(self.sample, press))
            result = self._heard(heard)
            with self._database.session() as session:
                row = session.get_one(PracticeSession, self._row.id)
                row.heard_until = self.sample
            self._spool.remove()
            return result

    def _listen(self, pcm: bytes, start: int) -> Iterator[Followed]:
        """Listens to sound that begins at a sample, in parts where time is up within it."""
        while pcm:
            up = due(self._state)
            if up is not None and up <= start:
                self._enter(TimeUp(up))
                continue
            size = len(pcm) if up is None else (up - start) * BYTES_PER_SAMPLE
            part, pcm = pcm[:size], pcm[size:]
            start += len(part) // BYTES_PER_SAMPLE
            yield self._stand.feed(floats_from_pcm(part))

    def _heard(self, heard: Iterable[Followed]) -> Result:
        frames: list[Frames] = []
        glimpse: Glimpse | None = None
        for part in heard:
            frames.append(part.frames)
            if self.playing_since not in (None, self._learnt_at):
                # What was overruled since the last try counts in this one.
                self._learn()
            glimpse = part.glimpse
        if not self._stand.playing:
            self._spool.forget_before(self._stand.needed_from)
        result, self._result = self._result, Result()
        result.frames = Frames.joined(frames, self._spool.first_frame)
        result.early = self._stand.early
        result.glimpsed = None if glimpse is None else self._glimpsed(glimpse)
        return result

    def _glimpsed(self, glimpse: Glimpse) -> Glimpsed:
        name = notation_of(self._player).name
        found = marks(glimpse.events, name, self.a4_hz, sounding=True)
        recent = tuple(mark for mark in found if mark.at_s >= glimpse.first * HOP_S)
        return Glimpsed(glimpse.first, recent, glimpse.reached)

    def _enter_now(self, entry: Entry) -> Result:
        self._enter(entry)
        return self._heard([])

    def _enter(self, entry: Entry) -> None:
        """Writes an entry down, then follows it."""
        with self._database.session() as session:
            self._write(session, entry)
        self._follow(entry)

    def _write(self, session: DataSession, entry: Entry) -> None:
        """Writes an entry down, and how the session ends where that ends it."""
        session.add(entry_row(self._row.id, self._number, entry))
        after = step(self._state, entry)
        row = session.get_one(PracticeSession, self._row.id)
        if after.closed != self._state.closed:
            row.went = went_documents(after)
        ended = after.ended
        if ended is not None and self._state.ended is None:
            row.ended, row.ended_at = ended.value, self._time_of(entry.sample)
            row.heard_until = entry.sample
            if isinstance(entry, Pressed) and entry.press is Press.HURTS:
                report_hurt(session, self._player.id, self._time_of(entry.sample), row.id)

    def _follow(self, entry: Entry) -> None:
        before = self._state
        self._number += 1
        self._state = after = step(before, entry)
        if after is before:
            return
        self._result.moved = True
        asked = (after.task, after.level, after.listen_from)
        if asked != (before.task, before.level, before.listen_from):
            self._stand.put(after.task, after.level, self._listen_from)

    def _time_of(self, sample: int) -> datetime:
        return self._row.started_at + timedelta(seconds=sample / self._rate + self._gaps_s)

    def _cut(self) -> None:
        """Keeps a try that is sounding as far as it went; it counts for nothing."""
        for attempt in self._stand.cut():
            self._keep(attempt, cut=True)

    def _judge(self, attempt: Attempt) -> None:
        self._keep(attempt, cut=False)

    def _keep(self, attempt: Attempt, *, cut: bool) -> None:
        """Keeps an attempt as a take, with its entry in the log: both or neither."""
        frames = attempt.frames
        pcm = self._spool.read(frames.first, frames.first + len(frames))
        state = self._state
        circumstances = Circumstances(
            player=self._player,
            session_id=self._row.id,
            started_at=self._time_of(round(frames.first * HOP_S * self._rate)),
            source=self._row.source,
            gate_level=state.level,
            sample_rate=self._rate,
            horn=self._horn,
            place=_place(state),
            timing=None if cut else self._timing(attempt),
        )
        with self._database.session() as session:
            take = keep_attempt(session, attempt, state.task, circumstances, pcm)
            take.player = self._player
            entry = judged_entry(attempt, take, self._rate, cut=cut)
            self._write(session, entry)
            self._result.takes.append(judged(session, take))
        self._follow(entry)
        self._look_for_tiring()

    def _look_for_tiring(self) -> None:
        """Ends hard work before the player would, where what was heard says that it is enough."""
        state = self._state
        hard = any(block.works for block in state.blocks[state.block :])
        if state.now.open or state.ended is not None or state.tired or not hard:
            return
        with self._database.session() as session:
            signs = signs_of_tiring(session_notes(session, self._row.id))
        if signs:
            self._enter(Tired(self.sample, signs))

    def _timing(self, attempt: Attempt) -> Timing | None:
        """How it lay against the metronome; the stand-in's sound takes no way through the room."""
        latency_s = self._row.latency_s if self._row.source == "microphone" else 0.0
        return timing_of(self._state, attempt.answers, attempt.frames.first * HOP_S, latency_s)

    def _disturb(self, frame: int) -> None:
        """A note is played where none is listened for."""
        sample = round(frame * HOP_S * self._rate)
        resting = stretch_at(self._state, sample).phase is Phase.REST
        if resting and not self._state.disturbed:
            self._enter(Disturbed(sample))


def _place(state: State) -> str:
    """Where in the session it is, in words."""
    if state.now.open:
        return ""
    rung = "low note" if state.probing is not None else state.at.name
    return ": ".join(part for part in (place_words(state), rung) if part)
