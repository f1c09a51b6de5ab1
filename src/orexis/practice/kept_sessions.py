"""Sessions as they are kept: their log read, folded, and the horn they are on."""

from collections.abc import Iterable, Sequence
from dataclasses import replace
from datetime import datetime, timedelta
from typing import Any

from sqlalchemy.orm import Session

from orexis.core.exercises.task import Task
from orexis.core.horn.instruments import INSTRUMENTS
from orexis.core.horn.setup import Horn
from orexis.core.judging.standard import Standard
from orexis.core.listening.tracking.frames import HOP_S
from orexis.core.session.log import AttemptJudged, ButtonPressed, Entry, Press
from orexis.core.session.plan import Plan
from orexis.core.session.running import begin, run
from orexis.core.session.stand import Attempt
from orexis.core.session.state import ExerciseResult, SessionState
from orexis.formats.horn_setup import setup_document, setup_of
from orexis.formats.session import (
    entry_document,
    entry_of,
    exercise_result_document,
    exercise_result_of,
    kind_of,
    plan_document,
    plan_of,
)
from orexis.store.models import Player, PracticeSession, SessionEntry, Take
from orexis.store.sessions import log_of


def kept_log(session: Session, kept: PracticeSession) -> list[Entry]:
    """The log of a session. Raises `LookupError`, `TypeError` or `ValueError` where it makes no
    sense."""
    return [entry_of(entry.kind, entry.sample, entry.content) for entry in log_of(session, kept.id)]


def first_state(kept: PracticeSession) -> SessionState:
    """Where a session began."""
    level = Standard(kept.standard)
    return begin(plan_of(kept.plan), kept.sample_rate, level, kept.drone_hz)


def state_of(kept: PracticeSession, log: Iterable[Entry]) -> SessionState:
    """Where a session is after a log."""
    return run(first_state(kept), log)


def kept_state(session: Session, kept: PracticeSession) -> SessionState:
    """Where a session is as its log stands."""
    return state_of(kept, kept_log(session, kept))


def heard_until(session: Session, session_id: str) -> int:
    """The sample up to which a session was heard when it was left; 0 for a new one."""
    kept = session.get(PracticeSession, session_id)
    return 0 if kept is None else kept.heard_until


def kept_horn(kept: PracticeSession) -> Horn:
    """The horn a session began on."""
    return Horn(INSTRUMENTS[kept.instrument_key], setup_of(kept.setup))


def asked_now(session: Session, session_id: str) -> tuple[Task, Horn] | None:
    """What a session asks for as its log stands, once and at its metronome's tempo, and the horn it
    is on; `None` where there is no such session."""
    kept = session.get(PracticeSession, session_id)
    if kept is None:
        return None
    state = kept_state(session, kept)
    task, metronome = state.task.once, state.metronome
    if metronome is not None:
        in_time = replace(task.score, tempo_bpm=metronome.tempo(task.score))
        task = replace(task, score=in_time)
    return task, kept_horn(kept)


def new_session(
    session: Session,
    player: Player,
    horn: Horn,
    session_id: str,
    plan: Plan,
    started_at: datetime,
    sample_rate: int,
    source: str,
    latency_s: float | None = None,
    drone_hz: float | None = None,
) -> PracticeSession:
    """Keeps what a session is to be, and what it is set to."""
    kept = PracticeSession(
        id=session_id,
        player_id=player.id,
        started_at=started_at,
        title=plan.title,
        kind=plan.kind,
        source=source,
        sample_rate=sample_rate,
        instrument_key=horn.instrument.key,
        standard=player.standard,
        plan=plan_document(plan),
        setup=setup_document(horn.setup),
        latency_s=latency_s,
        drone_hz=drone_hz,
        results=[],
    )
    session.add(kept)
    session.flush()
    return kept


def entry_row(session_id: str, number: int, entry: Entry) -> SessionEntry:
    """The row that keeps an entry."""
    return SessionEntry(
        session_id=session_id,
        number=number,
        sample=entry.sample,
        kind=kind_of(entry),
        content=entry_document(entry),
    )


def judged_entry(
    attempt: Attempt, take: Take, sample_rate: int, *, cut: bool = False
) -> AttemptJudged:
    """What the log says of an attempt that was kept as a take."""
    frames = attempt.frames
    told = [answer for answer in attempt.answers if answer.tone is not None]
    longest = max(
        told,
        key=lambda answer: answer.heard.last - answer.heard.first if answer.heard else 0,
        default=None,
    )
    return AttemptJudged(
        sample=round((frames.first + len(frames)) * HOP_S * sample_rate),
        passed=take.passed,
        take_id=take.id,
        seconds=take.sounded_s,
        tone=None if longest is None else longest.tone,
        cut=cut,
    )


def kept_results(session: Session, kept: PracticeSession) -> list[ExerciseResult]:
    """How each exercise of a session went. Sessions of before this was kept are folded."""
    if kept.results is None:
        return [block.result for block in kept_state(session, kept).closed]
    return [exercise_result_of(result) for result in kept.results]


def exercise_result_documents(state: SessionState) -> list[dict[str, Any]]:
    """The result of each exercise of a session, in the form that is kept."""
    return [exercise_result_document(block.result) for block in state.closed]


def end_for_good(session: Session, kept: PracticeSession, now: datetime) -> None:
    """Ends a session that is not gone on with, by an entry in its log as any end is."""
    log = kept_log(session, kept)
    if kept.ended is not None:
        return
    entry = ButtonPressed(max(kept.heard_until, log[-1].sample if log else 0), Press.END)
    session.add(entry_row(kept.id, len(log), entry))
    state = state_of(kept, [*log, entry])
    kept.results = exercise_result_documents(state)
    kept.ended = None if state.ended is None else state.ended.value
    kept.ended_at = now


def write_log(session: Session, kept: PracticeSession, log: Sequence[Entry]) -> None:
    """Keeps the whole log of a session that is over."""
    session.add_all(entry_row(kept.id, number, entry) for number, entry in enumerate(log))
    state = state_of(kept, log)
    ended = state.ended
    kept.results = exercise_result_documents(state)
    last = log[-1].sample if log else 0
    kept.heard_until = last
    kept.ended = None if ended is None else ended.value
    kept.ended_at = kept.started_at + timedelta(seconds=last / kept.sample_rate)
