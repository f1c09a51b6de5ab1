"""What was played against what was asked: which notes spoke, in one breath or more, in time.

Heard notes are matched to the wanted ones in order, so that as few as possible are left over on
either side (edit distance; a note played twice in a row is the smaller fault). What is left over
among the heard is *split* when it carries on a wanted note after a short gap, *repeated* when it
is a wanted pitch come again, else *extra*. Times are in seconds from the start of the sound.
"""

import itertools
from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from orexis.core.arrays import FloatArray
from orexis.core.listening.notes.alignment import pairs_of
from orexis.core.listening.notes.events import Change, Events, Note

SPOKE_WITHIN_CENTS = 60.0
CLEAR_WITHIN_CENTS = 35.0
_SPLIT_GAP_S = 0.25
_AGAIN_COST, _OFF_PITCH_COST = 0.98, 0.2
_INSTEAD_COST, _FAR_COST = 1.5, 0.4
_SAME_LEVEL_DB, _SAME_HARMONICITY_DB = 4.0, 4.0
_CLEAR_DB = 26.0
"""Above this harmonicity depends on the pitch more than on the player."""


@dataclass(frozen=True, slots=True)
class WantedNote:
    """A note asked for: its pitch (MIDI, fractions for a target off equal temperament) and, if
    it has one, the time of its beat."""

    midi: float
    beat_s: float | None = None


class LeftOver(StrEnum):
    """Why a heard note answers no wanted one."""

    SPLIT = "split"
    REPEATED = "repeated"
    EXTRA = "extra"


@dataclass(frozen=True, slots=True)
class MatchedNote:
    """A wanted note's answer: the heard note's number and how far off it was, in cents."""

    note: int
    cents: float

    @property
    def clear(self) -> bool:
        """Whether it lies within 35 cents of what was wanted."""
        return abs(self.cents) <= CLEAR_WITHIN_CENTS


@dataclass(frozen=True, slots=True)
class Timing:
    """Onsets against beats: offsets in ms (late is +), their mean and spread."""

    offsets_ms: tuple[float, ...]
    mean_ms: float
    spread_ms: float


@dataclass(frozen=True, slots=True)
class PatternMatch:
    """A pattern as it was played.

    `spoken[i]` answers wanted note i, `None` where it was missed; `left_over` are numbers of
    heard notes that answer none. `breaths` is how many breaths it took. Changes are from the
    first note that spoke to the last. `evenness_cv` is the coefficient of variation of the
    speed, 0 for perfectly even.
    """

    spoken: tuple[MatchedNote | None, ...]
    left_over: tuple[tuple[int, LeftOver], ...]
    breaths: int
    level_change_db: float
    harmonicity_change_db: float
    evenness_cv: float
    timing: Timing | None

    @property
    def missed(self) -> tuple[int, ...]:
        """Numbers of the wanted notes that did not speak."""
        return tuple(i for i, answer in enumerate(self.spoken) if answer is None)

    @property
    def clear_share(self) -> float:
        """Share of the wanted notes that landed within 35 cents."""
        clear = sum(1 for answer in self.spoken if answer and answer.clear)
        return clear / len(self.spoken)

    @property
    def same_sound(self) -> bool:
        """Whether the last note sounds as the first did: level and clearness within 4 dB."""
        return (
            abs(self.level_change_db) <= _SAME_LEVEL_DB
            and abs(self.harmonicity_change_db) <= _SAME_HARMONICITY_DB
        )


def match_pattern(
    wanted: Sequence[WantedNote], heard: Events, latency_s: float = 0.0
) -> PatternMatch:
    """Matches what was heard to what was wanted; `latency_s` is taken off every onset.

    Raises `ValueError` when nothing is wanted.
    """
    if not wanted:
        raise ValueError("A pattern needs at least one note.")
    answers = answers_to(wanted, heard.notes)
    spoken = tuple(
        None if number is None else MatchedNote(number, _off_cents(note, heard.notes[number]))
        for note, number in zip(wanted, answers, strict=True)
    )
    played = [number for number in answers if number is not None]
    level_db, harmonicity_db = _end_to_end(heard, played)
    return PatternMatch(
        spoken=spoken,
        left_over=_left_over(wanted, answers, heard),
        breaths=_breaths(heard, played),
        level_change_db=level_db,
        harmonicity_change_db=harmonicity_db,
        evenness_cv=_evenness(wanted, answers, heard.notes),
        timing=_timing(wanted, answers, heard.notes, latency_s),
    )


def _off_cents(wanted: WantedNote, note: Note) -> float:
    return 100 * (note.midi - wanted.midi) + note.measures.centre_cents


def answers_to(wanted: Sequence[WantedNote], notes: Sequence[Note]) -> list[int | None]:
    """The heard note that answers each wanted one, by least cost."""
    wanted_cents = np.array([100 * note.midi for note in wanted], dtype=np.float64)
    heard_cents = np.array([note.pitch_cents for note in notes])
    off = np.abs(wanted_cents[:, None] - heard_cents[None, :])
    near = off <= SPOKE_WITHIN_CENTS
    answers: list[int | None] = [None] * len(wanted)
    for row, column in pairs_of(pair_costs(off), np.where(near, _AGAIN_COST, 1.0)):
        if near[row, column]:
            answers[row] = column
    return answers


def pair_costs(off_cents: FloatArray) -> FloatArray:
    """What it costs to take a heard note for a wanted one, by how far off it is: little where it
    answers, else less than to leave one out and have one too many."""
    instead = _INSTEAD_COST + _FAR_COST * np.minimum(off_cents / 1200, 1.0)
    near = off_cents <= SPOKE_WITHIN_CENTS
    return np.where(near, _OFF_PITCH_COST * off_cents / SPOKE_WITHIN_CENTS, instead)


def _left_over(
    wanted: Sequence[WantedNote], answers: Sequence[int | None], heard: Events
) -> tuple[tuple[int, LeftOver], ...]:
    answering = dict(zip(answers, wanted, strict=True))
    found: list[tuple[int, LeftOver]] = []
    for number, note in enumerate(heard.notes):
        if number in answering:
            continue
        if not any(abs(_off_cents(one, note)) <= SPOKE_WITHIN_CENTS for one in wanted):
            found.append((number, LeftOver.EXTRA))
        elif _is_piece(number, heard, answering):
            found.append((number, LeftOver.SPLIT))
        else:
            found.append((number, LeftOver.REPEATED))
    return tuple(found)


def _is_piece(number: int, heard: Events, answering: dict[int | None, WantedNote]) -> bool:
    """Whether a left-over note is a piece of an answering neighbour, parted by a short gap."""
    note = heard.notes[number]
    for neighbour, change in ((number - 1, number - 1), (number + 1, number)):
        if neighbour not in answering or not 0 <= change < len(heard.transitions):
            continue
        near = abs(_off_cents(answering[neighbour], note)) <= SPOKE_WITHIN_CENTS
        if near and heard.transitions[change].gap_s <= _SPLIT_GAP_S:
            return True
    return False


def _breaths(heard: Events, played: Sequence[int]) -> int:
    if not played:
        return 0
    between = heard.transitions[played[0] : played[-1]]
    return 1 + sum(change.kind is Change.BREATH for change in between)


def _end_to_end(heard: Events, played: Sequence[int]) -> tuple[float, float]:
    if not played:
        return 0.0, 0.0
    first, last = heard.notes[played[0]], heard.notes[played[-1]]
    return (
        last.measures.level_db - first.measures.level_db,
        min(last.harmonicity_db, _CLEAR_DB) - min(first.harmonicity_db, _CLEAR_DB),
    )


def _evenness(
    wanted: Sequence[WantedNote], answers: Sequence[int | None], notes: Sequence[Note]
) -> float:
    """Variation of the time from onset to onset, each against what its beats ask where there
    are beats; over neighbours that both spoke."""
    lengths: list[float] = []
    for i, (here, there) in enumerate(itertools.pairwise(answers)):
        if here is None or there is None:
            continue
        took = notes[there].start_s - notes[here].start_s
        first, second = wanted[i].beat_s, wanted[i + 1].beat_s
        asked = 1.0 if first is None or second is None else second - first
        lengths.append(took / asked)
    if len(lengths) < 2:
        return 0.0
    return float(np.std(lengths) / np.mean(lengths))


def _timing(
    wanted: Sequence[WantedNote],
    answers: Sequence[int | None],
    notes: Sequence[Note],
    latency_s: float,
) -> Timing | None:
    offsets = [
        1000 * (notes[number].start_s - latency_s - note.beat_s)
        for note, number in zip(wanted, answers, strict=True)
        if number is not None and note.beat_s is not None
    ]
    if not offsets:
        return None
    return Timing(tuple(offsets), float(np.mean(offsets)), float(np.std(offsets)))
