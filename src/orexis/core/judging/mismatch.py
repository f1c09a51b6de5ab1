"""How an attempt as a whole does not match its exercise: another key or octave, only a part of it,
all of it twice, another exercise. It comes before what is wrong with single notes."""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

from orexis.core.judging.matching import MatchedAttempt, Place
from orexis.core.listening.notes.events import Note
from orexis.core.listening.notes.patterns import WantedNote, answers_to

_LEAST_NOTES, _LEAST_CUT = 3, 2
_NEARLY_ALL, _HARDLY_ANY = 0.9, 0.34
_MORE_BY = 0.4
_FARTHEST = 24
_NOTE_LEAST_S, _PLAYED_S = 0.08, 0.2


class MismatchKind(StrEnum):
    """What an attempt was instead of what was asked."""

    TRANSPOSED = "transposed"
    STOPPED = "stopped"
    BEGAN_LATER = "began_later"
    TWICE = "twice"
    ANOTHER = "another"


@dataclass(frozen=True, slots=True)
class Mismatch:
    """What an attempt was instead; of one that was transposed by how many half steps (up is +), of
    one that is only a part where it stopped or began."""

    kind: MismatchKind
    semitones: int = 0
    at: Place | None = None


def mismatch_of(seen: MatchedAttempt) -> Mismatch | None:
    """How an attempt as a whole does not match; `None` where it does, or where it is too short to
    tell."""
    notes = [note for note in seen.heard.notes if note.end_s - note.start_s >= _NOTE_LEAST_S]
    count = len(seen.asked)
    if count < _LEAST_NOTES or len(notes) < _LEAST_CUT:
        return None
    wanted = [
        WantedNote(note.note.midi + seen.target_cents(note.note) / 100) for note in seen.asked
    ]
    if _answered(wanted * 2, notes) >= _NEARLY_ALL * 2 * count:
        return Mismatch(MismatchKind.TWICE)
    spoke = [place for place, note in enumerate(seen.asked) if note.heard is not None]
    if len(spoke) >= _NEARLY_ALL * count:
        return None
    moved = _transposed(wanted, notes, len(spoke))
    if moved:
        return Mismatch(MismatchKind.TRANSPOSED, semitones=moved)
    part = _part(seen, spoke)
    if part is not None:
        return part
    if len(spoke) < _HARDLY_ANY * count and len(notes) >= max(_LEAST_NOTES, count / 2):
        return Mismatch(MismatchKind.ANOTHER)
    return None


def _answered(wanted: Sequence[WantedNote], notes: Sequence[Note]) -> int:
    return sum(answer is not None for answer in answers_to(wanted, notes))


def _transposed(wanted: Sequence[WantedNote], notes: Sequence[Note], spoke: int) -> int:
    """By how many half steps nearly all of the notes were played too high; 0 where they were
    not."""
    least = max(_NEARLY_ALL * len(wanted), spoke + _MORE_BY * len(wanted))
    for distance in range(1, _FARTHEST + 1):
        for semitones in (distance, -distance):
            moved = [WantedNote(note.midi + semitones) for note in wanted]
            if _answered(moved, notes) >= least:
                return semitones
    return 0


def _part(seen: MatchedAttempt, spoke: Sequence[int]) -> Mismatch | None:
    """Whether only the first or the last part of it was played, and that nearly whole."""
    if len(spoke) < _LEAST_CUT:
        return None
    asked, notes = seen.asked, seen.heard.notes
    first, last = spoke[0], spoke[-1]
    if len(spoke) < _NEARLY_ALL * (last + 1 - first):
        return None
    played_before = any(map(_is_played, notes[: asked[first].heard]))
    played_after = any(map(_is_played, notes[(asked[last].heard or 0) + 1 :]))
    if first == 0 and len(asked) - 1 - last >= _LEAST_CUT and not played_after:
        return Mismatch(MismatchKind.STOPPED, at=asked[last].at)
    if first >= _LEAST_CUT and last == len(asked) - 1 and not played_before:
        return Mismatch(MismatchKind.BEGAN_LATER, at=asked[first].at)
    return None


def _is_played(note: Note) -> bool:
    """Whether a heard note is long enough to be something else that was played."""
    return note.end_s - note.start_s >= _PLAYED_S
