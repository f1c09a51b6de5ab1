"""What is known of a player: how high is comfortable, what they have grown out of, and what was
played elsewhere."""

from dataclasses import replace
from datetime import timedelta

import pytest

from orexis.core.coach.about import About, Experience, Wish
from orexis.core.coach.budget import budget_for
from orexis.core.coach.day import PlanRequest
from orexis.core.coach.history import PastAttempt
from orexis.core.coach.known import Event, EventKind
from orexis.core.exercises.family import Group
from orexis.core.judging.standard import Standard
from tests.core.coach.days import TODAY, back, known, minutes_of, regular, tried

SAID_84 = About(Experience.MANY_YEARS, Wish.UP, 40, high_midi=82)


def missed(days_ago: int, *midis: int) -> PastAttempt:
    return tried(days_ago, *midis, family="next-note", passed=False)


def test_what_was_said_counts_until_it_was_asked_for_in_vain_on_three_days() -> None:
    for days in ((), (9,), (9, 7)):
        assert known(*(missed(day, 81, 82) for day in days), about=SAID_84).range.comfortable == 82
    vain = [missed(one, 81, 82) for one in (9, 7, 5)]
    assert known(*vain, about=SAID_84).range.comfortable == 80
    # And it does not come back by itself, weeks later.
    later = [missed(one, 81, 82) for one in (39, 37, 35)]
    assert known(*later, about=SAID_84).range.comfortable == 80


def test_easy_notes_that_were_good_never_lower_it() -> None:
    easy = [tried(one, 65, 67, seconds=1.0, family="lip-slur") for one in range(1, 12)]
    assert known(*easy, about=SAID_84).range.comfortable == 82


def test_one_good_one_shows_it() -> None:
    vain = [missed(one, 81, 82) for one in (9, 7, 5)]
    shown = tried(3, 82, family="next-note", seconds=1.0)
    assert known(*vain, shown, about=SAID_84).range.comfortable == 82


def test_what_was_held_and_what_is_secure_hold_whatever_was_said() -> None:
    low = About(Experience.MANY_YEARS, Wish.UP, 40, high_midi=70)
    held = tried(3, 80, family="next-note")
    assert known(held, about=low).range.comfortable == 80 - 3
    secure = [tried(one, 80, family="next-note") for one in (9, 6, 3)]
    assert known(*secure, about=low, cold=frozenset({80})).range.comfortable == 80


def test_a_range_that_was_said_of_another_horn_says_nothing_of_this_one() -> None:
    said = replace(SAID_84, low_midi=50, range_on="trumpet-bb")
    assert said.of_horn("trumpet-bb") == said
    other = said.of_horn("tuba-f")
    assert (other.low_midi, other.high_midi) == (None, None)
    assert other.minutes == said.minutes
    # Before it was kept with its horn it was of the one there was.
    assert replace(said, range_on="").of_horn("tuba-f").high_midi == 82


BEGINNER = About(Experience.FIRST_WEEKS, Wish.FIT, 20)


def holds(*midis: int, days: int = 3) -> list[PastAttempt]:
    return [tried(number, *midis) for number in range(1, days + 1)]


def test_five_neighbours_on_three_days_end_the_first_weeks() -> None:
    five = range(63, 68)
    assert known(*holds(*five), about=BEGINNER).experience is Experience.FIRST_YEAR
    assert known(*holds(*five, days=2), about=BEGINNER).experience is Experience.FIRST_WEEKS
    gap = known(*holds(63, 64, 65, 67, 68), about=BEGINNER)
    assert gap.experience is Experience.FIRST_WEEKS
    short = [tried(one, *five, seconds=1.0) for one in (1, 2, 3)]
    assert known(*short, about=BEGINNER).experience is Experience.FIRST_WEEKS


def test_then_there_is_more_to_play() -> None:
    grown = known(*holds(*range(63, 68)), about=BEGINNER)
    assert Group.LOW in budget_for(grown, PlanRequest(20)).kinds
    assert Group.LOW not in budget_for(known(about=BEGINNER), PlanRequest(20)).kinds


def test_an_octave_that_is_secure_ends_the_first_year() -> None:
    year = About(Experience.FIRST_YEAR, Wish.FIT, 20)
    octave = frozenset({60, 72})
    assert known(*holds(60, 72), about=year, cold=octave).experience is Experience.SOME_YEARS
    assert known(*holds(60, 71), about=year, cold=octave).experience is Experience.FIRST_YEAR
    assert known(*holds(60, 72), about=year).experience is Experience.FIRST_YEAR
    kind = [tried(one, 60, 72, level=Standard.KIND) for one in (1, 2, 3)]
    assert known(*kind, about=year, cold=octave).experience is Experience.FIRST_YEAR


@pytest.mark.parametrize(
    ("kind", "minutes"), [(EventKind.CONCERT, 60 * 2 / 3), (EventKind.REHEARSAL, 60 / 2)]
)
def test_an_hour_elsewhere_is_load_as_far_as_it_is_played(kind: EventKind, minutes: float) -> None:
    alone = known(*regular(10))
    with_it = known(*regular(10), events=(Event(back(2), kind),))
    assert with_it.loads[back(2)] - alone.loads[back(2)] == pytest.approx(1.2 * minutes)
    # What is still to come is none yet.
    ahead = known(*regular(10), events=(Event(TODAY + timedelta(days=1), kind),))
    assert ahead.loads == alone.loads


def test_practice_that_was_written_down_is_load_and_no_break() -> None:
    before = [minutes_of(one, 10) for one in range(40, 20, -1)]
    away = known(*before)
    assert away.pause is not None
    typed = tuple((back(one), 30.0) for one in range(18, 0, -2))
    there = replace(away, typed=typed)
    assert there.pause is None
    assert there.loads[back(2)] == pytest.approx(1.2 * 30)
