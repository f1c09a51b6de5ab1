"""What the notes of a sitting say of how a player plays: where each note lies, what becomes of
tuning and sound over the time, and whether louder notes lie elsewhere than soft ones.

Notes of different pitch are not compared: each is held against the middle of its own kind, so that
what is told is a change and not which notes were played when.
"""

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from orexis.core.arrays import FloatArray
from orexis.core.listening.notes.events import Note

TOUCHED_S = 0.3
"""A note that sounds so long has spoken."""
_TOLD_FROM_S = 0.15
"""A shorter note says nothing of how its player tunes it."""
_FEWEST_OF_A_KIND = 4
_FEWEST_NOTES, _LEAST_PLAYED_S = 24, 120.0
_LOUDER_DB, _LEAST_SPREAD_DB = 6.0, 2.0
_SURE = 2.5
"""So many standard errors from nothing a slope must be to be told."""


@dataclass(frozen=True, slots=True)
class NoteHabit:
    """How one note was played over a sitting: how often, where it lies in cents from equal
    temperament (median), half the 16–84 % range of that, how many seconds in all, and how long it
    was held at most."""

    midi: int
    times: int
    cents: float
    spread_cents: float
    seconds: float
    longest_hold_s: float


@dataclass(frozen=True, slots=True)
class SittingTrend:
    """What became of notes from the first third of the playing to the last: how far they moved in
    cents, and how their level and clearness (dB) changed, medians of each note against itself."""

    cents: float
    level_db: float
    clearness_db: float


def seconds_of(notes: Sequence[Note]) -> float:
    """How long notes sounded in all."""
    return float(sum(note.end_s - note.start_s for note in notes))


def habits_of(notes: Sequence[Note]) -> tuple[NoteHabit, ...]:
    """Every note that was played, lowest first."""
    found: list[NoteHabit] = []
    for midi in sorted({note.midi for note in notes}):
        these = [note for note in notes if note.midi == midi]
        long = [note for note in these if _is_told(note)] or these
        cents = np.array([note.measures.centre_cents for note in long])
        low, high = np.percentile(cents, (16, 84))
        found.append(
            NoteHabit(
                midi=midi,
                times=len(these),
                cents=float(np.median(cents)),
                spread_cents=float(high - low) / 2,
                seconds=seconds_of(these),
                longest_hold_s=max(note.measures.hold_s for note in these),
            )
        )
    return tuple(found)


def course_of(notes: Sequence[Note]) -> SittingTrend | None:
    """How notes (in order of time) changed from the first third of the playing to the last; `None`
    where there are too few."""
    rows = _against_their_own(notes)
    if len(rows) < _FEWEST_NOTES or seconds_of(notes) < _LEAST_PLAYED_S:
        return None
    first, last = rows[: len(rows) // 3], rows[-(len(rows) // 3) :]
    moved = np.median(last, axis=0) - np.median(first, axis=0)
    return SittingTrend(*(float(one) for one in moved))


def louder_cents(notes: Sequence[Note]) -> float | None:
    """How far notes lie from themselves when they are 6 dB louder, in cents (sharper is +); `None`
    where too little speaks for any difference."""
    rows = _against_their_own(notes)
    if len(rows) < _FEWEST_NOTES:
        return None
    cents, level_db = rows[:, 0], rows[:, 1]
    if level_db.std() < _LEAST_SPREAD_DB:
        return None
    level_db = level_db - level_db.mean()
    power = float((level_db**2).sum())
    slope = float((level_db * cents).sum()) / power
    left = cents - cents.mean() - slope * level_db
    error = float(np.sqrt((left**2).sum() / (len(rows) - 2) / power))
    return _LOUDER_DB * slope if abs(slope) >= _SURE * error else None


def _is_told(note: Note) -> bool:
    return note.end_s - note.start_s >= _TOLD_FROM_S


def _against_their_own(notes: Sequence[Note]) -> FloatArray:
    """A row a note, in order of time: cents, level and clearness (dB) less the median of all notes
    of its pitch; of pitches that were played often enough."""
    kinds: dict[int, list[Note]] = defaultdict(list)
    for note in notes:
        if _is_told(note):
            kinds[note.midi].append(note)
    rows: list[tuple[float, FloatArray]] = []
    for these in kinds.values():
        if len(these) < _FEWEST_OF_A_KIND:
            continue
        measured = np.array(
            [
                (note.measures.centre_cents, note.measures.level_db, note.harmonicity_db)
                for note in these
            ]
        )
        own = measured - np.median(measured, axis=0)
        rows += [(note.start_s, row) for note, row in zip(these, own, strict=True)]
    rows.sort(key=lambda row: row[0])
    return np.array([row for _, row in rows]).reshape(-1, 3)
