"""Today's limits go by the note: no block of a day asks for more, whatever the exercise."""

from dataclasses import replace
from datetime import timedelta

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from orexis.core.coach.about import About, Experience, Lips, Wish
from orexis.core.coach.choosing import chosen_for
from orexis.core.coach.day import PlanRequest
from orexis.core.coach.following import Following
from orexis.core.coach.history import History, HurtPeriod
from orexis.core.coach.known import Event, EventKind, PlayerFacts
from orexis.core.coach.limits import limits_for
from orexis.core.coach.planning import plan_day
from orexis.core.exercises.book import find_family
from orexis.core.exercises.family import Group
from orexis.core.exercises.practised import AttemptOrder
from orexis.core.horn.instruments import INSTRUMENTS
from orexis.core.session.building import block_of
from orexis.core.session.state import AT_CEILING
from tests.core.coach.days import TODAY, back, ended_high, known, planned, regular, tried
from tests.core.exercises.writing import writer

STEADY = About(Experience.SOME_YEARS, Wish.UP, 40, high_midi=77)
HELD = (*regular(10, 28), *(tried(day, 77) for day in (3, 5, 8)))


def day(*, lips: Lips = Lips.NORMAL, **more: object) -> tuple[PlayerFacts, int, str]:
    one = known(*HELD, about=STEADY, **more)  # type: ignore[arg-type]
    limits = limits_for(one, lips)
    return one, limits.usual, limits.why


class TestTheTable:
    """The limits by the day, from the rules of the job; the top is F5 (77)."""

    def test_a_usual_day_goes_to_the_top_and_what_climbs_two_beyond(self) -> None:
        limits = limits_for(known(*HELD, about=STEADY), Lips.NORMAL)
        assert (limits.climbing, limits.usual, limits.why) == (79, 77, "")

    @pytest.mark.parametrize(("days", "below"), [(3, 2), (2, 3), (1, 5), (0, 5), (4, 0)])
    def test_before_a_concert(self, days: int, below: int) -> None:
        concert = Event(TODAY + timedelta(days=days), EventKind.CONCERT)
        assert day(events=(concert,))[1] == 77 - below

    def test_after_a_concert_and_with_tired_lips(self) -> None:
        yesterday = Event(back(1), EventKind.CONCERT)
        assert day(events=(yesterday,))[1] == 72
        assert day(lips=Lips.TIRED)[1] == 72

    def test_after_a_day_that_went_to_its_top(self) -> None:
        assert day(sittings=(ended_high(1, sorted(AT_CEILING)[0]),))[1] == 72

    @pytest.mark.parametrize(("weeks", "below"), [(0, 12), (1, 9), (2, 7), (3, 4), (4, 0), (5, 0)])
    def test_after_something_hurt_by_weeks(self, weeks: int, below: int) -> None:
        hurt = HurtPeriod(back(7 * weeks + 2), back(7 * weeks))
        assert day(hurts=(hurt,))[1] == 77 - below

    def test_low_work_goes_two_below_the_lowest_note_held_and_all_else_to_it(self) -> None:
        limits = limits_for(known(*HELD, about=STEADY), Lips.NORMAL)
        # Written down to E3 (52); the open horn's pedal is B♭2 (46).
        assert (limits.lowest, limits.low_work, limits.pedals) == (52, 50, 46)
        lower = (tried(day, 51) for day in (3, 5))
        again = (tried(day, 49) for day in (3, 5))
        limits = limits_for(known(*HELD, *lower, *again, about=STEADY), Lips.NORMAL)
        assert (limits.lowest, limits.low_work) == (49, 47)

    def test_a_pedal_that_is_held_opens_the_next_two_and_nothing_else(self) -> None:
        pedal = (tried(day, 46, family="pedal-arpeggio") for day in (3, 5))
        limits = limits_for(known(*HELD, *pedal, about=STEADY), Lips.NORMAL)
        assert (limits.lowest, limits.low_work, limits.pedals) == (52, 50, 44)
        loose = (tried(day, 40, family="double-pedals") for day in (3, 5))
        limits = limits_for(known(*HELD, *loose, about=STEADY), Lips.NORMAL)
        assert limits.pedals == 46

    def test_a_low_note_named_and_asked_for_in_vain_is_no_bottom(self) -> None:
        about = replace(STEADY, low_midi=50)
        assert limits_for(known(*HELD, about=about), Lips.NORMAL).lowest == 50
        vain = [tried(day, 50, passed=False) for day in (3, 5, 7)]
        vain += [tried(day, 51, passed=False) for day in (3, 5, 7)]
        assert limits_for(known(*HELD, *vain, about=about), Lips.NORMAL).lowest == 52

    def test_on_an_easy_day_low_work_stays_at_the_bottom(self) -> None:
        limits = limits_for(known(*HELD, about=STEADY), Lips.TIRED)
        assert (limits.lowest, limits.low_work) == (52, 52)
        assert limits.why_low == "Nothing below E3 today: your lips are tired."

    def test_coming_back_stays_at_the_lowest_secure_note(self) -> None:
        hurt = HurtPeriod(back(9), back(7))
        one = known(*HELD, about=STEADY, hurts=(hurt,))
        # Nothing low is secure yet: a fifth under the easy note (65).
        assert limits_for(one, Lips.NORMAL).lowest == 58
        picks = [tried(day, 57, family="cold-picks") for day in (3, 5, 8)]
        one = known(*HELD, *picks, about=STEADY, hurts=(hurt,))
        assert limits_for(one, Lips.NORMAL).lowest == 57

    def test_a_first_day_keeps_to_the_middle(self) -> None:
        one = known(about=STEADY)
        limits = limits_for(one, Lips.NORMAL)
        # Easy is F4 (65), the top F5.
        assert limits.usual == limits.climbing == 71
        assert limits.lowest == limits.low_work == 58
        assert limits.why == "Nothing above B4 today: we do not know yet how high you play."
        assert limits_for(known(tried(0, 65), about=STEADY), Lips.NORMAL) == limits


class TestBreaks:
    def test_after_a_week_off_the_first_day_is_half_and_lower_the_next_three_quarters(self) -> None:
        before = tuple(attempt for attempt in HELD if attempt.day < back(9))
        first = known(*before, about=STEADY)
        assert limits_for(first, Lips.NORMAL).usual == 72
        plan = plan_day(first, PlanRequest(40))
        assert plan.minutes <= 20
        assert "You did not play for 9 days" in plan.summary
        # The first note of the day does not end the day.
        begun = known(*before, tried(0, 60), about=STEADY)
        assert limits_for(begun, Lips.NORMAL) == limits_for(first, Lips.NORMAL)
        second = known(*before, tried(1, 60), about=STEADY)
        assert limits_for(second, Lips.NORMAL).usual == 77
        assert plan_day(second, PlanRequest(40)).minutes <= 30

    @pytest.mark.parametrize(
        ("off", "share", "below"), [(14, 0.5, 9), (16, 0.5, 9), (18, 0.3, 12), (35, 0.3, 12)]
    )
    def test_after_two_weeks_and_more_there_is_a_return(
        self, off: int, share: float, below: int
    ) -> None:
        before = tuple(attempt for attempt in HELD if attempt.day < back(off))
        one = known(*before, *(tried(day, 77) for day in (off + 1, off + 2)), about=STEADY)
        assert one.pause is not None
        assert one.pause.days_off == off
        assert limits_for(one, Lips.NORMAL).usual == one.range.top - below
        assert plan_day(one, PlanRequest(40)).minutes <= 40 * share

    def test_a_break_longer_than_what_is_remembered_is_no_first_day(self) -> None:
        history = History(last_before=back(70))
        known = PlayerFacts(TODAY, STEADY, {}, history, writer("cornet-bb"))
        assert limits_for(known, Lips.NORMAL).usual == known.range.top - 12
        plan = plan_day(known, PlanRequest(40))
        assert "First day" not in plan.summary
        assert "Back after 69 days" in plan.summary

    def test_rehearsals_are_playing(self) -> None:
        before = tuple(attempt for attempt in HELD if attempt.day < back(9))
        rehearsals = tuple(Event(back(days), EventKind.REHEARSAL) for days in (3, 6))
        assert known(*before, about=STEADY, events=rehearsals).pause is None


def test_while_something_hurts_nothing_is_played() -> None:
    plan = planned(known(*HELD, about=STEADY, hurts=(HurtPeriod(back(1)),)))
    assert {block.kind for block in plan.blocks} <= {Group.BREATH}
    assert "play nothing until" in plan.warnings[0]


def _pitches(known: PlayerFacts, plan_block: object) -> list[int]:
    setting = plan_block.setting  # type: ignore[attr-defined]
    block = block_of(setting.family, known.writer, setting.values, setting.way)
    return [midi for rung in block.rungs for midi in rung.task.score.pitches]


@pytest.mark.deep
@given(
    instrument=st.sampled_from(sorted(INSTRUMENTS)),
    experience=st.sampled_from(list(Experience)),
    lips=st.sampled_from(list(Lips)),
    minutes=st.integers(10, 90),
    high=st.none() | st.integers(55, 90),
    quiet=st.booleans(),
    concert=st.none() | st.integers(-1, 4),
    hurt=st.none() | st.integers(0, 40),
    off=st.integers(1, 45),
    braces=st.booleans(),
    high_wish=st.booleans(),
)
@settings(max_examples=120, deadline=None)
def test_no_block_of_any_day_goes_past_the_limit(
    instrument: str,
    experience: Experience,
    lips: Lips,
    minutes: int,
    high: int | None,
    quiet: bool,
    concert: int | None,
    hurt: int | None,
    off: int,
    braces: bool,
    high_wish: bool,
) -> None:
    kind = INSTRUMENTS[instrument]
    if high is not None:
        high = min(max(high, kind.lowest_midi), kind.highest_midi)
    about = About(experience, Wish.UP if high_wish else Wish.FIT, minutes, high_midi=high)
    played = tuple(tried(days, kind.start_midi) for days in range(off + 20, off - 1, -2))
    events = () if concert is None else (Event(TODAY + timedelta(days=concert), EventKind.CONCERT),)
    hurts = () if hurt is None else (HurtPeriod(back(hurt + 3), back(hurt)),)
    followings = (Following("braces", back(3), kind.start_midi),) if braces else ()
    one = known(
        *played,
        about=about,
        instrument=instrument,
        events=events,
        hurts=hurts,
        followings=followings,
    )
    limits = limits_for(one, lips)
    for block in plan_day(one, PlanRequest(minutes, lips, quiet)).blocks:
        family = find_family(block.setting.family)
        practised = family.practised
        lowest = {Group.PEDALS: limits.pedals, Group.LOW: limits.low_work}.get(
            family.group, limits.lowest
        )
        if practised.descends:
            lowest = limits.low_work
        if not practised.recovers:
            assert min(_pitches(one, block), default=127) >= lowest, block.title
        climbs = practised.climbs or practised.follow is AttemptOrder.GROW
        highest = limits.climbing if climbs else limits.usual
        assert max(_pitches(one, block), default=0) <= highest, block.title


def test_a_return_counts_from_the_last_time_that_it_was_cleared() -> None:
    long_ago = HurtPeriod(back(60), back(50))
    again = HurtPeriod(back(10), back(8))
    assert day(hurts=(long_ago, again))[1] == 77 - 9
    assert day(hurts=(again, long_ago))[1] == 77 - 9


def test_what_today_came_to_its_top_lowers_tomorrow_and_not_today() -> None:
    close = sorted(AT_CEILING)[0]
    assert day(sittings=(ended_high(0, close),))[1] == 77
    assert day(sittings=(ended_high(1, close),))[1] == 72


@pytest.mark.parametrize(("days", "asked_again"), [(1, False), (2, True)])
def test_a_pick_from_silence_comes_again_after_two_days(days: int, asked_again: bool) -> None:
    # F5 was good on three days, and was never picked.
    picked = tried(days, 70, family="cold-picks")
    one = known(*HELD, picked, about=STEADY)
    families = [chosen.setting.family for chosen in chosen_for(Group.COLD, one, Lips.NORMAL)]
    assert ("cold-picks" in families) is asked_again
