"""What is said of takes and of what was measured, and which are worth comparing."""

from dataclasses import replace
from datetime import date

import numpy as np

from orexis.core.exercises.family import Aim
from orexis.core.judging.attempts import AimResult, Verdict
from orexis.core.judging.comparison import worth_comparing
from orexis.core.judging.words import (
    measure_lines,
    recording_remarks,
    tone_sentence,
)
from orexis.core.listening.notes.measures import NoteMeasures, Vibrato
from orexis.core.listening.notes.tone import ExpectedTone, ToneVerdict, ToneWord

CLEAN = NoteMeasures(
    centre_cents=0,
    spread_cents=2,
    drift_cents_per_s=0,
    scoop_cents=0,
    settle_s=0.02,
    sag_cents=0,
    hold_s=4.2,
    vibrato=None,
    level_db=-20,
    level_change_db=0,
)


def test_measure_lines_have_a_unit_each_and_tell_of_vibrato() -> None:
    told = replace(CLEAN, vibrato=Vibrato(5.4, 18), level_change_db=-0.04)
    # Four frames in ten within ± 5 cents, seven within ± 10, and one without a pitch.
    cents = np.array([2.0] * 4 + [-8.0] * 3 + [15.0] * 3 + [np.nan])
    lines = measure_lines(told, 31, cents)
    assert all(line.unit and line.meaning for line in lines)
    assert (lines[0].words, lines[0].meaning) == ("70", "of it within ± 10 cents; 40 % within ± 5")
    assert [line.words for line in lines if line.label in ("vibrato", "loudness")] == ["0", "± 18"]
    softer = measure_lines(replace(told, level_change_db=-1.24), 31, cents)
    (line,) = (line for line in softer if line.label == "loudness")
    assert (line.words, line.unit) == ("1.2", "dB softer")


def test_a_recording_says_why_it_was_not_judged_and_that_it_is_clipped() -> None:
    assert recording_remarks("", clipped=False) == []
    unjudged, clipped = recording_remarks("The horn has no such note.", clipped=True)
    assert unjudged == "Kept unjudged: The horn has no such note."
    assert "turn the input down" in clipped


def test_worth_comparing_are_the_days_first_the_last_that_passed_and_the_best() -> None:
    good, fair, poor = (
        Verdict((AimResult(Aim.CENTRE, cents, 15, cents <= 15),)) for cents in (1, 12, 25)
    )
    # Name, day, verdict and whether it passed, which the player has a say in; oldest first.
    takes = [
        ("a", date(2030, 5, 1), good, True),
        ("b", date(2030, 5, 2), poor, False),
        ("c", date(2030, 5, 2), fair, True),
        ("d", date(2030, 5, 2), poor, True),
        ("e", date(2030, 5, 2), good, False),
        ("f", date(2030, 5, 2), poor, False),
    ]

    def others(index: int) -> list[tuple[str, str]]:
        found = worth_comparing(
            takes[index],
            takes,
            day=lambda take: take[1],
            passed=lambda take: take[3],
            verdict=lambda take: take[2],
        )
        return [(which, take[0]) for which, take in found]

    assert others(3) == [("first of that day", "b"), ("last good one", "c"), ("best", "a")]
    # d was overruled to have passed, e not to have.
    assert others(5)[1] == ("last good one", "d")
    # The last good one is the best here: told once.
    assert others(1) == [("last good one", "a")]
    assert others(0) == []


def test_a_note_held_long_enough_is_none_the_worse_for_not_being_held_longer() -> None:
    centre = AimResult(Aim.CENTRE, 3, 15, True)
    assert Verdict((centre, AimResult(Aim.HELD, 4.1, 4, True))).badness == 3 / 15
    # Held for 2 of 4 s it is twice as bad as just at the limit.
    assert Verdict((centre, AimResult(Aim.HELD, 2, 4, False))).badness == 2


def test_a_tone_is_told_against_the_players_own_or_not_at_all() -> None:
    expected = ExpectedTone(28, 1, 1.5, 0.1)
    airy = ToneVerdict(ToneWord.AIRY, -6.2, 0.0, expected)
    assert tone_sentence(airy, 64.4, 20) == (
        "Airy: 6 dB more breath than in your own tone here. 64 of 100 like the last good one."
    )
    assert tone_sentence(replace(airy, word=ToneWord.CLEAR), None, 20) == (
        "Clear, as your own tone is here."
    )
    assert "2 of 5 takes" in tone_sentence(None, None, 2)
    assert "at this pitch" in tone_sentence(None, None, 9)
