"""Where notes lie, playing time by register, and how fast a trill is clear."""

from datetime import date, timedelta

import pytest

from orexis.core.horn.registers import Register
from orexis.core.progress.playing_time import RegisterSeconds, register_minutes
from orexis.core.progress.tendency import DayDeviation, tendencies_of
from orexis.core.progress.trills import TrillNote, fastest_clear

MONDAY = date(2026, 1, 5)


def day(number: int) -> date:
    return MONDAY + timedelta(days=number)


def test_a_note_lies_where_its_last_days_say_and_lay_where_its_first_did() -> None:
    # The median of 20, 18, 16, 14, 40 is 18; that of 4, 5, 6, 7, 8 is 6.
    cents = [20, 18, 16, 14, 40, 4, 5, 6, 7, 8]
    days = [DayDeviation(day(n), 60, one) for n, one in enumerate(cents)]
    # Five days tell where a note lies and not what became of it; four tell nothing.
    days += [DayDeviation(day(n), 64, -30 + n) for n in range(5)]
    days += [DayDeviation(day(n), 67, 50) for n in range(4)]
    found = tendencies_of(days, lambda midi: f"<{midi}>")
    assert [(note.midi, note.now_cents, note.then_cents, note.days) for note in found.notes] == [
        (60, 6, 18, 10),
        (64, -28, None, 5),
    ]
    assert found.answer == (
        "1 of 1 note nearer the middle: 6.0 cents off on average now, 18.0 at first."
    )
    assert found.words == "Medians over 5 days of each note. Farthest now: <64> 28 cents flat."


def test_with_few_days_of_every_note_only_now_is_told() -> None:
    days = [DayDeviation(day(n), midi, 4.0) for midi in (60, 62) for n in range(6)]
    found = tendencies_of(days, str)
    assert found.answer == "4 cents off the middle on average."
    nothing = tendencies_of(days[:3], str)
    assert (nothing.notes, nothing.answer) == ((), "Too little to tell yet.")


def test_weeks_hold_the_minutes_of_each_register() -> None:
    sounded = [
        RegisterSeconds(day(0), Register.MIDDLE, 90.0),
        RegisterSeconds(day(6), Register.MIDDLE, 90.0),
        RegisterSeconds(day(6), Register.HIGH, 60.0),
        RegisterSeconds(day(21), Register.LOW, 60.0),
    ]
    found = register_minutes(sounded, day(22))
    assert [row.monday for row in found.rows] == [day(0), day(7), day(14), day(21)]
    assert found.rows[0].minutes[Register.MIDDLE] == pytest.approx(3)
    assert found.rows[1].minutes[Register.MIDDLE] == 0
    # 3 of 5 minutes, and one each of the others.
    assert found.answer == "Mostly middle: 60 %."
    assert found.words == "low 20 %, high 20 %, 5 min in all; the last 4 weeks."
    later = register_minutes(sounded, day(70))
    assert later.answer == "Nothing was played lately."
    assert register_minutes([], day(0)).rows == ()


def test_many_weeks_are_taken_together_and_none_is_lost() -> None:
    sounded = [RegisterSeconds(day(7 * n), Register.LOW, 60.0) for n in range(60)]
    rows = register_minutes(sounded, day(7 * 59)).rows
    assert {row.weeks for row in rows} == {4}
    assert sum(row.minutes[Register.LOW] for row in rows) == pytest.approx(60)
    assert rows[-1].monday == day(7 * 56)


def trill(gap_s: float, count: int, start_s: float = 0.0, off: float = 10.0) -> list[TrillNote]:
    return [TrillNote(start_s + n * gap_s, off) for n in range(count)]


def test_a_trill_is_as_fast_as_its_fastest_clear_eight() -> None:
    # Eight notes are seven moves: at 0.125 s apart eight a second.
    assert fastest_clear(trill(0.125, 8)) == pytest.approx(8)
    assert fastest_clear(trill(0.125, 7)) is None
    assert fastest_clear(trill(0.25, 8) + trill(0.1, 8, 2.0)) == pytest.approx(10)
    # Smeared, or one that did not speak: it does not count however fast.
    smeared = [TrillNote(turn.start_s, 36.0) for turn in trill(0.1, 8, 2.0)]
    assert fastest_clear(trill(0.25, 8) + smeared) == pytest.approx(4)
    gone = trill(0.1, 16)
    gone[8] = TrillNote(None, None)
    assert fastest_clear(gone) == pytest.approx(10)
    gone[7] = TrillNote(None, None)
    assert fastest_clear(gone[1:]) is None
