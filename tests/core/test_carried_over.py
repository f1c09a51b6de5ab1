"""What a session carries from one attempt, step, set and block to the next, and what not."""

from dataclasses import replace

import pytest

from orexis.core.judging.standard import Standard
from orexis.core.session.log import (
    AttemptUnheard,
    Disturbed,
    HelpAsked,
    Overruled,
    Press,
    Tired,
    Tuned,
)
from orexis.core.session.plan import AfterFail, Rests
from orexis.core.session.questions import QUESTIONS
from orexis.core.session.state import BlockEnd, End, Move, Phase, due
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
    block,
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


@pytest.mark.parametrize("sets", [2, 3])
def test_a_climb_that_could_go_no_higher_has_its_sets_left(sets: int) -> None:
    grows = block(
        "pyramid", {}, follow="grow", rungs=4.0, sets=float(sets), fails=2.0, set_rest_s=10.0
    )
    after = play(grows, LONG).judged(P, P, F, F)
    assert (after.state.set_number, after.state.climbs_to) == (1, 1)
    after.judged(*[P, P] * (sets - 1))
    assert after.state.block == 1


def test_a_rest_that_was_disturbed_stays_so_when_an_attempt_could_not_be_heard() -> None:
    resting = play(PEDALS).judged(P)
    resting.enter(Disturbed(resting.now + RATE))
    left = resting.state.stretches[0].end
    resting.enter(AttemptUnheard(resting.now + RATE, kept=False))
    (rest, *_) = resting.state.stretches
    assert (resting.state.disturbed, rest.phase, rest.end) == (True, Phase.REST, left)
    assert resting.state.rests_due == 1


def test_what_is_overruled_in_a_pause_goes_on_after_it() -> None:
    after = play(LADDER).judged(P, P, F).press(Press.PAUSE)
    after.enter(Overruled(after.now + RATE, f"take {after.takes}", passed=True))
    assert (after.phase, after.where) == (Phase.PAUSED, (0, 3, 0))
    after.press(Press.GO_ON)
    assert (after.phase is Phase.PAUSED, after.where) == (False, (0, 3, 0))


def test_only_breathing_ends_by_its_time() -> None:
    assert due(play(BREATH).state) == play(BREATH).state.stretches[-1].end
    resting = play(PEDALS).judged(P)
    assert resting.state.stretches[0].end is not None
    assert due(resting.state) is None
    assert due(replace(resting.state, stretches=resting.state.stretches[:1])) is None


@pytest.mark.parametrize(
    ("fails", "ends_well", "leads_to"),
    [(3.0, "on", Move.LAST), (3.0, "off", Move.BLOCK), (1.0, "on", Move.BLOCK)],
)
def test_a_climb_ends_on_a_good_one_where_that_is_set_and_a_miss_is_allowed(
    fails: float, ends_well: str, leads_to: Move
) -> None:
    ladder = block(
        "chromatic-ladder",
        {},
        probe="off",
        rungs=4.0,
        fails=fails,
        ends_well=ends_well,
        after_fail="again",
    )
    assert play(ladder, LONG).judged(P, *[F] * int(fails)).state.move is leads_to


def test_an_attempt_lasts_with_the_rest_that_goes_by_it() -> None:
    plain = replace(LADDER, rests=Rests())
    rung = plain.rungs[0]
    usual_s = plain.attempt_s(rung)
    played_s = rung.task.score.seconds
    resting = replace(plain, rests=Rests(as_played=True))
    assert resting.attempt_s(rung) == pytest.approx(usual_s + played_s)
    longer = replace(plain, rests=Rests(attempt_s=2 * played_s, as_played=True))
    assert longer.attempt_s(rung) == pytest.approx(usual_s + 2 * played_s)


def test_what_comes_before_the_first_attempt_comes_once_a_step() -> None:
    heard = block("chromatic-ladder", {}, probe="off", rungs=3.0, before="hear", needed=2.0)
    after = play(heard)

    def hears() -> bool:
        return any(stretch.phase is Phase.HEAR for stretch in after.state.stretches)

    found = [hears()]
    for passed in (P, F, P, P):
        after.judged(passed)
        found.append(hears())
    # The second and third attempt at a step are not its first; the next step's is.
    assert found == [True, False, False, False, True]
