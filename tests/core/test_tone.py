"""The player's own tone: learnt from lines of known slope, and as unsure as it should be."""

from dataclasses import replace

import numpy as np
import pytest

from orexis.core.listening.notes.tone import Baseline, Tone, ToneWord

OWN = Tone(58, -22, 30, 3.0, 0, 4)


def own(midi: float, level_db: float, random: np.random.Generator) -> Tone:
    """A player who loses 3 dB an octave up and gains 2 dB for 10 dB more, and whose brightness
    halves an octave up; give or take 1 dB and a twentieth."""
    octave, louder = (midi - 58) / 12, (level_db + 22) / 10
    return Tone(
        midi,
        level_db,
        30 - 3 * octave + 2 * louder + random.normal(0, 1),
        3.0 * 2 ** (-octave + 0.3 * louder + random.normal(0, 0.05)),
        random.normal(0, 3),
        abs(random.normal(4, 1)),
    )


@pytest.fixture(scope="module")
def baseline() -> Baseline:
    random = np.random.default_rng(4)
    return Baseline(
        [own(random.uniform(50, 68), random.uniform(-30, -14), random) for _ in range(40)]
    )


def test_a_baseline_learns_how_tone_goes_with_pitch_and_level(baseline: Baseline) -> None:
    low, high = (baseline.expects(replace(OWN, midi=midi)) for midi in (52, 64))
    assert low.harmonicity_db - high.harmonicity_db == pytest.approx(3, abs=1.2)
    assert low.brightness_steps - high.brightness_steps == pytest.approx(1, abs=0.1)
    soft, loud = (baseline.expects(replace(OWN, level_db=db)) for db in (-28, -18))
    assert loud.harmonicity_db - soft.harmonicity_db == pytest.approx(2, abs=1.2)


def test_it_is_as_sure_as_the_notes_let_it_be(baseline: Baseline) -> None:
    # The notes scatter by 1 dB; a new one is expected to do so too, hardly more.
    assert 0.8 <= baseline.expects(OWN).harmonicity_sd_db <= 1.5
    far = baseline.expects(replace(OWN, midi=94))
    assert far.harmonicity_sd_db > 1.3 * baseline.expects(OWN).harmonicity_sd_db
    few = Baseline([OWN]).expects(replace(OWN, midi=82))
    assert few.harmonicity_sd_db > 4


def test_its_spread_is_honest_on_notes_it_has_not_heard(baseline: Baseline) -> None:
    random = np.random.default_rng(5)
    fresh = [own(random.uniform(50, 68), random.uniform(-30, -14), random) for _ in range(300)]
    within = [
        abs(tone.harmonicity_db - expected.harmonicity_db) <= 2 * expected.harmonicity_sd_db
        for tone in fresh
        for expected in [baseline.expects(tone)]
    ]
    assert 0.9 <= np.mean(within) <= 0.995


def test_too_few_notes_say_nothing() -> None:
    assert Baseline([]).judge(OWN) is None
    assert Baseline([OWN] * 4).judge(OWN) is None
    assert Baseline([OWN] * 5).judge(OWN) is not None
    assert Baseline([OWN] * 4).match(OWN, OWN) is None


@pytest.mark.parametrize(
    ("change", "word"),
    [
        ({}, ToneWord.CLEAR),
        ({"harmonicity_db": 25.0}, ToneWord.AIRY),
        ({"harmonicity_db": 27.5}, ToneWord.CLEAR),
        ({"brightness": 4.2, "centre_cents": 8}, ToneWord.TIGHT),
        ({"brightness": 4.2, "centre_cents": 0}, ToneWord.CLEAR),
        ({"brightness": 2.1, "centre_cents": -9}, ToneWord.SPREAD),
        ({"brightness": 2.1, "spread_cents": 12}, ToneWord.SPREAD),
        ({"brightness": 2.1}, ToneWord.CLEAR),
        # The same numbers an octave up are what this player has there.
        ({"midi": 70, "harmonicity_db": 27.0, "brightness": 1.5}, ToneWord.CLEAR),
    ],
)
def test_the_word_is_against_the_players_own(
    baseline: Baseline, change: dict[str, float], word: ToneWord
) -> None:
    verdict = baseline.judge(replace(OWN, **change))
    assert verdict is not None
    assert verdict.word is word


def test_a_match_loses_points_for_air_brightness_and_wavering(baseline: Baseline) -> None:
    assert baseline.match(OWN, OWN) == 100
    assert baseline.match(replace(OWN, harmonicity_db=26), OWN) == pytest.approx(80)
    assert baseline.match(replace(OWN, brightness=6.0), OWN) == pytest.approx(60)
    assert baseline.match(replace(OWN, spread_cents=9), OWN) == pytest.approx(90)
    # An octave up, 3 dB less and half as bright are what to expect: nearly a full match.
    high = replace(OWN, midi=70, harmonicity_db=27, brightness=1.5)
    assert (baseline.match(high, OWN) or 0) > 90
    assert baseline.match(replace(OWN, harmonicity_db=2), OWN) == 0
