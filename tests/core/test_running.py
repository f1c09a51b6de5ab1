"""How a session runs: what happened, and where that leads, for every kind of exercise."""

from collections.abc import Callable
from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from orexis.core.exercises.family import Group
from orexis.core.exercises.writer import Writer
from orexis.core.judging.standard import Standard
from orexis.core.listening.notes.tone import Tone
from orexis.core.session.building import block_of
from orexis.core.session.log import (
    AttemptJudged,
    ButtonPressed,
    Disturbed,
    Entry,
    ExercisePut,
    HelpAsked,
    Overruled,
    Press,
    SessionResumed,
    SoundLost,
    TimeUp,
    Tuned,
)
from orexis.core.session.plan import AfterFail, AfterFails, Block, Counts, Plan, Rests
from orexis.core.session.questions import QUESTIONS, question_of
from orexis.core.session.running import begin, run, step
from orexis.core.session.state import (
    BlockEnd,
    End,
    Move,
    Phase,
    SessionState,
    beats_in,
    due,
    stretch_at,
)
from orexis.core.session.telling import exercise_result_words, told, tomorrow_words
from tests.core.exercises.writing import writer

RATE = 1000
"""A thousand samples a second, so that a sample is a millisecond."""

W: Writer = writer("cornet-bb")
LOW_TONE = Tone(58, -20, 25, 2.5, 0.0, 2.0)


def block(family: str, values: dict[str, float | str] | None = None, **way: float | str) -> Block:
    return block_of(family, W, values or {}, way)


def started(*blocks: Block) -> SessionState:
    return begin(Plan("Test", blocks), RATE, Standard.NORMAL)


class Played:
    """Plays on: each verdict comes five seconds after it could be played from."""

    def __init__(self, state: SessionState) -> None:
        self.state = state
        self.log: list[Entry] = []
        self.takes = 0

    def enter(self, entry: Entry) -> "Played":
        self.log.append(entry)
        self.state = step(self.state, entry)
        return self

    def judged(
        self, *verdicts: bool, seconds: float = 4.0, tone: Tone | None = LOW_TONE
    ) -> "Played":
        for passed in verdicts:
            self.takes += 1
            at = (self.state.listen_from or 0) + 5 * RATE
            self.enter(AttemptJudged(at, passed, f"take {self.takes}", seconds, tone))
        return self

    def press(self, press: Press, after_s: float = 0.0) -> "Played":
        return self.enter(ButtonPressed(self.now + round(after_s * RATE), press))

    @property
    def now(self) -> int:
        return self.log[-1].sample if self.log else 0

    @property
    def phase(self) -> Phase:
        return stretch_at(self.state, self.now).phase

    @property
    def where(self) -> tuple[int, int, int]:
        return self.state.block, self.state.rung, self.state.counted


def play(*blocks: Block) -> Played:
    return Played(started(*blocks))


LONG = block("long-tone", {"times": 3.0}, fails=4.0)
LADDER = block("chromatic-ladder", {}, probe="off", as_played="off", block_rest_s=0.0, rungs=4.0)
PROBED = block("chromatic-ladder", {}, probe="on", as_played="off", block_rest_s=0.0, rungs=4.0)
LENGTHS = block("lip-slur", {})
PYRAMID = block("pyramid", {"slots": 5.0}, rungs=3.0)
COUPLETS = block("couplets", {"widest": 3.0}, fails=2.0)
PEDALS = block("pedal-sets", {"starts": 4.0}, sets=2.0, set_rest_s=240.0, rest_s=5.0)
BREATH = block("breath", {"times": 2.0})
IN_TIME = block("interval-rhythms", {"times": 2.0}, metronome="on")
P, F = True, False

# What is played -> (block, rung, counted, how one came there) after it.
TABLE: list[tuple[str, Block, list[bool], tuple[int, int, int, Move]]] = [
    ("repeat: one more", LONG, [P], (0, 0, 1, Move.ONE_MORE)),
    ("repeat: a miss counts for nothing", LONG, [P, F], (0, 0, 1, Move.AGAIN)),
    ("repeat: all passed leads on", LONG, [P, F, P, P], (1, 0, 0, Move.BLOCK)),
    ("repeat: enough misses lead on", LONG, [F, F, F, F], (1, 0, 0, Move.BLOCK)),
    ("ladder: a step further", LADDER, [P], (0, 1, 0, Move.UP)),
    ("ladder: one back after a miss", LADDER, [P, P, F], (0, 1, 0, Move.BACK)),
    ("ladder: a miss at the bottom stays", LADDER, [F], (0, 0, 0, Move.AGAIN)),
    ("ladder: earned again", LADDER, [P, F, P], (0, 1, 0, Move.UP)),
    ("ladder: two misses on a rung are not yet enough", LADDER, [P, F, P, F], (0, 0, 0, Move.BACK)),
    ("ladder: three misses, then a step back", LADDER, [P, F, P, F, P, F], (0, 0, 0, Move.LAST)),
    ("ladder: and that ends it", LADDER, [P, F, P, F, P, F, P], (1, 0, 0, Move.BLOCK)),
    ("ladder: misses elsewhere do not count", LADDER, [F, F, P, F, P], (0, 1, 0, Move.UP)),
    ("ladder: the top leads on", LADDER, [P, P, P, P], (1, 0, 0, Move.BLOCK)),
    ("lengths: the next one", LENGTHS, [P, P], (0, 2, 0, Move.UP)),
    ("lengths: given up, not ended", LENGTHS, [F, F, F, F], (0, 1, 0, Move.GIVEN_UP)),
    ("growing: one slot more", PYRAMID, [P], (0, 1, 0, Move.UP)),
    ("growing: again after a miss", PYRAMID, [P, F], (0, 1, 0, Move.AGAIN)),
    ("growing: three misses, then one less", PYRAMID, [P, F, F, F], (0, 0, 0, Move.LAST)),
    ("growing: and that ends it", PYRAMID, [P, F, F, F, P], (1, 0, 0, Move.BLOCK)),
    ("breaths: each by itself", COUPLETS, [P, P], (0, 2, 0, Move.UP)),
    ("breaths: two misses, then the next", COUPLETS, [F, F], (0, 1, 0, Move.GIVEN_UP)),
    ("sets: every start counts", PEDALS, [P, F, P], (0, 3, 0, Move.UP)),
    ("sets: the next set", PEDALS, [P, F, P, F], (0, 0, 0, Move.SET)),
    ("sets: both sets", PEDALS, [P, F, P, F, P, P, P, P], (1, 0, 0, Move.BLOCK)),
    ("in time: one more", IN_TIME, [P], (0, 0, 1, Move.ONE_MORE)),
]


@pytest.mark.parametrize(
    ("name", "first", "verdicts", "expected"), TABLE, ids=[t[0] for t in TABLE]
)
def test_where_verdicts_lead(
    name: str, first: Block, verdicts: list[bool], expected: tuple[int, int, int, Move]
) -> None:
    after = play(first, LONG).judged(*verdicts)
    assert (*after.where, after.state.move) == expected


def test_approach_one_more_try_then_stop() -> None:
    approach = replace(LADDER, after_fail=AfterFail.AGAIN, most_fails=2, ends_well=False)
    assert play(approach, LONG).judged(P, F).where == (0, 1, 0)
    assert play(approach, LONG).judged(P, F, F).where == (1, 0, 0)


@pytest.mark.parametrize("then", [P, F])
def test_a_ladder_ends_one_step_back_and_not_on_a_miss(then: bool) -> None:
    well = replace(LADDER, after_fail=AfterFail.AGAIN, most_fails=2, ends_well=True)
    after = play(well, LONG).judged(P, F, F)
    assert (*after.where, after.state.move) == (0, 0, 0, Move.LAST)
    # That is the last one, whatever comes of it.
    assert after.judged(then).where == (1, 0, 0)
    (closed,) = after.state.closed
    assert closed.close is BlockEnd.ENOUGH


def test_a_ladder_missed_on_its_first_step_has_no_step_to_go_back_to() -> None:
    well = replace(LADDER, after_fail=AfterFail.AGAIN, most_fails=2, ends_well=True)
    assert play(well, LONG).judged(F, F).where == (1, 0, 0)


@pytest.mark.parametrize("then", [P, F])
def test_one_beyond_the_top_is_played_once_and_counts_neither_way(then: bool) -> None:
    reaching = replace(LADDER, rungs=LADDER.rungs[:3], reaches=True)
    after = play(reaching, LONG).judged(P, P)
    assert (after.state.rung, after.state.move) == (2, Move.REACH)
    assert after.judged(then).where == (1, 0, 0)
    (closed,) = after.state.closed
    assert (closed.close, closed.best, closed.attempts, closed.passes) == (BlockEnd.DONE, 1, 2, 2)


def test_approach_stop_at_once() -> None:
    assert play(replace(LADDER, most_fails=1, ends_well=False), LONG).judged(P, F).where == (
        1,
        0,
        0,
    )


@pytest.mark.parametrize("then", [P, F])
def test_approach_one_beyond_once(then: bool) -> None:
    approach = replace(LADDER, after_fail=AfterFail.BEYOND)
    after = play(approach, LONG).judged(P, F)
    assert (after.state.rung, after.state.move) == (2, Move.BEYOND)
    assert after.judged(then).where == (1, 0, 0)


def test_the_low_note_comes_before_every_try_and_the_first_is_never_ragged() -> None:
    after = play(PROBED, LONG)
    assert after.state.probing == 0
    assert after.state.task.title == "Low note"
    after.judged(F)
    # The first one is what the others are held against, whatever it was like.
    now = after.state
    assert (now.probing, now.reference) == (None, LOW_TONE)
    after.judged(P)
    assert (after.state.rung, after.state.probing, after.state.move) == (1, 0, Move.UP)


def test_a_low_note_that_does_not_come_back_round_ends_high_playing_for_today() -> None:
    high = block("next-note", {}, probe="off")
    after = play(PROBED, high, LONG).judged(P, P, F, F)
    assert (after.state.probing, after.where[0]) == (2, 0)
    after.judged(F)
    assert (after.where[0], [block.close for block in after.state.closed]) == (
        2,
        [BlockEnd.RAGGED, BlockEnd.HELD_BACK],
    )


def test_high_work_is_over_for_today_also_after_something_easy() -> None:
    high = block("next-note", {}, probe="off")
    after = play(replace(LADDER, most_fails=1), LONG, high, high).judged(F, P, P, P)
    assert [block.close for block in after.state.closed] == [
        BlockEnd.ENOUGH,
        BlockEnd.DONE,
        BlockEnd.HELD_BACK,
        BlockEnd.HELD_BACK,
    ]
    assert after.state.ended is End.DONE


def test_a_low_note_that_comes_back_goes_on_where_it_was_left() -> None:
    after = play(PROBED, LONG).judged(P, P, F, F, P)
    assert (after.state.probing, after.state.rung, after.state.move) == (None, 1, Move.UP)


def test_rest_goes_by_time_alone_and_a_little_early_is_not_too_early() -> None:
    after = play(PEDALS, LONG).judged(P)
    at = after.now
    assert [(stretch.phase, stretch.start, stretch.end) for stretch in after.state.stretches] == [
        (Phase.REST, at, at + 5 * RATE),
        (Phase.READY, at + 5 * RATE, None),
    ]
    assert after.state.listen_from == at + 4700
    assert stretch_at(after.state, at + 4999).phase is Phase.REST
    assert stretch_at(after.state, at + 5000).phase is Phase.READY


def test_between_sets_it_rests_for_minutes() -> None:
    after = play(PEDALS).judged(P, P, P, P)
    rest = after.state.stretches[0]
    assert (rest.phase, (rest.end or 0) - rest.start) == (Phase.REST, 240 * RATE)


def test_one_rests_for_as_long_as_one_played() -> None:
    resting = replace(LADDER, rests=Rests(as_played=True))
    rest = play(resting).judged(P, seconds=7.5).state.stretches[0]
    assert (rest.end or 0) - rest.start == 7500


def test_what_is_played_in_a_rest_is_said_once_and_ends_no_rest() -> None:
    after = play(PEDALS).judged(P)
    before = after.state
    after.enter(Disturbed(after.now + RATE)).enter(Disturbed(after.now + RATE))
    assert after.state == replace(before, disturbed=True, rests_broken=1)
    assert "Still resting" in told(after.state, after.now).headline


def test_nothing_happens_in_a_minute_of_silence() -> None:
    state = started(LONG)
    assert due(state) is None
    assert stretch_at(state, 60 * RATE).phase is Phase.READY


def test_a_count_in_comes_three_times_and_then_it_waits() -> None:
    state = started(IN_TIME)
    phases = [stretch.phase for stretch in state.stretches]
    assert phases == [Phase.MOMENT, *[Phase.COUNT_IN, Phase.READY] * 3, Phase.READY]
    first = state.stretches[1]
    # Four beats at 72 a minute.
    assert (first.end or 0) - first.start == pytest.approx(4 * 60 / 72 * RATE, abs=1)
    # Half a beat early is in time.
    assert state.listen_from == (first.end or 0) - round(30 / 72 * RATE)
    beats = [beat for beat in beats_in(state) if beat.counted_in]
    assert len(beats) == 12
    assert [beat.words for beat in beats[:4]] == ["", "", "", "breathe"]


def test_breathing_ends_by_time_and_leads_on() -> None:
    state = started(BREATH, LONG)
    # Two breaths of four counts in and eight out, at one a second, after a moment.
    assert due(state) == 1500 + 24 * RATE
    after = step(state, TimeUp(due(state) or 0))
    assert (after.block, after.closed[0].close) == (1, BlockEnd.DONE)
    # Where nothing is timed, nothing is over.
    assert step(after, TimeUp(99 * RATE)) == after


PRESSES: list[tuple[str, Callable[[], Played], Press, tuple[int, int, int]]] = [
    ("skip leaves a rung", lambda: play(LADDER, LONG).judged(P), Press.ON, (0, 2, 0)),
    (
        "skip at the top leaves the block",
        lambda: play(LADDER, LONG).judged(P, P, P),
        Press.ON,
        (1, 0, 0),
    ),
    ("skip in a rest only ends it", lambda: play(PEDALS).judged(P), Press.ON, (0, 1, 0)),
    ("back is one rung", lambda: play(LADDER).judged(P, P), Press.BACK, (0, 1, 0)),
    (
        "back at the bottom is the block before",
        lambda: play(LONG, LADDER).judged(P, P, P),
        Press.BACK,
        (0, 0, 0),
    ),
    (
        "back at the very beginning begins again",
        lambda: play(LONG).judged(P),
        Press.BACK,
        (0, 0, 0),
    ),
    ("again stays", lambda: play(LADDER).judged(P), Press.AGAIN, (0, 1, 0)),
    ("next leaves the block", lambda: play(LADDER, LONG).judged(P), Press.NEXT, (1, 0, 0)),
]


@pytest.mark.parametrize(("name", "before", "press", "where"), PRESSES, ids=[p[0] for p in PRESSES])
def test_where_keys_lead(
    name: str, before: Callable[[], Played], press: Press, where: tuple[int, int, int]
) -> None:
    after = before().press(press, after_s=1)
    assert after.where == where
    # It is listened to from the press on, or from what comes after it.
    assert (after.state.listen_from or 0) >= after.now


def test_a_pause_keeps_what_was_left_of_a_rest() -> None:
    after = play(PEDALS).judged(P).press(Press.PAUSE, after_s=2)
    assert (after.phase, after.state.listen_from) == (Phase.PAUSED, None)
    after.press(Press.GO_ON, after_s=600)
    rest = after.state.stretches[0]
    assert (rest.phase, (rest.end or 0) - rest.start) == (Phase.REST, 3 * RATE)
    # A pause that is pressed twice, or going on where nothing is paused, changes nothing.
    assert step(after.state, ButtonPressed(after.now, Press.GO_ON)) == after.state


def test_a_verdict_in_a_pause_counts_for_nothing() -> None:
    after = play(LADDER).judged(P).press(Press.PAUSE)
    state = after.state
    assert step(state, AttemptJudged(after.now + 100, True, "late", 3.0)) == state


def test_a_try_that_was_cut_short_counts_for_nothing() -> None:
    state = started(LADDER)
    assert step(state, AttemptJudged(3000, False, "cut", 1.0, cut=True)) == state


def test_the_microphone_gone_pauses_and_says_so() -> None:
    after = play(LADDER).judged(P).enter(SoundLost(9000))
    assert after.state.paused
    assert told(after.state, 9000).headline == "The microphone went away."
    after.press(Press.GO_ON)
    assert (after.state.move, after.where) == (Move.RESUMED, (0, 1, 0))


def test_time_nobody_listened_is_time_rested() -> None:
    after = play(PEDALS).judged(P, P, P, P)
    at = after.now
    after.enter(SessionResumed(at + 10 * RATE, gap_s=200.0))
    rest = after.state.stretches[0]
    assert (rest.end or 0) - rest.start == 30 * RATE
    after.enter(SessionResumed(after.now, gap_s=3600.0))
    assert after.phase is Phase.READY


def test_something_hurts_ends_it_at_once() -> None:
    after = play(LADDER, LONG).judged(P).press(Press.HURTS)
    assert (after.state.ended, after.state.listen_from, after.phase) == (End.HURT, None, Phase.OVER)
    # What comes after the end changes nothing.
    for entry in (
        AttemptJudged(99_999, True, "x", 1.0),
        ButtonPressed(99_999, Press.GO_ON),
        SessionResumed(99_999, 9.0),
    ):
        assert step(after.state, entry) == after.state


def test_an_overruled_miss_goes_on_as_if_it_had_passed() -> None:
    after = play(LADDER).judged(P, P, F)
    assert after.where == (0, 1, 0)
    after.enter(Overruled(after.now + 2000, f"take {after.takes}", passed=True))
    assert after.where == (0, 3, 0)
    assert after.state.listen_from == after.now
    # And back again, as Orexis judged.
    after.enter(Overruled(after.now + 2000, f"take {after.takes}", passed=False))
    assert (after.where, after.state.fails) == ((0, 1, 0), (0, 0, 1, 0))


def test_overruling_an_older_take_leads_nowhere() -> None:
    after = play(LADDER).judged(P, F)
    assert step(after.state, Overruled(after.now, "take 1", passed=False)) == after.state


def test_an_overrule_that_leads_nowhere_else_does_not_disturb_what_sounds() -> None:
    long = play(LONG).judged(P)
    listen_from = long.state.listen_from
    long.enter(Overruled(long.now + 900, "take 1", passed=False))
    assert (long.where, long.state.listen_from) == ((0, 0, 0), listen_from)


def test_another_exercise_takes_the_place_of_the_present_one() -> None:
    after = play(LONG, PEDALS).judged(P).enter(ExercisePut(9000, LADDER))
    assert (after.state.blocks, after.where) == ((LADDER, PEDALS), (0, 0, 0))


def test_an_exercise_by_itself_goes_on_for_as_long_as_one_likes() -> None:
    alone = replace(LONG, open=True)
    after = play(alone).judged(P, P, P)
    assert (after.state.move, after.state.ended) == (Move.ALL_DONE, None)
    assert after.judged(P, *[F] * 9).state.ended is None
    for press in (Press.ON, Press.NEXT):
        assert after.press(press).state.ended is None


def test_a_drone_makes_listening_begin_anew_and_the_standard_does_not() -> None:
    state = started(LONG)
    assert step(state, Tuned(5000, Standard.KIND, None)).listen_from == 0
    tuned = step(state, Tuned(5000, Standard.STRICT, 116.5))
    assert (tuned.listen_from, tuned.level, tuned.drone_hz) == (5000, Standard.STRICT, 116.5)


def test_questions_are_asked_one_by_one_after_three_misses_and_a_pass_ends_them() -> None:
    kind = replace(LENGTHS, most_fails=9)
    asked = [question_of(play(kind).judged(*[F] * count).state) for count in range(8)]
    assert asked == [None, None, None, *QUESTIONS]
    assert question_of(play(kind).judged(F, F, F, P).state) is None


def test_a_help_is_played_and_leads_back_to_where_one_was() -> None:
    kind = replace(LENGTHS, most_fails=9)
    after = play(LONG, kind).judged(P, P, P, P, F, F, F)
    where = after.where
    for question in QUESTIONS:
        helping = Played(after.state)
        helping.enter(HelpAsked(after.now, question.block(W)))
        assert helping.state.move is Move.HELP
        while helping.state.back_to is not None:
            end = due(helping.state)
            helping.judged(P) if end is None else helping.enter(TimeUp(end))
        assert (helping.where, helping.state.move) == (where, Move.RETURNED)
        assert (helping.state.fails, helping.state.fails_in_row) == (after.state.fails, 0)


def test_the_end_says_what_moved_and_what_to_leave_for_tomorrow() -> None:
    after = play(LADDER, LONG).judged(P, P, F, P, F, P, F, P, P, P, P)
    assert after.state.ended is End.DONE
    ladder, long = after.state.closed
    second = LADDER.rungs[1].name
    assert exercise_result_words(ladder.result) == (
        f"Chromatic ladder: up to {second}, 5 of 8 good. "
        "The top stopped locking, so we stopped there."
    )
    assert tomorrow_words(ladder.result) == f"{LADDER.rungs[2].name} in Chromatic ladder"
    assert (exercise_result_words(long.result), tomorrow_words(long.result)) == (
        "Long tone: 3 of 3 good.",
        "",
    )


def test_a_block_knows_what_follows_fails_and_what_counts() -> None:
    assert (LADDER.after_fail, LADDER.enough, LADDER.group) == (
        AfterFail.BACK,
        AfterFails.END,
        Group.HIGH,
    )
    assert (PEDALS.counts, PEDALS.sets, len(PEDALS.rungs)) == (Counts.PLAYED, 2, 4)


# Whatever happens: a log that is cut anywhere and gone on with leads to the same state.

ENTRIES = st.one_of(
    st.builds(lambda passed, tone: ("judged", passed, tone), st.booleans(), st.booleans()),
    st.sampled_from(list(Press)).filter(lambda press: press not in (Press.END, Press.HURTS)),
    st.sampled_from(["time", "disturbed", "lost", "resumed", "overruled", "tuned", "put", "help"]),
)


def entry_of(kind: object, state: SessionState, sample: int, number: int) -> Entry:
    if isinstance(kind, Press):
        return ButtonPressed(sample, kind)
    if isinstance(kind, tuple):
        return AttemptJudged(sample, kind[1], f"{number}", 2.0, LOW_TONE if kind[2] else None)
    last = "" if state.last is None else state.last.take_id
    made: dict[object, Entry] = {
        "time": TimeUp(due(state) or sample),
        "disturbed": Disturbed(sample),
        "lost": SoundLost(sample),
        "resumed": SessionResumed(sample, 12.0),
        "overruled": Overruled(sample, last, passed=number % 2 == 0),
        "tuned": Tuned(sample, Standard.KIND, None),
        "put": ExercisePut(sample, LENGTHS),
        "help": HelpAsked(sample, BREATH),
    }
    return made[kind]


@settings(max_examples=150, deadline=None)
@given(st.lists(ENTRIES, max_size=30), st.data())
def test_a_log_cut_anywhere_and_resumed_gives_the_same_state(
    kinds: list[object], data: st.DataObject
) -> None:
    plan = (BREATH, PROBED, IN_TIME, PEDALS, COUPLETS)
    whole = Played(started(*plan))
    for number, kind in enumerate(kinds):
        sample = max(whole.now, whole.state.listen_from or 0) + 1000
        whole.enter(entry_of(kind, whole.state, sample, number))
        state = whole.state
        assert 0 <= state.rung < len(state.now.rungs)
        assert 0 <= state.block < len(state.blocks)
        assert state.stretches[-1].end is None or due(state) is not None
        assert (state.listen_from is None) == (
            state.paused or state.ended is not None or due(state) is not None
        )
        assert 0 <= state.rests_broken <= max(state.rests_due, state.rests_broken)
    cut = data.draw(st.integers(0, len(whole.log)))
    half = run(started(*plan), whole.log[:cut])
    assert run(half, whole.log[cut:]) == whole.state


def test_a_set_that_could_go_no_higher_is_followed_by_sets_as_far_as_it_was_good() -> None:
    pyramid = block("pyramid", {}, follow="grow", rungs=4.0, sets=3.0, fails=2.0, set_rest_s=10.0)
    after = play(pyramid).judged(P, P, F, F)
    assert (after.state.set_number, after.state.rung, after.state.climbs_to) == (1, 0, 1)
    assert told(after.state, after.now).why == (
        f"This time up to {pyramid.rungs[1].name}, as far as it was good."
    )
    after.judged(P, P)
    assert (after.state.set_number, after.state.rung) == (2, 0)
    after.judged(P, P)
    closed = after.state.closed[0]
    assert (closed.close, closed.best, closed.passes) == (BlockEnd.DONE, 1, 6)
