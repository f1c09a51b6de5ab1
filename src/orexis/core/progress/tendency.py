"""Where a player's notes lie, half step by half step, now and at first, and whether they lie nearer
the middles of their slots."""

from collections import defaultdict
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import date
from statistics import fmean

from orexis.core.counting import counted
from orexis.core.horn.words import tuned_words
from orexis.core.progress.medians import FEW_DAYS, first_median, recent_median

_FARTHEST = 3
_WORTH_SAYING_CENTS = 10


@dataclass(frozen=True, slots=True)
class DayDeviation:
    """Where a note lay on a day, in cents from its target."""

    on: date
    midi: int
    cents: float


@dataclass(frozen=True, slots=True)
class NoteDeviation:
    """Where a note lies: medians over its last few days and its first ones, `None` before it has
    twice as many."""

    midi: int
    now_cents: float
    then_cents: float | None
    days: int


@dataclass(frozen=True, slots=True)
class Tendencies:
    """Where all notes lie, lowest first, and that in words."""

    notes: tuple[NoteDeviation, ...]
    answer: str
    words: str


def tendencies_of(days: Sequence[DayDeviation], name: Callable[[int], str]) -> Tendencies:
    """Where notes lie, from where each lay on its days, in order."""
    by_note: dict[int, list[float]] = defaultdict(list)
    for lying in days:
        by_note[lying.midi].append(lying.cents)
    notes = tuple(
        NoteDeviation(
            midi,
            recent_median(cents),
            first_median(cents),
            len(cents),
        )
        for midi, cents in sorted(by_note.items())
        if len(cents) >= FEW_DAYS
    )
    return Tendencies(notes, _answer(notes), _words(notes, name))


def _answer(notes: Sequence[NoteDeviation]) -> str:
    if not notes:
        return "Too little to tell yet."
    known = [(note.now_cents, note.then_cents) for note in notes if note.then_cents is not None]
    if not known:
        return (
            f"{fmean(abs(note.now_cents) for note in notes):.0f} cents off the middle on average."
        )
    nearer = sum(abs(now) < abs(then) for now, then in known)
    now, then = (fmean(abs(pair[end]) for pair in known) for end in (0, 1))
    return (
        f"{nearer} of {counted(len(known), 'note')} nearer the middle: "
        f"{now:.1f} cents off on average now, {then:.1f} at first."
    )


def _words(notes: Sequence[NoteDeviation], name: Callable[[int], str]) -> str:
    told = f"Medians over {FEW_DAYS} days of each note."
    if not notes:
        return f"A note is told after {FEW_DAYS} days."
    farthest = sorted(notes, key=lambda note: -abs(note.now_cents))[:_FARTHEST]
    said = [
        f"{name(note.midi)} {tuned_words(note.now_cents)}"
        for note in farthest
        if abs(note.now_cents) >= _WORTH_SAYING_CENTS
    ]
    return f"{told} Farthest now: {', '.join(said)}." if said else told
