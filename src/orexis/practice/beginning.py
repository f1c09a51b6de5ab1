"""Beginning a session: what it is to be, made for its player and their horn, and what cannot be."""

from sqlalchemy.orm import Session

from orexis.core.exercises.family import ExerciseRefusedError
from orexis.practice.care import check_care
from orexis.practice.exercises import writer_for
from orexis.practice.kept_sessions import new_session
from orexis.practice.plans import SessionSetup
from orexis.store.models import PracticeSession
from orexis.store.players import find_player


class NoSuchPlayerError(Exception):
    """The session's player is not there."""


class ExerciseUnfitError(Exception):
    """The session's exercise cannot be played on the horn as it is; the message says why."""


def begin_session(session: Session, session_id: str, setup: SessionSetup) -> PracticeSession:
    """Keeps what a session is to be. Raises `NoSuchPlayerError` and `ExerciseUnfitError`."""
    player = None if setup.player_id is None else find_player(session, setup.player_id)
    if player is None:
        raise NoSuchPlayerError
    writer = writer_for(session, player)
    try:
        check_care(session, player.id, setup.exercises)
        plan = setup.plan_on(writer)
    except ExerciseRefusedError as error:
        raise ExerciseUnfitError(str(error)) from error
    return new_session(
        session,
        player,
        writer.horn,
        session_id,
        plan,
        setup.started_at,
        setup.sample_rate,
        setup.source,
        setup.latency_s,
        setup.drone_hz,
    )
