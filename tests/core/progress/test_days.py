"""What questions are answered from: which days and exercises count for each, and in which unit."""

from dataclasses import replace
from datetime import date, timedelta

import pytest

from orexis.core.progress.changes import Question
from orexis.core.progress.days import (
    Answers,
    DayMost,
    EarDay,
    ExerciseDay,
    LateNote,
    Measured,
    NoteSeconds,
    SetDay,
    answers,
)
from orexis.core.progress.one_note import NoteDay
from orexis.core.progress.trend import Value

FIRST = date(2026, 3, 2)
# Every other day over ten weeks.
ON = [FIRST + timedelta(days=number) for number in range(0, 71, 2)]


def note(on: date, **more: float | None) -> NoteDay:
    bare = NoteDay(on, 60, 4, 4, 5.0, 4, 3.0, 6.0, 4.0, 0.12, 28.0)
    return replace(bare, **more)  # type: ignore[arg-type]


def values(found: Answers, key: str) -> list[Value[date]]:
    (curve,) = (one.curve for one in found.changed if one.question.key == key)
    return list(curve.values)


def answer(found: Answers, key: str) -> tuple[Question, str]:
    (one,) = (one for one in found.changed if one.question.key == key)
    return one.question, one.answer


def test_what_lies_between_two_days_has_both_of_them() -> None:
    whole = Measured(
        notes=[note(on) for on in ON],
        exercises=[ExerciseDay(on, "long-tone", 1, 1, 10.0) for on in ON],
        late=[LateNote(on, 4.0, 60, 1, 4.0, 0.1) for on in ON],
        tops=[DayMost(on, 70.0, 1) for on in ON],
        trills=[DayMost(on, 5.0, 1) for on in ON],
        ear=[EarDay(on, 2, 1) for on in ON],
        note_seconds=[NoteSeconds(on, 60, True, 10.0) for on in ON],
        lasted=[DayMost(on, 20.0, 1) for on in ON],
        sets=[SetDay(on, 34, 8, 5.0, 90.0) for on in ON],
    )
    part = whole.between(ON[3], ON[7])
    for name in Measured.__dataclass_fields__:
        assert [one.on for one in getattr(part, name)] == ON[3:8]
    # Cut in two anywhere and put together again it is whole.
    again = whole.between(ON[0], ON[9]).and_later(whole.between(ON[10], ON[-1]))
    for name in Measured.__dataclass_fields__:
        assert list(getattr(again, name)) == list(getattr(whole, name))


def test_each_question_is_answered_from_its_own_measure_in_its_own_unit() -> None:
    # 12 to 5 cents off, 9 to 2 cents of spread, 200 to 130 ms, all in a straight line.
    notes = [
        note(
            on,
            off_cents=12 - days / 10,
            spread_cents=9 - days / 10,
            rise_s=0.2 - days / 1000,
            held_s=3 + days / 10,
            cracked=0,
        )
        for on, days in zip(ON, range(0, 71, 2), strict=True)
    ]
    found = answers(Measured(notes=notes))
    assert answer(found, "centre")[1] == "Yes: 5.0 cents now, 12.0 at first."
    assert answer(found, "steady")[1] == "Yes: 2.0 cents now, 9.0 at first."
    assert answer(found, "response")[1] == "Yes: 130 ms now, 200 at first."
    assert answer(found, "hold")[1] == "Yes: 10.0 s now, 3.0 at first."


def test_what_was_not_measured_is_left_out() -> None:
    notes = [note(on, off_cents=None, spread_cents=None, rise_s=None) for on in ON]
    found = answers(Measured(notes=notes))
    for key in ("centre", "steady", "response"):
        assert values(found, key) == []
        assert answer(found, key)[1] == "Too little to tell yet."
    # A note that did not speak for long enough was not held, and cracks of none are no share.
    nothing = {"off_cents": None, "spread_cents": None, "rise_s": None}
    silent = answers(Measured(notes=[note(on, times=0, **nothing) for on in ON]))
    assert values(silent, "hold") == values(silent, "cracks") == []


@pytest.mark.parametrize(
    ("family", "counts"),
    [
        ("skip-slur", {"right", "slurs", "skips"}),
        ("through-the-fingerings", {"right", "slurs", "lengths"}),
        ("lip-slur", {"right", "slurs"}),
        ("long-tone", {"right"}),
        ("of-an-older-version", {"right"}),
    ],
)
def test_an_exercise_counts_for_what_it_trains(family: str, counts: set[str]) -> None:
    days = [ExerciseDay(on, family, 4, 3, 30.0) for on in ON]
    found = answers(Measured(exercises=days))
    for key in ("right", "slurs", "skips", "lengths"):
        told = values(found, key)
        assert len(told) == (len(ON) if key in counts else 0)
        assert all(value.value == pytest.approx(75) for value in told)
    # Two exercises of a day are a day of practice: 30 s and 90 s are two minutes.
    both = [*days, *(ExerciseDay(on, "melody", 1, 1, 90.0) for on in ON)]
    minutes = values(answers(Measured(exercises=both)), "minutes")
    assert [value.value for value in minutes] == pytest.approx([2.0] * len(ON))


def test_the_notes_of_sets_are_each_held_against_themselves() -> None:
    # Low ones last 4 s and high ones 8 s, and neither changes; high ones came later.
    low = [SetDay(on, 34, 8, 4.0, 90.0) for on in ON]
    high = [SetDay(on, 46, 8, 8.0, None) for on in ON[18:]]
    found = answers(Measured(sets=sorted([*low, *high], key=lambda one: one.on)))
    assert answer(found, "set-holds")[1] == "No change that can be told."
    # Where the halves cannot be told, the set is not among those that are asked of.
    assert [value.value for value in values(found, "set-fades")] == pytest.approx([90.0] * len(ON))
    alone = answers(Measured(sets=high))
    assert values(alone, "set-fades") == []


def test_the_ear_is_asked_by_its_share_and_the_most_by_its_day() -> None:
    ear = [EarDay(on, 4, 3) for on in ON]
    found = answers(Measured(ear=ear, tops=[DayMost(on, 72.0, 2) for on in ON]))
    assert values(found, "ear")[0].value == pytest.approx(75)
    assert values(found, "pyramid")[0].value == pytest.approx(72)
    assert values(found, "trill") == []


def test_over_the_minutes_of_a_day_only_what_was_measured_counts() -> None:
    late = [
        LateNote(on, minutes, 60, 4, 5 + minutes / 4, None)
        for on in ON[:14]
        for minutes in (2.0, 6.0, 14.0)
    ]
    steady, response = answers(Measured(late=late)).lasting
    assert steady.answer == "No: 8.5 cents after 14 min, 5.5 at the start."
    assert response.answer == "Too little to tell yet."
    assert response.words.endswith("so far there are 0.")
