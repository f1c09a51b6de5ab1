"""What was played, as the coach reads it: light rows, never sound.

The last two weeks are read try by try. What is older is summed up by day, exercise and note, since
all that is asked of it is how long it sounded and whether it was held.
"""

from collections.abc import Iterable
from datetime import date, datetime, time, timedelta
from itertools import groupby
from typing import Any

from sqlalchemy import ColumnElement, func, select
from sqlalchemy.orm import Session

from orexis.core.coach.history import (
    GLIDED,
    SILENCE_S,
    History,
    Hurting,
    NoteRow,
    Sitting,
    Tried,
    glided,
)
from orexis.core.coach.load import LOOKS_BACK
from orexis.core.exercises.book import COLD
from orexis.core.exercises.family import Group
from orexis.core.judging.gate import GateLevel
from orexis.core.score.steps import On
from orexis.core.session.state import Close, End
from orexis.store.models import Hurt, Player, PracticeSession, Take, TakeNote

RECENT = timedelta(days=14)


def history_of(session: Session, player: Player, today: date, families: Iterable[str]) -> History:
    """What a player has played on the horn they play now, as far back as decisions look, and, of
    some families, as far back as there is anything."""
    recent = _midnight(today - RECENT)
    older = _midnight(today - LOOKS_BACK)
    tries = [
        *_tried(session, player, families, None, older),
        *_summed(session, player, older, recent),
        *_tried(session, player, None, recent, None),
    ]
    tries.sort(key=lambda one: one.day)
    return History(
        tuple(tries),
        _sittings(session, player, _midnight(today - LOOKS_BACK)),
        _hurts(session, player),
        _cold(session, player),
    )


def session_notes(session: Session, session_id: str) -> list[NoteRow]:
    """The notes that were asked for in a session so far, in order of playing."""
    query = (
        select(*_NOTE)
        .join(Take, Take.id == TakeNote.take_id)
        .where(Take.session_id == session_id, Take.deleted_at.is_(None))
        .order_by(Take.first_frame, TakeNote.number)
    )
    return [_note(*row) for row in session.execute(query)]


def ever_heard(session: Session, player: Player, midis: Iterable[int]) -> set[int]:
    """Those of some notes that have ever spoken on the horn a player plays now."""

    def spoke(midi: int) -> bool:
        query = (
            select(Take.id)
            .join(TakeNote, Take.id == TakeNote.take_id)
            .where(
                *_theirs(player),
                TakeNote.asked_midi == midi,
                TakeNote.on == On.HORN,
                TakeNote.spoke == True,  # noqa: E712 - a column is compared in the file
            )
            .limit(1)
        )
        return session.scalar(query) is not None

    return {midi for midi in midis if spoke(midi)}


def found_range(session: Session, player: Player, title: str) -> tuple[int | None, int | None]:
    """The lowest and highest note that spoke in what passed of the newest session of a title, on
    the horn that is played now."""
    newest = session.scalar(
        select(PracticeSession.id)
        .where(
            PracticeSession.player_id == player.id,
            PracticeSession.instrument_key == player.instrument_key,
            PracticeSession.title == title,
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
            Take.session_id == newest,
            Take.deleted_at.is_(None),
            Take.passed == True,  # noqa: E712 - a column is compared in the file
            TakeNote.spoke == True,  # noqa: E712 - a column is compared in the file
        )
    )
    low, high = session.execute(query).one()
    return low, high


def _midnight(day: date) -> datetime:
    return datetime.combine(day, time()).astimezone()


def _local_day() -> ColumnElement[str]:
    return func.date(Take.started_at, "localtime")


def _theirs(player: Player) -> tuple[ColumnElement[bool], ...]:
    """A player's own takes on their present horn; the stand-in player's are not their lips."""
    return (
        Take.player_id == player.id,
        Take.instrument_key == player.instrument_key,
        Take.source == "microphone",
        Take.deleted_at.is_(None),
    )


def _measure(key: str) -> ColumnElement[Any]:
    return func.json_extract(TakeNote.measures, f"$.{key}")


_NOTE = (
    TakeNote.asked_midi,
    TakeNote.on,
    TakeNote.spoke,
    TakeNote.played_midi,
    TakeNote.end_s - TakeNote.start_s,
    _measure("hold_s"),
    TakeNote.level_db,
    TakeNote.spread_cents,
    _measure("rise_s"),
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
) -> NoteRow:
    seconds, held = sounded_s or 0.0, held_s or 0.0
    return NoteRow(
        midi, on == On.HORN, spoke, played, seconds, held, level_db, spread_cents, rise_s
    )


def _tried(
    session: Session,
    player: Player,
    families: Iterable[str] | None,
    since: datetime | None,
    until: datetime | None,
) -> list[Tried]:
    """Tries one by one, oldest first."""
    query = (
        select(
            Take.id,
            _local_day(),
            Take.exercise_key,
            Take.passed,
            Take.gate_level,
            Take.duration_s,
            *_NOTE,
        )
        .join(TakeNote, TakeNote.take_id == Take.id)
        .where(*_theirs(player))
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
    found: list[Tried] = []
    for (_, day, family, passed, level, seconds), rows in groupby(
        session.execute(query), key=lambda row: row[:6]
    ):
        notes = tuple(_note(*row[6:]) for row in rows)
        if family in GLIDED:
            notes = glided(notes, seconds)
        one = Tried(date.fromisoformat(day), family, bool(passed), GateLevel(level), notes)
        found.append(one)
    return found


def _summed(session: Session, player: Player, since: datetime, until: datetime) -> list[Tried]:
    """Days of an exercise summed up, those that passed and those that did not apart."""
    day = _local_day()
    what = (day, Take.exercise_key, Take.passed, Take.gate_level, TakeNote.on, TakeNote.asked_midi)
    query = (
        select(
            *what,
            func.max(TakeNote.spoke),
            func.sum(TakeNote.end_s - TakeNote.start_s),
            func.max(_measure("hold_s")),
            func.avg(TakeNote.level_db),
        )
        .join(TakeNote, TakeNote.take_id == Take.id)
        .where(*_theirs(player), Take.started_at >= since, Take.started_at < until)
        .group_by(*what)
        .order_by(*what)
    )
    lasted = _lasted(session, player, since, until)
    found: list[Tried] = []
    for (on_day, family, passed, level), rows in groupby(
        session.execute(query), key=lambda row: row[:4]
    ):
        notes = tuple(
            NoteRow(midi, on == On.HORN, bool(spoke), None, s or 0.0, held or 0.0, db)
            for _, _, _, _, on, midi, spoke, s, held, db in rows
        )
        if family in GLIDED:
            notes = glided(notes, lasted.get((on_day, family, bool(passed), level), 0.0))
        one = Tried(date.fromisoformat(on_day), family, bool(passed), GateLevel(level), notes)
        found.append(one)
    return found


def _lasted(
    session: Session, player: Player, since: datetime, until: datetime
) -> dict[tuple[str, str, bool, str], float]:
    """How long the tries of a day at what is glided lasted, silences taken out."""
    what = (_local_day(), Take.exercise_key, Take.passed, Take.gate_level)
    query = (
        select(*what, func.sum(Take.duration_s), func.count())
        .where(
            *_theirs(player),
            Take.exercise_key.in_(sorted(GLIDED)),
            Take.started_at >= since,
            Take.started_at < until,
        )
        .group_by(*what)
    )
    return {
        (day, family, bool(passed), level): seconds - SILENCE_S * (count - 1)
        for day, family, passed, level, seconds, count in session.execute(query)
    }


def _sittings(session: Session, player: Player, since: datetime) -> tuple[Sitting, ...]:
    rows = session.execute(
        select(PracticeSession.started_at, PracticeSession.went, PracticeSession.ended)
        .where(
            PracticeSession.player_id == player.id,
            PracticeSession.instrument_key == player.instrument_key,
            PracticeSession.source == "microphone",
            PracticeSession.title != "",
            PracticeSession.started_at >= since,
        )
        .order_by(PracticeSession.started_at)
    )
    return tuple(
        Sitting(
            at.astimezone().date(),
            tuple((Group(one["group"]), Close(one["close"])) for one in went or ()),
            None if ended is None else End(ended),
        )
        for at, went, ended in rows
    )


def _hurts(session: Session, player: Player) -> tuple[Hurting, ...]:
    rows = session.scalars(select(Hurt).where(Hurt.player_id == player.id).order_by(Hurt.at))
    return tuple(
        Hurting(
            one.at.astimezone().date(),
            None if one.cleared_at is None else one.cleared_at.astimezone().date(),
        )
        for one in rows
    )


def _cold(session: Session, player: Player) -> frozenset[int]:
    """The notes that were once picked from silence and passed at the normal gate or harder."""
    query = (
        select(TakeNote.asked_midi)
        .distinct()
        .join(Take, Take.id == TakeNote.take_id)
        .where(
            *_theirs(player),
            Take.exercise_key == COLD,
            Take.passed == True,  # noqa: E712 - a column is compared in the file
            Take.gate_level != GateLevel.KIND,
            TakeNote.spoke == True,  # noqa: E712 - a column is compared in the file
        )
    )
    return frozenset(session.scalars(query))
