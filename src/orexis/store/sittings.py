"""Sittings: kept while they are played and when they have ended; what is usual of them."""

from collections.abc import Sequence
from datetime import date, datetime

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from orexis.core.coach.history import FreePlayed
from orexis.core.listening.habits import NoteHabit
from orexis.core.listening.sitting import Sitting
from orexis.store.models import FreeSitting, Player, Recording, SittingEntry, SittingNote


def begin_sitting(
    session: Session, player: Player | None, sitting_id: str, started_at: datetime, source: str
) -> FreeSitting:
    """The sitting of an id, created where it does not exist yet; it belongs to nobody without a
    player."""
    row = session.get(FreeSitting, sitting_id)
    if row is None:
        row = FreeSitting(
            id=sitting_id,
            player_id=None if player is None else player.id,
            started_at=started_at,
            source=source,
            instrument_key="" if player is None else player.instrument_key,
        )
        session.add(row)
        session.flush()
    return row


def sitting_log(session: Session, sitting_id: str) -> Sequence[SittingEntry]:
    """The log of a sitting, in order."""
    return session.scalars(
        select(SittingEntry)
        .where(SittingEntry.sitting_id == sitting_id)
        .order_by(SittingEntry.number)
    ).all()


def end_sitting(row: FreeSitting, sitting: Sitting) -> None:
    """Keeps what was heard in a sitting."""
    row.low_s, row.middle_s, row.high_s = (
        sitting.by_register[register] for register in ("low", "middle", "high")
    )
    row.notes = [
        SittingNote(
            midi=note.midi,
            times=note.times,
            seconds=note.seconds,
            cents=note.cents,
            spread_cents=note.spread_cents,
            longest_hold_s=note.longest_hold_s,
        )
        for note in sitting.notes
    ]


def habits_of(row: FreeSitting) -> list[NoteHabit]:
    """How each note was played in a sitting, from the lowest up."""
    return [
        NoteHabit(
            note.midi, note.times, note.cents, note.spread_cents, note.seconds, note.longest_hold_s
        )
        for note in row.notes
    ]


def recording_of_sitting(session: Session, row: FreeSitting) -> str | None:
    """The id of what was recorded of a sitting; `None` where that is not there any more."""
    return session.scalar(
        select(Recording.id).where(
            Recording.player_id == row.player_id,
            Recording.started_at == row.started_at,
            Recording.deleted_at.is_(None),
        )
    )


def usual_habits(
    session: Session, player_id: int, instrument_key: str, since: datetime, but: str = ""
) -> dict[int, NoteHabit]:
    """How a player has played each note freely since some time, on one horn: all sittings together,
    each weighing by how often it has the note; one of them left out."""
    weighed = func.sum(SittingNote.cents * SittingNote.times)
    spread = func.sum(SittingNote.spread_cents * SittingNote.times)
    times = func.sum(SittingNote.times)
    rows = session.execute(
        select(
            SittingNote.midi,
            times,
            weighed / times,
            spread / times,
            func.sum(SittingNote.seconds),
            func.max(SittingNote.longest_hold_s),
        )
        .join(FreeSitting, FreeSitting.id == SittingNote.sitting_id)
        .where(
            FreeSitting.player_id == player_id,
            FreeSitting.instrument_key == instrument_key,
            FreeSitting.source == "microphone",
            FreeSitting.started_at >= since,
            FreeSitting.id != but,
        )
        .group_by(SittingNote.midi)
    )
    return {row[0]: NoteHabit(*row) for row in rows}


def free_played(session: Session, player: Player, since: datetime) -> tuple[FreePlayed, ...]:
    """What a player played freely on the days since a time, on the horn they play now."""
    day = func.date(FreeSitting.started_at, "localtime")
    rows = session.execute(
        select(
            day, func.sum(FreeSitting.low_s + FreeSitting.middle_s), func.sum(FreeSitting.high_s)
        )
        .where(
            FreeSitting.player_id == player.id,
            FreeSitting.instrument_key == player.instrument_key,
            FreeSitting.source == "microphone",
            FreeSitting.started_at >= since,
        )
        .group_by(day)
        .order_by(day)
    )
    return tuple(_played(*row) for row in rows)


def _played(day: str, easy_s: float, high_s: float) -> FreePlayed:
    return FreePlayed(date.fromisoformat(day), easy_s, high_s)


def unclaimed_sittings(session: Session) -> Sequence[FreeSitting]:
    """The sittings that nobody has claimed yet, newest first."""
    return session.scalars(
        select(FreeSitting)
        .where(FreeSitting.player_id.is_(None))
        .order_by(FreeSitting.started_at.desc())
    ).all()
