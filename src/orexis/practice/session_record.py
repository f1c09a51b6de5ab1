"""What is kept of a session that goes on: its plan, its log, its state, and the takes of it.

Every entry of the log is on disk before the state follows it, together with the take or the
recording it is about: both or neither.
"""

from collections.abc import Callable
from datetime import datetime, timedelta

from sqlalchemy.orm import Session as DataSession

from orexis.core.coach.fatigue import signs_of_tiring
from orexis.core.listening.tracking.frames import HOP_S
from orexis.core.session.log import (
    AttemptJudged,
    AttemptUnheard,
    ButtonPressed,
    Entry,
    Press,
    SessionResumed,
    Tired,
)
from orexis.core.session.running import step
from orexis.core.session.stand import Attempt
from orexis.core.session.state import SessionState
from orexis.core.session.telling import place_words
from orexis.core.session.timing import Timing, timing_of
from orexis.practice.beginning import begin_session
from orexis.practice.care import say_hurt
from orexis.practice.kept_sessions import (
    entry_row,
    exercise_result_documents,
    judged_entry,
    kept_horn,
    kept_log,
    state_of,
)
from orexis.practice.plans import SessionSetup
from orexis.practice.takes import JudgedTake, judged, keep_attempt
from orexis.practice.unjudged import listen_to_unjudged
from orexis.store.database import Database
from orexis.store.history import session_notes, usual_of
from orexis.store.models import Player, PracticeSession
from orexis.store.recordings import save_recording
from orexis.store.takes import Circumstances, judged_until, softest_level

_MOST_UNHEARD = 20
"""How many attempts of a session are kept as recordings because listening failed; what fails more
often than that fails at all of them."""


class SessionRecord:
    """A session as it is kept, begun where it is new. `changed` is told the states before and after
    an entry that changed something.

    Raises `ValueError`, `LookupError` or `TypeError` when what is kept makes no sense,
    `NoSuchPlayerError` and `ExerciseUnfitError`.
    """

    def __init__(self, database: Database, session_id: str, setup: SessionSetup) -> None:
        self.changed: Callable[[SessionState, SessionState], None] = lambda before, after: None
        self._database = database
        with database.session() as session:
            row = session.get(PracticeSession, session_id)
            if row is None:
                row = begin_session(session, session_id, setup)
            self.row = row
            self.player = session.get_one(Player, row.player_id)
            log = kept_log(session, row)
            self.judged_before = 0 if log else judged_until(session, row.id)
        self.horn = kept_horn(row)
        self.rate = row.sample_rate
        self.state = state_of(row, log)
        self._number = len(log)
        self._unheard = sum(isinstance(entry, AttemptUnheard) for entry in log)
        self.gaps_s = sum(entry.gap_s for entry in log if isinstance(entry, SessionResumed))

    @property
    def heard_by_microphone(self) -> bool:
        """Whether its sound comes through the room; the stand-in's does not."""
        return self.row.source == "microphone"

    @property
    def softest_db(self) -> float | None:
        """The level of the softest note in the attempts so far, `None` where there was none."""
        with self._database.session() as session:
            return softest_level(session, self.row.id)

    def time_of(self, sample: int) -> datetime:
        """When a sample was played."""
        return self.row.started_at + timedelta(seconds=sample / self.rate + self.gaps_s)

    def enter(self, entry: Entry) -> None:
        """Writes an entry down, then follows it."""
        with self._database.session() as session:
            self._write(session, entry)
        self._follow(entry)

    def keep(self, attempt: Attempt, pcm: bytes, *, cut: bool) -> JudgedTake:
        """Keeps an attempt as a take, with its entry in the log. One that was `cut` short by
        something else counts for nothing."""
        frames, state = attempt.frames, self.state
        circumstances = Circumstances(
            player=self.player,
            session_id=self.row.id,
            started_at=self.time_of(round(frames.first * HOP_S * self.rate)),
            source=self.row.source,
            standard=state.level,
            sample_rate=self.rate,
            horn=self.horn,
            place=_place(state),
            set_number=state.set_of_session,
            timing=None if cut else self._timing(attempt),
        )
        with self._database.session() as session:
            take = keep_attempt(session, attempt, state.task, circumstances, pcm)
            take.player = self.player
            entry = judged_entry(attempt, take, self.rate, cut=cut)
            self._write(session, entry)
            told = judged(session, take)
        self._follow(entry)
        self._look_for_tiring(entry)
        return told

    def keep_unheard(self, first_frame: int, sample: int, pcm: bytes) -> None:
        """Keeps what sounded from a frame up to a sample as a recording, since listening to it
        failed, with its entry in the log: the same attempt is to be played again."""
        reason = "Orexis failed while it listened to this attempt, so the attempt was not judged."
        kept = bool(pcm) and self._unheard < _MOST_UNHEARD
        at = self.time_of(round(first_frame * HOP_S * self.rate))
        sound = listen_to_unjudged(pcm, self.rate, at, self.horn, reason) if kept else None
        entry = AttemptUnheard(sample, kept=kept)
        with self._database.session() as session:
            if sound is not None:
                save_recording(session, session.get_one(Player, self.row.player_id), sound, at)
            self._write(session, entry)
        self._unheard += 1
        self._follow(entry)

    def left_at(self, sample: int) -> None:
        """Keeps up to where it was heard."""
        with self._database.session() as session:
            session.get_one(PracticeSession, self.row.id).heard_until = sample

    def _write(self, session: DataSession, entry: Entry) -> None:
        """Writes an entry down, and how the session ends where that ends it."""
        session.add(entry_row(self.row.id, self._number, entry))
        after = step(self.state, entry)
        row = session.get_one(PracticeSession, self.row.id)
        if after.closed != self.state.closed:
            row.results = exercise_result_documents(after)
        ended = after.ended
        if ended is not None and self.state.ended is None:
            row.ended, row.ended_at = ended.value, self.time_of(entry.sample)
            row.heard_until = entry.sample
            if isinstance(entry, ButtonPressed) and entry.press is Press.HURTS:
                say_hurt(session, self.row.player_id, self.time_of(entry.sample), row.id)

    def _follow(self, entry: Entry) -> None:
        before = self.state
        self._number += 1
        self.state = after = step(before, entry)
        if isinstance(entry, SessionResumed):
            self.gaps_s += entry.gap_s
        if after is not before:
            self.changed(before, after)

    def _look_for_tiring(self, judged: AttemptJudged) -> None:
        """Ends hard work, or the day, before the player would, where what was heard says that it is
        enough."""
        state = self.state
        if state.now.open or state.ended is not None or state.day_over:
            return
        with self._database.session() as session:
            day = self.time_of(0).astimezone().date()
            signs = signs_of_tiring(
                session_notes(session, self.row.id), usual_of(session, self.player, day)
            )
        if len(signs) > len(state.tired):
            self.enter(Tired(judged.sample, signs))

    def _timing(self, attempt: Attempt) -> Timing | None:
        """How an attempt lay against the metronome. The stand-in's sound goes through no room, so
        no latency is taken off."""
        latency_s = self.row.latency_s if self.heard_by_microphone else 0.0
        return timing_of(self.state, attempt.answers, attempt.frames.first * HOP_S, latency_s)


def _place(state: SessionState) -> str:
    """Where in the session it is, in words."""
    if state.now.open:
        return ""
    rung = "low note" if state.probing is not None else state.at.name
    return ": ".join(part for part in (place_words(state), rung) if part)
