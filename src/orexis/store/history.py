"""What was played, as the coach reads it: light rows, never sound.

Today is read attempt by attempt. The days before are summed up by exercise and note, since all that
is asked of them is how long a note sounded and whether it was held; they hardly change, so they are
remembered for as long as the takes behind them stay as they are. The exercises of programmes are
read one by one."""

from collections.abc import Iterable
from datetime import date, datetime, time
from itertools import groupby
from typing import Any

from sqlalchemy import ColumnElement, and_, case, func, select
from sqlalchemy.orm import Session

from orexis.core.coach.fatigue import usual_notes
from orexis.core.coach.history import (
    DayAttempts,
    History,
    HurtPeriod,
    NoteRow,
    PastAttempt,
    Sitting,
    with_between,
)
from orexis.core.coach.load import LOOKS_BACK
from orexis.core.exercises.book import FROM_SILENCE
from orexis.core.exercises.family import Group
from orexis.core.judging.standard import Standard
from orexis.core.listening.habits import TOUCHED_S
from orexis.core.score.steps import PlayedOn
from orexis.core.session.plan import SessionKind
from orexis.core.session.state import BlockEnd
from orexis.store.models import Hurt, Player, PracticeSession, Take, TakeNote, TaskSnapshot
from orexis.store.remembered import remembered
from orexis.store.sittings import free_played


def history_of(session: Session, player: Player, today: date, families: Iterable[str]) -> History:
    """What a player has played on the horn they play now, as far back as decisions look, and, of
    some families, attempt by attempt as far back as there is anything."""
    wanted = tuple(sorted(families))
    return History(
        (
            *_before(session, player, today, wanted),
            *_tried(session, player, None, midnight(today), None),
        ),
        _sittings(session, player, midnight(today - LOOKS_BACK)),
        hurts_of(session, player),
        _cold(session, player),
        _last_before(session, player, midnight(today - LOOKS_BACK)),
        (*_worked_before(session, player, today), *_worked(session, player, midnight(today), None)),
        free_played(session, player, midnight(today - LOOKS_BACK)),
    )


def _worked_before(session: Session, player: Player, today: date) -> list[DayAttempts]:
    """What was worked on before today, remembered while nothing about its takes changes."""
    until = midnight(today)

    def read() -> list[DayAttempts]:
        return _worked(session, player, None, until)

    return remembered(session, player, "worked", (today,), until, None, read)


def _worked(
    session: Session, player: Player, since: datetime | None, until: datetime | None
) -> list[DayAttempts]:
    """Attempts of each day at each exercise as it was set, those whose setting was kept."""
    day = local_day()
    query = (
        select(
            day,
            Take.exercise_key,
            TaskSnapshot.document["values"],
            func.count(),
            func.sum(case((Take.passed == True, 1), else_=0)),  # noqa: E712 - in the file
        )
        .join(TaskSnapshot, TaskSnapshot.key == Take.task_key)
        .where(*theirs(player))
        .group_by(day, Take.exercise_key, Take.task_key)
        .order_by(day)
    )
    if since is not None:
        query = query.where(Take.started_at >= since)
    if until is not None:
        query = query.where(Take.started_at < until)
    return [
        DayAttempts(date.fromisoformat(on_day), family, values, attempts, good)
        for on_day, family, values, attempts, good in session.execute(query)
    ]


def _last_before(session: Session, player: Player, since: datetime) -> date | None:
    """The last day before a moment on which the player's horn was played."""
    query = select(func.max(Take.started_at)).where(*theirs(player), Take.started_at < since)
    last = session.scalar(query)
    return None if last is None else last.astimezone().date()


def _before(
    session: Session, player: Player, today: date, families: tuple[str, ...]
) -> list[PastAttempt]:
    """The days before today, remembered while nothing about their takes changes."""
    since, until = midnight(today - LOOKS_BACK), midnight(today)

    def read() -> list[PastAttempt]:
        attempts = [
            *_tried(session, player, families, None, until),
            *_summed(session, player, since, until, families),
        ]
        attempts.sort(key=lambda attempt: attempt.day)
        return attempts

    return remembered(session, player, "history", (today, families), until, since, read)


def session_notes(session: Session, session_id: str) -> list[NoteRow]:
    """The notes that were asked for in a session so far, in order of playing."""
    query = (
        select(*_NOTE)
        .join(Take, Take.id == TakeNote.take_id)
        .where(Take.session_id == session_id, Take.deleted_at.is_(None))
        .order_by(Take.first_frame, TakeNote.number)
    )
    rows: Iterable[Any] = session.execute(query)
    return [_note(*row) for row in rows]


def usual_of(session: Session, player: Player, today: date) -> tuple[NoteRow, ...]:
    """What a player's notes of the last weeks before a day were mostly like."""
    until = midnight(today)
    since = until - LOOKS_BACK

    def read() -> tuple[NoteRow, ...]:
        query = (
            select(*_NOTE)
            .join(Take, Take.id == TakeNote.take_id)
            .where(
                *theirs(player),
                Take.started_at >= since,
                Take.started_at < until,
                TakeNote.spread_cents.is_not(None),
            )
        )
        rows: Iterable[Any] = session.execute(query)
        return usual_notes(_note(*row) for row in rows)

    return remembered(session, player, "usual", (today,), until, since, read)


def ever_heard(session: Session, player: Player, midis: Iterable[int]) -> set[int]:
    """Those of some notes that have ever spoken on the horn a player plays now."""

    def spoke(midi: int) -> bool:
        query = (
            select(Take.id)
            .join(TakeNote, Take.id == TakeNote.take_id)
            .where(
                *theirs(player),
                TakeNote.asked_midi == midi,
                TakeNote.on == PlayedOn.HORN,
                TakeNote.spoke == True,  # noqa: E712 - a column is compared in the file
            )
            .limit(1)
        )
        return session.scalar(query) is not None

    return {midi for midi in midis if spoke(midi)}


def found_range(session: Session, player: Player) -> tuple[int | None, int | None]:
    """The lowest and highest note that spoke in what passed of the newest session that found the
    player's range, on the horn that is played now."""
    newest = session.scalar(
        select(PracticeSession.id)
        .where(
            PracticeSession.player_id == player.id,
            PracticeSession.instrument_key == player.instrument_key,
            PracticeSession.kind == SessionKind.RANGE,
        )
        .order_by(PracticeSession.started_at.desc())
        .limit(1)
    )
    if newest is None:
        return None, None
    query = (
        select(func.min(TakeNote.asked_midi), func.max(TakeNote.asked_midi))
        .join(Take, Take.id == TakeNote.take_id)
        .where(
            *theirs(player),
            Take.session_id == newest,
            Take.passed == True,  # noqa: E712 - a column is compared in the file
            TakeNote.spoke == True,  # noqa: E712 - a column is compared in the file
        )
    )
    low, high = session.execute(query).one()
    return low, high


def midnight(day: date) -> datetime:
    """When a day begins here."""
    return datetime.combine(day, time()).astimezone()


def local_day() -> ColumnElement[str]:
    """The day a take was played on here."""
    return func.date(Take.started_at, "localtime")


def theirs(player: Player) -> tuple[ColumnElement[bool], ...]:
    """A player's own takes on their present horn; the stand-in player's are not their lips."""
    return (
        Take.player_id == player.id,
        Take.instrument_key == player.instrument_key,
        Take.source == "microphone",
        Take.deleted_at.is_(None),
    )


_NOTE = (
    TakeNote.asked_midi,
    TakeNote.on,
    TakeNote.spoke,
    TakeNote.played_midi,
    TakeNote.end_s - TakeNote.start_s,
    TakeNote.hold_s,
    TakeNote.level_db,
    TakeNote.spread_cents,
    TakeNote.rise_s,
    TakeNote.asked_s,
)


def _note(
    midi: int,
    on: str,
    spoke: bool,
    played: int | None,
    sounded_s: float | None,
    held_s: float | None,
    level_db: float | None,
    spread_cents: float | None,
    rise_s: float | None,
    asked_s: float | None,
) -> NoteRow:
    seconds, held = sounded_s or 0.0, held_s or 0.0
    return NoteRow(
        midi,
        on == PlayedOn.HORN,
        spoke,
        played,
        seconds,
        held,
        level_db,
        spread_cents,
        rise_s,
        asked_s,
    )


def _tried(
    session: Session,
    player: Player,
    families: Iterable[str] | None,
    since: datetime | None,
    until: datetime | None,
) -> list[PastAttempt]:
    """Attempts one by one, oldest first."""
    query = (
        select(
            Take.id,
            local_day(),
            Take.exercise_key,
            Take.passed,
            Take.standard,
            Take.sounded_s,
            *_NOTE,
        )
        .join(TakeNote, TakeNote.take_id == Take.id)
        .where(*theirs(player))
        .order_by(Take.started_at, Take.first_frame, Take.id, TakeNote.number)
    )
    if since is not None:
        query = query.where(Take.started_at >= since)
    if until is not None:
        query = query.where(Take.started_at < until)
    if families is not None:
        wanted = sorted(families)
        if not wanted:
            return []
        query = query.where(Take.exercise_key.in_(wanted))
    found: list[PastAttempt] = []
    read: Iterable[Any] = session.execute(query)
    for (_, day, family, passed, level, seconds), rows in groupby(read, key=lambda row: row[:6]):
        notes = with_between(tuple(_note(*row[6:]) for row in rows), seconds)
        attempt = PastAttempt(date.fromisoformat(day), family, bool(passed), Standard(level), notes)
        found.append(attempt)
    return found


def _summed(
    session: Session, player: Player, since: datetime, until: datetime, but: tuple[str, ...]
) -> list[PastAttempt]:
    """Days of an exercise summed up, those that passed and those that did not apart."""
    day = local_day()
    head = (day, Take.exercise_key, Take.passed, Take.standard)
    what = (*head, TakeNote.on, TakeNote.asked_midi)
    length_s = TakeNote.end_s - TakeNote.start_s
    wanted = (
        *theirs(player),
        Take.started_at >= since,
        Take.started_at < until,
        Take.exercise_key.not_in(but),
    )
    query = (
        select(
            *what,
            func.max(and_(TakeNote.spoke, length_s >= TOUCHED_S)),
            func.sum(length_s),
            func.max(TakeNote.hold_s),
            func.avg(TakeNote.level_db),
        )
        .join(TakeNote, TakeNote.take_id == Take.id)
        .where(*wanted)
        .group_by(*what)
        .order_by(*what)
    )
    heads = select(*head, func.sum(Take.sounded_s), func.count()).where(*wanted).group_by(*head)
    attempts: dict[Any, tuple[float, int]] = {
        tuple(row[:4]): (row[4], row[5]) for row in session.execute(heads)
    }
    found: list[PastAttempt] = []
    read: Iterable[Any] = session.execute(query)
    for key, rows in groupby(read, key=lambda row: tuple(row[:4])):
        on_day, family, passed, level = key
        seconds, count = attempts[key]
        notes = tuple(
            NoteRow(midi, on == PlayedOn.HORN, bool(spoke), None, s or 0.0, held or 0.0, db)
            for _, _, _, _, on, midi, spoke, s, held, db in rows
        )
        notes = with_between(notes, seconds)
        attempt = PastAttempt(
            date.fromisoformat(on_day), family, bool(passed), Standard(level), notes, count
        )
        found.append(attempt)
    return found


def _sittings(session: Session, player: Player, since: datetime) -> tuple[Sitting, ...]:
    rows = session.execute(
        select(PracticeSession.started_at, PracticeSession.results)
        .where(
            PracticeSession.player_id == player.id,
            PracticeSession.instrument_key == player.instrument_key,
            PracticeSession.source == "microphone",
            PracticeSession.kind != SessionKind.TASK,
            PracticeSession.started_at >= since,
        )
        .order_by(PracticeSession.started_at)
    )
    return tuple(
        Sitting(
            at.astimezone().date(),
            tuple((Group(result["group"]), BlockEnd(result["close"])) for result in results or ()),
        )
        for at, results in rows
    )


def hurts_of(session: Session, player: Player) -> tuple[HurtPeriod, ...]:
    """When something hurt a player, oldest first."""
    rows = session.scalars(select(Hurt).where(Hurt.player_id == player.id).order_by(Hurt.at))
    return tuple(
        HurtPeriod(
            hurt.at.astimezone().date(),
            None if hurt.cleared_at is None else hurt.cleared_at.astimezone().date(),
        )
        for hurt in rows
    )


def _cold(session: Session, player: Player) -> frozenset[int]:
    """The notes that were once picked from silence and passed at the normal standard or a stricter
    one."""
    query = (
        select(TakeNote.asked_midi)
        .distinct()
        .join(Take, Take.id == TakeNote.take_id)
        .where(
            *theirs(player),
            Take.exercise_key.in_(FROM_SILENCE),
            Take.passed == True,  # noqa: E712 - a column is compared in the file
            Take.standard != Standard.KIND,
            TakeNote.spoke == True,  # noqa: E712 - a column is compared in the file
        )
    )
    return frozenset(session.scalars(query))
