"""What takes time in a session and what does not, what an overruled verdict keeps, and how gaps in
sound are met: each with the arithmetic that tells a fault of it."""

from collections import deque

import numpy as np
import pytest

from orexis.core.exercises.family import Group
from orexis.core.listening.analysis import analyse
from orexis.core.listening.notes.measures import air_before, measure_note
from orexis.core.session.log import HelpAsked, Overruled, Tired
from orexis.core.session.questions import QUESTIONS
from orexis.core.session.state import BlockEnd, Phase
from orexis.server.live.socket import _next_row
from tests.core.test_running import LADDER, LONG, PEDALS, RATE, W, block, play
from tests.sounds import RATE as SOUND_RATE
from tests.sounds import silence, softened, steady

B_FLAT_3_HZ = 233.082


class TestSets:
    def test_the_rest_between_two_sets_is_rested_once(self) -> None:
        # Four starts a set, two sets, four minutes between them.
        after = play(PEDALS).judged(True, True, True, True)
        rest = next(stretch for stretch in after.state.stretches if stretch.phase is Phase.REST)
        assert rest.end is not None
        assert (rest.end - rest.start) / RATE == 240
        assert after.state.rests_due == 1 + 3

    def test_the_time_of_two_sets_has_one_rest_between_them(self) -> None:
        one, two, three = (
            block("pedal-sets", {"starts": 4.0}, sets=float(n), set_rest_s=240.0).seconds
            for n in (1, 2, 3)
        )
        assert two - 2 * one + PEDALS.rests.block_s == pytest.approx(240)
        assert three - two == pytest.approx(two - one)


class TestHelp:
    def test_a_help_takes_nothing_of_the_time_that_a_block_has(self) -> None:
        timed = block("long-tone", {"times": 9.0}, fails=40.0, minutes=1.0)
        played = play(timed, LONG).judged(False, False, False)
        spent = played.now
        help_block = QUESTIONS[1].block(W)
        played.enter(HelpAsked(spent, help_block))
        # Two minutes go by in it, then it is over.
        played.enter(Overruled(spent + 120 * RATE, "nobody's", True))
        played.judged(True)
        while played.state.back_to is not None:
            played.judged(True)
        assert played.state.block == 0
        left_s = 60 - (played.now - played.state.since) / RATE
        assert left_s == pytest.approx(60 - spent / RATE, abs=0.01)


class TestOverruling:
    def test_what_was_overruled_after_tiring_leaves_hard_work_over(self) -> None:
        played = play(LADDER, LONG).judged(False)
        played.enter(Tired(played.now, ("pitch wanders",)))
        assert played.state.closed[-1].close is BlockEnd.TIRED
        played.enter(Overruled(played.now + RATE, "take 1", True))
        assert played.state.tired == ("pitch wanders",)
        assert played.state.now.group is not Group.HIGH

    def test_an_overrule_taken_back_leads_where_the_standard_led(self) -> None:
        played = play(LADDER).judged(True, False)
        as_judged = played.where
        played.enter(Overruled(played.now + RATE, "take 2", True))
        assert played.where != as_judged
        played.enter(Overruled(played.now + RATE, "take 2", False))
        assert played.where == as_judged
        assert played.state.attempts == 2


class TestSound:
    @pytest.mark.parametrize("gap_s", [0.08, 0.12, 0.2])
    def test_a_gap_is_as_long_as_the_silence_was(self, gap_s: float) -> None:
        note = softened(steady(B_FLAT_3_HZ, 0.6), ramp_s=0.002)
        sound = np.concatenate((silence(0.5), note, silence(gap_s), note, silence(0.5)))
        (change,) = analyse([sound], SOUND_RATE).transitions
        # The window reaches 14 ms over each end of it, which is what is counted back.
        assert change.gap_s == pytest.approx(gap_s, abs=0.0125)

    def test_the_rise_is_that_of_the_note_and_not_of_the_window(self) -> None:
        # From nothing to full in 200 ms, straight: 10 to 90 % of that takes 160 ms.
        amplitude = np.concatenate((np.full(20, 1e-4), np.linspace(0.01, 1, 21), np.ones(100)))
        level_db = 20 * np.log10(amplitude)
        measured = measure_note(np.zeros(121), level_db[20:], level_db[:20])
        # 20 ms of what is seen are the window's.
        assert measured.rise_s == pytest.approx(0.160 - 0.020, abs=0.003)

    @pytest.mark.parametrize(("over_db", "air_s"), [(7.5, 0.0), (8.5, 0.28)])
    def test_air_is_what_stands_8_db_over_the_room(self, over_db: float, air_s: float) -> None:
        level_db = np.concatenate((np.full(70, -80.0), np.full(30, -80.0 + over_db)))
        # 300 ms of it, 20 of which are the window's.
        assert air_before(level_db, -50.0) == pytest.approx(air_s)


def test_chunks_over_a_hole_are_not_taken_for_a_row() -> None:
    waiting = deque([(4, b"a"), (5, b"b"), (7, b"d")])
    assert _next_row(waiting) == (4, b"ab")  # type: ignore[arg-type]
    assert list(waiting) == [(7, b"d")]
