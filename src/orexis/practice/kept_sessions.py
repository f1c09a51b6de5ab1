"""Sessions as they are kept: their log read, folded, and the horn they are on."""

from collections.abc import Iterable

from sqlalchemy.orm import Session

from orexis.core.exercises.task import Task
from orexis.core.horn.instruments import INSTRUMENTS
from orexis.core.horn.setup import Horn
from orexis.core.judging.gate import GateLevel
from orexis.core.session.log import Entry
from orexis.core.session.running import State, begin, run
from orexis.formats.horn_setup import setup_of
from orexis.formats.session import entry_of, plan_of
from orexis.store.models import PracticeSession
from orexis.store.sessions import log_of


def kept_log(session: Session, kept: PracticeSession) -> list[Entry]:
    """The log of a session. Raises `LookupError`, `TypeError` or `ValueError` where it makes no
    sense."""
    return [entry_of(one.kind, one.sample, one.content) for one in log_of(session, kept.id)]


def state_of(kept: PracticeSession, log: Iterable[Entry]) -> State:
    """Where a session is after a log."""
    level = GateLevel(kept.gate_level)
    return run(begin(plan_of(kept.plan), kept.sample_rate, level, kept.drone_hz), log)


def kept_state(session: Session, kept: PracticeSession) -> State:
    """Where a session is as its log stands."""
    return state_of(kept, kept_log(session, kept))


def kept_horn(kept: PracticeSession) -> Horn:
    """The horn a session began on."""
    return Horn(INSTRUMENTS[kept.instrument_key], setup_of(kept.setup))


def asked_now(session: Session, session_id: str) -> tuple[Task, Horn] | None:
    """What a session asks for as its log stands, and the horn it is on; `None` where there is no
    such session."""
    kept = session.get(PracticeSession, session_id)
    return None if kept is None else (kept_state(session, kept).task, kept_horn(kept))
