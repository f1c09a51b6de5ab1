"""Care, in one place: something hurts, something does not hurt any more, and what waits meanwhile.

The plan of a day is made anew whenever that changes, whoever says so and wherever.
"""

from collections.abc import Iterable
from datetime import datetime

from sqlalchemy.orm import Session

from orexis.core.coach.care import held_back
from orexis.core.exercises.book import ONE_NOTE
from orexis.core.exercises.family import ExerciseRefusedError
from orexis.core.session.building import Setting
from orexis.store.coaching import forget_plan
from orexis.store.sessions import clear_hurts, hurt_since, report_hurt


def check_care(session: Session, player_id: int, settings: Iterable[Setting]) -> None:
    """Refuses what waits since something hurt, by `ExerciseRefusedError`."""
    hurt_on = hurt_since(session, player_id)
    for setting in settings:
        if reason := held_back(hurt_on, setting.family):
            raise ExerciseRefusedError(reason)


def waits_since(session: Session, player_id: int) -> str:
    """Why playing without a task waits, "" where nothing hurts."""
    return held_back(hurt_since(session, player_id), ONE_NOTE)


def say_hurt(session: Session, player_id: int, at: datetime, session_id: str | None = None) -> None:
    """Keeps that something hurts, in a session where one was going on."""
    report_hurt(session, player_id, at, session_id)
    forget_plan(session, player_id, at.astimezone().date())


def clear_hurt(session: Session, player_id: int, at: datetime) -> None:
    """Keeps that nothing hurts any more."""
    clear_hurts(session, player_id, at)
    forget_plan(session, player_id, at.astimezone().date())
