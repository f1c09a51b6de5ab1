"""The diary: days and months, from what was kept by hand."""

from datetime import date, timedelta

import pytest
from sqlalchemy.orm import Session

from orexis.core.counting import time_words
from orexis.core.progress.diary import DiaryDay, day_words, month_words
from orexis.practice.diary import month_of, page_of
from orexis.store.models import ComingDate, Hurt
from orexis.store.pins import add_pin
from tests.store.test_history import TODAY, at, keep, maren, session

__all__ = ["session"]


@pytest.mark.parametrize(
    ("seconds", "words"),
    [
        (0.4, "0 s"),
        (59, "59 s"),
        (60, "1 min"),
        (3569, "59 min"),
        (3600, "1 h"),
        (11_400, "3 h 10 min"),
    ],
)
def test_time_is_said_as_one_says_it(seconds: float, words: str) -> None:
    assert time_words(seconds) == words


def test_a_day_and_a_month_are_summed_up_in_a_sentence() -> None:
    day = DiaryDay(TODAY, tries=1, passed=1, sounded_s=8.0)
    assert day_words(day, (58, 58), str) == "1 attempt, 1 good, 8 s of playing, 58."
    more = DiaryDay(TODAY, tries=43, passed=30, sounded_s=400.0)
    assert day_words(more, (50, 63), str) == "43 attempts, 30 good, 7 min of playing, 50 to 63."
    assert day_words(DiaryDay(TODAY), None, str) == "No practice."
    assert month_words([day, more, DiaryDay(TODAY, hurt=True)]) == (
        "Practice on 2 days: 44 attempts, 7 min of playing."
    )
    assert month_words([DiaryDay(TODAY, event="concert")]) == "No practice."


def test_a_month_has_its_days_and_no_other(session: Session) -> None:
    # Today is the 29th of May 2026.
    keep(session, 28, 58)
    keep(session, 29, 58)
    keep(session, 3, 58, 63)
    keep(session, 3, 58, gate_passed=False)
    keep(session, 3, 70, source="stand-in")
    session.add(Hurt(player_id=1, at=at(3)))
    session.add(ComingDate(player_id=1, day=date(2026, 5, 31), kind="concert", words="Harbour"))
    session.flush()
    month = month_of(session, maren(session), 2026, 5)
    assert [(one.on.day, one.tries, one.passed, one.sounded_s) for one in month.days] == [
        (1, 1, 1, 4.0),
        (26, 2, 1, 12.0),
        (31, 0, 0, 0.0),
    ]
    assert [one.hurt for one in month.days] == [False, True, False]
    assert month.days[2].event == "Harbour"
    assert month.words == "Practice on 2 days: 3 attempts, 16 s of playing."
    assert month.begins == date(2026, 4, 30)
    empty = month_of(session, maren(session), 2025, 2)
    assert (empty.days, empty.words) == ((), "No practice.")


def test_a_day_has_its_words_and_what_was_pinned(session: Session) -> None:
    take = keep(session, 3, 58, 63)
    add_pin(session, take, 2.5, "as clean as this")
    add_pin(session, keep(session, 4, 58), 1.0, "another day")
    page = page_of(session, maren(session), TODAY - timedelta(days=3))
    # Maren reads B♭3 and E♭4 as G4 and C5.
    assert page.words == "1 attempt, 1 good, 8 s of playing, G4 to C5."
    assert [(pin.words, kept.id) for pin, kept in page.pins] == [("as clean as this", take.id)]
    assert page.day.pins == 1
    nothing = page_of(session, maren(session), TODAY)
    assert (nothing.words, nothing.sessions, nothing.pins) == ("No practice.", (), ())
