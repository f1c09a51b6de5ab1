"""Which of a player's own exercises were played in which recordings, and where in them."""

from collections.abc import Sequence

from sqlalchemy import delete, select
from sqlalchemy.orm import Session, joinedload

from orexis.store.models import OwnExercise, PieceStretch, Recording, Take


def pieces_in(session: Session, recording_id: str) -> Sequence[OwnExercise]:
    """The pieces that were played in a recording, by name."""
    return session.scalars(
        select(OwnExercise)
        .where(
            OwnExercise.id.in_(
                select(PieceStretch.own_id).where(PieceStretch.recording_id == recording_id)
            ),
            OwnExercise.deleted_at.is_(None),
        )
        .order_by(OwnExercise.name)
    ).all()


def stretches_of(session: Session, own_id: str, recording_id: str) -> Sequence[PieceStretch]:
    """Where in a recording a piece was played, in order."""
    return session.scalars(
        select(PieceStretch)
        .where(PieceStretch.own_id == own_id, PieceStretch.recording_id == recording_id)
        .order_by(PieceStretch.start_s)
    ).all()


def recordings_of(session: Session, own_id: str, most: int) -> Sequence[Recording]:
    """The newest recordings in which a piece was played, oldest first."""
    found = session.scalars(
        select(Recording)
        .where(
            Recording.id.in_(
                select(PieceStretch.recording_id).where(PieceStretch.own_id == own_id)
            ),
            Recording.deleted_at.is_(None),
        )
        .order_by(Recording.started_at.desc())
        .limit(most)
    ).all()
    return found[::-1]


def put_in(session: Session, own: OwnExercise, recording: Recording) -> None:
    """Says that a piece was played somewhere in a recording."""
    if not stretches_of(session, own.id, recording.id):
        session.add(PieceStretch(recording_id=recording.id, own_id=own.id, start_s=0.0))
        session.flush()


def take_out(session: Session, own: OwnExercise, recording: Recording) -> None:
    """Says that a piece was not played in a recording."""
    session.execute(
        delete(PieceStretch).where(
            PieceStretch.own_id == own.id, PieceStretch.recording_id == recording.id
        )
    )


def takes_of_family(
    session: Session, player_id: int, family_key: str, instrument_key: str, most: int
) -> Sequence[Take]:
    """A player's newest takes of a family on a horn with all that was heard in them, newest
    first."""
    return session.scalars(
        select(Take)
        .where(
            Take.player_id == player_id,
            Take.exercise_key == family_key,
            Take.instrument_key == instrument_key,
            Take.has_events.is_(True),
            Take.deleted_at.is_(None),
        )
        .order_by(Take.started_at.desc())
        .limit(most)
        .options(joinedload(Take.snapshot))
    ).all()
