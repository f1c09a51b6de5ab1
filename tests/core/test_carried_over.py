"""What a session carries from one attempt, step, set and block to the next, and what not."""

from dataclasses import replace

import pytest

from orexis.core.judging.standard import Standard
from orexis.core.session.log import Disturbed, HelpAsked, Overruled, Press, Tired, Tuned
from orexis.core.session.plan import AfterFail
from orexis.core.session.questions import QUESTIONS
from orexis.core.session.state import BlockEnd, End, Move, Phase
from tests.core.test_running import (
    BREATH,
    LADDER,
    LENGTHS,
    LONG,
    PEDALS,
    RATE,
    F,
    P,
    W,
    play,
)


def test_an_overrule_can_be_taken_back_where_it_led_nowhere_else() -> None:
    long = play(LONG).judged(P, F)
    long.enter(Overruled(long.now + 900, "take 2", passed=True))
    assert long.state.counted == 2
    long.enter(Overruled(long.now + 900, "take 2", passed=False))
    assert (long.state.counted, long.state.fails) == (1, (1,))
    long.enter(Overruled(long.now + 900, "take 2", passed=True))
    assert (long.state.counted, long.state.fails) == (2, (0,))


def test_a_step_counts_anew_and_a_step_back_too() -> None:
    twice = replace(LADDER, needed=2)
    assert play(twice).judged(P, P).where == (0, 1, 0)
    assert play(twice).judged(P, P, P).press(Press.BACK).where == (0, 0, 0)
    assert play(twice).judged(P).press(Press.BACK).where == (0, 0, 0)
    assert play(twice).judged(P, P, P, F).where == (0, 0, 0)


def test_back_at_the_beginning_of_a_block_is_the_block_before_from_its_beginning() -> None:
    after = play(LONG, LADDER).judged(P, P, P)
    assert after.state.block == 1
    after.press(Press.BACK)
    assert (after.where, after.state.closed, after.state.move) == ((0, 0, 0), (), Move.GONE_BACK)
    # There is none before the first.
    assert after.press(Press.BACK).where == (0, 0, 0)


@pytest.mark.parametrize(("sets", "ends"), [(1, True), (2, False), (3, False)])
def test_sets_are_played_to_the_last_one(sets: int, ends: bool) -> None:
    once = len(LENGTHS.rungs)
    after = play(replace(LENGTHS, sets=sets), LONG).judged(*[P] * once)
    assert (after.state.block == 1) is ends
    if not ends:
        assert (after.state.set_number, after.state.move) == (1, Move.SET)
        after.judged(*[P] * once * (sets - 1))
        assert after.state.block == 1


def test_a_set_begins_without_the_misses_of_the_one_before() -> None:
    kind = replace(LENGTHS, sets=2, most_fails=9)
    after = play(kind).judged(*[P] * (len(kind.rungs) - 1), F, F, P)
    assert (after.state.set_number, after.state.fails_in_row) == (1, 0)
    assert set(after.state.fails) == {0}


def test_high_work_that_was_enough_has_no_second_set_lower_down() -> None:
    # Hard work ends for the day where it does not lock.
    high = replace(LADDER, sets=3, ends_well=False)
    after = play(high, LONG).judged(P, P, F, P, F, P, F)
    assert (after.state.block, after.state.closed[0].close) == (1, BlockEnd.ENOUGH)


def test_a_miss_on_the_last_step_has_no_step_beyond() -> None:
    beyond = replace(LADDER, after_fail=AfterFail.BEYOND)
    top = len(beyond.rungs) - 1
    after = play(beyond).judged(*[P] * top)
    assert after.state.rung == top
    after.judged(F)
    assert (after.state.rung, after.state.move, after.state.beyond) == (top, Move.AGAIN, False)


def test_a_drone_and_a_standard_set_during_a_help_stay_after_it() -> None:
    kind = replace(LENGTHS, most_fails=9)
    after = play(kind).judged(F, F, F)
    after.enter(HelpAsked(after.now, QUESTIONS[-1].block(W)))
    after.enter(Tuned(after.now + 10, Standard.KIND, 116.5))
    after.press(Press.NEXT)
    assert after.state.back_to is None
    assert (after.state.level, after.state.drone_hz) == (Standard.KIND, 116.5)


def test_a_rest_that_is_cut_short_is_broken_unless_it_was_disturbed_already() -> None:
    resting = play(PEDALS).judged(P)
    assert resting.phase is Phase.REST
    assert resting.press(Press.ON).state.rests_broken == 1
    disturbed = play(PEDALS).judged(P)
    disturbed.enter(Disturbed(disturbed.now + RATE // 2))
    broken = disturbed.state.rests_broken
    assert disturbed.press(Press.ON).state.rests_broken == broken


@pytest.mark.parametrize(("press", "end"), [(Press.END, End.STOPPED), (Press.HURTS, End.HURT)])
def test_the_end_is_when_it_was_pressed_and_keeps_what_was_played(press: Press, end: End) -> None:
    after = play(LONG, LADDER).judged(P, F).press(press, after_s=3)
    assert after.state.ended is end
    (over,) = after.state.stretches
    assert (over.phase, over.start) == (Phase.OVER, after.now)
    (left,) = after.state.closed
    assert (left.close, left.attempts, left.passes) == (BlockEnd.LEFT, 2, 1)
    # Where nothing was played there is nothing to keep.
    assert play(LONG).press(press).state.closed == ()


def test_the_rest_after_high_work_that_was_enough_is_as_long_as_one_played() -> None:
    high = replace(LADDER, ends_well=False, rests=replace(LADDER.rests, as_played=True))
    after = play(high, LONG).judged(P, P, F, P, F, P).judged(F, seconds=37.0)
    assert after.state.closed[0].close is BlockEnd.ENOUGH
    (rest, *_) = after.state.stretches
    assert (rest.phase, (rest.end or 0) - rest.start) == (Phase.REST, 37 * RATE)


def test_only_the_last_block_is_played_once_the_day_is_over() -> None:
    signs = ("it spreads", "it is late", "it gives up")
    after = play(LONG, LENGTHS, LADDER, BREATH)
    after.judged(P)
    after.enter(Tired(after.now + 1, signs))
    assert after.state.day_over
    closes = [closed.close for closed in after.state.closed]
    assert (after.state.block, closes[1:]) == (3, [BlockEnd.HELD_BACK] * 2)
