"""A day in a line, what lies behind it in a sentence or two, and how its minutes are shared."""

import re
from datetime import time

import pytest

from orexis.core.coach.about import About, Experience, Lips, Wish
from orexis.core.coach.day import DayBlock, PlanRequest
from orexis.core.coach.known import PlayerFacts
from orexis.core.coach.planning import headline_of, shares_of
from orexis.core.exercises.family import Group
from orexis.core.session.building import Setting
from tests.core.coach.days import known, minutes_of, planned, regular


def sentences(said: str) -> list[str]:
    """What is said, sentence by sentence."""
    return re.split(r"(?<=[.!?]) ", said)


def block(kind: Group, highest: int | None = 70) -> DayBlock:
    """A block of a kind; what else it is does not matter here."""
    setting = Setting("long-tone", {}, {})
    return DayBlock(kind, 5.0, 0.0, setting, "A title", "", 60, highest, 10.0, "A reason.")


def headline(
    *kinds: Group, player: PlayerFacts | None = None, quiet: bool = False, highest: int = 70
) -> str:
    blocks = tuple(block(kind, highest) for kind in kinds)
    asked = PlanRequest(30, Lips.NORMAL, quiet)
    return headline_of(player or known(*regular()), asked, blocks)


@pytest.mark.parametrize(
    ("kinds", "line"),
    [
        ((), "Friday: rest."),
        ((Group.BREATH,), "Friday: rest."),
        ((Group.BREATH, Group.LONG), "Friday: easy, or rest."),
        ((Group.LONG, Group.WARM_DOWN), "Friday: easy, or rest."),
        ((Group.BREATH, Group.LONG, Group.SLURS), "Friday: easy and clean."),
        ((Group.BREATH, Group.BUZZ, Group.SLURS), "Friday: easy and clean."),
        ((Group.LONG, Group.LOW), "Friday: low, with one sound."),
        ((Group.LONG, Group.LOW, Group.PEDALS), "Friday: pedals."),
    ],
)
def test_a_day_is_called_by_its_hardest_work(kinds: tuple[Group, ...], line: str) -> None:
    assert headline(*kinds) == line


def test_a_high_day_says_how_far_to_reach_and_no_farther_than_it_goes() -> None:
    player = known(*regular())
    ceiling = player.ceiling
    name = player.writer.name
    both = (Group.PEDALS, Group.HIGH)
    # One half step over what is surely there, or as far as the day's own highest note.
    assert headline(*both, highest=ceiling + 6) == (
        f"Friday: reach for {name(ceiling + 1)}, gently."
    )
    assert headline(*both, highest=ceiling - 3) == (
        f"Friday: reach for {name(ceiling - 3)}, gently."
    )


def test_quiet_and_first_weeks_have_days_of_their_own() -> None:
    assert headline(Group.BUZZ, Group.SLURS, quiet=True) == "Friday: the mouthpiece alone."
    beginner = known(*regular(), about=About(Experience.FIRST_WEEKS, Wish.FIT, 20))
    assert headline(Group.BUZZ, Group.SLURS, player=beginner) == ("Friday: buzz, then long notes.")


def test_what_was_played_today_and_since_is_said_in_whole_sentences() -> None:
    said = sentences(planned(known(*regular(), minutes_of(0, 3))).summary)
    assert "You have played today already; this is what there is room for." in said
    away = planned(known(*(one for one in regular() if (known().today - one.day).days >= 4)))
    # The last day was four days ago: three lie between.
    assert "3 days without playing; nothing is lost by that." in away.summary
    assert planned(known()).summary.startswith(
        "First day: start in the middle, low and easy, and find out."
    )


def test_quiet_hours_are_twenty_minutes_at_most_and_say_so() -> None:
    long = planned(known(*regular()), 45, quiet=True)
    assert sum(one.all_minutes for one in long.blocks) <= 20
    assert "Mouthpiece only, so 20 minutes is plenty." in sentences(long.summary)
    assert "Mouthpiece only" not in planned(known(*regular()), 20, quiet=True).summary


def test_sore_lips_are_told_to_rest_and_pain_to_stop() -> None:
    warnings = " ".join(planned(known(*regular()), lips=Lips.SORE).warnings)
    assert "Sore lips: rest today, or ten easy minutes at most. Stop at once for pain. If it" in (
        warnings
    )


_MOST_MIN = {
    Group.BREATH: 2.5,
    Group.BUZZ: 5.0,
    Group.LONG: 8.0,
    Group.SLURS: 14.0,
    Group.INTERVALS: 8.0,
    Group.LOW: 14.0,
    Group.WARM_DOWN: 4.0,
}


@pytest.mark.parametrize("wish", Wish)
@pytest.mark.parametrize("minutes", [10.0, 25.0, 60.0, 120.0])
def test_no_block_has_more_minutes_than_are_of_use_and_together_they_are_the_day(
    wish: Wish, minutes: float
) -> None:
    player = known(*regular(), about=About(Experience.SOME_YEARS, wish, 60))
    kinds = {*_MOST_MIN, Group.MUSIC}
    shares = shares_of(player, kinds, minutes)
    for kind, most in _MOST_MIN.items():
        assert shares.get(kind, 0.0) <= most
    assert sum(shares.values()) <= minutes
    # Music has a quarter at least, and takes what no other block has a use for, up to 20 minutes
    # or that quarter.
    assert shares[Group.MUSIC] >= minutes / 4 - 0.5
    whole = sum(_MOST_MIN.values()) + max(20.0, minutes / 4)
    assert sum(shares.values()) >= min(minutes, whole) - 0.5 - 1e-6


def test_high_work_is_a_quarter_of_the_day_at_most_its_rests_counted() -> None:
    player = known(*regular(), about=About(Experience.SOME_YEARS, Wish.UP, 60))
    kinds = {*_MOST_MIN, Group.MUSIC, Group.HIGH}
    for minutes in (20.0, 40.0, 60.0, 90.0):
        assert 0 < shares_of(player, kinds, minutes)[Group.HIGH] <= minutes / 4
    # Too short a day for the least of it has none.
    assert Group.HIGH not in shares_of(player, kinds, 12.0)


def test_the_quiet_hours_of_a_player_make_no_day_quiet_by_themselves() -> None:
    about = About(
        Experience.SOME_YEARS, Wish.FIT, 30, quiet_from=time(20, 0), quiet_until=time(8, 0)
    )
    assert "mouthpiece alone" not in planned(known(*regular(), about=about), 30).headline
