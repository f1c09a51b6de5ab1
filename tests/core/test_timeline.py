"""The timeline of a session: its exercises in time, and what was good."""

from orexis.core.session.log import AttemptJudged, ButtonPressed, Entry, Overruled, Press
from orexis.core.session.running import step
from orexis.core.session.state import SessionState
from orexis.core.session.timeline import timeline_of
from tests.core.test_running import RATE, block, started

LONG = block("long-tone", needed=2)
HIGH = block("next-note", needed=1)


def judged(at_s: float, good: bool, take: str, seconds: float = 2.0) -> AttemptJudged:
    return AttemptJudged(round(at_s * RATE), good, take, seconds)


def after(first: SessionState, log: list[Entry]) -> SessionState:
    for entry in log:
        first = step(first, entry)
    return first


def test_an_exercise_lasts_from_the_one_before_to_its_own_end() -> None:
    first = started(LONG, HIGH)
    log: list[Entry] = [
        judged(5, False, "a"),
        judged(10, True, "b"),
        judged(15, True, "c", seconds=4.0),
        ButtonPressed(30 * RATE, Press.END),
    ]
    (block,) = timeline_of(first, log)
    assert (block.title, block.start_s, block.works) == ("Long tone", 0.0, False)
    assert block.end_s == 15
    assert [(each.start_s, each.end_s, each.good) for each in block.attempts] == [
        (3, 5, False),
        (8, 10, True),
        (11, 15, True),
    ]
    assert block.words == "2 of 3 good."


def test_what_is_left_in_the_middle_is_there_as_far_as_it_went() -> None:
    first = started(LONG, HIGH)
    log: list[Entry] = [
        ButtonPressed(2 * RATE, Press.NEXT),
        judged(9, False, "a"),
        ButtonPressed(12 * RATE, Press.END),
    ]
    (block,) = timeline_of(first, log)
    # The first was left before it was played.
    assert (block.title, block.start_s, block.end_s, block.works) == (HIGH.title, 2, 12, True)


def test_the_player_has_the_last_word() -> None:
    first = started(LONG, HIGH)
    log: list[Entry] = [
        judged(5, False, "a"),
        Overruled(6 * RATE, "a", True),
        judged(10, True, "b"),
        ButtonPressed(30 * RATE, Press.END),
    ]
    assert [each.good for block in timeline_of(first, log) for each in block.attempts] == [
        True,
        True,
    ]


def test_and_also_of_what_is_over() -> None:
    log: list[Entry] = [
        judged(5, True, "a"),
        judged(10, True, "b"),
        judged(20, True, "c"),
        Overruled(21 * RATE, "b", False),
        ButtonPressed(30 * RATE, Press.END),
    ]
    found = timeline_of(started(LONG, HIGH), log)
    assert [[each.good for each in block.attempts] for block in found] == [[True, False], [True]]


def test_what_was_cut_short_counts_for_nothing() -> None:
    cut = AttemptJudged(5 * RATE, False, "a", 1.0, cut=True)
    assert timeline_of(started(LONG), [cut, ButtonPressed(9 * RATE, Press.END)]) == ()
