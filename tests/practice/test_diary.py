"""The diary: days and months, from what was kept by hand."""

from datetime import date, timedelta
from typing import Any

import pytest
from sqlalchemy.orm import Session

from orexis.core.counting import time_words
from orexis.core.progress.diary import DiaryDay, day_words, month_words
from orexis.practice.diary import month_of, page_of
from orexis.store.bookmarks import add_bookmark
from orexis.store.models import ComingDate, FreeSitting, Hurt, Recording, SittingNote
from orexis.store.players import notation_of
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
    day = DiaryDay(TODAY, attempts=1, passed=1, sounded_s=8.0)
    assert day_words(day, (58, 58), str) == "1 attempt, 1 good, 8 s of playing, 58."
    more = DiaryDay(TODAY, attempts=43, passed=30, sounded_s=400.0)
    assert day_words(more, (50, 63), str) == "43 attempts, 30 good, 7 min of playing, 50 to 63."
    assert day_words(DiaryDay(TODAY), None, str) == "No practice."
    assert month_words([day, more, DiaryDay(TODAY, hurt=True)]) == (
        "Practice on 2 days: 44 attempts, 7 min of playing."
    )
    assert month_words([DiaryDay(TODAY, event="concert")]) == "No practice."
    freely = DiaryDay(TODAY, free_s=300.0)
    assert day_words(freely, None, str) == "5 min of playing, all of it free."
    both = DiaryDay(TODAY, attempts=2, passed=1, sounded_s=60.0, free_s=120.0)
    assert day_words(both, (58, 63), str) == (
        "2 attempts, 1 good, 3 min of playing, 2 min of it free, 58 to 63."
    )
    assert month_words([freely, both]) == (
        "Practice on 2 days: 2 attempts, 8 min of playing, 7 min of it free."
    )


def freely(session: Session, days_ago: int, *midis: int, **more: Any) -> FreeSitting:
    notes = [
        SittingNote(
            midi=midi, times=4, seconds=8.0, cents=3.0, spread_cents=4.0, longest_hold_s=place + 2.5
        )
        for place, midi in enumerate(midis)
    ]
    row = FreeSitting(
        id=f"{days_ago:032d}", player_id=1, started_at=at(days_ago), instrument_key="trumpet-bb",
        **{"source": "microphone", "low_s": 4.0, "middle_s": 90.0, "high_s": 26.0, **more},
        notes=notes,
    )  # fmt: skip
    session.add(row)
    session.flush()
    return row


def test_what_was_played_freely_is_in_its_day_and_month(session: Session) -> None:
    keep(session, 3, 58)
    sitting = freely(session, 3, 55, 58, 65)
    freely(session, 4, source="microphone")
    freely(session, 5, 60, source="stand-in")
    freely(session, 40, 60)
    month = month_of(session, maren(session), 2026, 5)
    # Neither where no note was heard nor what the stand-in played.
    assert [(day.on.day, day.free_s, day.playing_s) for day in month.days] == [(26, 120.0, 124.0)]
    assert month.begins == TODAY - timedelta(days=40)
    page = page_of(session, maren(session), TODAY - timedelta(days=3))
    (told,) = page.free
    name = notation_of(maren(session)).name
    assert told.started_at == sitting.started_at
    assert told.words == (
        f"2 min of playing, 12 notes, {name(55)} to {name(65)}, longest hold 4.5 s on {name(65)}."
    )
    assert told.recording_id is None
    recording = Recording(
        id="r", player_id=1, started_at=sitting.started_at, name="Played", duration_s=180.0,
        instrument_key="trumpet-bb", a4_hz=440.0, sample_rate=48_000, clipped=False, note_count=12,
    )  # fmt: skip
    recording.player = maren(session)
    session.add(recording)
    session.flush()
    (told,) = page_of(session, maren(session), TODAY - timedelta(days=3)).free
    assert told.recording_id == "r"
    recording.deleted_at = at(0)
    session.flush()
    (told,) = page_of(session, maren(session), TODAY - timedelta(days=3)).free
    assert told.recording_id is None


def test_a_month_has_its_days_and_no_other(session: Session) -> None:
    # Today is the 29th of May 2026.
    keep(session, 28, 58)
    keep(session, 29, 58)
    keep(session, 3, 58, 63)
    keep(session, 3, 58, judged_passed=False)
    keep(session, 3, 70, source="stand-in")
    session.add(Hurt(player_id=1, at=at(3)))
    session.add(ComingDate(player_id=1, day=date(2026, 5, 31), kind="concert", words="Harbour"))
    session.flush()
    month = month_of(session, maren(session), 2026, 5)
    assert [(day.on.day, day.attempts, day.passed, day.sounded_s) for day in month.days] == [
        (1, 1, 1, 4.0),
        (26, 2, 1, 12.0),
        (31, 0, 0, 0.0),
    ]
    assert [day.hurt for day in month.days] == [False, True, False]
    assert month.days[2].event == "Harbour"
    assert month.words == "Practice on 2 days: 3 attempts, 16 s of playing."
    assert month.begins == date(2026, 4, 30)
    empty = month_of(session, maren(session), 2025, 2)
    assert (empty.days, empty.words) == ((), "No practice.")


def test_a_day_has_its_words_and_what_was_bookmarked(session: Session) -> None:
    take = keep(session, 3, 58, 63)
    add_bookmark(session, take, 2.5, "as clean as this")
    add_bookmark(session, keep(session, 4, 58), 1.0, "another day")
    page = page_of(session, maren(session), TODAY - timedelta(days=3))
    # Maren reads B♭3 and E♭4 as G4 and C5.
    assert page.words == "1 attempt, 1 good, 8 s of playing, G4 to C5."
    assert [(bookmark.words, kept.id) for bookmark, kept in page.bookmarks] == [
        ("as clean as this", take.id)
    ]
    assert page.day.bookmarks == 1
    nothing = page_of(session, maren(session), TODAY)
    assert (nothing.words, nothing.sessions, nothing.bookmarks) == ("No practice.", (), ())
