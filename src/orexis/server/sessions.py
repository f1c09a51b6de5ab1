"""One session on the Stand: its sound on disk, its listening, and the takes that come of it.

A session is nothing but its spool and the record: taking it up again after a dropped socket or
a killed server replays the spool through the same listening, and takes already kept are found
rather than kept twice.
"""

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import timedelta
from threading import Lock

from orexis.core.coaching.gate import DEFAULT_LIMITS, GateLevel
from orexis.core.coaching.marks import marks
from orexis.core.coaching.stand import Glimpse, Heard, Repetition, Stand
from orexis.core.exercises.longtone import LongTone
from orexis.core.listening.frames import HOP_S, Frames
from orexis.formats.analysis import events_document, frames_document
from orexis.formats.audio import BYTES_PER_SAMPLE, flac_from_pcm, floats_from_pcm
from orexis.server.problems import not_found
from orexis.server.schemas import Hello
from orexis.server.take_schemas import JudgedTake, MarkOut
from orexis.store.database import Database
from orexis.store.horns import horn_of
from orexis.store.models import Player
from orexis.store.players import notation_of
from orexis.store.spool import Spool
from orexis.store.takes import Circumstances, save_repetition

CHUNK_SAMPLES = 512
_REPLAY_SAMPLES = 48_000


@dataclass(frozen=True, slots=True)
class Result:
    """What a stretch of sound brought: frames for the ribbon, those after them as far as they
    are known, takes now kept, and marks on the try that still sounds, in seconds of the session
    and complete from a frame on."""

    frames: Frames
    early: Frames
    takes: list[JudgedTake]
    marks_from: int = 0
    marks: list[MarkOut] | None = None


class MissingSoundError(Exception):
    """A chunk came too early; the browser must send again from the one expected."""


class Session:
    """Sound in, frames and takes out. One call at a time; `pause` waits for the one running."""

    def __init__(self, database: Database, spool: Spool) -> None:
        self._database = database
        self._calling = Lock()
        self._spool = spool
        self._hello = Hello.model_validate(spool.hello)
        with database.session() as session:
            player = session.get(Player, self._hello.player_id)
            if player is None:
                raise not_found("player")
            self._player = player
            horn = horn_of(session, player)
        self.exercise = LongTone(horn, self._hello.midi, self._hello.hold_s)
        self._stand = Stand(
            self.exercise,
            DEFAULT_LIMITS[GateLevel(player.gate_level)],
            self._hello.sample_rate,
            spool.first_frame,
            self._hello.drone_hz,
        )

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
        pcm = self._spool.read(self._spool.first_frame)
        size = _REPLAY_SAMPLES * BYTES_PER_SAMPLE
        return self._kept(
            self._stand.feed(floats_from_pcm(pcm[at : at + size]))
            for at in range(0, len(pcm), size)
        )

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
        return self._spool.sync() // CHUNK_SAMPLES

    def pause(self) -> None:
        """Lets go of the spool, which stays to be taken up again."""
        with self._calling:
            self._spool.close()

    def end(self) -> Result:
        """Ends the session: a try that was sounding is kept as far as it went."""
        result = self._kept([self._stand.finish()])
        self._spool.remove()
        return result

    def _kept(self, heard: "Iterator[Heard] | list[Heard]") -> Result:
        frames: list[Frames] = []
        takes: list[JudgedTake] = []
        glimpse: Glimpse | None = None
        for part in heard:
            frames.append(part.frames)
            glimpse = part.glimpse
            takes += [self._keep(repetition) for repetition in part.repetitions]
        if not self._stand.playing:
            self._spool.forget_before(self._stand.needed_from)
        joined = Frames.joined(frames, self._spool.first_frame)
        early = self._stand.early
        if glimpse is None:
            return Result(joined, early, takes)
        return Result(joined, early, takes, glimpse.first, self._marks(glimpse))

    def _marks(self, glimpse: Glimpse) -> list[MarkOut]:
        reference = self.exercise.midi + self.exercise.target_cents / 100
        found = marks(
            glimpse.events,
            reference,
            notation_of(self._player).name,
            self.exercise.a4_hz,
            sounding=True,
        )
        return [MarkOut.of(mark) for mark in found if mark.at_s >= glimpse.first * HOP_S]

    def _keep(self, repetition: Repetition) -> JudgedTake:
        frames = repetition.frames
        pcm = self._spool.read(frames.first, frames.first + len(frames))
        hello = self._hello
        circumstances = Circumstances(
            player=self._player,
            session_id=self._spool.session_id,
            started_at=hello.started_at + timedelta(seconds=frames.first * HOP_S),
            source=hello.source,
            gate_level=self._player.gate_level,
            sample_rate=hello.sample_rate,
        )
        with self._database.session() as session:
            take = save_repetition(
                session,
                repetition,
                self.exercise,
                circumstances,
                flac_from_pcm(pcm, hello.sample_rate),
                frames_document(frames),
                events_document(repetition.events),
            )
            take.player = self._player
            return JudgedTake.judged(session, take)
