"""A take in the file: every measure comes back as itself, and what passed counts as it stands."""

from dataclasses import fields, replace
from datetime import UTC, datetime, timedelta
from pathlib import Path

import numpy as np
import pytest

from orexis.core.exercises.longtone import LongTone
from orexis.core.horn.instruments import INSTRUMENTS
from orexis.core.horn.notation import Clef, NoteView
from orexis.core.horn.setup import Horn, Setup
from orexis.core.judging.gate import DEFAULT_LIMITS, GateLevel, judge
from orexis.core.listening.notes.events import Events, Note
from orexis.core.listening.notes.measures import NoteMeasures, Shape, Vibrato
from orexis.core.listening.tracking.frames import Frames
from orexis.core.session.stand import Repetition
from orexis.practice.takes import judged, keep_repetition
from orexis.store.database import Database
from orexis.store.kept import find_kept, frames_of
from orexis.store.models import Player, Take
from orexis.store.players import PlayerDetails, add_player
from orexis.store.takes import (
    Circumstances,
    judged_until,
    measures_of,
    note_of,
    passed_before,
    passed_tones,
    tone_of,
    verdict_of,
)

NOW = datetime(2026, 5, 4, 18, 10, 11, 120_000, tzinfo=UTC)
# No two of these are alike, so none can stand in for another.
MEASURES = NoteMeasures(
    centre_cents=1.25,
    spread_cents=2.5,
    drift_cents_per_s=-3.75,
    scoop_cents=-11.5,
    settle_s=0.14,
    sag_cents=-7.5,
    hold_s=4.37,
    vibrato=Vibrato(5.5, 13.5),
    level_db=-21.5,
    level_change_db=2.25,
    rise_s=0.045,
    shape=Shape.SWELL,
)
NOTE = Note(
    first=152,
    last=589,
    f0_hz=233.25,
    midi=58,
    measures=MEASURES,
    harmonicity_db=31.5,
    brightness=4.25,
    cracked_from_midi=51,
)
# In the file, not in columns of their own: they are in the take's events.
NOT_IN_COLUMNS = {"in_slot", "wobble_cents", "response_s"}


@pytest.fixture
def database(tmp_path: Path) -> Database:
    database = Database(tmp_path / "orexis.db")
    with database.session() as session:
        add_player(session, PlayerDetails("Maren", "tenor-horn-eb", NoteView.WRITTEN, Clef.TREBLE))
    return database


def save(
    database: Database,
    measures: NoteMeasures = MEASURES,
    number: int = 0,
    first: int = 102,
    source: str = "microphone",
) -> str:
    exercise = LongTone(Horn(INSTRUMENTS["tenor-horn-eb"], Setup(a4_hz=441)), 58, 4.0)
    note = replace(NOTE, measures=measures)
    frames = Frames(
        first,
        np.linspace(230, 240, 537),
        np.linspace(-30, -20, 537),
        np.linspace(10, 30, 537),
        np.linspace(2, 5, 537),
    )
    verdict = judge(measures, 4.0, DEFAULT_LIMITS[GateLevel.NORMAL])
    repetition = Repetition(
        frames, Events((replace(note, first=50, last=487),)), note, measures, verdict
    )
    with database.session() as session:
        circumstances = Circumstances(
            session.get_one(Player, 1),
            f"{number:032x}",
            NOW + timedelta(days=number),
            source,
            "normal",
            44_100,
        )
        pcm = (b"\x01\x00" * 441) * 537
        return keep_repetition(session, repetition, exercise, circumstances, pcm).id


def test_every_measure_comes_back_as_itself(database: Database) -> None:
    take_id = save(database)
    with database.session() as session:
        take = session.get_one(Take, take_id)
        kept = measures_of(take)
        for field in fields(NoteMeasures):
            if field.name not in NOT_IN_COLUMNS:
                assert getattr(kept, field.name) == getattr(MEASURES, field.name), field.name
        tone = tone_of(take)
        assert (tone.midi, tone.level_db, tone.harmonicity_db) == (58, -21.5, 31.5)
        assert (tone.brightness, tone.centre_cents, tone.spread_cents) == (4.25, 1.25, 2.5)
        note = note_of(take)
        assert (note.midi, note.cracked_from_midi, note.brightness) == (58, 51, 4.25)
        assert (take.note_start_s, take.note_end_s) == (0.5, 4.87)
        assert (take.first_frame, take.duration_s, take.sample_rate) == (102, 5.37, 44_100)
        assert (take.asked_midi, take.asked_hold_s, take.a4_hz) == (58, 4.0, 441)
        assert (take.started_at, take.source, take.gate_level) == (NOW, "microphone", "normal")
        assert (take.instrument_key, take.length_name) == ("tenor-horn-eb", "0")
        assert len(frames_of(session, take)["f0_hz"]) == 537


def test_a_verdict_comes_back_rule_by_rule(database: Database) -> None:
    take_id = save(database)
    verdict = judge(MEASURES, 4.0, DEFAULT_LIMITS[GateLevel.NORMAL])
    with database.session() as session:
        take = session.get_one(Take, take_id)
        assert verdict_of(take) == verdict
        assert take.gate_passed == verdict.passed is True


def test_the_same_stretch_of_a_session_is_kept_once(database: Database) -> None:
    assert save(database) == save(database)


def test_a_session_is_judged_up_to_the_end_of_its_last_take(database: Database) -> None:
    save(database, first=102)
    save(database, first=1200)
    save(database, number=1, first=9000)
    with database.session() as session:
        # 537 frames each.
        assert judged_until(session, "0" * 32) == 1200 + 537
        assert judged_until(session, "f" * 32) == 0


def test_the_tone_is_learnt_from_what_passed_as_the_player_says(database: Database) -> None:
    off = replace(MEASURES, centre_cents=40.0)
    ids = [save(database, MEASURES if n in (0, 1, 4) else off, n) for n in range(5)]
    with database.session() as session:
        takes = [session.get_one(Take, one) for one in ids]
        assert [take.passed for take in takes] == [True, True, False, False, True]
        takes[1].overruled_passed = False
        takes[2].overruled_passed = True
        session.flush()
        assert [take.passed for take in takes] == [True, False, True, False, True]
        assert [take.id for take in passed_before(session, takes[4])] == [ids[2], ids[0]]
        assert judged(session, takes[4]).told.take is takes[4]


def test_the_stand_ins_takes_are_not_the_players_own(database: Database) -> None:
    loud = replace(MEASURES, level_db=-15.0)
    save(database, loud, 0)
    save(database, MEASURES, 1)
    save(database, replace(MEASURES, level_db=-40.0), 2, source="stand-in")
    with database.session() as session:
        maren = session.get_one(Player, 1)
        assert [tone.level_db for tone in passed_tones(session, maren, "microphone")] == [
            -21.5,
            -15.0,
        ]
        assert [tone.level_db for tone in passed_tones(session, maren, "stand-in")] == [-40.0]


def test_a_deleted_take_teaches_nothing(database: Database) -> None:
    ids = [save(database, number=n) for n in range(3)]
    with database.session() as session:
        takes = [session.get_one(Take, one) for one in ids]
        takes[0].deleted_at = NOW
        session.flush()
        assert [take.id for take in passed_before(session, takes[2])] == [ids[1]]
        assert find_kept(session, Take, ids[0]) is None
