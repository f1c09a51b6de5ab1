"""Playing without a task: what sounds now, and at the end a recording with all that was heard."""

from dataclasses import dataclass
from datetime import datetime
from functools import partial

from orexis.core.horn.ways import Way, slots_beside, standard_way
from orexis.core.listening.analysis import Listening
from orexis.core.listening.notes.players import room_level_db
from orexis.core.listening.now import NoteNow, note_now
from orexis.core.listening.sitting import Sitting, sitting_of
from orexis.core.listening.tracking.frames import Frames
from orexis.formats.analysis import analysis_document
from orexis.formats.audio import FlacWriter, floats_from_pcm
from orexis.practice.beginning import ExerciseUnfitError, NoSuchPlayerError
from orexis.practice.care import waits_since
from orexis.practice.live_sound import Heard, LiveSound
from orexis.practice.plans import SessionSetup
from orexis.store.database import Database
from orexis.store.horns import horn_of
from orexis.store.models import Player
from orexis.store.players import find_player
from orexis.store.recordings import AnalysedSound, save_recording
from orexis.store.spool import Spool

_KEPT_FRAMES = 30
"""So many of the newest frames tell what sounds now."""


@dataclass(frozen=True, slots=True)
class FreeOver:
    """What came of it: the recording that was kept (`None` where no note was heard), and what was
    played."""

    recording_id: str | None
    sitting: Sitting


@dataclass(slots=True)
class FreeResult(Heard):
    """What a stretch of sound brought besides: the note that sounds now, how the horn gives it, and
    at the end what came of it all."""

    now: NoteNow | None = None
    way: Way | None = None
    over: FreeOver | None = None


class FreePlaying(LiveSound):
    """Sound in; frames, the note that sounds, and a recording out.

    Raises `ValueError` for a spool that makes no sense, `NoSuchPlayerError`, and
    `ExerciseUnfitError` where it is to begin while something hurts; the spool is then as it was.
    """

    def __init__(self, database: Database, spool: Spool) -> None:
        self._setup = SessionSetup.read(spool.hello)
        super().__init__(spool, self._setup.sample_rate)
        self._database = database
        with database.session() as session:
            player = find_player(session, self._setup.player_id)
            if player is None:
                raise NoSuchPlayerError
            if not spool.end_sample and (reason := waits_since(session, player.id)):
                raise ExerciseUnfitError(reason)
            self.player: Player = player
            self.horn = horn_of(session, player)
        by_microphone = self._setup.source == "microphone"
        self._listening = Listening(
            self._rate,
            self.a4_hz,
            self._setup.drone_hz if by_microphone else None,
            partial(slots_beside, self.horn),
        )
        self._told_frames = 0
        self._newest = Frames.none()

    @property
    def a4_hz(self) -> float:
        """What the horn is tuned to."""
        return self.horn.setup.a4_hz

    def replay(self) -> FreeResult:
        """As `LiveSound.replay`."""
        with self._calling:
            for pcm, _ in self._spooled():
                self._listening.feed(floats_from_pcm(pcm))
            return self._told()

    def take_in(self, seq: int, pcm: bytes) -> FreeResult:
        """As `LiveSound.take_in`."""
        with self._calling:
            fresh, _ = self._written(seq, pcm)
            if not fresh:
                return FreeResult()
            self._listening.feed(floats_from_pcm(fresh))
            return self._told()

    def resume(self, started_at: datetime) -> FreeResult:
        """Goes on with a new clock; what was missed meanwhile is not there."""
        return FreeResult()

    def end(self) -> FreeResult:
        """Leaves it: what was played becomes a recording, where there was a note in it."""
        with self._calling:
            analysis = self._listening.finish()
            sitting = sitting_of(
                self._listening.passages,
                analysis.duration_s,
                room_level_db(analysis.frames.level_db),
                self.horn.instrument,
            )
            recording_id = None
            if sitting.notes:
                started_at = self._setup.started_at
                sound = AnalysedSound(
                    f"Played {started_at.astimezone():%d.%m. %H:%M}",
                    self._flac(),
                    analysis_document(analysis),
                    analysis.unheard_words,
                )
                with self._database.session() as session:
                    player = session.get_one(Player, self.player.id)
                    recording_id = save_recording(session, player, sound, started_at).id
            self._spool.remove()
            return FreeResult(over=FreeOver(recording_id, sitting))

    def _flac(self) -> bytes:
        with FlacWriter(self._rate) as flac:
            for pcm, _ in self._spooled():
                flac.add(floats_from_pcm(pcm))
            return flac.finish()

    def _told(self) -> FreeResult:
        """What was heard since it was last told."""
        heard = self._listening.frames[self._told_frames :]
        self._told_frames = len(self._listening.frames)
        frames, early = Frames.joined(heard), self._listening.early()
        newest = Frames.joined([self._newest, frames])
        last = newest.first + len(newest)
        self._newest = newest.between(last - _KEPT_FRAMES, last)
        now = note_now(Frames.joined([self._newest, early]), self.a4_hz)
        way = None if now is None else standard_way(self.horn, now.midi)
        return FreeResult(frames, early, now, way)
