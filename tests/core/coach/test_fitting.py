"""An exercise for so many minutes: how often, with which rests, and what it costs."""

import pytest

from orexis.core.coach.fitting import FittedExercise, fitted, fitted_within
from orexis.core.coach.load import Weights
from orexis.core.exercises.practised import Value
from orexis.core.session.building import Setting
from tests.core.coach.days import known, regular
from tests.core.exercises.writing import writer


def weights() -> Weights:
    return known(*regular()).weights


def fit(family: str, minutes: float, rests: float = 0.0, **values: Value) -> FittedExercise:
    return fitted(Setting(family, values, {}), writer("cornet-bb"), minutes, weights(), rests)


def within(
    lowest: int, highest: int, family: str, minutes: float = 6.0, **values: Value
) -> FittedExercise | None:
    setting = Setting(family, values, {})
    return fitted_within(lowest, highest, setting, writer("cornet-bb"), minutes, weights())


def test_what_is_asked_for_is_kept_and_the_rest_is_as_usual() -> None:
    for hold_s in (4.0, 8.0):
        found = fit("long-tone", 5, from_midi=65.0, hold_s=hold_s)
        assert found.setting.values["hold_s"] == hold_s
        assert (found.lowest_midi, found.highest_midi) == (65, 65)
        # It ends by its time, whatever is missed.
        assert found.block.within_s == 300


def test_rests_are_a_share_of_what_an_attempt_lasts_in_steps_of_five_seconds() -> None:
    for rests in (0.5, 1.0, 2.0, 3.0):
        found = fit("long-tone", 10, rests, from_midi=65.0, hold_s=8.0)
        lasts_s = found.block.rungs[0].task.score.seconds
        wanted = min(5 * round(rests * lasts_s / 5), 120)
        assert found.block.rests.attempt_s == wanted
        assert found.block.rests.attempt_s % 5 == 0
    # Nobody waits for more than two minutes.
    assert fit("long-tone", 20, 90.0, from_midi=65.0).block.rests.attempt_s == 120
    assert fit("long-tone", 20, 0.0, from_midi=65.0).setting.way.get("rest_s") is None


def test_a_rest_that_is_set_stays() -> None:
    setting = Setting("long-tone", {"from_midi": 65.0}, {"rest_s": 45.0})
    found = fitted(setting, writer("cornet-bb"), 10, weights(), 2.0)
    assert found.block.rests.attempt_s == 45


def test_more_minutes_are_more_attempts_and_as_much_more_load() -> None:
    short, long = (fit("long-tone", minutes, from_midi=65.0) for minutes in (1, 3))
    needed = [one.block.needed for one in (short, long)]
    assert needed[1] == pytest.approx(3 * needed[0], abs=2)
    assert long.load == pytest.approx(3 * short.load)
    assert fit("breath", 2).load == 0


def test_what_is_rested_after_it_is_no_load() -> None:
    # A minute of rest after the block, of ten: nine tenths are played as without it.
    bare = Setting("long-tone", {"from_midi": 65.0}, {"block_rest_s": 0.0})
    rested = Setting("long-tone", {"from_midi": 65.0}, {"block_rest_s": 60.0})
    cornet = writer("cornet-bb")
    whole = fitted(bare, cornet, 10, weights())
    less = fitted(rested, cornet, 10, weights())
    assert less.load == pytest.approx(0.9 * whole.load, rel=1e-6)
    # All rest and no playing costs nothing, and never less than that.
    assert fitted(rested, cornet, 0.5, weights()).load == 0


def test_within_its_limits_nothing_changes() -> None:
    free = fit("long-tone", 6, from_midi=65.0)
    found = within(50, 80, "long-tone", from_midi=65.0)
    assert found is not None
    assert found.setting == free.setting
    assert not found.is_lowered
    assert not found.is_raised


@pytest.mark.parametrize(
    ("lowest", "highest", "note", "lowered", "raised"),
    [(50, 65, 65, True, False), (72, 80, 72, False, True)],
)
def test_a_note_outside_of_them_is_brought_to_the_nearest(
    lowest: int, highest: int, note: int, lowered: bool, raised: bool
) -> None:
    asked = 70.0
    found = within(lowest, highest, "long-tone", from_midi=asked)
    assert found is not None
    assert (found.lowest_midi, found.highest_midi) == (note, note)
    assert (found.is_lowered, found.is_raised) == (lowered, raised)


def test_a_ladder_is_shortened_before_it_is_moved() -> None:
    free = fit("chromatic-ladder", 10, from_midi=65.0)
    assert free.highest_midi is not None
    assert free.lowest_midi is not None
    over = 2
    found = within(
        free.lowest_midi, free.highest_midi - over, "chromatic-ladder", 10, from_midi=65.0
    )
    assert found is not None
    assert found.lowest_midi == free.lowest_midi
    assert len(found.block.rungs) == len(free.block.rungs) - over
    assert found.is_lowered


def test_what_cannot_be_within_them_is_not_at_all() -> None:
    # A scale over two octaves has no room in one.
    assert within(60, 72, "two-octave-scale") is None
    # What nothing sounds in has no limits.
    assert within(60, 61, "breath") is not None
