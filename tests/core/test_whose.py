"""Whose notes are: notes of one player and of two by their definition, and two horns in a room."""

from collections.abc import Sequence
from dataclasses import replace

import numpy as np
import pytest
from bench.whose import RATE, heard, pitches, played, together

from orexis.core.listening.notes.events import Note
from orexis.core.listening.notes.whose import SURELY, own_probabilities
from orexis.core.listening.sitting import listen_to
from tests.core.test_sitting import CLEAN

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


@pytest.mark.deep
def test_two_horns_in_turns_are_told_apart() -> None:
    mine, theirs = played("middle", "even", 3), played("high", "even", 4)
    in_turns = together(mine, theirs, 6, at_once=False)
    chunks = [in_turns[at : at + RATE] for at in range(0, len(in_turns), RATE)]
    everything = heard(in_turns)
    sitting = listen_to(chunks, RATE)
    own, others = pitches("middle"), pitches("high")
    counted = {habit.midi: habit.times for habit in sitting.notes}
    assert sum(counted.get(midi, 0) for midi in own) >= 0.9 * sum(
        note.midi in own for note in everything
    )
    assert sum(counted.get(midi, 0) for midi in others) <= 0.05 * sum(
        note.midi in others for note in everything
    )
