"""Playing without a task: what sounds now, and at the end a recording with all that was heard."""

from collections import deque
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import datetime, timedelta
from functools import partial

from sqlalchemy.orm import Session as DataSession

from orexis.core.horn.drone import Drone
from orexis.core.horn.notation import CONCERT, Notation
from orexis.core.horn.pitch import A4_HZ
from orexis.core.horn.ways import Way, slots_beside, standard_way
from orexis.core.judging.free_words import MARKED_WORDS
from orexis.core.listening.analysis import Analysis, Listening
from orexis.core.listening.habits import NoteHabit
from orexis.core.listening.notes.players import room_level_db
from orexis.core.listening.now import NoteNow, note_now
from orexis.core.listening.sitting import Sitting, sitting_of
from orexis.core.listening.tracking.frames import Frames
from orexis.core.score.pulse import Pulse
from orexis.core.session.free_log import (
    DroneSounded,
    FreeEntry,
    PulseGiven,
    SpotMarked,
    beats_given,
    drone_at_end,
)
from orexis.formats.analysis import analysis_document
from orexis.formats.audio import FlacWriter, floats_from_pcm
from orexis.formats.free_log import free_entry_document, free_entry_of
from orexis.practice.beginning import ExerciseUnfitError, NoSuchPlayerError
from orexis.practice.care import waits_since
from orexis.practice.live_sound import Heard, LiveSound
from orexis.practice.plans import SessionSetup
from orexis.practice.unjudged import name_by_time
from orexis.store.database import Database
from orexis.store.horns import horn_of
from orexis.store.models import FreeSitting, Player, Recording, SittingEntry
from orexis.store.pins import MOST_PINS, add_pin
from orexis.store.players import find_player, notation_of
from orexis.store.recordings import AnalysedSound, save_recording
from orexis.store.sittings import begin_sitting, end_sitting, sitting_log, usual_habits
from orexis.store.spool import Spool

_KEPT_FRAMES = 30
"""So many of the newest frames tell what sounds now."""
_MOST_ENTRIES = 5000
_USUAL_SINCE = timedelta(weeks=8)


@dataclass(frozen=True, slots=True)
class FreeOver:
    """What came of it: the recording that was kept (`None` where no note was heard, and where it is
    nobody's yet), what was played, and how this player played each note in the weeks before."""

    recording_id: str | None
    sitting: Sitting
    usual: dict[int, NoteHabit]


@dataclass(slots=True)
class FreeResult(Heard):
    """What a stretch of sound brought besides: the note that sounds now, how the horn gives it, and
    at the end what came of it all."""

    now: NoteNow | None = None
    way: Way | None = None
    over: FreeOver | None = None


class FreePlaying(LiveSound):
    """Sound in; frames, the note that sounds, and a recording out. Where nobody has said that it
    is theirs (`player` is `None`) its sound stays in the spool until somebody does.

    Raises `ValueError` for a spool that makes no sense, `NoSuchPlayerError`, and
    `ExerciseUnfitError` where it is to begin while something hurts; the spool is then as it was.
    """

    def __init__(self, database: Database, spool: Spool) -> None:
        setup = SessionSetup.read(spool.hello)
        super().__init__(spool, setup, setup.sample_rate)
        self._database = database
        self._by_microphone = self.setup.source == "microphone"
        with database.session() as session:
            known = session.get(FreeSitting, spool.session_id)
            player_id = self.setup.player_id if known is None else known.player_id
            player = None if player_id is None else find_player(session, player_id)
            if player is None and player_id is not None:
                raise NoSuchPlayerError
            if player and not spool.end_sample and (reason := waits_since(session, player.id)):
                raise ExerciseUnfitError(reason)
            self._player = player
            self.horn = None if player is None else horn_of(session, player)
            self._begun(session)
            kept = sitting_log(session, spool.session_id)
            self._log = [free_entry_of(one.kind, one.sample, one.content) for one in kept]
        beside = None if self.horn is None else partial(slots_beside, self.horn)
        self._listening = Listening(self._rate, self.a4_hz, self.setup.drone_hz, beside)
        self._told_frames = 0
        self._newest = Frames.none()

    @property
    def player(self) -> Player | None:
        """As `LiveSound.player`."""
        return self._player

    @property
    def a4_hz(self) -> float:
        """What the horn is tuned to."""
        return A4_HZ if self.horn is None else self.horn.setup.a4_hz

    @property
    def drone_hz(self) -> float | None:
        """As `LiveSound.drone_hz`."""
        return None if self.drone is None else self.drone.common_hz(self.a4_hz)

    @property
    def notation(self) -> Notation:
        """How its player names notes; nobody's are named as they sound."""
        return CONCERT if self.player is None else notation_of(self.player)

    @property
    def drone(self) -> Drone | None:
        """The drone that sounds."""
        return drone_at_end(self._log)

    def replay(self) -> FreeResult:
        """As `LiveSound.replay`."""
        with self._calling:
            drones = deque(entry for entry in self._log if isinstance(entry, DroneSounded))
            for pcm, start in self._spooled():
                sound, at = floats_from_pcm(pcm), 0
                while drones and drones[0].sample < start + len(sound):
                    entry = drones.popleft()
                    until = max(entry.sample - start, at)
                    self._listening.feed(sound[at:until])
                    self._hear_drone(entry.drone)
                    at = until
                self._listening.feed(sound[at:])
            for entry in drones:
                self._hear_drone(entry.drone)
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

    def give(self, pulse: Pulse | None, sample: int) -> None:
        """A metronome gives time from a sample on, its first bar there; or none does any more."""
        self._enter(PulseGiven(sample, pulse))

    def sound(self, drone: Drone | None) -> None:
        """A drone sounds from now on, or none does any more."""
        with self._calling:
            self._enter(DroneSounded(self.sample, drone))
            self._hear_drone(drone)

    def mark(self) -> None:
        """Marks the spot that is played now."""
        self._enter(SpotMarked(self.sample))

    def end(self) -> FreeResult:
        """Leaves it: what was played becomes a recording, where there was a note in it and it is
        somebody's."""
        with self._calling:
            analysis = self._listening.finish()
            sitting = sitting_of(
                self._listening.passages,
                analysis.duration_s,
                room_level_db(analysis.frames.level_db),
                None if self.horn is None else self.horn.instrument,
                beats_given(self._log, self._rate, analysis.duration_s),
                self.setup.latency_s if self._by_microphone else 0.0,
            )
            if self.player is None and sitting.notes:
                return FreeResult(over=FreeOver(None, sitting, {}))
            with self._database.session() as session:
                row = self._begun(session)
                if sitting.notes:
                    over = self._kept(session, row, sitting, analysis)
                else:
                    session.delete(row)
                    over = FreeOver(None, sitting, {})
            self._spool.remove()
            return FreeResult(over=over)

    def _kept(
        self, session: DataSession, row: FreeSitting, sitting: Sitting, analysis: Analysis
    ) -> FreeOver:
        """Keeps what was played as its player's."""
        assert self.player is not None
        player, started_at = session.get_one(Player, self.player.id), self.setup.started_at
        usual = usual_habits(
            session, player.id, row.instrument_key, started_at - _USUAL_SINCE, row.id
        )
        sound = AnalysedSound(
            name_by_time(started_at),
            self._flac(),
            analysis_document(analysis),
            analysis.unheard_words,
        )
        recording = save_recording(session, player, sound, started_at)
        self._pin(session, recording)
        end_sitting(row, sitting)
        return FreeOver(recording.id, sitting, usual)

    def _begun(self, session: DataSession) -> FreeSitting:
        """Its row, new where it is not there yet."""
        setup = self.setup
        return begin_sitting(
            session, self.player, self._spool.session_id, setup.started_at, setup.source
        )

    def _enter(self, entry: FreeEntry) -> None:
        """Writes an entry down, then knows it. More than anybody would make are left out."""
        if len(self._log) >= _MOST_ENTRIES:
            return
        kind, content = free_entry_document(entry)
        with self._database.session() as session:
            session.add(
                SittingEntry(
                    sitting_id=self._spool.session_id,
                    number=len(self._log),
                    sample=entry.sample,
                    kind=kind,
                    content=content,
                )
            )
        self._log.append(entry)

    def _hear_drone(self, drone: Drone | None) -> None:
        """The microphone hears a drone from now on."""
        if self._by_microphone:
            self._listening.sound_in_the_room(drone.common_hz(self.a4_hz) if drone else None)

    def _pin(self, session: DataSession, recording: Recording) -> None:
        """Bookmarks the spots that were marked."""
        for entry in self._marked():
            at_s = min(entry.sample / self._rate, recording.duration_s)
            add_pin(session, recording, at_s, MARKED_WORDS)

    def _marked(self) -> Iterator[SpotMarked]:
        marked = [entry for entry in self._log if isinstance(entry, SpotMarked)]
        yield from marked[:MOST_PINS]

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
        way = None
        if now is not None and self.horn is not None:
            way = standard_way(self.horn, now.midi)
        return FreeResult(frames, early, now, way)
