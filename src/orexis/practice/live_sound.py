"""Sound that comes in live: on disk before it is listened to, and heard anew after a break."""

import logging
from abc import ABC, abstractmethod
from collections.abc import Iterator
from dataclasses import dataclass, field
from datetime import datetime
from threading import Event, Lock

from orexis.core.listening.microphone.check import MicrophoneCheck, MicrophoneHeard, Processing
from orexis.core.listening.tracking.frames import HOP_S, Frames
from orexis.formats.audio import BYTES_PER_SAMPLE, floats_from_pcm
from orexis.practice.plans import SessionSetup
from orexis.store.models import Player
from orexis.store.spool import Spool

log = logging.getLogger(__name__)

CHUNK_SAMPLES = 512
_REPLAY_FRAMES = 100
_CHECKED_EVERY_S = 1.0


class MissingSoundError(Exception):
    """A chunk came too early; the browser must send again from the one expected."""


class ReplayStoppedError(Exception):
    """A replay was asked to stop; nothing is lost."""


@dataclass(slots=True)
class Heard:
    """What a stretch of sound brought: frames for the ribbon, and those after them as far as they
    are known."""

    frames: Frames = field(default_factory=Frames.none)
    early: Frames = field(default_factory=Frames.none)


class LiveSound(ABC):
    """A spool that is written to and listened to. One call at a time: a second waits for the
    first."""

    def __init__(self, spool: Spool, setup: SessionSetup, sample_rate: int) -> None:
        self.setup = setup
        """What it said of itself when it began."""
        self._calling = Lock()
        self._stopping = Event()
        self._spool = spool
        self._rate = sample_rate
        self._check: MicrophoneCheck | None = None
        self._checked_at = 0
        self.microphone: MicrophoneHeard | None = None
        """What is known of the microphone, told anew every second of sound; `None` where none is
        watched."""

    @property
    @abstractmethod
    def drone_hz(self) -> float | None:
        """The drone that sounds in the room now (Hz), if any."""

    @property
    @abstractmethod
    def a4_hz(self) -> float:
        """What the horn is tuned to."""

    @property
    @abstractmethod
    def player(self) -> Player | None:
        """Whose sound it is; only free playing can belong to nobody yet."""

    @property
    def full(self) -> bool:
        """Whether it must end now, since no more can be kept together."""
        return False

    @property
    def sample_rate(self) -> int:
        """Samples a second, from its beginning to its end."""
        return self._rate

    @property
    def sample(self) -> int:
        """The sample after the last one that is on disk."""
        return self._spool.end_sample

    @property
    def next_seq(self) -> int:
        """The chunk expected next: everything before it is on disk, written or synced."""
        return self._spool.end_sample // CHUNK_SAMPLES

    @abstractmethod
    def replay(self) -> Heard:
        """Listens again to what the spool holds, after it was taken up."""

    @abstractmethod
    def take_in(self, seq: int, pcm: bytes) -> Heard:
        """Writes one or more chunks from number `seq` to disk and listens to them.

        What is already here is passed over. Raises `MissingSoundError` when sound before it is
        missing and `OSError` when the disk is full; nothing is taken in then.
        """

    @abstractmethod
    def resume(self, started_at: datetime) -> Heard:
        """Goes on with a new clock whose next sample is at a time."""

    @abstractmethod
    def end(self) -> Heard:
        """Leaves it; the spool is gone then."""

    def watch(self, processing: frozenset[Processing]) -> None:
        """Watches how well the microphone hears from now on; the browser says what it does to the
        sound."""
        self._check = MicrophoneCheck(self._rate, processing)
        self.microphone = self._check.told()

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

    def _spooled(self) -> Iterator[tuple[bytes, int]]:
        """What the spool holds, a second at a time, each with its first sample. Raises
        `ReplayStoppedError` once it is interrupted."""
        first, end = self._spool.first_frame, self._spool.end_sample
        while (start := round(first * self._rate * HOP_S)) < end:
            if self._stopping.is_set():
                raise ReplayStoppedError
            yield self._spool.read(first, first + _REPLAY_FRAMES), start
            first += _REPLAY_FRAMES

    def _written(self, seq: int, pcm: bytes) -> tuple[bytes, int]:
        """Writes chunks to disk as `take_in` says; what of them is new, and the sample that begins
        at."""
        already = self._spool.end_sample - seq * CHUNK_SAMPLES
        if already < 0:
            raise MissingSoundError
        fresh, start = pcm[already * BYTES_PER_SAMPLE :], self._spool.end_sample
        if fresh:
            self._spool.append(fresh)
            self._watched(fresh)
        return fresh, start

    def _watched(self, pcm: bytes) -> None:
        """Tells the microphone check of new sound. A drone is not the room's, so nothing is told
        while one sounds; a fault of the check costs the check alone."""
        if self._check is None or self.drone_hz is not None:
            return
        try:
            self._check.feed(floats_from_pcm(pcm))
            if self.sample - self._checked_at >= _CHECKED_EVERY_S * self._rate:
                self._checked_at = self.sample
                self.microphone = self._check.told()
        except Exception:
            log.exception("The microphone check failed before sample %d.", self.sample)
            self._check = self.microphone = None
