"""Two sounds that were kept beside each other, aligned by what was played."""

from collections.abc import Sequence
from dataclasses import dataclass

from sqlalchemy.orm import Session

from orexis.core.horn.notation import Notation
from orexis.core.judging.beside import Beside, beside_words, lay_sounds_beside
from orexis.core.listening.notes.events import Events, Note
from orexis.core.listening.tracking.frames import Frames
from orexis.formats.analysis_reading import events_of, frames_of
from orexis.practice.takes import notation_for
from orexis.store import kept
from orexis.store.kept import Kept

LONGEST_S = 30 * 60.0


class NotComparableError(ValueError):
    """Two sounds that cannot be laid beside each other; the message says why."""


@dataclass(frozen=True, slots=True)
class SoundsBeside:
    """A sound beside another: where it lies in it, the notes of both, how the player of the first
    names them, and what differs in sentences."""

    beside: Beside
    notes: Sequence[Note]
    others: Sequence[Note]
    notation: Notation
    words: tuple[str, ...]


def sounds_beside(session: Session, one: Kept, other: Kept) -> SoundsBeside:
    """A kept sound beside another of the same player. Raises `NotComparableError`."""
    if one.player_id != other.player_id:
        raise NotComparableError("The other one is another player's.")
    if max(one.duration_s, other.duration_s) > LONGEST_S:
        raise NotComparableError(f"Only sounds of up to {LONGEST_S / 60:.0f} minutes are compared.")
    (frames, events), (other_frames, other_events) = _heard(session, one), _heard(session, other)
    beside = lay_sounds_beside(
        frames, events.notes, other_frames, other_events.notes, (one.a4_hz, other.a4_hz)
    )
    notation = notation_for(one.player, one.instrument_key)
    words = beside_words(beside, events.notes, other_events.notes, notation.name)
    return SoundsBeside(beside, events.notes, other_events.notes, notation, tuple(words))


def _heard(session: Session, one: Kept) -> tuple[Frames, Events]:
    frames, events = kept.frames_of(session, one), kept.events_of(session, one)
    if frames is None:
        raise NotComparableError("Of one of them only the measures are kept.")
    return frames_of(frames), Events.of([]) if events is None else events_of(events)
