"""What a player says of themselves: quiet hours, and a range that can be."""

from datetime import time

import pytest

from orexis.core.coach.about import About, AboutRefusedError, Experience, Wish


def about(**more: object) -> About:
    return About(Experience.SOME_YEARS, Wish.FIT, 30, **more)  # type: ignore[arg-type]


@pytest.mark.parametrize(
    ("start", "end", "quiet", "loud"),
    [
        # From its first minute to before its last; over midnight as well.
        (time(13, 0), time(15, 0), [time(13, 0), time(14, 59)], [time(12, 59), time(15, 0)]),
        (time(20, 30), time(8, 0), [time(20, 30), time(0, 0), time(7, 59)], [time(8, 0)]),
        (time(9, 0), time(9, 0), [], [time(9, 0), time(21, 0)]),
        (time(9, 0), None, [], [time(8, 0), time(9, 0), time(10, 0)]),
        (None, time(9, 0), [], [time(8, 0), time(9, 0), time(10, 0)]),
        (None, None, [], [time(3, 0)]),
    ],
)
def test_quiet_hours_have_a_start_and_an_end(
    start: time | None, end: time | None, quiet: list[time], loud: list[time]
) -> None:
    player = about(quiet_from=start, quiet_until=end)
    assert all(player.is_quiet(at) for at in quiet)
    assert not any(player.is_quiet(at) for at in loud)


def test_the_highest_note_lies_above_the_lowest() -> None:
    about(low_midi=58, high_midi=59).check()
    about(low_midi=58).check()
    about(high_midi=58).check()
    for high in (58, 57):
        with pytest.raises(AboutRefusedError, match="highest note must lie above the lowest"):
            about(low_midi=58, high_midi=high).check()


def test_a_range_said_on_another_horn_tells_nothing_here() -> None:
    player = about(low_midi=58, high_midi=70, range_on="cornet-bb")
    assert player.of_horn("cornet-bb") == player
    elsewhere = player.of_horn("tuba-eb")
    assert (elsewhere.low_midi, elsewhere.high_midi) == (None, None)
    anywhere = about(low_midi=58, high_midi=70)
    assert anywhere.of_horn("tuba-eb") == anywhere
