"""The gate, its words, and the running of the Stand."""

from dataclasses import replace
from datetime import date

import numpy as np
import pytest

from orexis.core.exercises.longtone import LongTone
from orexis.core.horn.instruments import INSTRUMENTS
from orexis.core.horn.notation import Clef, NoteView
from orexis.core.horn.setup import Horn
from orexis.core.judging.comparison import worth_comparing
from orexis.core.judging.gate import DEFAULT_LIMITS, GateLevel, Likeness, Rule, judge
from orexis.core.judging.words import (
    limit_words,
    measure_lines,
    measured_words,
    recording_remarks,
    say,
    tone_sentence,
)
from orexis.core.listening.notes.measures import NoteMeasures, Vibrato
from orexis.core.listening.notes.tone import Expected, ToneVerdict, ToneWord

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
NORMAL = DEFAULT_LIMITS[GateLevel.NORMAL]
HORN = Horn(INSTRUMENTS["tenor-horn-eb"])
WRITTEN = HORN.instrument.notation(NoteView.WRITTEN, Clef.TREBLE)
TONE = LongTone(HORN, 58, 2.0)
B_FLAT_3_HZ = 233.082


@pytest.mark.parametrize(
    ("level", "centre", "spread", "scoop", "sag"),
    [("strict", 10, 6, 20, 15), ("normal", 15, 9, 30, 20), ("kind", 20, 13, 45, 30)],
)
def test_each_level_lets_through_exactly_its_limits(
    level: str, centre: float, spread: float, scoop: float, sag: float
) -> None:
    limits = DEFAULT_LIMITS[GateLevel(level)]
    at = replace(
        CLEAN, centre_cents=-centre, spread_cents=spread, scoop_cents=-scoop, sag_cents=-sag
    )
    assert judge(at, 4, limits).passed
    for beyond in (
        replace(CLEAN, centre_cents=centre + 0.1),
        replace(CLEAN, spread_cents=spread + 0.1),
        replace(CLEAN, scoop_cents=scoop + 0.1),
        replace(CLEAN, sag_cents=-sag - 0.1),
    ):
        assert not judge(beyond, 4, limits).passed


def test_a_note_held_too_short_fails_whatever_the_level() -> None:
    verdict = judge(replace(CLEAN, hold_s=3.96), 4, DEFAULT_LIMITS[GateLevel.KIND])
    (failed,) = [result for result in verdict.results if not result.passed]
    assert failed.rule is Rule.HELD
    assert measured_words(failed) == ("3.9", "s")
    assert limit_words(failed) == "of 4 s"


def test_the_one_thing_to_change_is_what_was_missed_by_most() -> None:
    # Scoop 45 of 30 is 1.5 times its limit; centre 18 of 15 is 1.2 times.
    verdict = judge(replace(CLEAN, centre_cents=18, scoop_cents=-45), 4, NORMAL)
    assert verdict.worst is not None
    assert verdict.worst.rule is Rule.START
    said = say(verdict, 58, 58, WRITTEN)
    assert said.headline == "Again: slid up into it."
    assert "not from below" in said.change


@pytest.mark.parametrize(
    ("measures", "headline"),
    [
        (replace(CLEAN, centre_cents=-22.4), "Again: 22 cents low."),
        (replace(CLEAN, centre_cents=22.4), "Again: 22 cents high."),
        (replace(CLEAN, spread_cents=12.0), "Again: it wavers."),
        (replace(CLEAN, scoop_cents=50.0), "Again: came down into it."),
        (replace(CLEAN, sag_cents=-30.0), "Again: the end fell."),
        (replace(CLEAN, sag_cents=30.0), "Again: the end rose."),
        (replace(CLEAN, hold_s=1.55), "Again: held 1.5 of 4 s."),
    ],
)
def test_a_fault_is_named_and_comes_with_advice(measures: NoteMeasures, headline: str) -> None:
    said = say(judge(measures, 4, NORMAL), 58, 58, WRITTEN)
    assert said.headline == headline
    assert said.change


def test_a_pass_says_go_on_and_no_more() -> None:
    said = say(judge(CLEAN, 4, NORMAL), 58, 58, WRITTEN)
    assert (said.headline, said.change) == ("Go on.", "")


def test_a_wrong_note_is_named_as_the_player_reads_it() -> None:
    verdict = judge(replace(CLEAN, centre_cents=500), 4, NORMAL)
    # Sounding E♭4 is written C5 for the tenor horn.
    assert say(verdict, 63, 58, WRITTEN).headline == "That was C5. Again."


def test_numbers_are_read_with_their_direction() -> None:
    results = judge(replace(CLEAN, centre_cents=-3.2, scoop_cents=5), 4, NORMAL).results
    assert [measured_words(result)[0] for result in results[:4]] == [
        "3 low",
        "± 2",
        "5 above",
        "0",
    ]


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
    good, fair, poor = (judge(replace(CLEAN, centre_cents=c), 4, NORMAL) for c in (1, 12, 25))
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

    assert others(3) == [("first of that day", "b"), ("last that passed", "c"), ("best", "a")]
    # d was overruled to have passed, e not to have.
    assert others(5)[1] == ("last that passed", "d")
    # The last that passed is the best here: told once.
    assert others(1) == [("last that passed", "a")]
    assert others(0) == []


def test_a_tone_is_told_against_the_players_own_or_not_at_all() -> None:
    expected = Expected(28, 1, 1.5, 0.1)
    airy = ToneVerdict(ToneWord.AIRY, -6.2, 0.0, expected)
    assert tone_sentence(airy, 64.4, 20) == (
        "Airy: 6 dB more breath than in your own tone here. 64 of 100 like the last that passed."
    )
    assert tone_sentence(replace(airy, word=ToneWord.CLEAR), None, 20) == (
        "Clear, as your own tone is here."
    )
    assert "2 of 5 takes" in tone_sentence(None, None, 2)
    assert "at this pitch" in tone_sentence(None, None, 9)


def test_a_crack_fails_whatever_the_level() -> None:
    verdict = judge(CLEAN, 4, DEFAULT_LIMITS[GateLevel.KIND], cracked=True)
    worst = verdict.worst
    assert worst is not None
    assert (worst.rule, measured_words(worst)) == (Rule.SPEAKS, ("cracked", ""))
    assert say(verdict, 58, 58, WRITTEN).headline == "Again: it cracked."


@pytest.mark.parametrize(
    ("level", "match", "off_db"), [("strict", 80, 3), ("normal", 70, 4), ("kind", 60, 6)]
)
def test_tone_and_level_are_held_against_the_last_that_passed(
    level: str, match: float, off_db: float
) -> None:
    limits = DEFAULT_LIMITS[GateLevel(level)]
    assert judge(CLEAN, 4, limits, like=Likeness(match, -off_db)).passed
    unlike = judge(CLEAN, 4, limits, like=Likeness(match - 1, 0.0)).worst
    louder = judge(CLEAN, 4, limits, like=Likeness(100.0, off_db + 0.6)).worst
    assert unlike is not None
    assert louder is not None
    assert (unlike.rule, limit_words(unlike)) == (Rule.TONE, f"of at least {match:g}")
    assert (louder.rule, measured_words(louder)) == (
        Rule.LEVEL,
        (f"{off_db + 0.6:.0f} louder", "dB"),
    )


def test_nothing_is_failed_for_want_of_a_baseline() -> None:
    verdict = judge(CLEAN, 4, NORMAL)
    assert verdict.passed
    untold = [result for result in verdict.results if result.untold]
    assert [result.rule for result in untold] == [Rule.TONE, Rule.LEVEL]
    assert measured_words(untold[0]) == ("", "no note has passed yet")
    half = judge(CLEAN, 4, NORMAL, like=Likeness(None, 5.0, "not known here yet"))
    assert [result.rule for result in half.results if not result.passed] == [Rule.LEVEL]
    assert [result.rule for result in half.results if result.untold] == [Rule.TONE]
