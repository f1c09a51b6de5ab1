"""What is passed over when one listens back, by arithmetic."""

from types import SimpleNamespace
from typing import Any, cast

import pytest

from orexis.core.listening.notes.events import Events
from orexis.core.listening.notes.pauses import Pause, pauses, pauses_s


def heard(*notes: tuple[float, float], glides: list[tuple[float, float]] | None = None) -> Events:
    """What was heard from and to some seconds."""

    def all_of(found: Any) -> Any:
        return tuple(SimpleNamespace(start_s=start, end_s=end) for start, end in found)

    return Events(notes=cast(Any, all_of(notes)), glides=cast(Any, all_of(glides or [])))


def test_a_moment_stays_after_what_was_played_and_before_what_comes() -> None:
    found = pauses(heard((0.5, 2.0), (12.0, 14.0)), 15.0)
    assert found == (Pause(3.0, 11.5),)
    assert pauses_s(found) == 8.5


def test_before_the_first_note_and_after_the_last() -> None:
    assert pauses(heard((20.0, 25.0)), 60.0) == (Pause(0.0, 19.5), Pause(26.0, 60.0))


@pytest.mark.parametrize(("gap_s", "passed_over"), [(2.99, False), (3.0, True)])
def test_a_breath_is_no_pause(gap_s: float, passed_over: bool) -> None:
    events = heard((0.0, 1.0), (1.0 + gap_s, 6.0))
    assert bool(pauses(events, 6.0)) is passed_over


def test_a_glide_is_played_too() -> None:
    assert pauses(heard((0.0, 1.0), (12.0, 13.0), glides=[(3.0, 10.0)]), 13.0) == ()


def test_what_overlaps_ends_with_the_longer() -> None:
    assert pauses(heard((0.0, 9.0), (1.0, 2.0), (13.0, 14.0)), 14.0) == (Pause(10.0, 12.5),)


@pytest.mark.parametrize(("duration_s", "found"), [(2.0, ()), (30.0, (Pause(0.0, 30.0),))])
def test_nothing_heard_is_one_pause(duration_s: float, found: tuple[Pause, ...]) -> None:
    assert pauses(Events(), duration_s) == found
