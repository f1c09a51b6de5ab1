"""Sessions: their plan, their log, and what hurt."""

from datetime import date, datetime

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from orexis.core.session.plan import SessionKind
from orexis.store.models import Hurt, PracticeSession, SessionEntry, SessionMemo, Take


def log_of(session: Session, session_id: str) -> list[SessionEntry]:
    """The log of a session, in order."""
    return list(
        session.scalars(
            select(SessionEntry)
            .where(SessionEntry.session_id == session_id)
            .order_by(SessionEntry.number)
        )
    )


def open_session(session: Session, player_id: int, since: datetime) -> PracticeSession | None:
    """The newest session of a player that has a plan to go on with, if it began after a time."""
    return session.scalar(
        select(PracticeSession)
        .where(
            PracticeSession.player_id == player_id,
            PracticeSession.ended.is_(None),
            PracticeSession.started_at >= since,
            PracticeSession.kind != SessionKind.TASK,
        )
        .order_by(PracticeSession.started_at.desc())
        .limit(1)
    )


def whole_sessions(
    session: Session,
    player_id: int,
    count: int,
    since: datetime | None = None,
    until: datetime | None = None,
) -> list[PracticeSession]:
    """A player's newest sessions that had a plan, of some time if given, newest first."""
    query = (
        select(PracticeSession)
        .where(PracticeSession.player_id == player_id, PracticeSession.kind != SessionKind.TASK)
        .order_by(PracticeSession.started_at.desc())
        .limit(count)
    )
    if since is not None:
        query = query.where(PracticeSession.started_at >= since)
    if until is not None:
        query = query.where(PracticeSession.started_at < until)
    return list(session.scalars(query))


def keep_memo(session: Session, session_id: str, flac: bytes) -> None:
    """Keeps a spoken note with a session, in place of the one before."""
    session.merge(SessionMemo(session_id=session_id, flac=flac))


def memo_of(session: Session, session_id: str) -> bytes | None:
    """The spoken note of a session, if there is one."""
    row = session.get(SessionMemo, session_id)
    return None if row is None else row.flac


def has_memo(session: Session, session_id: str) -> bool:
    """Whether a session has a spoken note."""
    query = select(func.count()).where(SessionMemo.session_id == session_id)
    return bool(session.scalar(query))


def report_hurt(session: Session, player_id: int, at: datetime, session_id: str | None) -> None:
    """Keeps that something hurt."""
    session.add(Hurt(player_id=player_id, at=at, session_id=session_id))


def hurts_of(session: Session, player_id: int) -> list[Hurt]:
    """What hurt a player and has not been cleared, oldest first."""
    rows = session.scalars(
        select(Hurt).where(Hurt.player_id == player_id, Hurt.cleared_at.is_(None)).order_by(Hurt.at)
    )
    return list(rows)


def hurt_since(session: Session, player_id: int) -> date | None:
    """On which day what hurts a player hurt last, `None` where nothing does."""
    hurts = hurts_of(session, player_id)
    return hurts[-1].at.astimezone().date() if hurts else None


def clear_hurts(session: Session, player_id: int, at: datetime) -> None:
    """The player says that nothing hurts any more."""
    for hurt in hurts_of(session, player_id):
        hurt.cleared_at = at


def seconds_by_session(
    session: Session, kept: PracticeSession, since: datetime
) -> dict[str, float]:
    """How long the takes of a session sounded in all (s), and those of each other one since a time
    that is of the same player and kind and began before it; by their ids."""
    rows = session.execute(
        select(PracticeSession.id, func.sum(Take.sounded_s))
        .join(PracticeSession, PracticeSession.id == Take.session_id)
        .where(
            PracticeSession.player_id == kept.player_id,
            PracticeSession.kind == kept.kind,
            PracticeSession.started_at >= since,
            PracticeSession.started_at <= kept.started_at,
            Take.deleted_at.is_(None),
        )
        .group_by(PracticeSession.id)
    )
    return {row[0]: row[1] for row in rows}
