"""Whose notes are: players alone, and two in turns and at once, the other 6 and 12 dB under across
the room. Wanted: no lone player parted, at most 2 % of the other's notes taken for one's own, and
90 % of one's own found.

What was played is known from the stand-in's own truth. Its seeds are others than those by which the
limits in `listening/notes/whose.py` were chosen.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import product

import numpy as np

from bench.goals import at_least, at_most
from orexis.core.arrays import FloatArray
from orexis.core.listening.analysis import analyse
from orexis.core.listening.notes.events import Note
from orexis.core.listening.notes.whose import own_and_doubtful
from orexis.standin.lips import HUMAN_LIPS
from orexis.standin.performance import perform
from orexis.standin.room import ROOMS, Room, heard_in
from orexis.standin.score import Change, ScoreNote
from orexis.standin.tone import LARGE, MIDDLE, SMALL, Timbre

RATE = 22_050
_COUNT = 45
_LEVEL_DB = -20.0
_SEED = 2000
_ACROSS = Room(tail_db=-6, tail_s=0.6)
_PARTS = 5
_HALF_STEPS = (0, 2, 4, 5, 7, 9, 11, 12)
_WIDE = range(-10, 26)
_HORNS: dict[str, tuple[Timbre, int]] = {
    "high": (SMALL, 60), "middle": (MIDDLE, 46), "low": (LARGE, 34),
}  # fmt: skip
DYNAMICS = ("even", "two loudnesses", "wandering", "louder upward")
_PAIRS = (("middle", "high"), ("low", "high"), ("high", "middle"), ("middle", "middle"))


def levels_db(dynamics: str, midis: Sequence[int], random: np.random.Generator) -> FloatArray:
    """How loud each of some notes is played."""
    count = len(midis)
    level_db = _LEVEL_DB + random.normal(0, 2, count)
    match dynamics:
        case "two loudnesses":
            level_db += np.where((np.arange(count) // 10) % 2 == 0, 6, -6)
        case "wandering":
            level_db += np.clip(np.cumsum(random.normal(0, 2.5, count)), -9, 9)
        case "louder upward":
            level_db += 0.5 * (np.array(midis) - np.mean(midis))
    return level_db


def played(horn: str, dynamics: str, seed: int, *, wide: bool = False, up: int = 0) -> FloatArray:
    """Some notes in phrases of five, tongued and slurred, with a breath between."""
    random = np.random.default_rng(seed)
    timbre, root = _HORNS[horn]
    midis = [
        root + up + int(step) for step in random.choice(_WIDE if wide else _HALF_STEPS, _COUNT)
    ]
    score = tuple(
        ScoreNote(
            midi, float(random.uniform(0.25, 1.6)), float(level_db), reached=_reached(at, random)
        )
        for at, (midi, level_db) in enumerate(
            zip(midis, levels_db(dynamics, midis, random), strict=True)
        )
    )
    return perform(score, timbre, RATE, seed=seed, lips=HUMAN_LIPS, lead_s=0.5).samples


def _reached(at: int, random: np.random.Generator) -> Change:
    if at % 5 == 0:
        return Change("breath", gap_s=1.2)
    return Change("tongued", gap_s=0.05) if random.random() < 0.5 else Change("slur")


def together(own: FloatArray, other: FloatArray, under_db: float, *, at_once: bool) -> FloatArray:
    """Two players in a practice room, in turns or at once, the other across it and under by so
    many dB."""
    far = heard_in(_ACROSS, other, RATE, seed=9) * 10 ** (-under_db / 20)
    if at_once:
        sound = np.zeros(max(len(own), len(far)))
        sound[: len(own)] += own
        sound[: len(far)] += far
    else:
        turns = zip(np.array_split(own, _PARTS), np.array_split(far, _PARTS), strict=True)
        sound = np.concatenate([part for turn in turns for part in turn])
    return heard_in(ROOMS["practice"], sound, RATE, seed=4)


def heard(sound: FloatArray) -> tuple[Note, ...]:
    """The notes of a sound."""
    return analyse([sound[at : at + RATE] for at in range(0, len(sound), RATE)], RATE).notes


def pitches(horn: str, up: int = 0) -> frozenset[int]:
    """The pitches a horn plays here."""
    return frozenset(_HORNS[horn][1] + up + step for step in _HALF_STEPS)


@dataclass
class _Row:
    """What was found: notes of one's own and of the other's, in all and taken for one's own."""

    own: int = 0
    own_found: int = 0
    others: int = 0
    others_taken: int = 0

    def add(self, notes: Sequence[Note], own: frozenset[int], other: frozenset[int]) -> None:
        """Counts a sound."""
        sure, _ = own_and_doubtful(notes)
        self.own += sum(note.midi in own for note in notes)
        self.own_found += sum(note.midi in own for note in sure)
        self.others += sum(note.midi in other for note in notes)
        self.others_taken += sum(note.midi in other for note in sure)


def main() -> None:
    """Prints what is found of players alone and of two."""
    print("Whose notes are")
    parted = 0
    alone = list(product(_HORNS, DYNAMICS, (False, True)))
    for number, (horn, dynamics, wide) in enumerate(alone):
        sound = played(horn, dynamics, _SEED + number, wide=wide)
        notes = heard(heard_in(ROOMS["lively" if wide else "practice"], sound, RATE, seed=4))
        parted += len(own_and_doubtful(notes)[0]) < len(notes)
    print(f"  {len(alone)} sounds of one player, parted: {parted}")
    rows: dict[tuple[str, str, int, bool], _Row] = {}
    cases = product(_PAIRS, (6, 12), (False, True), DYNAMICS[:3:2])
    for number, ((own, other), under_db, at_once, dynamics) in enumerate(cases):
        up = 13 if own == other else 0
        mine = played(own, dynamics, _SEED + 100 + number)
        theirs = played(other, "even", _SEED + 300 + number, up=up)
        row = rows.setdefault((own, other, under_db, at_once), _Row())
        row.add(
            heard(together(mine, theirs, under_db, at_once=at_once)),
            pitches(own),
            pitches(other, up),
        )
    for (own, other, under_db, at_once), row in rows.items():
        print(
            f"  {own} horn, {other} one {under_db} dB under, "
            f"{'at once' if at_once else 'in turns'}: {row.own_found} of {row.own} own found, "
            f"{row.others_taken} of {row.others} others taken"
        )
    six = [row for (_, _, under_db, _), row in rows.items() if under_db == 6]
    at_most("lone players parted", parted, 0)
    at_least(
        "% of own notes found, 6 dB under",
        100 * sum(row.own_found for row in six) / sum(row.own for row in six), 90,
    )  # fmt: skip
    at_most(
        "% of others' notes taken, 6 dB under",
        100 * sum(row.others_taken for row in six) / sum(row.others for row in six), 2,
    )  # fmt: skip
