"""What the notes of a sitting say of how they are played, on notes of known pitch and level."""

from dataclasses import replace

import numpy as np
import pytest

from orexis.core.listening.habits import course_of, habits_of, louder_cents
from orexis.core.listening.notes.events import Note
from tests.core.test_sitting import passage

PITCHES = (58, 62, 65)


def notes(count: int, seconds: float, cents: np.ndarray, level_db: np.ndarray) -> list[Note]:
    """Notes in turn, each of so many seconds, lying and as loud as said."""
    found: list[Note] = []
    for at in range(count):
        (note,) = passage((PITCHES[at % 3], at * seconds, seconds, 0.0)).notes
        measures = replace(
            note.measures, centre_cents=float(cents[at]), level_db=float(level_db[at])
        )
        found.append(replace(note, measures=measures))
    return found


def test_a_note_lies_where_its_middle_does_and_is_counted() -> None:
    cents = np.resize([4.0, 6.0, 8.0], 9)
    (low, _, _) = habits_of(notes(9, 2.0, np.repeat([4.0, 6.0, 20.0], 3), np.full(9, -20.0)))
    assert (low.midi, low.times) == (58, 3)
    assert low.seconds == pytest.approx(6.0)
    assert low.cents == 6.0
    assert len(habits_of(notes(9, 2.0, cents, np.full(9, -20.0)))) == 3


def test_whoever_gets_sharper_and_softer_is_told_so_whatever_they_play() -> None:
    random = np.random.default_rng(5)
    # Two cents and a decibel in every twenty notes; each pitch lies elsewhere.
    rise = np.arange(60) / 20
    own = np.resize([0.0, -12.0, 9.0], 60)
    found = course_of(notes(60, 3.0, own + 2 * rise + random.normal(0, 0.3, 60), -20 - rise))
    assert found is not None
    # From the middle of the first third to the middle of the last.
    assert found.cents == pytest.approx(4.0, abs=0.5)
    assert found.level_db == pytest.approx(-2.0, abs=0.2)


def test_of_little_playing_nothing_is_told() -> None:
    few = notes(12, 12.0, np.zeros(12), np.full(12, -20.0))
    short = notes(60, 1.0, np.zeros(60), np.full(60, -20.0))
    assert course_of(few) is None
    assert course_of(short) is None
    assert louder_cents(few) is None


def test_what_loudness_does_to_tuning_is_told_where_it_does_anything() -> None:
    random = np.random.default_rng(7)
    level_db = random.uniform(-30, -12, 90)
    sharper = notes(90, 1.0, (level_db + 20) / 6 * 5 + random.normal(0, 3, 90), level_db)
    assert louder_cents(sharper) == pytest.approx(5.0, abs=1.0)
    assert louder_cents(notes(90, 1.0, random.normal(0, 3, 90), level_db)) is None
    # All as loud says nothing.
    assert louder_cents(notes(90, 1.0, random.normal(0, 3, 90), np.full(90, -20.0))) is None
