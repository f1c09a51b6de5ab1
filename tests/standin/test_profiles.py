"""Players of different skill: uneven, worse high and late, better with attempts, never twice
alike."""

from dataclasses import replace

import numpy as np
import pytest

from orexis.standin.profiles import PROFILES, Profile, Skilled
from orexis.standin.score import Faults, ScoreNote

START = 58


def faults(profile: Profile, midi: int, count: int = 200, **when: float) -> list[Faults]:
    random = np.random.default_rng(8)
    return [
        profile.note(ScoreNote(midi, 2.0), START, random, **when).faults  # type: ignore[arg-type]
        for _ in range(count)
    ]


def wobble(found: list[Faults]) -> float:
    return float(np.mean([faults.wobble_cents for faults in found]))


@pytest.mark.parametrize("skilled", list(Skilled))
def test_a_comfortable_note_has_the_usual_faults_more_or_less(skilled: Skilled) -> None:
    profile = PROFILES[skilled]
    found = faults(profile, START)
    assert wobble(found) == pytest.approx(profile.usual.wobble_cents, rel=0.1)
    assert len({faults.scoop_cents for faults in found}) == len(found)
    share = np.mean([faults.missed for faults in found])
    assert share == pytest.approx(profile.misses, abs=0.04)


@pytest.mark.parametrize("skilled", list(Skilled))
def test_high_notes_and_late_ones_are_worse_and_tries_help(skilled: Skilled) -> None:
    profile = PROFILES[skilled]
    easy = wobble(faults(profile, START))
    # An octave above what is comfortable.
    high = wobble(faults(profile, START + profile.easy_semitones + 12))
    assert high == pytest.approx((1 + profile.steepness) * easy, rel=0.02)
    late = wobble(faults(profile, START, played_s=profile.tires_after_s))
    assert late == pytest.approx(2 * easy, rel=0.02)
    assert wobble(faults(profile, START, attempts=2)) == pytest.approx(0.76 * easy, rel=0.02)


def test_a_beginner_is_worse_than_an_experienced_player() -> None:
    beginner, experienced = (
        faults(PROFILES[skilled], START) for skilled in (Skilled.BEGINNER, Skilled.EXPERIENCED)
    )
    assert wobble(beginner) > 2 * wobble(experienced)
    assert np.mean([faults.breath_db for faults in beginner]) > -24
    assert any(faults.crack_semitones for faults in beginner)


def test_the_same_generator_gives_the_same_score() -> None:
    profile = PROFILES[Skilled.BEGINNER]
    notes = (58, 60, 62, 63)
    one, again = (profile.score(notes, START, np.random.default_rng(3)) for _ in range(2))
    assert one == again
    assert [note.midi for note in one] == list(notes)
    assert all(replace(note.faults, missed=False) != Faults() for note in one)
