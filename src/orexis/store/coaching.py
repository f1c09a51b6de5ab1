"""What players have said to the coach: about themselves, approaches, programmes, plans, dates."""

from collections.abc import Mapping
from dataclasses import asdict
from datetime import date, timedelta
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from orexis.core.coach.about import About, Experience, Wish
from orexis.core.coach.following import Following
from orexis.core.coach.known import Event, EventKind
from orexis.core.coach.paths import StepByHand
from orexis.core.coach.programmes import PROGRAMMES
from orexis.core.coach.trial import Trial
from orexis.store.models import (
    ApproachTrial,
    ComingDate,
    DayPlanRow,
    FollowedProgramme,
    PathMove,
    Player,
    PlayerAbout,
)

_LOOKS_BACK = timedelta(days=100)
LONGEST_EVENT = 60


def about_of(session: Session, player_id: int) -> About | None:
    """What a player has said of themselves, `None` before they did."""
    row = session.get(PlayerAbout, player_id)
    if row is None:
        return None
    return About(
        Experience(row.experience),
        Wish(row.wish),
        row.minutes,
        row.days_a_week,
        row.low_midi,
        row.high_midi,
        row.braces,
        row.weeks_off,
        row.quiet_from,
        row.quiet_until,
        row.range_on,
    )


def keep_about(session: Session, player_id: int, about: About) -> None:
    """Keeps what a player says of themselves, in place of what they said before."""
    session.merge(
        PlayerAbout(
            player_id=player_id, **asdict(about), approaches=approaches_of(session, player_id)
        )
    )
    session.flush()


def approaches_of(session: Session, player_id: int) -> dict[str, str]:
    """The approaches a player has chosen."""
    row = session.get(PlayerAbout, player_id)
    return {} if row is None else dict(row.approaches)


def keep_approaches(session: Session, player_id: int, approaches: Mapping[str, str]) -> None:
    """Keeps a player's approaches."""
    if session.get(PlayerAbout, player_id) is None:
        keep_about(session, player_id, About())
    session.get_one(PlayerAbout, player_id).approaches = dict(approaches)


def trials_of(session: Session, player_id: int) -> list[Trial]:
    """What a player measures or has measured, oldest first."""
    rows = session.scalars(
        select(ApproachTrial)
        .where(ApproachTrial.player_id == player_id)
        .order_by(ApproachTrial.begins)
    )
    return [
        Trial(trial.question, trial.first, trial.second, trial.begins, trial.ends) for trial in rows
    ]


def keep_trial(session: Session, player_id: int, trial: Trial) -> None:
    """Begins to measure, in place of what was measured of the same question."""
    end_trial(session, player_id, trial.question)
    session.add(ApproachTrial(player_id=player_id, **asdict(trial)))
    session.flush()


def end_trial(session: Session, player_id: int, question: str) -> None:
    """Forgets what is measured of a question."""
    for row in session.scalars(
        select(ApproachTrial).where(
            ApproachTrial.player_id == player_id, ApproachTrial.question == question
        )
    ):
        session.delete(row)
    session.flush()


def followings_of(session: Session, player_id: int) -> list[Following]:
    """The programmes a player follows, the oldest first."""
    rows = session.scalars(
        select(FollowedProgramme)
        .where(FollowedProgramme.player_id == player_id)
        .order_by(FollowedProgramme.since, FollowedProgramme.key)
    )
    return [
        Following(programme.key, programme.since, programme.base_midi, programme.paused)
        for programme in rows
        if programme.key in PROGRAMMES
    ]


def keep_following(session: Session, player_id: int, following: Following) -> None:
    """Begins a programme, or changes how it is followed."""
    session.merge(FollowedProgramme(player_id=player_id, **asdict(following)))
    session.flush()


def moves_of(session: Session, player: Player) -> dict[str, StepByHand]:
    """Where a player went to by hand on the paths of exercises, on the horn they play now."""
    rows = session.scalars(
        select(PathMove).where(
            PathMove.player_id == player.id, PathMove.instrument_key == player.instrument_key
        )
    )
    return {move.family: StepByHand(move.day, move.step) for move in rows}


def keep_move(session: Session, player: Player, family: str, moved: StepByHand) -> None:
    """Keeps the step of a path that a player goes to by hand."""
    session.merge(
        PathMove(
            player_id=player.id,
            instrument_key=player.instrument_key,
            family=family,
            step=moved.step,
            day=moved.day,
        )
    )
    session.flush()


def end_following(session: Session, player_id: int, key: str) -> None:
    """Leaves a programme."""
    row = session.get(FollowedProgramme, (player_id, key))
    if row is not None:
        session.delete(row)
        session.flush()


def events_of(session: Session, player_id: int, today: date) -> list[ComingDate]:
    """The dates a player looks ahead to, and those of the last months, in order."""
    rows = session.scalars(
        select(ComingDate)
        .where(
            ComingDate.player_id == player_id,
            ComingDate.day >= today - _LOOKS_BACK,
        )
        .order_by(ComingDate.day, ComingDate.id)
    )
    return list(rows)


def past_events(session: Session, player_id: int, today: date) -> list[Event]:
    """The dates of a player that have come, however long ago, in order."""
    rows = session.scalars(
        select(ComingDate)
        .where(ComingDate.player_id == player_id, ComingDate.day <= today)
        .order_by(ComingDate.day, ComingDate.id)
    )
    return [event_of(row) for row in rows]


def event_of(row: ComingDate) -> Event:
    """A date as the coach reads it."""
    return Event(row.day, EventKind(row.kind), row.words)


def add_event(session: Session, player_id: int, event: Event) -> ComingDate:
    """Keeps a date."""
    row = ComingDate(player_id=player_id, day=event.day, kind=event.kind, words=event.words)
    session.add(row)
    session.flush()
    return row


def delete_event(session: Session, player_id: int, event_id: int) -> bool:
    """Forgets a date; false where there is none."""
    row = session.get(ComingDate, event_id)
    if row is None or row.player_id != player_id:
        return False
    session.delete(row)
    session.flush()
    return True


def kept_plan(session: Session, player_id: int, day: date) -> DayPlanRow | None:
    """The kept plan of a day."""
    return session.get(DayPlanRow, (player_id, day))


def keep_plan(
    session: Session, player_id: int, day: date, plan: dict[str, Any], *, changed: bool
) -> None:
    """Keeps the plan of a day."""
    session.merge(DayPlanRow(player_id=player_id, day=day, plan=plan, changed=changed))
    session.flush()


def forget_plan(session: Session, player_id: int, day: date) -> None:
    """Forgets the plan of a day, so that it is made anew."""
    row = session.get(DayPlanRow, (player_id, day))
    if row is not None:
        session.delete(row)
        session.flush()
