"""Targets: equal, just over a drone, and scales."""

from math import log2

import pytest

from orexis.core.horn.instruments import INSTRUMENTS
from orexis.core.horn.notation import parse_note
from orexis.core.horn.pitch import hz_from_midi, midi_from_hz
from orexis.core.horn.setup import Horn, Setup
from orexis.core.horn.tuning import EQUAL, JUST_SCALE, Scale, Temperament, Tuning
from orexis.core.horn.ways import standard_way


def test_hertz_and_midi_are_each_others_inverse() -> None:
    assert hz_from_midi(69) == 440
    assert hz_from_midi(57, 442) == 221
    assert midi_from_hz(hz_from_midi(43.21)) == pytest.approx(43.21)


def test_just_intervals_lie_off_equal_ones_by_their_ratio() -> None:
    over_d = Tuning(Temperament.JUST, tonic=2)
    wanted = [0, 11.7, 3.9, 15.6, -13.7, -2.0, -9.8, 2.0, 13.7, -15.6, 17.6, -11.7]
    offsets = [over_d.offset_cents(62 + step) for step in range(12)]
    assert offsets == pytest.approx(wanted, abs=0.06)
    assert over_d.offset_cents(62 - 12 + 4) == pytest.approx(-13.7, abs=0.06)
    assert EQUAL.offset_cents(64) == 0


def test_the_target_is_the_drones_ratio_in_hertz() -> None:
    horn = Horn(INSTRUMENTS["trumpet-c"], Setup(a4_hz=442, tuning=Tuning(Temperament.JUST, 0)))
    c4, e4 = horn.target_hz(60), horn.target_hz(64)
    assert e4 / c4 == pytest.approx(5 / 4)
    assert c4 == pytest.approx(442 * 2 ** (-9 / 12))


def test_a_slide_goes_to_the_target_and_not_to_equal_temperament() -> None:
    trombone = INSTRUMENTS["trombone-tenor"]
    third = parse_note("D3").midi
    equal = standard_way(Horn(trombone), third)
    just = standard_way(Horn(trombone, Setup(tuning=Tuning(Temperament.JUST, 10))), third)
    assert equal is not None
    assert just is not None
    assert just.cents == equal.cents
    assert equal.correction_mm is not None
    assert just.correction_mm is not None
    # 13.7 cents lower is out by Lp/2·(2^(13.7/1200) − 1); Lp = 2.955·2^(3/12) m: 13.9 mm.
    assert just.correction_mm - equal.correction_mm == pytest.approx(13.9, abs=0.2)


def test_a_scale_of_twelve_gives_each_note_its_own_degree() -> None:
    fifths = sorted((1200 * k * log2(3 / 2)) % 1200 for k in range(1, 12))
    pythagorean = Tuning(Temperament.SCALE, 0, Scale("fifths", (*fifths, 1200.0)))
    assert pythagorean.offset_cents(67) == pytest.approx(1200 * log2(3 / 2) - 700)
    assert pythagorean.offset_cents(64) == pytest.approx(1200 * log2(81 / 64) - 400)
    assert pythagorean.offset_cents(60 + 12) == 0
    assert Tuning(Temperament.SCALE, 0, JUST_SCALE).offset_cents(64) == pytest.approx(
        -13.7, abs=0.06
    )


def test_a_scale_of_seven_gives_its_nearest_degree_and_leaves_the_rest_equal() -> None:
    pentatonic = Scale("five notes", (204.0, 386.0, 702.0, 884.0, 1200.0))
    tuning = Tuning(Temperament.SCALE, 0, pentatonic)
    assert tuning.offset_cents(64) == pytest.approx(-14)
    assert tuning.offset_cents(52) == pytest.approx(-14)
    assert tuning.offset_cents(65) == 0
    assert tuning.offset_cents(72) == 0
