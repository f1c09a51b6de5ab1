"""Finding one's range: up by half steps until one does not speak, then down."""

import pytest

from orexis.core.coach.finding import finding_range
from orexis.core.exercises.book import find_family, refusal_of
from orexis.core.exercises.practised import AttemptOrder
from orexis.core.horn.instruments import INSTRUMENTS
from orexis.core.session.building import block_of
from orexis.core.session.plan import AfterFail
from tests.core.exercises.writing import writer


def test_it_goes_up_from_the_easy_note_step_by_step_and_ends_with_the_second_failure() -> None:
    cornet = writer("cornet-bb")
    up, down = finding_range(cornet)
    assert (up.family, down.family) == ("chromatic-ladder", "couplets")
    assert up.values == {"from_midi": cornet.reach.easy, "rungs": 1.0, "beats": 1.0}
    assert down.values == {"widest": 12.0, "beats": 1.0}
    block = block_of(up.family, cornet, up.values, up.way)
    tops = [max(rung.task.score.pitches) for rung in block.rungs]
    # From the easy note a half step at a time, an octave and no further.
    assert tops == list(range(tops[0], tops[0] + 12))
    assert cornet.reach.easy <= tops[0] <= cornet.reach.easy + 1
    # No rest after an attempt is asked for, nothing is heard first, and the next step comes after
    # a good one.
    assert block.follow is AttemptOrder.LADDER
    rests = block.rests
    assert (rests.attempt_s, rests.as_played, rests.block_s) == (0.0, False, 0.0)
    assert (block.most_fails, block.needed, block.after_fail) == (2, 1, AfterFail.AGAIN)
    assert (block.probe, block.ends_well) == (None, False)
    assert up.why == "Up, a step at a time, as far as it is easy."
    assert down.why == "And down from the easy note, as far as it is easy."
    assert down.way == {"fails": 2.0}


@pytest.mark.parametrize("instrument", INSTRUMENTS)
def test_every_horn_has_exercises_for_it(instrument: str) -> None:
    horn = writer(instrument)
    for setting in finding_range(horn):
        assert refusal_of(find_family(setting.family), horn, setting.values) == ""
