"""Which of several notes of one pitch were played, by when; truths by arithmetic."""

import pytest

from orexis.core.judging.repeats import answers_in_time, placed_in_time

WRITTEN_S = [0.0, 2.0, 4.0, 6.0, 8.0]


@pytest.mark.parametrize("gone", range(5))
@pytest.mark.parametrize("pace", [1.0, 1.3, 0.8])
def test_the_one_that_is_missing_is_told_by_the_hole(gone: int, pace: float) -> None:
    left = [place for place in range(5) if place != gone]
    heard_s = [3.0 + pace * WRITTEN_S[place] for place in left]
    # With the first or the last gone all lie on a line as the first four do.
    assert placed_in_time(WRITTEN_S, heard_s) == ([0, 1, 2, 3] if gone in (0, 4) else left)


def test_two_notes_tell_no_pace_of_their_own() -> None:
    # Four seconds apart: one is left out between them, at the written pace.
    assert placed_in_time(WRITTEN_S[:3], [1.0, 5.0]) == [0, 2]
    assert placed_in_time(WRITTEN_S[:3], [1.0, 3.1]) == [0, 1]


def test_what_lies_hardly_nearer_changes_nothing() -> None:
    # 3.05 s apart is 1.05 s and 0.95 s off: on average less than a tenth of a second better.
    assert placed_in_time(WRITTEN_S[:3], [0.0, 3.05]) == [0, 1]


def test_all_of_them_none_and_far_too_many_are_as_they_come() -> None:
    assert placed_in_time(WRITTEN_S, WRITTEN_S) == [0, 1, 2, 3, 4]
    assert placed_in_time(WRITTEN_S, []) == []
    many = [float(place) for place in range(40)]
    assert placed_in_time(many, many[:20]) == list(range(20))


def test_only_runs_that_are_not_whole_are_told_anew() -> None:
    # Three of one pitch of which the middle one is missing, another, and two that are there.
    keys = [60, 60, 60, 64, 67, 67]
    written_s = [0.0, 1.0, 2.0, 3.0, 4.0, 5.0]
    answers = [0, 1, None, 2, 3, 4]
    heard_s = [0.5, 2.5, 3.5, 4.5, 5.5]
    assert answers_in_time(keys, written_s, answers, heard_s) == [0, None, 1, 2, 3, 4]
    # Those of no time of their own stay with the first.
    free = [None, None, None, 64, 67, 67]
    assert answers_in_time(free, written_s, answers, heard_s) == answers
    assert answers_in_time([], [], [], []) == []
