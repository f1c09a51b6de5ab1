"""What was measured of a note, in words, and what the ribbon shows of its frames."""

from dataclasses import replace

import numpy as np
import pytest

from orexis.core.judging.ribbon import ribbon_of
from orexis.core.judging.words import (
    MeasureLine,
    directed,
    measure_lines,
    origin_words,
    recording_remarks,
    tone_sentence,
)
from orexis.core.listening.notes.measures import NoteMeasures, Shape, Vibrato
from orexis.core.listening.notes.tone import FEWEST_NOTES, ExpectedTone, ToneVerdict, ToneWord
from orexis.core.listening.tracking.frames import Frames
from tests.core.test_marks import CLEAN


def lines(measures: NoteMeasures, *cents: float) -> dict[str, MeasureLine]:
    found = measure_lines(measures, 31.4, np.array(cents, dtype=np.float64))
    return {line.label: line for line in found}


def test_a_number_has_its_direction_in_words() -> None:
    words = [directed(number, "up", "down") for number in (17.4, -17.4, 0.4, -0.4, 0.6, -1.0)]
    assert words == ["17 up", "17 down", "0", "0", "1 up", "1 down"]


def test_every_measure_has_its_number_unit_and_meaning() -> None:
    measures = replace(
        CLEAN,
        rise_s=0.083,
        settle_s=0.31,
        drift_cents_per_s=-2.6,
        level_change_db=-4.26,
        shape=Shape.DIMINUENDO,
        vibrato=Vibrato(5.53, 18.4),
    )
    # Of five frames two lie within 5 cents, four within 10; what has no pitch is not counted.
    told = lines(measures, 0.0, -4.0, 7.0, -9.0, 30.0, np.nan)
    assert {label: (line.words, line.unit, line.meaning) for label, line in told.items()} == {
        "in the slot": ("80", "%", "of it within ± 10 cents; 40 % within ± 5"),
        "speaks in": ("0.08", "s", "from a tenth of its sound to all"),
        "settles after": ("0.31", "s", "within ± 10 cents for good"),
        "drift": ("3 down", "cents a second", "the lean of the settled part"),
        "loudness": (
            "4.3",
            "dB softer",
            f"{Shape.DIMINUENDO.value}, from the beginning to the end",
        ),
        "clearness": ("31", "dB", "tone over breath, 40 at most"),
        "vibrato": ("± 18", "cents", "5.5 swings a second; not held against you"),
    }


@pytest.mark.parametrize(
    ("change_db", "words", "unit"),
    [(3.14, "3.1", "dB louder"), (-0.06, "0.1", "dB softer"), (0.04, "0", "dB")],
)
def test_a_change_of_level_says_which_way(change_db: float, words: str, unit: str) -> None:
    line = lines(replace(CLEAN, level_change_db=change_db))["loudness"]
    assert (line.words, line.unit) == (words, unit)


def test_of_what_was_kept_without_its_frames_the_slot_is_not_told() -> None:
    assert "in the slot" not in lines(CLEAN)
    assert "in the slot" not in lines(CLEAN, np.nan, np.nan)
    assert "vibrato" not in lines(CLEAN)


def test_where_sound_came_from_and_what_there_is_to_know_of_it() -> None:
    assert origin_words("microphone") == "microphone"
    assert origin_words("stand-in") == "the stand-in player"
    assert recording_remarks("", clipped=False) == []
    told = recording_remarks("it was too short", clipped=True)
    assert told[0] == "Kept unjudged: it was too short"
    assert told[1].startswith("It is clipped in places")


@pytest.mark.parametrize(
    ("word", "said"),
    [
        (ToneWord.AIRY, "Airy: 6 dB more breath than in your own tone here."),
        (ToneWord.TIGHT, "Tight: brighter than your own tone here, and pushed up."),
        (ToneWord.SPREAD, "Spread: duller than your own tone here, and not in the middle."),
        (ToneWord.CLEAR, "Clear, as your own tone is here."),
    ],
)
def test_a_tone_is_said_against_the_players_own(word: ToneWord, said: str) -> None:
    verdict = ToneVerdict(word, -6.2, 0.0, ExpectedTone(28.0, 2.0, 0.0, 0.2))
    assert tone_sentence(verdict, None, 50) == said
    assert tone_sentence(verdict, 71.6, 50) == f"{said} 72 of 100 like the last good one."


def test_a_tone_that_is_not_known_yet_says_how_far_it_is() -> None:
    few, enough = FEWEST_NOTES - 1, FEWEST_NOTES
    assert tone_sentence(None, None, few) == (
        f"Your own tone is not known yet: {few} of {enough} takes were good."
    )
    assert tone_sentence(None, None, enough) == (
        "Your own tone is not known yet at this pitch and loudness."
    )


def test_the_ribbon_shows_frames_at_their_pitch_in_cents() -> None:
    f0_hz = np.array([442.0, 221.0, np.nan])
    level_db, harmonicity_db = np.array([-20.0, -21.0, -90.0]), np.array([30.0, 29.0, 0.0])
    frames = Frames(7, f0_hz, level_db, harmonicity_db, np.array([2.0, 2.1, 0.0]))
    ribbon = ribbon_of(frames, 442.0)
    assert ribbon.first == 7
    # At A4 = 442 Hz the first is A4, number 69, and the second A3.
    assert ribbon.pitch_cents[:2] == pytest.approx([6900, 5700], abs=1e-6)
    assert np.isnan(ribbon.pitch_cents[2])
    assert ribbon.level_db is level_db
    assert ribbon.harmonicity_db is harmonicity_db
