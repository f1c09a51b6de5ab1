"""A player's days on all their horns: what was played, bookmarked and hurt, and what was on."""

from collections.abc import Callable, Sequence
from datetime import date, timedelta
from typing import Any

from sqlalchemy import ColumnElement, case, func, select, true
from sqlalchemy.orm import Session

from orexis.core.progress.diary import DiaryDay
from orexis.core.score.steps import PlayedOn
from orexis.core.session.plan import SessionKind
from orexis.store.coaching import event_of
from orexis.store.history import local_day, midnight
from orexis.store.models import (
    Bookmark,
    ComingDate,
    FreeSitting,
    Hurt,
    Player,
    PracticeSession,
    Recording,
    Take,
    TakeNote,
    TypedPractice,
)
from orexis.store.typed import typed_rows

_DAY = timedelta(days=1)


def diary_of(
    session: Session, player: Player, first: date, last: date, *, with_stand_in: bool = False
) -> list[DiaryDay]:
    """The days from the first to the last, both among them, that have anything on them; what the
    stand-in player played counts only where it is asked for."""
    found: dict[date, dict[str, Any]] = {}

    def on(day: date) -> dict[str, Any]:
        return found.setdefault(day, {})

    played = select(
        local_day(), func.count(), func.count(case((Take.passed, 1))), func.sum(Take.sounded_s)
    )
    for day, attempts, passed, seconds in session.execute(
        played.where(*_played(player, first, last, with_stand_in)).group_by(local_day())
    ):
        on(date.fromisoformat(day)).update(attempts=attempts, passed=passed, sounded_s=seconds)
    for sitting in sittings_of(session, player, first, last):
        row = on(sitting.started_at.astimezone().date())
        row["free_s"] = row.get("free_s", 0.0) + sitting.playing_s
    since, until = midnight(first), midnight(last + _DAY)
    sessions = select(PracticeSession.started_at).where(
        PracticeSession.player_id == player.id,
        PracticeSession.kind != SessionKind.TASK,
        PracticeSession.started_at >= since,
        PracticeSession.started_at < until,
    )
    for at in session.scalars(sessions):
        row = on(at.astimezone().date())
        row["sessions"] = row.get("sessions", 0) + 1
    hurts = select(Hurt.at).where(Hurt.player_id == player.id, Hurt.at >= since, Hurt.at < until)
    for at in session.scalars(hurts):
        on(at.astimezone().date())["hurt"] = True
    dates = select(ComingDate).where(
        ComingDate.player_id == player.id, ComingDate.day >= first, ComingDate.day <= last
    )
    for event in map(event_of, session.scalars(dates)):
        on(event.day)["event"] = event.words or event.kind.value
    for typed in typed_rows(session, player, first, last):
        row = on(typed.day)
        row["typed_min"] = row.get("typed_min", 0.0) + typed.minutes
    for _, kept in bookmarked(session, player, first, last):
        row = on(kept.started_at.astimezone().date())
        row["bookmarks"] = row.get("bookmarks", 0) + 1
    return [DiaryDay(day, **found[day]) for day in sorted(found)]


def sittings_of(session: Session, player: Player, first: date, last: date) -> Sequence[FreeSitting]:
    """What a player played without a task on some days, on any horn, in order of playing."""
    return session.scalars(
        select(FreeSitting)
        .where(
            *_freely(player),
            FreeSitting.started_at >= midnight(first),
            FreeSitting.started_at < midnight(last + _DAY),
        )
        .order_by(FreeSitting.started_at)
    ).all()


def bookmarked(
    session: Session, player: Player, first: date, last: date
) -> list[tuple[Bookmark, Take | Recording]]:
    """The spots that were bookmarked in what was played on some days, in order of playing."""
    return _bookmarked(
        session,
        player,
        lambda kind: (
            kind.started_at >= midnight(first),
            kind.started_at < midnight(last + _DAY),
        ),
    )


def _bookmarked(
    session: Session,
    player: Player,
    which: Callable[[type[Take] | type[Recording]], tuple[ColumnElement[bool], ...]],
) -> list[tuple[Bookmark, Take | Recording]]:
    found: list[tuple[Bookmark, Take | Recording]] = []
    kinds: tuple[tuple[type[Take] | type[Recording], Any], ...] = (
        (Take, Bookmark.take_id),
        (Recording, Bookmark.recording_id),
    )
    for kind, key in kinds:
        query = (
            select(Bookmark, kind)
            .join(kind, kind.id == key)
            .where(
                kind.player_id == player.id,
                kind.deleted_at.is_(None),
                *which(kind),
            )
        )
        rows: Any = session.execute(query)
        found += [(bookmark, kept) for bookmark, kept in rows]
    return sorted(found, key=lambda one: (one[1].started_at, one[0].at_s))


def open_bookmarks(session: Session, player: Player) -> list[tuple[Bookmark, Take | Recording]]:
    """Every spot that was bookmarked and not gone back to yet, in order of playing."""
    return _bookmarked(session, player, lambda kind: (Bookmark.gone_back_at.is_(None),))


def spans_of(
    session: Session, player: Player, first: date, last: date, *, with_stand_in: bool = False
) -> dict[date, tuple[int, int]]:
    """The lowest and the highest note that spoke on each day on which any did."""
    rows: Any = session.execute(
        select(local_day(), func.min(TakeNote.asked_midi), func.max(TakeNote.asked_midi))
        .join(Take, Take.id == TakeNote.take_id)
        .where(
            *_played(player, first, last, with_stand_in),
            TakeNote.spoke,
            TakeNote.on == PlayedOn.HORN,
        )
        .group_by(local_day())
    )
    return {date.fromisoformat(day): (low, high) for day, low, high in rows}


def first_day(session: Session, player: Player) -> date | None:
    """The first day a player played on, here or elsewhere; `None` where there is none."""
    at = session.scalar(
        select(func.min(Take.started_at)).where(
            Take.player_id == player.id, Take.deleted_at.is_(None), Take.source == "microphone"
        )
    )
    typed = session.scalar(
        select(func.min(TypedPractice.day)).where(TypedPractice.player_id == player.id)
    )
    freely = session.scalar(select(func.min(FreeSitting.started_at)).where(*_freely(player)))
    days = [one.astimezone().date() for one in (at, freely) if one is not None]
    return min([*days, *([] if typed is None else [typed])], default=None)


def _freely(player: Player) -> tuple[ColumnElement[bool], ...]:
    """What a player played without a task, whatever the horn."""
    return (
        FreeSitting.player_id == player.id,
        FreeSitting.source == "microphone",
        FreeSitting.notes.any(),
    )


def _played(
    player: Player, first: date, last: date, with_stand_in: bool = False
) -> tuple[ColumnElement[bool], ...]:
    """What a player played on some days, whatever the horn."""
    return (
        Take.player_id == player.id,
        true() if with_stand_in else Take.source == "microphone",
        Take.deleted_at.is_(None),
        Take.started_at >= midnight(first),
        Take.started_at < midnight(last + _DAY),
    )
