"""A written part followed while it is played: where each note was, early or late, and what was
missed, wrong or too much.

Notes are aligned twice: by pitch alone, then also by when each should come by the tempo that the
first alignment shows, which tells of several notes of one pitch the one that is missing.
"""

import itertools
from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

import numpy as np

from orexis.core.arrays import FloatArray
from orexis.core.listening.notes.alignment import pairs_of
from orexis.core.listening.notes.events import Note
from orexis.core.listening.notes.patterns import SPOKE_WITHIN_CENTS, pair_costs

_LATE_COST, _LATE_AT_MOST_BEATS = 0.8, 2.0
_SHORTEST_S = 0.05
_BESIDE = 4
_FEWEST_BESIDE = 3
_STOPPED_NOTES = 2


@dataclass(frozen=True, slots=True)
class WrittenNote:
    """A note of a part: its bar, its beat in it (in quarters, from 1), its pitch (sounding), where
    it begins in playing order and how long it is written, in quarters."""

    bar: int
    beat: float
    midi: int
    at: Fraction
    length: Fraction


@dataclass(frozen=True, slots=True)
class FollowedNote:
    """A written note as it was played: when it began, how far off in cents, and how late (ms)
    against the player's own tempo there; all `None` where it was missed. Where another note was
    played in its place, that one (MIDI), and when."""

    written: WrittenNote
    start_s: float | None = None
    cents: float | None = None
    late_ms: float | None = None
    heard_midi: int | None = None


@dataclass(frozen=True, slots=True)
class ExtraNote:
    """A note that is not written: after which bar's note it came, its pitch and when it began."""

    bar: int
    midi: int
    start_s: float


@dataclass(frozen=True, slots=True)
class FollowedPart:
    """A part as it was played; `tempo_bpm` (quarters a minute) is `None` where too little of it was
    played to tell, `stopped_bar` where it was played to the end."""

    notes: tuple[FollowedNote, ...]
    extra: tuple[ExtraNote, ...]
    tempo_bpm: float | None
    stopped_bar: int | None


def follow(part: Sequence[WrittenNote], heard: Sequence[Note]) -> FollowedPart:
    """Aligns a written part with the notes that were heard, and measures each note."""
    notes = [note for note in heard if note.end_s - note.start_s >= _SHORTEST_S]
    at = np.array([float(note.at) for note in part])
    starts_s = np.array([note.start_s for note in notes])
    # A number for each run of one pitch.
    midis = np.array([note.midi for note in part])
    runs = np.concatenate(([0], np.cumsum(np.diff(midis) != 0)))
    heard_cents = np.array([note.pitch_cents for note in notes])
    off_cents = np.abs(100 * midis[:, None] - heard_cents[None, :])
    pitch_cost, near = pair_costs(off_cents), off_cents <= SPOKE_WITHIN_CENTS
    pairs = pairs_of(pitch_cost)
    for _ in range(2):
        expected_s = _expected_s(at, starts_s, runs, pairs, near)
        if expected_s is not None:
            pairs = pairs_of(pitch_cost + _late_costs(expected_s, starts_s, at, pairs, near))
    played = [(row, column) for row, column in pairs if near[row, column]]
    late = _late_ms(at, starts_s, played)
    found = [FollowedNote(note) for note in part]
    for row, column in pairs:
        note = notes[column]
        if near[row, column]:
            cents = note.pitch_cents - 100 * part[row].midi
            found[row] = FollowedNote(part[row], note.start_s, cents, late.get(row))
        else:
            found[row] = FollowedNote(part[row], note.start_s, heard_midi=note.midi)
    paired = {column: row for row, column in pairs}
    return FollowedPart(
        tuple(found),
        _extra(part, notes, paired),
        _tempo_bpm(at, starts_s, played),
        _stopped(part, pairs),
    )


def _pace_s(
    at: FloatArray, starts_s: FloatArray, played: Sequence[tuple[int, int]]
) -> float | None:
    """Seconds a quarter, by the middle of what each two notes next to each other say."""
    paces = [
        (starts_s[column] - starts_s[before]) / (at[row] - at[earlier])
        for (earlier, before), (row, column) in itertools.pairwise(played)
        if row == earlier + 1 and at[row] > at[earlier]
    ]
    return float(np.median(paces)) if paces else None


def _expected_s(
    at: FloatArray,
    starts_s: FloatArray,
    runs: np.ndarray,
    pairs: Sequence[tuple[int, int]],
    near: np.ndarray,
) -> FloatArray | None:
    """When each written note should come by those around it that were played, its own run of one
    pitch left out: of that it is not known yet which is which."""
    played = [(row, column) for row, column in pairs if near[row, column]]
    pace_s = _pace_s(at, starts_s, played)
    if pace_s is None or len(played) < _FEWEST_BESIDE:
        return None
    rows = np.array([row for row, _ in played])
    times_s = np.array([starts_s[column] for _, column in played])
    expected: FloatArray = np.empty(len(at))
    for row in range(len(at)):
        others = np.flatnonzero(runs[rows] != runs[row])
        beside = others[np.argsort(np.abs(rows[others] - row), kind="stable")[: 2 * _BESIDE]]
        if len(beside) == 0:
            return None
        # At the player's pace, from the middle of those.
        off_s = times_s[beside] - pace_s * (at[rows[beside]] - at[row])
        expected[row] = float(np.median(off_s))
    return expected


def _late_costs(
    expected_s: FloatArray,
    starts_s: FloatArray,
    at: FloatArray,
    pairs: Sequence[tuple[int, int]],
    near: np.ndarray,
) -> FloatArray:
    """What it costs to take a note for one that should come at another time."""
    played = [(row, column) for row, column in pairs if near[row, column]]
    pace_s = _pace_s(at, starts_s, played) or 1.0
    beats = np.abs(expected_s[:, None] - starts_s[None, :]) / max(pace_s, 0.05)
    costs: FloatArray = _LATE_COST * np.minimum(beats / _LATE_AT_MOST_BEATS, 1.0)
    return costs


def _late_ms(
    at: FloatArray, starts_s: FloatArray, played: Sequence[tuple[int, int]]
) -> dict[int, float]:
    """How late each note came against the straight line through those around it."""
    late: dict[int, float] = {}
    for place, (row, column) in enumerate(played):
        beside = [
            other
            for other in played[max(place - _BESIDE, 0) : place + _BESIDE + 1]
            if other[0] != row
        ]
        if len(beside) < _FEWEST_BESIDE:
            continue
        beats = np.array([at[other] for other, _ in beside])
        times_s = np.array([starts_s[other] for _, other in beside])
        if np.ptp(beats) == 0:
            continue
        slope, start = np.polyfit(beats, times_s, 1)
        late[row] = 1000 * float(starts_s[column] - (start + slope * at[row]))
    return late


def _tempo_bpm(
    at: FloatArray, starts_s: FloatArray, played: Sequence[tuple[int, int]]
) -> float | None:
    pace_s = _pace_s(at, starts_s, played)
    return None if pace_s is None or pace_s <= 0 else 60 / pace_s


def _extra(
    part: Sequence[WrittenNote], notes: Sequence[Note], paired: dict[int, int]
) -> tuple[ExtraNote, ...]:
    """Heard notes that stand for no written one, each in the bar of the one before it."""
    found: list[ExtraNote] = []
    bar = part[0].bar
    for column, note in enumerate(notes):
        if column in paired:
            bar = part[paired[column]].bar
        else:
            found.append(ExtraNote(bar, note.midi, note.start_s))
    return tuple(found)


def _stopped(part: Sequence[WrittenNote], pairs: Sequence[tuple[int, int]]) -> int | None:
    """The bar in which playing stopped before the end."""
    if not pairs:
        return part[0].bar
    last = pairs[-1][0]
    return part[last].bar if len(part) - 1 - last >= _STOPPED_NOTES else None
