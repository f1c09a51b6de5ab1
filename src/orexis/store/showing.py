"""The takes of some days that can be shown and heard: light rows."""

from datetime import date, timedelta
from typing import Any

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from orexis.core.progress.worth_showing import TakeCandidate
from orexis.store.history import midnight, theirs
from orexis.store.measured import OFF
from orexis.store.models import Player, Take, TakeNote, TakeSound

_DAY = timedelta(days=1)


def shown_takes(session: Session, player: Player, first: date, last: date) -> list[TakeCandidate]:
    """A player's takes from the first day to the last, both among them, whose sound is kept, on the
    horn they play now."""
    off = func.avg(OFF)
    query = (
        select(Take.id, Take.started_at, Take.exercise_key, Take.passed, Take.verdict, off)
        .join(TakeSound, TakeSound.take_id == Take.id)
        .outerjoin(TakeNote, TakeNote.take_id == Take.id)
        .where(
            *theirs(player),
            Take.started_at >= midnight(first),
            Take.started_at < midnight(last + _DAY),
        )
        .group_by(Take.id)
    )
    rows: Any = session.execute(query)
    return [
        TakeCandidate(
            take_id,
            at,
            exercise,
            bool(passed),
            sum(not one["passed"] for one in verdict.get("results", ())),
            far,
        )
        for take_id, at, exercise, passed, verdict, far in rows
    ]
