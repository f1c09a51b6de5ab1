"""Practice written down elsewhere: what is read of it, and why the rest is refused."""

from datetime import date

import pytest

from orexis.core.progress.typed import TypedRefusedError, WrittenEntry, typed

TODAY = date(2026, 11, 27)


@pytest.mark.parametrize(
    ("minutes", "meant"),
    [
        ("45", 45),
        ("45 min", 45),
        ("7,5", 7.5),
        ("1:15", 75),
        ("2 h", 120),
        ("1 h 20 min", 80),
        ("90'", 90),
    ],
)
def test_minutes_are_read_as_people_write_them(minutes: str, meant: float) -> None:
    assert typed("2026-11-03", minutes, "", TODAY).minutes == meant


@pytest.mark.parametrize("day", ["2026-11-03", "2026-11-3", "3.11.2026", "03. 11.2026"])
def test_a_day_is_read_where_it_can_be_only_one(day: str) -> None:
    assert typed(day, "10", "  long \n tones ", TODAY) == WrittenEntry(
        date(2026, 11, 3), 10, "long tones"
    )


@pytest.mark.parametrize(
    ("day", "minutes", "words", "reason"),
    [
        ("3/4/2026", "30", "", "is no day. Write it as"),
        ("2026-02-30", "30", "", "no such day"),
        ("2026-11-28", "30", "", "still to come"),
        ("1999-12-31", "30", "", "too long ago"),
        ("2026-11-03", "", "", "does not say how long"),
        ("2026-11-03", "a while", "", "not a time"),
        ("2026-11-03", "0", "", "up to 720 min"),
        ("2026-11-03", "13 h", "", "up to 720 min"),
        ("2026-11-03", "30", 201 * "x", "room for 200 letters"),
    ],
)
def test_what_makes_no_practice_is_refused_with_the_reason(
    day: str, minutes: str, words: str, reason: str
) -> None:
    with pytest.raises(TypedRefusedError, match=reason):
        typed(day, minutes, words, TODAY)
