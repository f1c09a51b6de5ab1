"""One session on the Stand: its sound on disk, its listening, and the takes that come of it.

A session is nothing but its spool and the record: taking it up again after a dropped socket or
a killed server replays the spool through the same listening, and what was judged already makes
no take again. Sound that cannot be judged any more is kept as a recording, with the reason.
"""

from collections.abc import Callable, Iterable, Iterator
from dataclasses import asdict, dataclass
from datetime import UTC, datetime, timedelta
from threading import Event, Lock
from typing import Any

from orexis.core.exercises.book import ONE_NOTE, check_heard, find_family, task_of
from orexis.core.exercises.family import ExerciseRefusedError, Value, Values
from orexis.core.exercises.task import Task
from orexis.core.exercises.writer import Writer
from orexis.core.judging.gate import GateLevel
from orexis.core.judging.marks import Mark, marks
from orexis.core.judging.seen import Place
from orexis.core.listening.tracking.frames import HOP_S, Frames
from orexis.core.session.stand import Attempt, Followed, Glimpse, Stand
from orexis.core.times import EARLIEST, LATEST
from orexis.formats.audio import BYTES_PER_SAMPLE, floats_from_pcm
from orexis.practice.exercises import writer_for
from orexis.practice.recordings import listen_to
from orexis.practice.takes import JudgedTake, judged, keep_attempt
from orexis.store.database import Database
from orexis.store.horns import horn_of
from orexis.store.models import Player
from orexis.store.players import notation_of
from orexis.store.recordings import save_recording
from orexis.store.spool import Spool
from orexis.store.takes import Circumstances, judged_until, passed_in, passed_tones

CHUNK_SAMPLES = 512
_REPLAY_S = 1


class NoSuchPlayerError(Exception):
    """The session's player is not there."""


class ExerciseUnfitError(Exception):
    """The session's exercise cannot be played on the horn as it is; the message says why."""


class MissingSoundError(Exception):
    """A chunk came too early; the browser must send again from the one expected."""


class ReplayStoppedError(Exception):
    """A replay was asked to stop; nothing is lost."""


@dataclass(frozen=True, slots=True)
class SessionSetup:
    """What a session says of itself. `family` and `values` are the exercise; `drone_hz` is a tone
    the application itself is sounding; `started_at` is when its sample 0 was."""

    player_id: int
    family: str
    values: Values
    source: str
    sample_rate: int
    drone_hz: float | None
    started_at: datetime

    def as_json(self) -> dict[str, Any]:
        """The same for a spool."""
        return {**asdict(self), "started_at": self.started_at.isoformat()}

    @classmethod
    def read(cls, kept: dict[str, Any]) -> "SessionSetup":
        """What a spool says. Raises `ValueError` when it makes no sense."""
        try:
            drone_hz = kept.get("drone_hz")
            setup = cls(
                player_id=int(kept["player_id"]),
                family=str(kept.get("family", ONE_NOTE)),
                values=_values(kept),
                source=str(kept["source"]),
                sample_rate=int(kept["sample_rate"]),
                drone_hz=None if drone_hz is None else float(drone_hz),
                started_at=datetime.fromisoformat(kept["started_at"]).astimezone(UTC),
            )
        except (LookupError, TypeError, OverflowError, AttributeError) as error:
            raise ValueError(f"it does not say what was played: {error!r}") from error
        setup.check()
        return setup

    def task_on(self, writer: Writer) -> Task:
        """The exercise, written. Raises `ExerciseRefusedError` for one that cannot be listened to
        on the horn as it is."""
        task = task_of(find_family(self.family), writer, self.values)
        check_heard(task)
        return task

    def check(self) -> None:
        """Raises `ValueError` for a time nobody practises at."""
        if not EARLIEST <= self.started_at < LATEST:
            raise ValueError("The clock of this computer is wrong: set it, then try again.")


def _values(kept: dict[str, Any]) -> Values:
    """What the exercise was set to; spools of before knew one held note alone."""
    if "family" not in kept:
        return {"from_midi": float(int(kept["midi"])), "hold_s": float(kept["hold_s"])}
    found: dict[str, Value] = {}
    for key, value in kept["values"].items():
        found[str(key)] = value if isinstance(value, str) else float(value)
    return found


@dataclass(frozen=True, slots=True)
class Glimpsed:
    """What has been heard of the attempt that still sounds: marks, in seconds of the session and
    complete from a frame on, and where in the score it is."""

    first: int
    marks: tuple[Mark, ...]
    reached: Place | None


@dataclass(frozen=True, slots=True)
class Result:
    """What a stretch of sound brought: frames for the ribbon, those after them as far as they
    are known, takes now kept, and a glimpse of the attempt that still sounds."""

    frames: Frames
    early: Frames
    takes: list[JudgedTake]
    glimpsed: Glimpsed | None = None


class Session:
    """Sound in, frames and takes out. One call at a time: a second waits for the first.

    Raises `ValueError` when the spool does not say what was played, `NoSuchPlayerError` and
    `ExerciseUnfitError`; the spool is then as it was.
    """

    def __init__(self, database: Database, spool: Spool) -> None:
        self._database = database
        self._calling = Lock()
        self._stopping = Event()
        self._spool = spool
        self._setup = SessionSetup.read(spool.hello)
        with database.session() as session:
            player = session.get(Player, self._setup.player_id)
            if player is None:
                raise NoSuchPlayerError
            self._player = player
            writer = writer_for(session, player)
            judged_before = judged_until(session, spool.session_id)
        try:
            self._task = self._setup.task_on(writer)
        except ExerciseRefusedError as error:
            raise ExerciseUnfitError(str(error)) from error
        self._horn = writer.horn
        self._stand = Stand(
            self._task,
            self._horn,
            GateLevel(player.gate_level),
            self._setup.sample_rate,
            spool.first_frame,
            self._setup.drone_hz,
            judged_before,
        )
        self._learn()

    def _learn(self) -> None:
        """Tells the Stand what has passed so far, as the player says; once a try."""
        self._learnt_at = self.playing_since
        with self._database.session() as session:
            self._stand.learn(passed_tones(session, self._player, self._setup.source))

    @property
    def a4_hz(self) -> float:
        """What the horn is tuned to."""
        return self._horn.setup.a4_hz

    def repeated(self) -> tuple[int, int]:
        """How many repetitions have passed, as the player says, and how many there are."""
        with self._database.session() as session:
            return passed_in(session, self._spool.session_id), self._task.score.times

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
            size = _REPLAY_S * self._setup.sample_rate * BYTES_PER_SAMPLE
            return self._kept(
                self._stand.feed(floats_from_pcm(pcm[at : at + size]))
                for at in range(0, len(pcm), size)
                if self._goes_on()
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
                return Result(Frames.none(), Frames.none(), [])
            self._spool.append(fresh)
            return self._kept([self._stand.feed(floats_from_pcm(fresh))])

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
        """Ends the session: a try that was sounding is kept as far as it went."""
        with self._calling:
            result = self._kept([self._stand.finish()])
            self._spool.remove()
            return result

    def _kept(self, heard: Iterable[Followed]) -> Result:
        frames: list[Frames] = []
        kept: list[JudgedTake] = []
        glimpse: Glimpse | None = None
        for part in heard:
            frames.append(part.frames)
            if self.playing_since not in (None, self._learnt_at):
                # What was overruled since the last try counts in this one.
                self._learn()
            glimpse = part.glimpse
            kept += [self._keep(attempt) for attempt in part.attempts]
        if not self._stand.playing:
            self._spool.forget_before(self._stand.needed_from)
        joined = Frames.joined(frames, self._spool.first_frame)
        early = self._stand.early
        glimpsed = None if glimpse is None else self._glimpsed(glimpse)
        return Result(joined, early, kept, glimpsed)

    def _glimpsed(self, glimpse: Glimpse) -> Glimpsed:
        name = notation_of(self._player).name
        found = marks(glimpse.events, name, self.a4_hz, sounding=True)
        recent = tuple(mark for mark in found if mark.at_s >= glimpse.first * HOP_S)
        return Glimpsed(glimpse.first, recent, glimpse.reached)

    def _keep(self, attempt: Attempt) -> JudgedTake:
        frames = attempt.frames
        pcm = self._spool.read(frames.first, frames.first + len(frames))
        circumstances = Circumstances(
            player=self._player,
            session_id=self._spool.session_id,
            started_at=self._setup.started_at + timedelta(seconds=frames.first * HOP_S),
            source=self._setup.source,
            gate_level=self._player.gate_level,
            sample_rate=self._setup.sample_rate,
            horn=self._horn,
        )
        with self._database.session() as session:
            take = keep_attempt(session, attempt, self._task, circumstances, pcm)
            take.player = self._player
            return judged(session, take)


def recover(
    database: Database, spool: Spool, begun: Callable[[Session], None] = lambda session: None
) -> None:
    """Ends a session nobody came back to: its takes are kept, or its sound as a recording.

    `begun` is given the session before its replay. Raises `OSError` (a full disk) and what the
    database does; the spool then stays. One that makes no sense is set aside.
    """
    try:
        session = Session(database, spool)
    except ExerciseUnfitError as error:
        keep_unjudged(database, spool, str(error))
        return
    except NoSuchPlayerError:
        spool.set_aside("its player is not there any more")
        return
    except ValueError as error:
        spool.set_aside(str(error))
        return
    try:
        begun(session)
        session.replay()
        session.end()
    finally:
        session.pause()


def keep_unjudged(database: Database, spool: Spool, reason: str) -> bool:
    """Keeps what a session's exercise cannot judge any more as a recording, with the reason;
    false where there was nothing in it. The spool is then gone."""
    setup = SessionSetup.read(spool.hello)
    with database.session() as session:
        player = session.get_one(Player, setup.player_id)
        horn = horn_of(session, player)
        first = max(spool.first_frame, judged_until(session, spool.session_id))
        pcm = spool.read(first)
        sounding = len(pcm) >= setup.sample_rate * BYTES_PER_SAMPLE * HOP_S
        if sounding:
            started_at = setup.started_at + timedelta(seconds=first * HOP_S)
            name = f"Played {started_at.astimezone():%d.%m. %H:%M}"
            sound = listen_to(
                _seconds(pcm, setup.sample_rate), setup.sample_rate, name, horn, reason
            )
            save_recording(session, player, sound, started_at)
    spool.remove()
    return sounding


def _seconds(pcm: bytes, sample_rate: int) -> Iterator[Any]:
    size = sample_rate * BYTES_PER_SAMPLE
    for at in range(0, len(pcm), size):
        yield floats_from_pcm(pcm[at : at + size])
