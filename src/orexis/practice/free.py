"""Playing without a task: what sounds now, and at the end a recording with all that was heard."""

import contextlib
import logging
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
from orexis.core.judging.piece_live import NOWHERE, PieceFollower, PieceNow
from orexis.core.listening.analysis import Analysis, Listening
from orexis.core.listening.habits import NoteHabit
from orexis.core.listening.notes.players import room_level_db
from orexis.core.listening.now import NoteNow, note_now
from orexis.core.listening.sitting import Sitting, sitting_of
from orexis.core.listening.tracking.frames import HOP_S, Frames
from orexis.core.score.pulse import Pulse
from orexis.core.session.free_log import (
    DroneSounded,
    FreeEntry,
    PieceOpened,
    PulseGiven,
    SpotMarked,
    beats_given,
    drone_at_end,
    piece_at_end,
    pieces_opened,
)
from orexis.formats.analysis import analysis_document
from orexis.formats.audio import FlacWriter, floats_from_pcm
from orexis.formats.free_log import free_entry_document, free_entry_of
from orexis.practice.beginning import ExerciseUnfitError, NoSuchPlayerError
from orexis.practice.care import waits_since
from orexis.practice.live_sound import Heard, LiveSound
from orexis.practice.pieces import piece_task
from orexis.practice.plans import SessionSetup
from orexis.practice.unjudged import name_by_time
from orexis.store.bookmarks import MOST_BOOKMARKS, add_bookmark
from orexis.store.database import Database
from orexis.store.horns import horn_of
from orexis.store.models import (
    FreeSitting,
    OwnExercise,
    PieceStretch,
    Player,
    Recording,
    SittingEntry,
)
from orexis.store.own_exercises import find_own
from orexis.store.players import find_player, notation_of
from orexis.store.recordings import AnalysedSound, save_recording
from orexis.store.sittings import begin_sitting, end_sitting, sitting_log, usual_habits
from orexis.store.spool import Spool

log = logging.getLogger(__name__)

_KEPT_FRAMES = 30
"""So many of the newest frames tell what sounds now."""
_LOOKS_EVERY_FRAMES = 25
_MOST_ENTRIES = 5000
_USUAL_SINCE = timedelta(weeks=8)
LONGEST_SAMPLES = 432_000_000
"""Two and a half hours at 48 kHz; the largest recording that a data file holds, were it noise."""


@dataclass(frozen=True, slots=True)
class FreeOutcome:
    """What came of free playing: the recording that was kept (`None` where no note was heard, and
    where it is nobody's yet), what was played, and how this player played each note in the weeks
    before."""

    recording_id: str | None
    sitting: Sitting
    usual: dict[int, NoteHabit]


@dataclass(slots=True)
class FreeResult(Heard):
    """What a stretch of sound brought besides frames: the note that sounds now and how the horn
    gives it, and at the end the outcome."""

    now: NoteNow | None = None
    way: Way | None = None
    over: FreeOutcome | None = None
    piece: PieceNow | None = None
    """Where in the piece the player is, where that has been looked at."""


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
            self._log = [free_entry_of(entry.kind, entry.sample, entry.content) for entry in kept]
        beside = None if self.horn is None else partial(slots_beside, self.horn)
        self._listening = Listening(self._rate, self.a4_hz, self.setup.drone_hz, beside)
        self._told_frames = 0
        self._newest = Frames.none()
        self._flac: FlacWriter | None = FlacWriter(self._rate, spool.folder)
        self._piece: PieceFollower | None = None
        self._piece_passages = self._looked_at = 0

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
        """How the player names notes; where nobody has claimed the playing, notes are named as they
        sound."""
        return CONCERT if self.player is None else notation_of(self.player)

    @property
    def full(self) -> bool:
        """As `LiveSound.full`: no more than fits into one recording."""
        return self.sample >= LONGEST_SAMPLES

    @property
    def drone(self) -> Drone | None:
        """The drone that sounds."""
        return drone_at_end(self._log)

    def replay(self) -> FreeResult:
        """As `LiveSound.replay`."""
        with self._calling:
            drones = deque(entry for entry in self._log if isinstance(entry, DroneSounded))
            for pcm, start in self._spooled():
                self._compress(pcm)
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
            self._take_up_piece()
            return self._told()

    def take_in(self, seq: int, pcm: bytes) -> FreeResult:
        """As `LiveSound.take_in`."""
        with self._calling:
            fresh, _ = self._written(seq, pcm)
            if not fresh:
                return FreeResult()
            self._compress(fresh)
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

    def open_piece(self, own_id: str | None) -> FreeResult:
        """Puts one of the player's own exercises before them to be followed from now on, or takes
        it away. Raises `LookupError` where there is none, and as `piece_task`."""
        with self._calling:
            follower = None if own_id is None else self._follower_of(own_id)
            self._enter(PieceOpened(self.sample, own_id))
            self._piece, self._piece_passages = follower, len(self._listening.passages)
            return FreeResult(piece=NOWHERE)

    def mark(self) -> None:
        """Marks the spot that is played now."""
        self._enter(SpotMarked(self.sample))

    def pause(self) -> None:
        """As `LiveSound.pause`."""
        with self._calling:
            self._leave_compressed()
        super().pause()

    def end(self) -> FreeResult:
        """Ends free playing: it becomes a recording where a note was heard and a player has claimed
        it."""
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
                return FreeResult(over=FreeOutcome(None, sitting, {}))
            with self._database.session() as session:
                row = self._begun(session)
                if sitting.notes:
                    over = self._kept(session, row, sitting, analysis)
                else:
                    session.delete(row)
                    over = FreeOutcome(None, sitting, {})
            self._spool.remove()
            self._leave_compressed()
            return FreeResult(over=over)

    def _kept(
        self, session: DataSession, row: FreeSitting, sitting: Sitting, analysis: Analysis
    ) -> FreeOutcome:
        """Keeps what was played as its player's."""
        assert self.player is not None
        player, started_at = session.get_one(Player, self.player.id), self.setup.started_at
        usual = usual_habits(
            session, player.id, row.instrument_key, started_at - _USUAL_SINCE, row.id
        )
        sound = AnalysedSound(
            name_by_time(started_at),
            self._compressed(),
            analysis_document(analysis),
            analysis.unheard_words,
        )
        recording = save_recording(session, player, sound, started_at)
        self._bookmark(session, recording)
        self._put_pieces_in(session, recording)
        end_sitting(row, sitting)
        return FreeOutcome(recording.id, sitting, usual)

    def _follower_of(self, own_id: str) -> PieceFollower:
        """What follows a piece from the next frame on."""
        if self.player is None:
            raise LookupError(own_id)
        with self._database.session() as session:
            player = session.get_one(Player, self.player.id)
            own = find_own(session, player.id, own_id)
            if own is None:
                raise LookupError(own_id)
            score = piece_task(session, player, own).score
        first = round(self.sample / (self._rate * HOP_S))
        return PieceFollower(score, self.notation.name, first)

    def _take_up_piece(self) -> None:
        """Goes on with the piece that was before the player, from here."""
        own_id = piece_at_end(self._log)
        if own_id is None:
            return
        # It may have been deleted or changed meanwhile; playing goes on without it.
        with contextlib.suppress(LookupError, ValueError):
            self._piece = self._follower_of(own_id)
            self._piece_passages = len(self._listening.passages)

    def _where_in_the_piece(self, now: int) -> PieceNow | None:
        """Where in the piece the player is, looked at four times a second."""
        if self._piece is None or now - self._looked_at < _LOOKS_EVERY_FRAMES:
            return None
        self._looked_at = now
        ended = self._listening.passages[self._piece_passages :]
        self._piece_passages = len(self._listening.passages)
        try:
            return self._piece.hear(ended, self._listening.sounding(), now)
        except Exception:
            # A fault in following costs the following alone.
            log.exception("The piece could not be followed after frame %d.", now)
            self._piece = None
            return NOWHERE

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

    def _bookmark(self, session: DataSession, recording: Recording) -> None:
        """Bookmarks the spots that were marked."""
        for entry in self._marked():
            at_s = min(entry.sample / self._rate, recording.duration_s)
            add_bookmark(session, recording, at_s, MARKED_WORDS)

    def _put_pieces_in(self, session: DataSession, recording: Recording) -> None:
        """Keeps which pieces were before the player, and when."""
        for own_id, start_s, end_s in pieces_opened(self._log, self._rate, recording.duration_s):
            if session.get(OwnExercise, own_id) is not None:
                session.add(
                    PieceStretch(
                        recording_id=recording.id, own_id=own_id, start_s=start_s, end_s=end_s
                    )
                )

    def _marked(self) -> Iterator[SpotMarked]:
        marked = [entry for entry in self._log if isinstance(entry, SpotMarked)]
        yield from marked[:MOST_BOOKMARKS]

    def _compress(self, pcm: bytes) -> None:
        """Compresses what comes as it comes, so that it is done when playing is. Where there is no
        room for that, it is done at the end."""
        if self._flac is None:
            return
        try:
            self._flac.add_pcm(pcm)
        except OSError:
            log.exception("The sound could not be compressed as it came.")
            self._leave_compressed()

    def _compressed(self) -> bytes:
        if self._flac is not None:
            with contextlib.suppress(OSError):
                return self._flac.finish()
        with FlacWriter(self._rate) as flac:
            for pcm, _ in self._spooled():
                flac.add_pcm(pcm)
            return flac.finish()

    def _leave_compressed(self) -> None:
        if self._flac is not None:
            self._flac.close()
            self._flac = None

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
        piece = self._where_in_the_piece(frames.first + len(frames)) if len(frames) else None
        return FreeResult(frames, early, now, way, piece=piece)
