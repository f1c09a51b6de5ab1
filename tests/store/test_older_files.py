"""Data files of every older version: they open, and their takes are whole."""

import json
import sqlite3
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from sqlalchemy import select

from orexis.core.listening.tracking.frames import Frames
from orexis.formats.analysis import frames_document
from orexis.practice.kept_sessions import kept_results
from orexis.practice.takes import judged, newest_takes, take_page
from orexis.store.bookmarks import add_bookmark, bookmarks_of
from orexis.store.coaching import about_of, approaches_of, moves_of, trials_of
from orexis.store.database import Database, _engine, upgrade
from orexis.store.horns import tendencies
from orexis.store.kept import events_of, find_kept, newest_kept, sound_of
from orexis.store.models import OwnExercise, Player, PracticeSession, Take
from orexis.store.packed import pack
from orexis.store.takes import highest_passed, note_of, passed_tones

VERSIONS = ("0001", "0002", "0003", "0004")
# B♭3 (58) for 4 s on a tenor horn, 12 cents low; then C4 in its place.
PLAYED: dict[str, Any] = {
    "player_id": 1, "session_id": "ab", "started_at": "2026-01-02 18:00:00.000000",
    "source": "microphone", "instrument_key": "tenor-horn-eb", "exercise_key": "long-tone",
    "asked_midi": 58, "asked_hold_s": 4.0, "a4_hz": 442.0, "gate_level": "normal",
    "sample_rate": 48_000, "duration_s": 5.5, "note_start_s": 0.5, "note_end_s": 4.75,
    "played_midi": 58, "centre_cents": -12.0, "spread_cents": 3.5, "drift_cents_per_s": 0.5,
    "scoop_cents": -22.0, "settle_s": 0.2, "sag_cents": -4.0, "hold_s": 4.25,
    "vibrato_rate_hz": 5.0, "vibrato_extent_cents": 14.0, "level_db": -21.0,
    "level_change_db": 1.5, "harmonicity_db": 30.0, "brightness": 2.5,
}  # fmt: skip
RULES = [
    {"rule": "centre", "measured": -12.0, "limit": 15, "passed": True},
    {"rule": "steady", "measured": 3.5, "limit": 9, "passed": True},
    {"rule": "start", "measured": -22.0, "limit": 30, "passed": True},
    {"rule": "end", "measured": -4.0, "limit": 20, "passed": True},
    {"rule": "held", "measured": 4.25, "limit": 4, "passed": True},
]
OFF = [{**RULES[0], "measured": 188.0, "passed": False}, *RULES[1:]]
LATER = {"target_cents": 2.0, "length_name": "0", "rise_s": 0.05, "shape": "crescendo"}


def insert(file: sqlite3.Connection, table: str, row: dict[str, Any]) -> None:
    """Puts in what of a row the table of that version has."""
    known = {column[1] for column in file.execute(f"PRAGMA table_info({table})")}
    kept = {name: value for name, value in row.items() if name in known}
    marks = ",".join("?" * len(kept))
    file.execute(f"INSERT INTO {table} ({','.join(kept)}) VALUES ({marks})", list(kept.values()))


def older(path: Path, version: str) -> Path:
    """A data file of a version with a player, a take that passed, and one of a wrong note."""
    engine = _engine(path)
    upgrade(engine, version)
    engine.dispose()
    hz, level_db, harmonicity_db, brightness = (np.full(550, one) for one in (234.0, -21, 30, 2.5))
    frames = Frames(0, hz, level_db, harmonicity_db, brightness)
    with sqlite3.connect(path) as file:
        player = {
            "id": 1, "name": "Maren", "instrument_key": "tenor-horn-eb", "view": "written",
            "clef": "treble", "a4_hz": 442, "gate_level": "normal", "created_at": "2026-01-01",
        }  # fmt: skip
        insert(file, "players", player)
        good = {"id": "t1", "first_frame": 1, "passed": True, "rule_results": json.dumps(RULES)}
        wrong = {
            "id": "t2", "first_frame": 900, "passed": False, "played_midi": 60,
            "centre_cents": 188.0, "rule_results": json.dumps(OFF), "overruled_passed": None,
            "started_at": "2026-01-01 18:00:00.000000",
        }  # fmt: skip
        for row in (good, wrong):
            insert(file, "takes", PLAYED | LATER | row)
            insert(file, "take_sounds", {"take_id": row["id"], "flac": b"fLaC of it"})
            packed = pack(frames_document(frames))
            insert(file, "take_frames", {"take_id": row["id"], "packed": packed})
    file.close()
    return path


@pytest.fixture(params=VERSIONS)
def database(tmp_path: Path, request: pytest.FixtureRequest) -> Iterator[tuple[str, Database]]:
    database = Database(older(tmp_path / "old.db", request.param))
    yield request.param, database
    database.close()


def test_a_take_is_shown_and_said_as_it_was(database: tuple[str, Database]) -> None:
    version, file = database
    with file.session() as session:
        good, wrong = newest_takes(session, 1, 9)
        assert (good.task.title, good.task.setting) == ("Long tone", "hold 4 s")
        assert good.said.headline == "Good."
        assert [result.aim.value for result in good.verdict.results] == [
            "centre",
            "steady",
            "start",
            "end",
            "held",
        ]
        assert good.verdict.results[0].measured == -12
        assert (good.take.passed, wrong.take.passed) == (True, False)
        # Sounding C4 is written A4 for the tenor horn.
        assert wrong.said.headline == "You played A4 instead of G4."
        page = take_page(session, good.take)
        assert page.sheet.notes[0].hand == "open, third partial"
        (note,) = page.notes
        assert {line.label: line.words for line in note.lines}["vibrato"] == "± 14"
        assert page.sheet.notes[0].target_cents == (0 if version == "0001" else 2)


def test_its_note_is_a_row_with_every_measure(database: tuple[str, Database]) -> None:
    version, file = database
    with file.session() as session:
        good, wrong = newest_kept(session, Take, 1, 9)
        (row,) = good.notes
        assert (row.asked_midi, row.played_midi, row.spoke) == (58, 58, True)
        assert (row.start_s, row.end_s, row.centre_cents, row.spread_cents) == (0.5, 4.75, -12, 3.5)
        assert row.length_name == (None if version == "0001" else "0")
        note = note_of(row, good.a4_hz)
        assert note is not None
        assert (note.midi, note.measures.hold_s, note.measures.level_db) == (58, 4.25, -21)
        # From 0.5 to 4.75 s it sounded.
        assert good.sounded_s == 4.25
        assert (note.measures.scoop_cents, note.measures.sag_cents) == (-22, -4)
        assert (wrong.notes[0].spoke, wrong.notes[0].played_midi) == (False, 60)
        assert judged(session, good).marks
        assert events_of(session, good) is None


def test_what_it_taught_stays_learnt(database: tuple[str, Database]) -> None:
    _, file = database
    with file.session() as session:
        maren = session.get_one(Player, 1)
        assert [tone.level_db for tone in passed_tones(session, maren, "microphone")] == [-21]
        assert highest_passed(session, maren) == 58
        assert set(tendencies(session, maren)) == {("0", 58)}


def test_its_sound_is_still_there_and_it_can_be_worked_with(
    database: tuple[str, Database],
) -> None:
    _, file = database
    with file.session() as session:
        found = find_kept(session, Take, "t1")
        assert found is not None
        assert sound_of(session, found) == b"fLaC of it"
        add_bookmark(session, found, 0.5, "old, and still good")


def test_a_change_of_the_file_that_fails_leaves_it_as_it_was(tmp_path: Path) -> None:
    path = older(tmp_path / "old.db", "0004")
    with sqlite3.connect(path) as file:
        # What no migration expects.
        file.execute("UPDATE takes SET rule_results = 'no JSON' WHERE id = 't2'")
    file.close()
    with pytest.raises(ValueError, match="Expecting value"):
        Database(path)
    with sqlite3.connect(path) as file:
        assert file.execute("SELECT version_num FROM alembic_version").fetchall() == [("0004",)]
        tables = {name for (name,) in file.execute("SELECT name FROM sqlite_master")}
        assert "take_notes" not in tables
        assert file.execute("SELECT asked_midi FROM takes").fetchall() == [(58,), (58,)]
    file.close()


def test_reaching_beyond_becomes_a_question_of_its_own_and_a_range_is_of_its_horn(
    tmp_path: Path,
) -> None:
    path = tmp_path / "old.db"
    engine = _engine(path)
    upgrade(engine, "0011")
    engine.dispose()
    player = {
        "name": "Maren", "instrument_key": "tenor-horn-eb", "view": "written", "clef": "treble",
        "a4_hz": 442, "gate_level": "normal", "created_at": "2026-01-01",
    }  # fmt: skip
    about = {
        "experience": "some-years", "wish": "up", "minutes": 30, "days_a_week": 5,
        "high_midi": 72, "braces": 0, "weeks_off": 0,
    }  # fmt: skip
    beyond = {"after-failure": "beyond", "jaw": "moves"}
    trial = {"question": "after-failure", "begins": "2026-01-01", "ends": "2026-01-15"}
    with sqlite3.connect(path) as file:
        for number, approaches in ((1, beyond), (2, {"after-failure": "stop"})):
            insert(file, "players", {**player, "id": number, "name": f"Maren {number}"})
            row = {**about, "player_id": number, "schools": json.dumps(approaches)}
            insert(file, "player_abouts", row)
        for first, second in (("back", "beyond"), ("back", "stop")):
            insert(
                file, "school_trials", {**trial, "player_id": 2, "first": first, "second": second}
            )
    file.close()
    database = Database(path)
    with database.session() as session:
        assert approaches_of(session, 1) == {"after-top": "reach", "jaw": "moves"}
        assert approaches_of(session, 2) == {"after-failure": "stop"}
        assert [(trial.first, trial.second) for trial in trials_of(session, 2)] == [
            ("back", "stop")
        ]
        said = about_of(session, 1)
        assert said is not None
        assert (said.high_midi, said.range_on) == (72, "tenor-horn-eb")
    database.close()


@pytest.mark.parametrize(
    ("kept", "said"),
    [("set 1 of 2, try 3 of 5", "set 1 of 2, attempt 3 of 5"), ("try 2", "attempt 2"), ("", "")],
)
def test_where_an_attempt_was_played_is_said_in_todays_words(
    tmp_path: Path, kept: str, said: str
) -> None:
    path = older(tmp_path / "old.db", "0014")
    with sqlite3.connect(path) as file:
        file.execute("UPDATE takes SET place = ?", [kept])
    file.close()
    database = Database(path)
    with database.session() as session:
        assert {take.place for take in newest_kept(session, Take, 1, 9)} == {said}
    database.close()


@pytest.mark.parametrize(
    ("place", "set_number"), [("set 2 of 3, start 4 of 20: start 4", 1), ("attempt 2", 0), ("", 0)]
)
def test_which_set_a_take_is_of_is_read_off_its_place(
    tmp_path: Path, place: str, set_number: int
) -> None:
    path = older(tmp_path / "old.db", "0018")
    with sqlite3.connect(path) as file:
        file.execute("UPDATE takes SET place = ?", [place])
    file.close()
    database = Database(path)
    with database.session() as session:
        assert {take.set_number for take in newest_kept(session, Take, 1, 9)} == {set_number}
    database.close()


def test_what_has_another_name_now_is_kept_under_it(tmp_path: Path) -> None:
    path = older(tmp_path / "old.db", "0018")
    kept = {"player_id": 1, "instrument_key": "tenor-horn-eb"}
    with sqlite3.connect(path) as file:
        file.execute("UPDATE takes SET exercise_key = 'slot-slur' WHERE id = 't1'")
        file.execute("UPDATE takes SET exercise_key = 'through-the-lengths' WHERE id = 't2'")
        insert(file, "pins", {"id": 1, "take_id": "t1", "at_s": 0.5, "words": "here"})
        own = {"id": "o1", "name": "Mine", "family_key": "slot-pattern", "version": 1}
        changed_at = {"parameters": "{}", "changed_at": "2026-01-01 10:00:00.000000"}
        insert(file, "own_exercises", kept | own | changed_at)
        insert(file, "path_moves", kept | {"family": "slot-slur", "step": 3, "day": "2026-01-01"})
        about = {
            "player_id": 1, "experience": "some-years", "wish": "up", "minutes": 30,
            "days_a_week": 5, "braces": 0, "weeks_off": 0,
            "schools": '{"jaw": "moves", "between-tries": "breath"}',
        }  # fmt: skip
        insert(file, "player_abouts", about)
        trial = {"player_id": 1, "question": "between-tries", "first": "low", "second": "breath"}
        insert(
            file, "school_trials", trial | {"id": 1, "begins": "2026-01-01", "ends": "2026-01-15"}
        )
        # As it was kept: attempts were tries.
        result = {
            "title": "Lip slur", "group": "slurs", "close": "done", "judged": True, "reached": "",
            "beyond": "", "tries": 5, "passes": 4,
        }  # fmt: skip
        session_row = {
            "id": "ab", "started_at": "2026-01-02 18:00:00.000000", "title": "", "kind": "task",
            "source": "microphone", "sample_rate": 48_000, "gate_level": "strict", "plan": "{}",
            "setup": "{}", "heard_until": 0, "note": "", "went": json.dumps([result]),
        }  # fmt: skip
        insert(file, "sessions", kept | session_row)
    file.close()
    database = Database(path)
    with database.session() as session:
        first, second = (find_kept(session, Take, take_id) for take_id in ("t1", "t2"))
        assert first is not None
        assert second is not None
        assert (first.exercise_key, first.standard) == ("lip-slur", "normal")
        assert second.exercise_key == "through-the-fingerings"
        assert [bookmark.words for bookmark in bookmarks_of(session, first)] == ["here"]
        (mine,) = session.scalars(select(OwnExercise))
        assert mine.family_key == "partial-pattern"
        assert moves_of(session, session.get_one(Player, 1))["lip-slur"].step == 3
        assert approaches_of(session, 1) == {"jaw": "moves", "between-attempts": "breath"}
        assert [trial.question for trial in trials_of(session, 1)] == ["between-attempts"]
        played = session.get_one(PracticeSession, "ab")
        assert played.standard == "strict"
        (done,) = kept_results(session, played)
        assert (done.attempts, done.passes) == (5, 4)
    database.close()
