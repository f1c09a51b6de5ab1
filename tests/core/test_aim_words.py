"""What every aim says of itself: its number with its unit, what was missed, and what to change."""

import pytest

from orexis.core.exercises.family import Aim
from orexis.core.judging.aim_words import WORDS, limit_words, number_words
from orexis.core.judging.attempts import AimResult


def result(aim: Aim, measured: float, limit: float = 10.0, **more: object) -> AimResult:
    more.setdefault("passed", False)
    return AimResult(aim, measured, limit, **more)  # type: ignore[arg-type]


@pytest.mark.parametrize(
    ("aim", "above", "below", "unit"),
    [
        (Aim.CENTRE, "sharp", "flat", "cents"),
        (Aim.START, "sharp", "flat", "cents"),
        (Aim.END, "sharp", "flat", "cents"),
        (Aim.CAME_BACK, "sharp", "flat", "cents"),
        (Aim.LEVEL, "louder", "softer", "dB"),
        (Aim.SAME_SOUND, "louder", "softer", "dB"),
        (Aim.ENDS_ALIKE, "louder", "softer", "dB"),
        (Aim.TEMPO, "fast", "slow", "%"),
    ],
)
def test_a_number_says_which_way_it_lies_and_nothing_where_it_rounds_to_none(
    aim: Aim, above: str, below: str, unit: str
) -> None:
    assert number_words(result(aim, 12.4)) == ("12", f"{unit} {above}")
    assert number_words(result(aim, -12.6)) == ("13", f"{unit} {below}")
    for none in (0.4, -0.4, 0.0):
        assert number_words(result(aim, none)) == ("0", unit)


@pytest.mark.parametrize(
    ("aim", "measured", "said"),
    [
        (Aim.STEADY, 12.4, ("± 12", "cents")),
        (Aim.EVEN, 12.4, ("± 12", "%")),
        (Aim.TONE, 61.7, ("62", "of 100")),
        (Aim.SAME_TONE, 61.7, ("62", "of 100")),
        (Aim.CLEAR, 61.7, ("62", "%")),
        (Aim.BENT, 61.7, ("62", "% as far")),
        (Aim.GAP, 61.7, ("62", "ms")),
        (Aim.TOUCHED, 61.7, ("62", "ms")),
        (Aim.FLIPPED, 61.7, ("62", "ms")),
        (Aim.SMEARED, 61.7, ("62", "ms")),
        (Aim.WANING, 6.7, ("7", "dB")),
        (Aim.FLOW, 2.26, ("2.3", "s")),
        # Never rounded up: what was not held as long as asked must not read as if it had been.
        (Aim.HELD, 3.96, ("3.9", "s")),
        (Aim.HELD, 4.0, ("4.0", "s")),
        (Aim.EXTRA, 0.0, ("none", "")),
        (Aim.EXTRA, 1.0, ("1", "note")),
        (Aim.EXTRA, 2.0, ("2", "notes")),
        (Aim.ONE_BREATH, 1.0, ("1", "extra breath")),
        (Aim.ONE_BREATH, 3.0, ("3", "extra breaths")),
        (Aim.BREAKS, 2.0, ("2", "breaks")),
        (Aim.SPAN, 2.55, ("2.5", "half steps short")),
    ],
)
def test_a_number_has_its_unit(aim: Aim, measured: float, said: tuple[str, str]) -> None:
    assert number_words(result(aim, measured)) == said


@pytest.mark.parametrize(
    ("aim", "yes", "no"),
    [
        (Aim.SPEAKS, "at once", "cracked"),
        (Aim.SPOKE, "all", "missing"),
        (Aim.GLIDED, "glided", "jumped"),
        (Aim.NO_CATCH, "free", "caught"),
        (Aim.SHAPE, "as written", "not yet"),
        (Aim.SPAN, "all", ""),
    ],
)
def test_what_is_or_is_not_is_said_in_a_word(aim: Aim, yes: str, no: str) -> None:
    assert number_words(result(aim, 0.0, passed=True)) == (yes, "")
    if no:
        assert number_words(result(aim, 1.0)) == (no, "")


@pytest.mark.parametrize(
    ("aim", "measured", "alone", "at_a_note"),
    [
        (Aim.CENTRE, 22.4, "22 cents sharp (10 allowed)", "A4 was 22 cents sharp (10 allowed)"),
        (Aim.CENTRE, -22.4, "22 cents flat (10 allowed)", "A4 was 22 cents flat (10 allowed)"),
        (
            Aim.STEADY,
            12.0,
            "wavered by ± 12 cents (10 allowed)",
            "A4 wavered by ± 12 cents (10 allowed)",
        ),
        (
            Aim.START,
            -31.0,
            "scooped: started 31 cents flat (10 allowed)",
            "scooped: A4 started 31 cents flat (10 allowed)",
        ),
        (
            Aim.START,
            31.0,
            "started 31 cents sharp (10 allowed)",
            "A4 started 31 cents sharp (10 allowed)",
        ),
        (
            Aim.END,
            -31.0,
            "ended 31 cents flat (10 allowed)",
            "A4 ended 31 cents flat (10 allowed)",
        ),
        (Aim.SPEAKS, 1.0, "cracked at the start", "A4 cracked at the start"),
        (
            Aim.LEVEL,
            -12.0,
            "12 dB softer than your last good one (10 allowed)",
            "A4: 12 dB softer than your last good one (10 allowed)",
        ),
        (
            Aim.GAP,
            95.0,
            "a 95 ms gap in the slur (10 allowed)",
            "a 95 ms gap before A4 (10 allowed)",
        ),
        (
            Aim.TOUCHED,
            95.0,
            "a partial in between sounded for 95 ms in the slur",
            "a partial in between sounded for 95 ms before A4",
        ),
        (
            Aim.FLIPPED,
            95.0,
            "the partial above the note sounded first, for 95 ms",
            "the partial above A4 sounded first, for 95 ms",
        ),
        (
            Aim.WANING,
            7.0,
            "the sound faded by 7 dB in the slur",
            "the sound faded by 7 dB before A4",
        ),
        (
            Aim.SMEARED,
            95.0,
            "the slur to the note took 95 ms (10 allowed)",
            "the slur to A4 took 95 ms (10 allowed)",
        ),
        (Aim.SPOKE, 1.0, "the note did not sound", "A4 did not sound"),
        (Aim.EXTRA, 1.0, "one extra note before the note", "one extra note before A4"),
        (Aim.EXTRA, 2.0, "2 extra notes before the note", "2 extra notes before A4"),
        (Aim.TEMPO, -24.0, "24 % too slow (10 % allowed)", "24 % too slow (10 % allowed)"),
        (Aim.TEMPO, 24.0, "24 % too fast (10 % allowed)", "24 % too fast (10 % allowed)"),
        (Aim.FLOW, 2.0, "a pause of 2.0 s before the note", "a pause of 2.0 s before A4"),
        (Aim.ONE_BREATH, 1.0, "one extra breath", "one extra breath"),
        (
            Aim.SAME_SOUND,
            -12.0,
            "the last note was 12 dB softer than the first (10 allowed)",
            "A4 was 12 dB softer than the first (10 allowed)",
        ),
        (
            Aim.ENDS_ALIKE,
            12.0,
            "the end was 12 dB louder than the start (10 allowed)",
            "A4 was 12 dB louder than the start (10 allowed)",
        ),
        (Aim.SAME_TONE, 40.0, "the sound turned different", "A4 turned different"),
        (Aim.BREAKS, 1.0, "the glide broke once", "the glide broke once"),
        (Aim.BREAKS, 3.0, "the glide broke 3 times", "the glide broke 3 times"),
        (Aim.SPAN, 1.0, "the glide stayed 1 half step short", "the glide stayed 1 half step short"),
        (Aim.GLIDED, 1.0, "the note was reached without a glide", "A4 was reached without a glide"),
        (
            Aim.NO_CATCH,
            1.0,
            "the glide caught on the way to the note",
            "the glide caught on the way to A4",
        ),
        (Aim.BENT, 60.0, "was bent 60 % as far as asked", "A4 was bent 60 % as far as asked"),
        (
            Aim.CAME_BACK,
            -15.0,
            "came back 15 cents flat (10 allowed)",
            "A4 came back 15 cents flat (10 allowed)",
        ),
        (
            Aim.SHAPE,
            1.0,
            "the note did not follow the dynamics",
            "A4 did not follow the dynamics",
        ),
    ],
)
def test_what_was_missed_is_said_of_its_note_or_of_the_only_one(
    aim: Aim, measured: float, alone: str, at_a_note: str
) -> None:
    one = result(aim, measured)
    assert WORDS[aim].missed(one, "") == alone
    assert WORDS[aim].missed(one, "A4") == at_a_note


@pytest.mark.parametrize(
    ("aim", "too_much", "too_little"),
    [
        (Aim.CENTRE, "Let the pitch down", "Bring the pitch up"),
        (Aim.START, "without pinching", "start right on it"),
        (Aim.END, "do not squeeze", "Keep the air going"),
        (Aim.LEVEL, "less air", "more air"),
        (Aim.TEMPO, "stay with it", "set a slower tempo"),
    ],
)
def test_advice_depends_on_which_way_it_was_missed(
    aim: Aim, too_much: str, too_little: str
) -> None:
    assert too_much in WORDS[aim].advice(result(aim, 20.0))
    assert too_little in WORDS[aim].advice(result(aim, -20.0))
    assert WORDS[aim].advice(result(aim, 20.0)) != WORDS[aim].advice(result(aim, -20.0))


def test_every_aim_has_words_that_end_and_advice_that_does() -> None:
    assert set(WORDS) == set(Aim)
    for aim, words in WORDS.items():
        for measured in (20.0, -20.0):
            advice = words.advice(result(aim, measured))
            assert advice[0].isupper()
            assert advice.endswith(".")


def test_a_limit_says_what_is_asked_or_allowed_and_how_often_it_was_met() -> None:
    assert limit_words(result(Aim.CENTRE, 5.0, 15.0)) == "15 allowed"
    assert limit_words(result(Aim.TONE, 80.0, 70.0)) == "70 asked"
    assert limit_words(result(Aim.HELD, 3.0, 4.0)) == "4 s asked"
    often = {"right": 3, "chances": 4}
    assert limit_words(result(Aim.CENTRE, 5.0, 15.0, **often)) == "15 allowed, 3 of 4 good"
    assert limit_words(result(Aim.SPOKE, 1.0, 0.0, **often)) == "3 of 4 good"
    # Of one there is nothing to count.
    assert limit_words(result(Aim.SPOKE, 1.0, 0.0, right=1, chances=1)) == ""


def test_what_cannot_be_told_says_why_in_place_of_its_number() -> None:
    untold = result(Aim.TONE, 0.0, 70.0, passed=True, untold="your own tone is not known yet")
    assert number_words(untold) == ("", "your own tone is not known yet")
