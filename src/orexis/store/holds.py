"""How long notes of sets were held, by takes: of the set a take is of, and of those before."""

from collections import defaultdict
from datetime import timedelta

from sqlalchemy import select
from sqlalchemy.orm import Session

from orexis.core.judging.holds import Hold
from orexis.store.models import Take, TakeNote

_USUAL_OF = timedelta(days=28)


def set_so_far(session: Session, take: Take) -> list[Take]:
    """The takes of the set that a take is of, up to that one, in order of playing."""
    query = (
        select(Take)
        .where(
            Take.session_id == take.session_id,
            Take.set_number == take.set_number,
            Take.exercise_key == take.exercise_key,
            Take.first_frame <= take.first_frame,
            Take.deleted_at.is_(None),
        )
        .order_by(Take.first_frame)
    )
    return list(session.scalars(query))


def sets_before(session: Session, take: Take, note: TakeNote) -> list[list[float]]:
    """How long (s; 0 where it did not speak) a note that was asked for as long was held in each set
    of the weeks before the one that a take is of: of the same player, horn and exercise."""
    query = (
        select(Take.session_id, Take.set_number, TakeNote)
        .join(TakeNote, TakeNote.take_id == Take.id)
        .where(
            Take.player_id == take.player_id,
            Take.instrument_key == take.instrument_key,
            Take.exercise_key == take.exercise_key,
            Take.source == take.source,
            Take.started_at >= take.started_at - _USUAL_OF,
            Take.started_at < take.started_at,
            Take.deleted_at.is_(None),
            TakeNote.asked_midi == note.asked_midi,
            TakeNote.asked_s == note.asked_s,
        )
    )
    found: defaultdict[tuple[str, int], list[float]] = defaultdict(list)
    for session_id, set_number, row in session.execute(query):
        if (session_id, set_number) != (take.session_id, take.set_number):
            found[session_id, set_number].append(hold_of(row).seconds)
    return list(found.values())


def hold_of(row: TakeNote) -> Hold:
    """How long a note was held."""
    return Hold(row.asked_midi, (row.spoke and row.hold_s) or 0.0)
