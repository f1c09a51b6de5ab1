"""What ends a block before its rungs do: its time, and lips that tire."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from orexis.core.exercises.family import ExerciseRefusedError
from orexis.core.session.log import AttemptJudged, Entry, HelpAsked, Overruled, Press, Tired
from orexis.core.session.questions import QUESTIONS
from orexis.core.session.running import run
from orexis.core.session.state import BlockEnd, End, Move
from orexis.core.session.telling import exercise_result_words, tomorrow_words
from orexis.formats.session import (
    block_document,
    block_of,
    exercise_result_document,
    exercise_result_of,
)
from tests.core.test_running import LADDER, LONG, RATE, F, P, W, block, play, started

# A minute; every attempt takes five seconds from when it can be played.
MINUTE = block("long-tone", {}, needed=40.0, fails=40.0, minutes=1.0)
PEDALS = block("pedal-arpeggio", {}, needed=40.0, fails=40.0, block_rest_s=0.0)
DOUBLE = block("double-pedals", {}, needed=2.0)
SIGNS = ("notes hold for 60 % of their length, 100 % at first", "notes spread")


def test_no_try_is_begun_after_the_time_of_a_block_is_up() -> None:
    after = play(MINUTE, LONG)
    while after.state.block == 0:
        after.judged(P)
    # The attempt during which the minute ended was the last.
    assert 60 * RATE <= after.now < 65 * RATE
    assert after.state.closed[0].close is BlockEnd.TIME
    assert exercise_result_words(after.state.closed[0].result) == "Long tone: 12 of 12 good."
    assert tomorrow_words(after.state.closed[0].result) == ""


def test_a_block_without_a_time_goes_on() -> None:
    after = play(block("long-tone", {}, needed=40.0, fails=40.0), LONG).judged(*[P] * 30)
    assert after.state.block == 0


def test_the_last_block_ends_the_session_with_its_time() -> None:
    after = play(MINUTE)
    while after.state.ended is None:
        after.judged(F)
    assert after.state.ended is End.DONE


def test_a_pause_takes_nothing_of_the_time() -> None:
    after = play(MINUTE, LONG).judged(P, P).press(Press.PAUSE).press(Press.GO_ON, after_s=300)
    after.judged(P)
    assert after.state.block == 0
    while after.state.block == 0:
        after.judged(P)
    assert 360 * RATE <= after.now < 366 * RATE


def test_a_short_exercise_in_between_takes_nothing_of_it_either() -> None:
    after = play(MINUTE, LONG).judged(P)
    after.enter(HelpAsked(after.now, QUESTIONS[3].block(W)))
    while after.state.back_to is not None:
        after.judged(P, seconds=40)
    spent = after.now
    while after.state.block == 0:
        after.judged(P)
    assert after.now >= spent + 50 * RATE


def test_an_overruled_verdict_does_not_bring_the_time_back() -> None:
    after = play(MINUTE, LONG)
    while after.state.block == 0:
        after.judged(F)
    last = next(judged for judged in reversed(after.log) if isinstance(judged, AttemptJudged))
    after.enter(Overruled(after.now + RATE, last.take_id, True))
    assert (after.state.block, after.state.closed[0].passes) == (1, 1)


def test_tiring_ends_hard_work_and_holds_back_what_is_hard_after_it() -> None:
    after = play(LADDER, PEDALS, DOUBLE, LONG).judged(P, P)
    after.enter(Tired(after.now, SIGNS))
    closes = [block.close for block in after.state.closed]
    # Double pedals are for recovery: they stay.
    assert closes == [BlockEnd.TIRED, BlockEnd.HELD_BACK]
    assert (after.state.block, after.state.tired) == (2, SIGNS)
    assert exercise_result_words(after.state.closed[0].result).endswith(
        "Your lips were tiring, so we stopped there."
    )
    assert tomorrow_words(after.state.closed[1].result) == "Arpeggio to the pedal"


def test_tiring_in_easy_work_lets_it_go_on_and_holds_the_hard_back_later() -> None:
    after = play(LONG, LADDER, DOUBLE).judged(P)
    after.enter(Tired(after.now, SIGNS))
    assert after.where == (0, 0, 1)
    after.judged(P, P)
    assert after.state.block == 2
    assert after.state.closed[1].close is BlockEnd.HELD_BACK


def test_tiring_is_told_once_and_holds_while_paused() -> None:
    after = play(LADDER, LONG).judged(P).press(Press.PAUSE)
    after.enter(Tired(after.now, SIGNS))
    assert after.state.paused
    after.enter(Tired(after.now, ("another",)))
    assert after.state.tired == SIGNS


def test_an_overruled_verdict_does_not_undo_it() -> None:
    after = play(LADDER, LONG).judged(F)
    last = after.log[-1]
    assert isinstance(last, AttemptJudged)
    after.enter(Tired(after.now, SIGNS))
    after.enter(Overruled(after.now + RATE, last.take_id, True))
    assert (after.state.block, after.state.move) == (1, Move.BLOCK)


@given(st.lists(st.sampled_from(["pass", "fail", "tired", "pause", "go-on", "back"]), max_size=40))
def test_a_log_with_all_of_it_cut_anywhere_gives_the_same_state(words: list[str]) -> None:
    played = play(MINUTE, LADDER, PEDALS, DOUBLE)
    for word in words:
        if word in ("pass", "fail"):
            played.judged(word == "pass")
        elif word == "tired":
            played.enter(Tired(played.now, SIGNS))
        else:
            played.press(Press(word))
    log: list[Entry] = played.log
    for cut in range(0, len(log) + 1, 7):
        begun = started(MINUTE, LADDER, PEDALS, DOUBLE)
        assert run(run(begun, log[:cut]), log[cut:]) == played.state


def test_it_is_kept_and_comes_back() -> None:
    assert block_of(block_document(MINUTE)) == MINUTE
    older = block_document(MINUTE)
    del older["within_s"]
    assert block_of(older).within_s is None
    after = play(LADDER, LONG).judged(P, F, P, F, F)
    for closed in after.state.closed:
        assert exercise_result_of(exercise_result_document(closed.result)) == closed.result


def test_more_than_an_hour_is_refused() -> None:
    with pytest.raises(ExerciseRefusedError, match="0 to 60 min"):
        block("long-tone", {}, minutes=61.0)
