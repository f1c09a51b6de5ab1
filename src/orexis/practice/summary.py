"""What there is to say of a session: what moved, what to leave for tomorrow, time of playing."""

from collections import defaultdict
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime, timedelta
from statistics import median

from sqlalchemy import select
from sqlalchemy.orm import Session

from orexis.core.exercises.writer import Writer
from orexis.core.horn.registers import Register, register_of
from orexis.core.score.steps import PlayedOn
from orexis.core.session.state import BlockEnd, SessionState
from orexis.core.session.telling import (
    exercise_result_words,
    playing_words,
    rests_words,
    tomorrow_words,
)
from orexis.core.session.timeline import TimelineBlock, timeline_of
from orexis.practice.kept_sessions import first_state, kept_log, kept_results
from orexis.store.models import Player, PracticeSession, Take, TakeNote
from orexis.store.sessions import has_memo, seconds_by_session, whole_sessions

_USUAL_SINCE, _USUAL_FROM = timedelta(weeks=4), 3


@dataclass(frozen=True, slots=True)
class Summary:
    """The end of a session: its timeline, in words what was left out and what waits, how long each
    register sounded (s), and in words how long it all was beside the player's other sessions."""

    timeline: tuple[TimelineBlock, ...]
    left_out: tuple[str, ...]
    tomorrow: tuple[str, ...]
    registers: tuple[tuple[Register, float], ...]
    rests: str
    takes: int
    playing: str


def summary_of(session: Session, session_id: str, state: SessionState, writer: Writer) -> Summary:
    """What a session came to so far."""
    left = (tomorrow_words(block.result) for block in state.closed)
    rows = session.execute(
        select(Take.id, TakeNote)
        .join(TakeNote, Take.id == TakeNote.take_id)
        .where(Take.session_id == session_id, Take.deleted_at.is_(None))
    ).all()
    kept = session.get_one(PracticeSession, session_id)
    return Summary(
        timeline=timeline_of(first_state(kept), kept_log(session, kept)),
        left_out=tuple(
            exercise_result_words(block.result)
            for block in state.closed
            if block.close is BlockEnd.HELD_BACK
        ),
        tomorrow=tuple(words for words in left if words),
        registers=_on_the_face((row for _, row in rows), writer),
        rests=rests_words(state),
        takes=len({take_id for take_id, _ in rows}),
        playing=_playing(session, kept),
    )


def _playing(session: Session, kept: PracticeSession) -> str:
    """How long a session sounded, beside those of the weeks before, in words."""
    seconds = seconds_by_session(session, kept, kept.started_at - _USUAL_SINCE)
    played_s = seconds.pop(kept.id, 0.0)
    usual_s = median(seconds.values()) if len(seconds) >= _USUAL_FROM else None
    return playing_words(played_s, usual_s)


def _on_the_face(rows: Iterable[TakeNote], writer: Writer) -> tuple[tuple[Register, float], ...]:
    found: dict[Register, float] = defaultdict(float)
    for row in rows:
        midi = row.asked_midi if row.played_midi is None else row.played_midi
        on_horn = register_of(midi, writer.instrument, writer.reach.high)
        found[on_horn if row.on == PlayedOn.HORN else Register.BUZZ] += row.length_s
    return tuple((register, round(found[register], 1)) for register in Register if found[register])


@dataclass(frozen=True, slots=True)
class ListedSession:
    """A session in a list: how each of its exercises went, and whether there is a spoken note."""

    kept: PracticeSession
    results: tuple[str, ...]
    has_memo: bool


def told_sessions(
    session: Session,
    player: Player,
    count: int,
    since: datetime | None = None,
    until: datetime | None = None,
) -> list[ListedSession]:
    """A player's newest sessions that had a plan, of some time if given, newest first."""
    return [
        ListedSession(
            kept,
            tuple(exercise_result_words(result) for result in kept_results(session, kept)),
            has_memo(session, kept.id),
        )
        for kept in whole_sessions(session, player.id, count, since, until)
    ]
