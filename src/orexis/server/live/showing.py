"""Where a session is, as it is shown: put together from what practice knows of it."""

from orexis.core.exercises.family import Aim
from orexis.core.horn.pitch import hz_from_midi
from orexis.core.judging.aims import limit_of
from orexis.practice.exercises import sheet_music, writer_for
from orexis.practice.sessions import Session
from orexis.practice.summary import summary_of
from orexis.server.live.messages import SessionTold
from orexis.server.schemas.book import StandPlan
from orexis.server.schemas.sessions import SessionPart, SummaryOut
from orexis.store.database import Database
from orexis.store.players import notation_of


def shown_of(database: Database, session: Session, changed: bool) -> SessionTold:
    """Where a session is now, what is on the Stand where that has `changed`, and at its end what it
    came to."""
    state, player, horn = session.state, session.player, session.horn
    with database.session() as data:
        writer = writer_for(data, player, horn)
        summary = None
        if state.ended is not None:
            summary = SummaryOut.of(summary_of(data, session.id, state, writer))
    heard = state.heard_first
    hear_hz = None if heard is None else round(hz_from_midi(heard, horn.setup.a4_hz), 3)
    plan = None
    if changed:
        notation, task = notation_of(player), state.task
        limit_cents = limit_of(Aim.CENTRE, state.level, task)
        svg = sheet_music(task, horn, notation)
        plan = StandPlan.of(task, writer, notation, limit_cents, svg)
    return SessionTold(
        title=session.title,
        sample=session.sample,
        plan=plan,
        now=SessionPart.of(state, session.sample, hear_hz),
        summary=summary,
    )
