"""What was played of every note, as far back as there is anything: light rows, never sound."""

from datetime import date, timedelta
from typing import Any

from sqlalchemy import case, func, select
from sqlalchemy.orm import Session

from orexis.core.coach.standing import Heard
from orexis.core.exercises.book import COLD
from orexis.core.judging.gate import GateLevel
from orexis.core.progress.one_note import Time
from orexis.core.score.steps import On
from orexis.store.history import local_day, midnight, theirs
from orexis.store.models import Player, Take, TakeNote, TakeSound
from orexis.store.remembered import remembered

Asked = dict[On, dict[int, list[Heard]]]
"""By where it was asked of, the horn or the mouthpiece, and by note: every day of it, oldest
first, tries of a day that are alike in gate and verdict taken together at their best."""


def asked_of(session: Session, player: Player, today: date) -> Asked:
    """Every note that was ever asked of a player on the horn they play now, up to a day."""
    until = midnight(today + timedelta(days=1))
    return remembered(
        session, player, "asked", (today,), until, None, lambda: _asked(session, player)
    )


def _asked(session: Session, player: Player) -> Asked:
    day = local_day()
    what = (
        day,
        TakeNote.on,
        TakeNote.asked_midi,
        Take.passed,
        Take.gate_level,
        Take.exercise_key == COLD,
    )
    sounded_s = case((TakeNote.spoke, TakeNote.end_s - TakeNote.start_s), else_=0.0)
    held_s = case((TakeNote.spoke, TakeNote.hold_s), else_=0.0)
    query = (
        select(*what, func.max(sounded_s), func.max(held_s))
        .join(TakeNote, TakeNote.take_id == Take.id)
        .where(*theirs(player))
        .group_by(*what)
        .order_by(day)
    )
    asked: Asked = {on: {} for on in On}
    for on_day, on, midi, passed, level, cold, longest_s, best_s in session.execute(query):
        one = Heard(
            date.fromisoformat(on_day),
            longest_s or 0.0,
            best_s or 0.0,
            bool(passed),
            GateLevel(level),
            bool(cold),
        )
        asked[On(on)].setdefault(midi, []).append(one)
    return asked


def times_of(session: Session, player: Player, midi: int, on: On) -> list[Time]:
    """Every time a note was asked for, oldest first."""
    rows: Any = session.execute(
        select(
            Take.id,
            Take.started_at,
            Take.passed,
            Take.gate_level,
            TakeSound.take_id.is_not(None),
            TakeNote.spoke,
            TakeNote.hold_s,
            TakeNote.centre_cents,
            TakeNote.spread_cents,
            TakeNote.rise_s,
            TakeNote.harmonicity_db,
            TakeNote.brightness,
        )
        .join(TakeNote, TakeNote.take_id == Take.id)
        .outerjoin(TakeSound, TakeSound.take_id == Take.id)
        .where(*theirs(player), TakeNote.asked_midi == midi, TakeNote.on == on)
        .order_by(Take.started_at, Take.first_frame, TakeNote.number)
    )
    return [
        Time(
            take_id,
            at.astimezone(),
            bool(passed),
            GateLevel(level),
            can_be_heard,
            spoke,
            held_s or 0.0,
            *measured,
        )
        for take_id, at, passed, level, can_be_heard, spoke, held_s, *measured in rows
    ]
