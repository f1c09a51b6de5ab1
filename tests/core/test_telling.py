"""What a session says: what is next and why, where one is, and how each exercise went."""

from dataclasses import replace

import pytest

from orexis.core.exercises.family import Group
from orexis.core.session.breathing import breath_parts
from orexis.core.session.log import Disturbed, Press, SoundLost
from orexis.core.session.plan import Counts
from orexis.core.session.state import BlockEnd, End, ExerciseResult, Move, SessionState
from orexis.core.session.telling import (
    exercise_result_words,
    place_words,
    playing_words,
    rests_words,
    result_words,
    told,
    tomorrow_words,
    unheard_words,
    whole_words,
)
from tests.core.test_running import (
    BREATH,
    COUPLETS,
    LADDER,
    LENGTHS,
    LONG,
    PEDALS,
    PROBED,
    PYRAMID,
    RATE,
    F,
    P,
    Played,
    block,
    play,
    started,
)


def headline(played: Played, after_s: float = 0.0) -> str:
    return told(played.state, played.now + round(after_s * RATE)).headline


def why(played: Played) -> str:
    return told(played.state, played.now).why


@pytest.mark.parametrize(
    ("played", "place"),
    [
        (play(LONG), "0 of 3 good"),
        (play(LONG).judged(P, F), "1 of 3 good"),
        (play(replace(LONG, counts=Counts.PLAYED)).judged(F), "1 of 3 played"),
        (play(LADDER).judged(P), "step 2 of 4"),
        (play(LENGTHS).judged(P), "length 2 of 7"),
        (play(PYRAMID).judged(P), "step 2 of 3"),
        (play(COUPLETS).judged(P), "breath 2 of 3"),
        (play(PEDALS).judged(P), "set 1 of 2, start 2 of 4"),
        (play(PEDALS).judged(P, P, P, P, P), "set 2 of 2, start 2 of 4"),
    ],
)
def test_where_one_is(played: Played, place: str) -> None:
    assert place_words(played.state) == place


def test_all_of_it_is_done_where_nothing_leads_on() -> None:
    state = replace(started(LONG), counted=3)
    assert place_words(state) == "all 3 done"
    assert place_words(replace(state, counted=4)) == "all 3 done"
    assert told(replace(state, move=Move.ALL_DONE), 0).headline == (
        "That was all of it. Play it again, or move on."
    )


def test_which_exercise_of_how_many() -> None:
    assert whole_words(started(LONG)) == ""
    assert whole_words(started(LONG, LADDER)) == "1 of 2: Long tone"
    assert whole_words(play(LONG, LADDER).judged(P, P, P).state) == "2 of 2: Chromatic ladder"


def moved(move: Move, **more: object) -> SessionState:
    """A ladder on its second step, as one came there."""
    return replace(play(LADDER).judged(P).state, move=move, **more)  # type: ignore[arg-type]


SECOND = LADDER.rungs[1].name


@pytest.mark.parametrize(
    ("move", "says"),
    [
        (Move.UP, f"Next step: {SECOND}."),
        (Move.BACK, f"One step back: {SECOND}."),
        (Move.BEYOND, f"One step beyond, once: {SECOND}."),
        (Move.LAST, f"One step back, and that is the last one: {SECOND}."),
        (Move.REACH, f"One step beyond your highest, once: {SECOND}."),
        (Move.AGAIN, f"Again: {SECOND}."),
        (Move.ONE_MORE, f"Again: {SECOND}."),
        (Move.RETURNED, f"Again: {SECOND}."),
        (Move.SET, f"Set 1: {SECOND}."),
        (Move.BLOCK, "Next: Chromatic ladder."),
        (Move.HELP, "Next: Chromatic ladder."),
        (Move.BEGIN, f"{SECOND}: play when you are ready."),
    ],
)
def test_what_is_next(move: Move, says: str) -> None:
    state = moved(move)
    assert state.listen_from is not None
    assert told(state, state.listen_from).headline == says


def test_a_step_without_a_name_is_called_by_its_exercise() -> None:
    played = play(LONG).judged(F)
    assert played.state.at.name == ""
    assert headline(played, 60) == "Again."


@pytest.mark.parametrize(
    ("move", "says"),
    [
        (Move.BACK, "Not yet, so we go one step back."),
        (Move.BEYOND, "Reach one step beyond, once; then that is all for today."),
        (Move.LAST, "That one is enough for today. End with the step below it."),
        (Move.REACH, "Your highest was good. This one counts neither way."),
        (Move.GIVEN_UP, "Enough attempts at that one for today. Here is the next."),
        (Move.RESUMED, "You go on where you were."),
        (Move.RETURNED, "Back to where you were."),
        (Move.LOST, "Plug it in again. What you had played is kept."),
        (Move.LEFT, "Left out for today."),
        (Move.UP, ""),
        (Move.SET, ""),
        (Move.UNHEARD, "Orexis failed to judge that attempt. Play it again."),
        (
            Move.UNHEARD_KEPT,
            "Orexis failed to judge that attempt. Play it again. Its sound is under Takes.",
        ),
    ],
)
def test_why_it_is_next(move: Move, says: str) -> None:
    assert told(moved(move), 0).why == says
    assert unheard_words(moved(move)) == (says if "failed" in says else "")


def test_a_further_set_climbs_as_far_as_it_was_good() -> None:
    third = LADDER.rungs[2].name
    assert told(moved(Move.SET, climbs_to=2), 0).why == (
        f"This time up to {third}, as far as it was good."
    )


@pytest.mark.parametrize("move", [Move.BEGIN, Move.BLOCK, Move.HELP, Move.PUT])
def test_an_exercise_that_is_new_says_why_it_is_there(move: Move) -> None:
    because = replace(LONG, why="Your D is flat.")
    assert told(replace(started(because), move=move), 0).why == "Your D is flat."


@pytest.mark.parametrize(
    ("signs", "says"),
    [
        (("it spreads", "it is late"), "No more hard work for today."),
        (
            ("it spreads", "it is late", "it gives up"),
            "Something easy, and then that is all for today.",
        ),
    ],
)
def test_tiring_says_its_sign_and_what_comes_of_it(signs: tuple[str, ...], says: str) -> None:
    says = f"Your lips are tiring: it spreads. {says}"
    state = play(LONG, LADDER).judged(P, P, P).state
    closed = (replace(state.closed[-1], close=BlockEnd.TIRED),)
    tired = replace(state, closed=closed, tired=signs)
    assert told(tired, 0).why == says
    # What ended otherwise is not laid to the lips.
    other = replace(tired, closed=(replace(closed[0], close=BlockEnd.DONE),))
    assert told(other, 0).why == LADDER.why
    # A block that was left out for it does not hide the one that ended.
    held_back = replace(closed[0], close=BlockEnd.HELD_BACK)
    assert told(replace(tired, closed=(*closed, held_back)), 0).why == says


def test_the_low_note_between_is_named_and_said_why() -> None:
    played = play(PROBED)
    assert played.state.probing == 0
    assert headline(played, 60) == "The easy low note, with an air attack."
    # There is none to compare it with yet.
    assert why(played) == PROBED.why
    again = replace(played.state, probing=1)
    at = again.listen_from or 0
    assert told(again, at).headline == "The low note again, until it is round."
    assert told(again, at).why == (
        "It is compared with your first one. After three ragged ones, stop for today."
    )


def test_rests_pauses_and_what_was_lost_come_first() -> None:
    resting = play(PEDALS).judged(P)
    assert headline(resting).startswith("Rest. ")
    disturbed = resting.enter(Disturbed(resting.now + RATE))
    assert headline(disturbed).startswith("Still resting. Then ")
    paused = play(LONG).judged(P).press(Press.PAUSE)
    assert headline(paused) == "Paused."
    lost = play(LONG).judged(P)
    lost.enter(SoundLost(lost.now + RATE))
    assert headline(lost) == "The microphone went away."


@pytest.mark.parametrize(
    ("before", "says"),
    [
        ("hear", "Hear Long tone."),
        ("sing", "Sing Long tone."),
        ("finger", "Finger Long tone, without a sound."),
    ],
)
def test_what_is_done_before_the_first_attempt(before: str, says: str) -> None:
    played = play(block("long-tone", {}, before=before))
    assert says in {headline(played, tenths / 10) for tenths in range(200)}


def test_a_count_in_says_what_it_leads_to() -> None:
    played = play(block("long-tone", {}, metronome="on"))
    said = {headline(played, tenths / 10) for tenths in range(100)}
    assert "Next: Long tone. Count-in." in said


@pytest.mark.parametrize(
    ("end", "says"),
    [
        (End.DONE, "Done for today."),
        (End.STOPPED, "Ended."),
        (End.HURT, "Put the horn down."),
    ],
)
def test_the_end_says_how_it_ended_and_no_more(end: End, says: str) -> None:
    words = told(replace(started(LONG), ended=end), 0)
    assert (words.headline, words.why) == (says, "")


def result(close: BlockEnd, **more: object) -> ExerciseResult:
    found = ExerciseResult("Ladder", Group.HIGH, close, True, "D5", "E5", 7, 4)
    return replace(found, **more)  # type: ignore[arg-type]


@pytest.mark.parametrize(
    ("close", "says", "tomorrow"),
    [
        (BlockEnd.DONE, "up to D5, 4 of 7 good.", ""),
        (BlockEnd.LEFT, "up to D5, 4 of 7 good; left before its end.", ""),
        (
            BlockEnd.ENOUGH,
            "up to D5, 4 of 7 good. The top stopped locking, so we stopped there.",
            "E5 in Ladder",
        ),
        (
            BlockEnd.RAGGED,
            "up to D5, 4 of 7 good. The easy low note stayed ragged, so we stopped there.",
            "E5 in Ladder",
        ),
        (
            BlockEnd.TIRED,
            "up to D5, 4 of 7 good. Your lips were tiring, so we stopped there.",
            "E5 in Ladder",
        ),
        (BlockEnd.HELD_BACK, "left out, because your lips had had enough.", "Ladder"),
    ],
)
def test_how_an_exercise_went(close: BlockEnd, says: str, tomorrow: str) -> None:
    assert result_words(result(close)) == says
    assert exercise_result_words(result(close)) == f"Ladder: {says}"
    assert tomorrow_words(result(close)) == tomorrow


def test_what_has_no_top_and_what_is_only_breathed() -> None:
    assert result_words(result(BlockEnd.DONE, reached="")) == "4 of 7 good."
    assert tomorrow_words(result(BlockEnd.ENOUGH, beyond="")) == "Ladder"
    breathed = result(BlockEnd.DONE, judged=False)
    assert (result_words(breathed), exercise_result_words(breathed)) == ("", "Ladder.")


@pytest.mark.parametrize(
    ("seconds", "usual", "says"),
    [
        (60.0, None, "You played for 1 min."),
        (60.0, 120.0, "You played for 1 min. In the last weeks it was mostly 2 min a session."),
    ],
)
def test_how_long_was_played(seconds: float, usual: float | None, says: str) -> None:
    assert playing_words(seconds, usual) == says


@pytest.mark.parametrize(
    ("due", "broken", "says"),
    [
        (0, 0, ""),
        (3, 0, "Every rest kept."),
        (3, 1, "2 of 3 rests kept."),
        (3, 4, "0 of 3 rests kept."),
    ],
)
def test_rests_that_were_kept(due: int, broken: int, says: str) -> None:
    assert rests_words(replace(started(LONG), rests_due=due, rests_broken=broken)) == says


def test_a_breath_is_told_part_by_part() -> None:
    state = started(BREATH)
    parts = breath_parts(state)
    # Two breaths of the same parts, each in and then out.
    half = len(parts) // 2
    assert parts[:half] == parts[half:]
    assert [part.inward for part in parts[:2]] == [True, False]
    assert all(part.words for part in parts)
    # A breath of 12 s, twice.
    assert sum(part.seconds for part in parts) == pytest.approx(24.0)
    assert breath_parts(started(LONG)) == []
