"""Whose notes are: notes of one player and of two by their definition, and two horns in a room."""

from collections.abc import Sequence
from dataclasses import replace

import numpy as np
import pytest

from orexis.core.listening.analysis import analyse
from orexis.core.listening.notes.events import Note
from orexis.core.listening.notes.whose import SURELY, own_probabilities
from orexis.core.listening.sitting import listen_to
from orexis.standin.lips import HUMAN_LIPS
from orexis.standin.performance import perform
from orexis.standin.room import ROOMS, Room, heard_in
from orexis.standin.score import Change, ScoreNote
from orexis.standin.tone import MIDDLE, SMALL, Timbre
from tests.core.test_sitting import CLEAN

_RATE = 22_050
_F0_HZ = 233.0


def notes_of(levels_db: Sequence[float], octaves: Sequence[float]) -> list[Note]:
    """A note a second, 0.8 s long, whose spectrum has its middle so many octaves over 1 Hz."""
    return [
        Note(
            100 * place,
            100 * place + 80,
            _F0_HZ,
            58,
            replace(CLEAN, level_db=level_db),
            25.0,
            2**octave / _F0_HZ,
        )
        for place, (level_db, octave) in enumerate(zip(levels_db, octaves, strict=True))
    ]


def two_players(seed: int, apart_octaves: float, count: int = 60) -> tuple[list[Note], np.ndarray]:
    """Two in turns of six notes, the other 6 dB softer and so much brighter; and which are one's
    own."""
    random = np.random.default_rng(seed)
    own = (np.arange(count) // 6) % 2 == 0
    level_db = np.where(own, -20.0, -26.0) + random.normal(0, 2, count)
    octave = np.where(own, 9.5, 9.5 + apart_octaves) + random.normal(0, 0.15, count)
    return notes_of(level_db.tolist(), octave.tolist()), own


@pytest.mark.parametrize("seed", range(8))
def test_the_softer_and_brighter_one_is_somebody_else(seed: int) -> None:
    notes, own = two_players(seed, 0.7)
    sure = own_probabilities(notes) >= SURELY
    assert sure[own].mean() >= 0.9
    assert not sure[~own].any()


@pytest.mark.parametrize("octaves_a_db", [0.02, 0.03, 0.05, 0.07, 0.08])
@pytest.mark.parametrize("seed", range(4))
def test_one_player_at_two_loudnesses_stays_one(octaves_a_db: float, seed: int) -> None:
    random = np.random.default_rng(seed)
    level_db = np.where((np.arange(60) // 10) % 2 == 0, -14.0, -26.0) + random.normal(0, 1.5, 60)
    octave = 9.5 + octaves_a_db * (level_db + 20) + random.normal(0, 0.1, 60)
    assert (own_probabilities(notes_of(level_db.tolist(), octave.tolist())) == 1).all()


def test_too_few_notes_are_all_the_players() -> None:
    notes, _ = two_players(1, 0.7, count=12)
    assert (own_probabilities(notes) == 1).all()
    assert len(own_probabilities([])) == 0


def phrases(midis: Sequence[int], timbre: Timbre, seed: int) -> np.ndarray:
    """Forty-five notes in phrases of five with a breath between."""
    random = np.random.default_rng(seed)
    score = tuple(
        ScoreNote(
            int(random.choice(midis)),
            float(random.uniform(0.3, 1.4)),
            -20.0 + float(random.normal(0, 2)),
            reached=Change("breath", gap_s=1.2) if place % 5 == 0 else Change("slur"),
        )
        for place in range(45)
    )
    return perform(score, timbre, _RATE, seed=seed, lips=HUMAN_LIPS, lead_s=0.5).samples


OWN, OTHERS = (46, 48, 50, 51, 53, 55), (61, 62, 64, 66, 67, 69)


@pytest.fixture(scope="module")
def in_turns() -> np.ndarray:
    """A low horn near, and a high one across the room, 6 dB under it, in turns."""
    mine, theirs = phrases(OWN, MIDDLE, 3), phrases(OTHERS, SMALL, 4)
    far = heard_in(Room(tail_db=-6, tail_s=0.6), theirs, _RATE, seed=9) * 10 ** (-6 / 20)
    parts = zip(np.array_split(mine, 5), np.array_split(far, 5), strict=True)
    return heard_in(ROOMS["practice"], np.concatenate([p for pair in parts for p in pair]), _RATE)


def test_two_horns_in_turns_are_told_apart(in_turns: np.ndarray) -> None:
    chunks = [in_turns[at : at + _RATE] for at in range(0, len(in_turns), _RATE)]
    everything = analyse(chunks, _RATE).notes
    sitting = listen_to(chunks, _RATE)
    counted = {habit.midi: habit.times for habit in sitting.notes}
    mine = sum(note.midi in OWN for note in everything)
    theirs = sum(note.midi in OTHERS for note in everything)
    assert sum(counted.get(midi, 0) for midi in OWN) >= 0.9 * mine
    assert sum(counted.get(midi, 0) for midi in OTHERS) <= 0.05 * theirs
