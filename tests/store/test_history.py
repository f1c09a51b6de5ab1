"""What the coach reads of takes: attempt by attempt of late, summed up before, and never the
stand-in's."""

from collections.abc import Iterator
from datetime import date, datetime, timedelta
from pathlib import Path
from typing import Any

import pytest
from sqlalchemy import select
from sqlalchemy.orm import Session

from orexis.core.coach.history import History, PastAttempt
from orexis.core.coach.load import Weights, days_loads
from orexis.core.coach.standing import Standing
from orexis.core.horn.notation import Clef, NoteView
from orexis.practice.coaching import known_of
from orexis.store.database import Database
from orexis.store.history import ever_heard, found_range, history_of, session_notes
from orexis.store.models import Hurt, Player, PracticeSession, Take, TakeNote
from orexis.store.players import PlayerDetails, add_player
from orexis.store.takes import keep_task

TODAY = date(2026, 5, 29)


@pytest.fixture
def session(tmp_path: Path) -> Iterator[Session]:
    database = Database(tmp_path / "orexis.db")
    with database.session() as session:
        add_player(session, PlayerDetails("Maren", "tenor-horn-eb", NoteView.WRITTEN, Clef.TREBLE))
        yield session
    database.close()


def maren(session: Session) -> Player:
    return session.get_one(Player, 1)


def at(days_ago: int, hour: int = 18) -> datetime:
    day = TODAY - timedelta(days=days_ago)
    return datetime(day.year, day.month, day.day, hour).astimezone()


def keep(session: Session, days_ago: int, *midis: int, **more: Any) -> Take:
    """A take of some notes, four seconds each."""
    number = session.query(Take).count()
    values: dict[str, Any] = {
        "id": f"{number:032x}",
        "player_id": 1,
        "session_id": "s",
        "first_frame": number,
        "started_at": at(days_ago),
        "source": "microphone",
        "instrument_key": "tenor-horn-eb",
        "exercise_key": "long-tone",
        "a4_hz": 440.0,
        "standard": "normal",
        "sample_rate": 48_000,
        "duration_s": 4.5 * len(midis),
        "sounded_s": 4.0 * len(midis),
        "judged_passed": True,
        "task_key": keep_task(session, {}),
        "verdict": {},
    }
    take = Take(
        **{**values, **more},
        notes=[
            TakeNote(
                number=place,
                step=place,
                time=0,
                on="horn",
                asked_midi=midi,
                target_cents=0.0,
                length_name=None,
                partial=None,
                spoke=True,
                played_midi=midi,
                start_s=5.0 * place,
                end_s=5.0 * place + 4,
                level_db=-20.0,
                spread_cents=4.0,
                hold_s=3.5,
                rise_s=0.05,
            )
            for place, midi in enumerate(midis)
        ],
    )
    session.add(take)
    session.flush()
    return take


def history(session: Session, *families: str) -> History:
    return history_of(session, maren(session), TODAY, families)


def test_today_is_read_try_by_try_and_days_before_are_summed_up(session: Session) -> None:
    for days_ago in (0, 0, 20, 20, 20):
        keep(session, days_ago, 58, 63)
    found = history(session)
    assert [(attempt.day, len(attempt.notes), attempt.count) for attempt in found.attempts] == [
        (TODAY - timedelta(days=20), 2, 3),
        (TODAY, 2, 1),
        (TODAY, 2, 1),
    ]
    summed, recent = found.attempts[0].notes[0], found.attempts[1].notes[0]
    assert (summed.asked_midi, summed.sounded_s, summed.held_s) == (58, 12.0, 3.5)
    assert (recent.sounded_s, recent.held_s, recent.rise_s) == (4.0, 3.5, 0.05)


def test_what_is_remembered_of_before_follows_every_change_of_a_take(session: Session) -> None:
    take = keep(session, 3, 58)
    other = keep(session, 3, 60)
    assert [attempt.passed for attempt in history(session).attempts] == [True]
    # One turned round, then both, then one deleted, then a new one.
    take.overruled_passed = False
    assert sorted(attempt.passed for attempt in history(session).attempts) == [False, True]
    take.overruled_passed, other.overruled_passed = None, False
    session.flush()
    failed = next(attempt for attempt in history(session).attempts if not attempt.passed)
    assert [row.asked_midi for row in failed.notes] == [60]
    other.deleted_at = at(0)
    assert sum(attempt.count for attempt in history(session).attempts) == 1
    keep(session, 2, 62)
    assert sum(attempt.count for attempt in history(session).attempts) == 2


def test_blips_of_a_note_do_not_add_up_to_one_that_spoke(session: Session) -> None:
    for _ in range(4):
        take = keep(session, 3, 58)
        (note,) = take.notes
        note.end_s = (note.start_s or 0) + 0.2
    session.flush()
    assert known_of(session, maren(session), TODAY).range.standings[58] is Standing.ATTEMPTED


def test_a_day_has_the_same_load_however_old_it_is(session: Session) -> None:
    for days_ago in (0, 25):
        keep(session, days_ago, 58, 70)
        keep(session, days_ago, 60, exercise_key="siren", sounded_s=10.0)
    found = history(session)
    weights = Weights(known_of(session, maren(session), TODAY).instrument, 68)
    loads = days_loads(found, weights, TODAY - timedelta(days=40))
    assert loads[TODAY] == pytest.approx(loads[TODAY - timedelta(days=25)])


def test_passed_and_missed_are_told_apart_and_what_was_overruled_counts(session: Session) -> None:
    keep(session, 20, 58)
    keep(session, 20, 58, judged_passed=False)
    keep(session, 2, 58, judged_passed=False, overruled_passed=True)
    passes: list[PastAttempt] = [attempt for attempt in history(session).attempts if attempt.passed]
    assert [attempt.day for attempt in passes] == [
        TODAY - timedelta(days=20),
        TODAY - timedelta(days=2),
    ]


def test_the_stand_ins_other_players_other_horns_and_deleted_takes_do_not_count(
    session: Session,
) -> None:
    keep(session, 2, 58, source="stand-in")
    keep(session, 2, 58, instrument_key="cornet-bb")
    keep(session, 2, 58, deleted_at=at(1))
    keep(session, 2, 58, player_id=1, started_at=at(60))
    assert history(session).attempts == ()


def test_a_programmes_exercises_are_read_as_far_back_as_they_go(session: Session) -> None:
    keep(session, 90, 46, exercise_key="pedal-sets")
    keep(session, 90, 58)
    found = history(session, "pedal-sets")
    assert [(attempt.family, attempt.day) for attempt in found.attempts] == [
        ("pedal-sets", TODAY - timedelta(days=90))
    ]


def test_a_pick_from_silence_counts_for_ever_at_the_normal_gate(session: Session) -> None:
    keep(session, 200, 70, exercise_key="cold-picks")
    keep(session, 200, 72, exercise_key="cold-picks", standard="kind")
    for days_ago in (9, 5, 1):
        keep(session, days_ago, 70, 72)
    found = known_of(session, maren(session), TODAY)
    assert found.history.cold == {70}
    assert (found.range.standings[70], found.range.standings[72]) == (
        Standing.SECURE,
        Standing.HELD,
    )


def test_a_late_evening_belongs_to_its_own_day(session: Session) -> None:
    keep(session, 0, 58, started_at=at(1, hour=23))
    assert [attempt.day for attempt in history(session).attempts] == [TODAY - timedelta(days=1)]


def test_sessions_and_hurts_are_read_with_how_they_ended(session: Session) -> None:
    result = {"group": "high", "close": "enough"}
    session.add(
        PracticeSession(
            id="a", player_id=1, started_at=at(1), title="Today", kind="plan", source="microphone",
            sample_rate=48_000, instrument_key="tenor-horn-eb", standard="normal", plan={},
            setup={}, latency_s=None, drone_hz=None, ended="done", results=[result],
        )
    )  # fmt: skip
    session.add(Hurt(player_id=1, at=at(4), cleared_at=at(2)))
    session.flush()
    found = known_of(session, maren(session), TODAY)
    assert found.at_ceiling_on == TODAY - timedelta(days=1)
    (hurt,) = found.history.hurts
    assert (hurt.day, hurt.cleared) == (TODAY - timedelta(days=4), TODAY - timedelta(days=2))


def test_notes_of_a_session_come_in_order_of_playing(session: Session) -> None:
    keep(session, 0, 58, 60)
    keep(session, 0, 62)
    keep(session, 0, 64, session_id="another")
    assert [row.asked_midi for row in session_notes(session, "s")] == [58, 60, 62]


def test_the_range_that_was_found_is_that_of_what_passed(session: Session) -> None:
    session.add(
        PracticeSession(
            id="find", player_id=1, started_at=at(0), title="Range", kind="range",
            source="microphone", sample_rate=48_000, instrument_key="tenor-horn-eb",
            standard="normal", plan={}, setup={}, latency_s=None, drone_hz=None,
        )
    )  # fmt: skip
    keep(session, 0, 53, 67, session_id="find")
    keep(session, 0, 75, session_id="find", judged_passed=False)
    assert found_range(session, maren(session)) == (53, 67)
    found = known_of(session, maren(session), TODAY)
    assert (found.about.low_midi, found.about.high_midi, found.range.comfortable) == (53, 67, 67)


def test_what_spoke_long_ago_is_known_of(session: Session) -> None:
    keep(session, 300, 58)
    assert ever_heard(session, maren(session), [58, 60]) == {58}


def test_a_task_is_kept_once_for_all_its_takes(session: Session) -> None:
    for _ in range(3):
        keep(session, 1, 58)
    assert len({take.task_key for take in session.scalars(select(Take))}) == 1
    assert session.scalars(select(Take)).first().task == {}  # type: ignore[union-attr]
