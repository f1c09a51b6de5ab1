"""Two sounds that were kept beside each other, aligned by what was played."""

from collections.abc import Sequence
from dataclasses import dataclass

from sqlalchemy.orm import Session

from orexis.core.horn.notation import Notation
from orexis.core.judging.sound_comparison import SoundComparison, compare_sounds, comparison_words
from orexis.core.listening.notes.events import Events, Note
from orexis.core.listening.tracking.frames import Frames
from orexis.formats.analysis_reading import events_of, frames_of
from orexis.practice.takes import notation_for
from orexis.store import kept
from orexis.store.kept import Kept

LONGEST_S = 30 * 60.0


class NotComparableError(ValueError):
    """Two sounds that cannot be compared; the message says why."""


@dataclass(frozen=True, slots=True)
class ComparedSounds:
    """A sound beside another: where it lies in it, the notes of both, how the player of the first
    names them, and what differs in sentences."""

    comparison: SoundComparison
    notes: Sequence[Note]
    others: Sequence[Note]
    notation: Notation
    words: tuple[str, ...]


def compared_sounds(session: Session, kept: Kept, other: Kept) -> ComparedSounds:
    """Compares a kept sound with another of the same player. Raises `NotComparableError`."""
    if kept.player_id != other.player_id:
        raise NotComparableError("The other one is another player's.")
    if max(kept.duration_s, other.duration_s) > LONGEST_S:
        raise NotComparableError(f"Only sounds of up to {LONGEST_S / 60:.0f} minutes are compared.")
    (frames, events), (other_frames, other_events) = _heard(session, kept), _heard(session, other)
    comparison = compare_sounds(
        frames, events.notes, other_frames, other_events.notes, (kept.a4_hz, other.a4_hz)
    )
    notation = notation_for(kept.player, kept.instrument_key)
    words = comparison_words(comparison, events.notes, other_events.notes, notation.name)
    return ComparedSounds(comparison, events.notes, other_events.notes, notation, tuple(words))


def _heard(session: Session, one: Kept) -> tuple[Frames, Events]:
    frames, events = kept.frames_of(session, one), kept.events_of(session, one)
    if frames is None:
        raise NotComparableError("Of one of them only the measures are kept.")
    return frames_of(frames), Events.of([]) if events is None else events_of(events)
