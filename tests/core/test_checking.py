"""The check before hard work says whether it is played, halved or left out."""

import json

import pytest

from orexis.core.session.checking import halved, with_checks
from orexis.core.session.log import Press, Tired
from orexis.core.session.running import run
from orexis.core.session.state import BlockEnd
from orexis.core.session.telling import told
from orexis.formats.session import block_document, block_of
from tests.core.test_running import LADDER, LONG, F, P, W, block, play

PEDALS = block("pedal-arpeggio", {}, needed=6.0, sets=2.0, block_rest_s=0.0)
DOUBLE = block("double-pedals", {}, needed=2.0)
DAY = with_checks((LONG, PEDALS, DOUBLE), W)
GOOD, MISSED, AT_ONCE = (P,), (F, F), (F, P)


def test_each_hard_exercise_has_one_before_it_and_nothing_else_has() -> None:
    blocks = with_checks((LONG, LADDER, PEDALS, DOUBLE), W)
    assert [block.checks for block in blocks] == [False, True, False, True, False, False]
    assert [blocks[1].title, blocks[3].title] == ["Check before high notes", "Check before pedals"]
    held, low = blocks[1].rungs
    # Half way from the easy note to the highest comfortable one, then the easy one on air.
    (middle, *_), (easy, *_) = held.task.score.pitches, low.task.score.pitches
    assert (middle, easy) == ((W.reach.easy + W.reach.high) // 2, W.reach.easy)
    assert held.task.score.seconds == 4


@pytest.mark.parametrize(
    ("first", "second", "close", "sets"),
    [
        (GOOD, GOOD, None, 2),
        (AT_ONCE, GOOD, None, 2),
        (GOOD, MISSED, None, 1),
        (MISSED, AT_ONCE, None, 1),
        (MISSED, MISSED, BlockEnd.HELD_BACK, 2),
    ],
)
def test_it_is_played_halved_or_left_out(
    first: tuple[bool, ...], second: tuple[bool, ...], close: BlockEnd | None, sets: int
) -> None:
    after = play(*DAY)
    while after.state.block == 0:
        after.judged(P)
    after.judged(*first, *second)
    state = after.state
    if close is None:
        assert (state.now.title, state.now.sets) == (PEDALS.title, sets)
        if sets == 1:
            assert state.now.within_s == (PEDALS.seconds - PEDALS.rests.block_s) / 2
            assert told(state, after.now).why.startswith("One of the two notes was not clean")
        else:
            assert state.now == PEDALS
    else:
        assert state.now.title == DOUBLE.title
        assert [block.close for block in state.closed][-1] is close
        assert told(state, after.now).why == (
            f"Neither note was clean, so {PEDALS.title} waits for another day."
        )
    # A session is taken up by folding its log.
    assert run(play(*DAY).state, after.log) == state


def test_what_came_of_it_is_said_once() -> None:
    after = play(*with_checks((LONG, PEDALS, DOUBLE), W))
    while after.state.block == 0:
        after.judged(P)
    after.judged(*MISSED, *GOOD)
    assert told(after.state, after.now).why.startswith("One of the two")
    while after.state.now.title == PEDALS.title:
        after.judged(P)
    assert after.state.now == DOUBLE
    assert told(after.state, after.now).why == DOUBLE.why


def test_a_check_that_is_skipped_changes_nothing() -> None:
    after = play(*DAY)
    while after.state.block == 0:
        after.judged(P)
    after.press(Press.NEXT)
    assert after.state.now == PEDALS


def test_a_note_of_it_that_is_skipped_is_none_that_was_missed() -> None:
    after = play(*DAY)
    while after.state.block == 0:
        after.judged(P)
    after.press(Press.ON).judged(F, P)
    assert after.state.now == PEDALS
    assert told(after.state, after.now).why == PEDALS.why
    after = play(*DAY)
    while after.state.block == 0:
        after.judged(P)
    after.press(Press.ON).judged(F, F)
    assert after.state.now.sets == 1


def test_what_is_left_out_anyway_is_not_checked() -> None:
    after = play(*DAY).judged(P)
    after.enter(Tired(after.now, ("notes hold for 60 % of their length", "notes spread")))
    while after.state.block == 0:
        after.judged(P)
    assert after.state.now.title == DOUBLE.title
    assert [block.block.title for block in after.state.closed] == [LONG.title, PEDALS.title]


def test_half_of_a_timed_exercise_is_half_its_time() -> None:
    minute = block("pedal-arpeggio", {}, needed=40.0, minutes=4.0)
    assert halved(minute).within_s == 120
    assert halved(minute).sets == 1


def test_a_check_is_kept_as_such_and_blocks_of_before_are_none() -> None:
    check = DAY[1]
    document = block_document(check)
    assert block_of(json.loads(json.dumps(document))) == check
    del document["checks"]
    assert not block_of(document).checks
