"""How far a player comes, week by week: weeks made by hand."""

from datetime import date, timedelta

import pytest

from orexis.core.coach.standing import NoteOutcome, Standing
from orexis.core.horn.instruments import INSTRUMENTS
from orexis.core.judging.standard import Standard
from orexis.core.progress.course import course_of
from orexis.core.progress.reach import (
    Change,
    Ends,
    Part,
    Row,
    Span,
    change_of,
    part_of,
    taken_together,
    weeks_of,
)
from orexis.core.progress.words import range_answer

MONDAY = date(2026, 3, 2)
TODAY = MONDAY + timedelta(days=20)


def week(number: int) -> date:
    return MONDAY + timedelta(days=7 * number)


def heard(number: int, held_s: float = 2.5, passed: bool = True, cold: bool = False) -> NoteOutcome:
    day = MONDAY + timedelta(days=number)
    return NoteOutcome(day, max(held_s, 0.4), held_s, passed, Standard.NORMAL, cold)


def above_40(midi: int) -> Part:
    return Part.RANGE if midi > 40 else Part.PEDAL


def weeks(notes: dict[int, list[NoteOutcome]]) -> list[Row]:
    courses = {midi: course_of(times, TODAY) for midi, times in notes.items()}
    return weeks_of(notes, courses, above_40, TODAY)


def test_a_week_has_the_farthest_notes_reached_held_and_secure() -> None:
    notes = {
        # Secure from Thursday of the first week on, held from the second Monday but one.
        60: [heard(1), heard(2), heard(3, cold=True)],
        # Held in the first week, reached in the third.
        64: [heard(4), heard(15, held_s=1.0)],
        # Reached, but it failed.
        67: [heard(4, passed=False)],
        34: [heard(5)],
    }
    first, second, third = weeks(notes)
    assert first.monday == MONDAY
    assert first.parts == {
        Part.RANGE: Span(Ends(60, 60, 60), Ends(67, 64, 60)),
        Part.PEDAL: Span(Ends(34, 34, None), Ends(34, 34, None)),
    }
    # Nothing was played: nothing is said of it.
    assert (second.played, second.parts) == (False, {})
    # On the last day, day 1 lies more than thirteen days back: it is on two days of fourteen.
    assert third.parts == {Part.RANGE: Span(Ends(64, None, None), Ends(64, None, None))}


def test_weeks_begin_on_monday_and_end_today() -> None:
    assert weeks({}) == []
    assert [row.monday for row in weeks({60: [heard(6), heard(7)]})] == [
        week(0),
        week(1),
        week(2),
    ]


def held(*tops: int | None, low: int = 50) -> list[Row]:
    """Weeks in which these were the highest notes held; `None` is a week without practice."""
    rows = []
    for number, top in enumerate(tops):
        span = Span(Ends(low, low, low), Ends(top, top, top))
        rows.append(Row(week(number), top is not None, {} if top is None else {Part.RANGE: span}))
    return rows


@pytest.mark.parametrize(
    ("tops", "top"),
    [
        # Medians of the first and the last three: 70 and 73; missed weeks are no weeks.
        ((70, 71, 70, None, 74, 72, 73), 3),
        ((70, 70, 70, 70, 70, 70), 0),
        ((75, 74, 74, 73, 72, 72), -2),
    ],
)
def test_the_ends_move_by_medians_of_weeks(tops: tuple[int | None, ...], top: int) -> None:
    assert change_of(held(*tops)) == Change(0, top, MONDAY)


def test_five_weeks_are_too_few_to_tell() -> None:
    assert change_of(held(70, 71, 72, None, 73, 74)) is None
    assert change_of([]) is None


def test_lower_at_the_bottom_is_wider() -> None:
    rows = [*held(70, 70, 70, low=52), *held(70, 70, 70, low=49)]
    change = change_of(rows)
    assert change is not None
    assert (change.bottom, change.top, change.wider) == (3, 0, 3)


def test_many_weeks_are_taken_together_and_the_last_row_is_whole() -> None:
    # Nine weeks on four rows: four weeks a row would do for sixteen.
    rows = taken_together(held(60, 61, 62, 63, 64, 65, None, 66, 59), 4)
    assert [(row.monday, row.weeks) for row in rows] == [(week(0), 1), (week(1), 4), (week(5), 4)]
    # Reached and held as far as in any of its weeks; secure as at the end of it.
    assert rows[2].parts[Part.RANGE].top == Ends(66, 66, 59)
    assert rows[2].parts[Part.RANGE].bottom == Ends(50, 50, 50)
    few = held(60, 61)
    assert taken_together(few, 4) == few
    assert taken_together([], 4) == []


def name(midi: int) -> str:
    return f"<{midi}>"


STANDINGS = {58: Standing.SECURE, 60: Standing.SECURE, 65: Standing.HELD, 67: Standing.TOUCHED}


@pytest.mark.parametrize(
    ("change", "headline", "words"),
    [
        (
            None,
            "Held from <58> to <65>, secure from <58> to <60>.",
            "How it changes can be told after 6 weeks of practice.",
        ),
        (
            Change(-1, 3, MONDAY),
            "2 half steps wider than in March.",
            "Held from <58> to <65>, secure from <58> to <60>. "
            "3 half steps more at the top, 1 half step less at the bottom.",
        ),
        (
            Change(0, -1, date(2025, 12, 8)),
            "1 half step less wide than in December 2025.",
            "Held from <58> to <65>, secure from <58> to <60>. 1 half step less at the top.",
        ),
        (
            Change(0, 0, MONDAY),
            "As wide as in March.",
            "Held from <58> to <65>, secure from <58> to <60>. Neither end has moved.",
        ),
    ],
)
def test_the_answer_is_said_with_the_players_names(
    change: Change | None, headline: str, words: str
) -> None:
    answer = range_answer(STANDINGS, change, name, TODAY)
    assert (answer.headline, answer.words) == (headline, words)


def test_without_a_note_held_there_is_no_range() -> None:
    assert range_answer({67: Standing.TOUCHED}, None, name, TODAY).headline == (
        "No note is held yet."
    )


def test_pedals_and_double_pedals_lie_apart() -> None:
    # A bass trombone's pedal is B♭1 (34).
    horn = INSTRUMENTS["trombone-bass"]
    assert [part_of(midi, horn) for midi in (35, 34, horn.lowest_midi, horn.lowest_midi - 1)] == [
        Part.RANGE,
        Part.PEDAL,
        Part.PEDAL,
        Part.DOUBLE_PEDAL,
    ]
