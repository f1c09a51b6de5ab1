"""A pattern in words."""

from dataclasses import replace

from orexis.core.horn.notation import note_name
from orexis.core.judging.pattern_words import pattern_sentences
from orexis.core.listening.notes.patterns import LeftOver, MatchedNote, PatternMatch

WANTED = (58, 62, 65)
WHOLE = PatternMatch(
    spoken=(MatchedNote(0, 2), MatchedNote(1, -4), MatchedNote(2, 0)),
    left_over=(),
    breaths=1,
    level_change_db=1,
    harmonicity_change_db=-1,
    evenness_cv=0.04,
    timing=None,
)


def said(match: PatternMatch, played: tuple[int, ...] = WANTED) -> list[str]:
    return list(pattern_sentences(match, WANTED, played, note_name))


def test_all_is_well_in_four_sentences() -> None:
    assert said(WHOLE) == [
        "All 3 notes spoke.",
        "In one breath.",
        "The last note sounds like the first.",
        "Even: the speed varies by 4 %.",
    ]


def test_what_went_wrong_comes_first_with_its_notes() -> None:
    spoken = (MatchedNote(0, 2), None, MatchedNote(3, 0))
    left = ((1, LeftOver.EXTRA), (2, LeftOver.EXTRA), (4, LeftOver.SPLIT))
    match = replace(WHOLE, spoken=spoken, left_over=left, breaths=2, evenness_cv=0.3)
    assert said(match, (58, 63, 63, 65, 65))[:4] == [
        "2 of 3 spoke; missed: D4.",
        "Broken in two: F4.",
        "Not asked for: E♭4 2 times.",
        "In 2 breaths.",
    ]
    assert said(match, (58, 63, 63, 65, 65))[-1] == "Uneven: the speed varies by 30 %."


def test_a_change_of_sound_is_told_with_its_direction() -> None:
    softer = replace(WHOLE, level_change_db=-7.2, harmonicity_change_db=-5)
    assert "The last note is 7 dB softer and 5 dB breathier than the first." in said(softer)


def test_louder_and_clearer_are_told_as_well_and_what_hardly_differs_is_not() -> None:
    louder = replace(WHOLE, level_change_db=7.2, harmonicity_change_db=5)
    assert "The last note is 7 dB louder and 5 dB clearer than the first." in said(louder)
    alone = replace(WHOLE, level_change_db=7.2, harmonicity_change_db=0.4)
    assert "The last note is 7 dB louder than the first." in said(alone)
    other = replace(WHOLE, level_change_db=-0.4, harmonicity_change_db=-9)
    assert "The last note is 9 dB breathier than the first." in said(other)


def test_what_was_played_again_is_told_with_its_notes() -> None:
    left = ((1, LeftOver.REPEATED), (3, LeftOver.REPEATED), (4, LeftOver.REPEATED))
    match = replace(WHOLE, left_over=left)
    assert said(match, (58, 58, 62, 65, 65))[1] == "Played again: B♭3, F4 2 times."


def test_of_one_note_and_of_two_less_is_told() -> None:
    one = replace(WHOLE, spoken=(MatchedNote(0, 0),))
    assert list(pattern_sentences(one, (58,), (58,), note_name)) == [
        "The note spoke.",
        "In one breath.",
    ]
    two = replace(WHOLE, spoken=(MatchedNote(0, 0), MatchedNote(1, 0)))
    told = list(pattern_sentences(two, (58, 62), (58, 62), note_name))
    assert told == ["All 2 notes spoke.", "In one breath.", "The last note sounds like the first."]
    # A tenth is still even.
    even = replace(WHOLE, evenness_cv=0.1)
    assert said(even)[-1] == "Even: the speed varies by 10 %."


def test_nothing_played_says_only_that() -> None:
    nothing = replace(WHOLE, spoken=(None, None, None), breaths=0)
    assert said(nothing, ()) == ["0 of 3 spoke; missed: B♭3, D4, F4."]
