"""What a changed plan breaks, each in a sentence of its own; and a block for other minutes."""

from dataclasses import replace

import pytest

from orexis.core.coach.about import About, Experience, Lips, Wish
from orexis.core.coach.changing import broken_rules, resized
from orexis.core.coach.day import DayBlock, PlanRequest
from orexis.core.coach.known import PlayerFacts
from orexis.core.exercises.family import Group
from orexis.core.session.building import Setting
from orexis.core.session.state import BlockEnd
from tests.core.coach.days import ended_high, known, minutes_of, planned, regular, tried

UP = About(Experience.SOME_YEARS, Wish.UP, 40)
ASKED = PlanRequest(40, Lips.NORMAL, False)


def block(kind: Group, minutes: float, *, load: float = 1.0) -> DayBlock:
    """A block of so many minutes, of which hard work rests one half."""
    rest = minutes / 2 if kind in (Group.HIGH, Group.PEDALS) else 0.0
    setting = Setting("long-tone", {}, {})
    title = f"The {kind.value}"
    return DayBlock(kind, minutes - rest, rest, setting, title, "", 60, 70, load, "A reason.")


def told(*blocks: DayBlock, player: PlayerFacts | None = None) -> tuple[str, ...]:
    return broken_rules(blocks, ASKED, player or known(*regular(), about=UP))


def test_an_easy_day_in_its_usual_order_breaks_nothing() -> None:
    assert told(block(Group.LONG, 8), block(Group.SLURS, 10), block(Group.WARM_DOWN, 3)) == ()
    assert told() == ()


def test_hard_work_comes_after_the_warm_up() -> None:
    for kind in (Group.HIGH, Group.PEDALS):
        cold = told(block(kind, 6), block(Group.LONG, 12), block(Group.SLURS, 12))
        assert cold[0] == f"The {kind.value} comes before the lips are warm."
        # One thing is said of it, not that the order is another one as well.
        assert not any("order" in line for line in cold)
        assert told(block(Group.SLURS, 24), block(kind, 6)) == ()


def test_another_order_is_told() -> None:
    found = told(block(Group.WARM_DOWN, 4), block(Group.LONG, 8), block(Group.SLURS, 8))
    assert found == ("The order is not the usual one: easy first, hard in the middle.",)


def test_a_quarter_of_high_work_is_the_most() -> None:
    assert told(block(Group.SLURS, 30), block(Group.HIGH, 10)) == ()
    found = told(block(Group.SLURS, 20), block(Group.HIGH, 20))
    assert found == ("High work is 50 % of the time; a quarter is the most.",)


def test_after_a_day_that_ended_at_the_ceiling_high_work_waits() -> None:
    player = known(*regular(), about=UP, sittings=(ended_high(1, BlockEnd.ENOUGH),))
    assert player.at_ceiling_on is not None
    found = told(block(Group.SLURS, 30), block(Group.HIGH, 8), player=player)
    assert found == ("The last day ended at the ceiling; high work wants a day between.",)
    assert told(block(Group.SLURS, 30), player=player) == ()


def test_who_keeps_pedals_and_high_work_apart_is_told_where_both_are_there() -> None:
    both = (block(Group.SLURS, 28), block(Group.PEDALS, 6), block(Group.HIGH, 6))
    said = "You keep pedals and high work apart, and here they are on one day."
    for choice, is_told in (("both", True), ("strength", False), ("loosening", False)):
        player = known(*regular(), about=UP, approaches={"pedals": choice})
        assert (said in told(*both, player=player)) is is_told
    player = known(*regular(), about=UP, approaches={"pedals": "both"})
    assert told(both[0], both[1], player=player) == ()


def test_more_load_than_the_last_weeks_leave_room_for_is_told_with_both_numbers() -> None:
    player = known(*(minutes_of(days, 10) for days in range(1, 29)), about=UP)
    assert player.room is not None
    fits = block(Group.SLURS, 20, load=player.room)
    assert told(fits, player=player) == ()
    found = told(replace(fits, load=player.room + 5), player=player)
    assert found == (
        "This is more practice load than your last weeks leave room for "
        f"({player.room + 5:.0f} weighed minutes, {player.room:.0f} at most). A rule of thumb.",
    )


def test_more_time_than_there_is_is_told() -> None:
    assert told(block(Group.LONG, 20), block(Group.SLURS, 20)) == ()
    found = told(block(Group.LONG, 20), block(Group.SLURS, 25))
    assert found == ("It takes 45 minutes; you have 40.",)


@pytest.mark.parametrize("kind", [Group.LONG, Group.SLURS, Group.HIGH])
def test_a_block_for_other_minutes_is_the_same_exercise_on_the_same_notes(kind: Group) -> None:
    player = known(
        tried(1, 60, family="chained-intervals"),
        tried(1, 46, family="pedal-chromatic"),
        about=UP,
    )
    old = next(one for one in planned(player).blocks if one.kind is kind)
    new = resized(old, old.all_minutes + 4.2, player)
    # To half a minute; hard work rests for half of it.
    assert new.all_minutes == pytest.approx(old.all_minutes + 4.2, abs=0.25)
    assert new.rest_minutes == (new.all_minutes / 2 if kind is Group.HIGH else 0.0)
    assert (new.setting.family, new.setting.why) == (old.setting.family, old.setting.why)
    assert (new.lowest_midi, new.highest_midi) == (old.lowest_midi, old.highest_midi)
    assert new.load > old.load
    back = resized(new, old.all_minutes, player)
    assert back.setting.way == old.setting.way
    assert back.load == pytest.approx(old.load)
