"""A take in the file: every measure comes back as itself, and what passed counts as it stands."""

import json
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from pathlib import Path

import numpy as np
import pytest
from sqlalchemy.orm import Session

from orexis.core.exercises.book import FAMILIES
from orexis.core.exercises.family import ExerciseRefusedError
from orexis.core.exercises.task import Task
from orexis.core.horn.instruments import INSTRUMENTS
from orexis.core.horn.notation import Clef, NoteView
from orexis.core.horn.setup import Horn, Setup
from orexis.core.judging.attempts import judge
from orexis.core.judging.matching import lay_beside
from orexis.core.judging.standard import Standard
from orexis.core.listening.notes.events import Change, Events, Note, Transition
from orexis.core.listening.notes.measures import NoteMeasures, Shape, Vibrato
from orexis.core.listening.tracking.frames import Frames
from orexis.core.session.stand import Attempt
from orexis.formats.task import task_document, task_of, verdict_of
from orexis.practice.takes import judged, keep_attempt, newest_takes, take_page
from orexis.store.database import Database
from orexis.store.horns import tendencies
from orexis.store.kept import find_kept, frames_of
from orexis.store.models import Player, Take
from orexis.store.players import PlayerDetails, add_player
from orexis.store.takes import (
    Circumstances,
    alike,
    highest_passed,
    judged_until,
    measures_of,
    note_of,
    passed_tones,
    tone_of,
)
from tests.core.exercises.writing import task

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
    response_s=0.0375,
    in_slot=(0.5, 0.75, 0.875),
    wobble_cents=3.125,
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
HORN = Horn(INSTRUMENTS["tenor-horn-eb"], Setup(a4_hz=441))
TONE = task("long-tone", "tenor-horn-eb", from_midi="Bb3", hold_s=4)
# B♭3 E♭4 B♭3 slurred.
SLUR = task("lip-slur", "tenor-horn-eb", times=1)


FINE = replace(MEASURES, scoop_cents=-5.0)
SLURRED = Transition(Change.SLUR, 0, 0.04, 0, (), 0, 0, 0, 0)


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
    cracked = 51 if measures is MEASURES else None
    note = replace(NOTE, measures=measures, first=50, last=487, cracked_from_midi=cracked)
    return keep(database, TONE, Events((note,)), number, first, source)


def keep(
    database: Database,
    asked: Task,
    events: Events,
    number: int = 0,
    first: int = 102,
    source: str = "microphone",
) -> str:
    """Keeps what was heard of a task as a take of session `number`."""
    frames = Frames(
        first,
        np.linspace(230, 240, 537),
        np.linspace(-30, -20, 537),
        np.linspace(10, 30, 537),
        np.linspace(2, 5, 537),
    )
    seen = lay_beside(asked, events, HORN)
    attempt = Attempt(frames, events, seen.answers, judge(seen, Standard.NORMAL))
    with database.session() as session:
        circumstances = Circumstances(
            session.get_one(Player, 1),
            f"{number:032x}",
            NOW + timedelta(days=number),
            source,
            "normal",
            44_100,
            HORN,
        )
        pcm = (b"\x01\x00" * 441) * 537
        return keep_attempt(session, attempt, asked, circumstances, pcm).id


def test_every_measure_comes_back_as_itself(database: Database) -> None:
    take_id = save(database)
    with database.session() as session:
        take = session.get_one(Take, take_id)
        (row,) = take.notes
        assert measures_of(row) == MEASURES
        tone = tone_of(take)
        assert tone is not None
        assert (tone.midi, tone.level_db, tone.harmonicity_db) == (58, -21.5, 31.5)
        assert (tone.brightness, tone.centre_cents, tone.spread_cents) == (4.25, 1.25, 2.5)
        note = note_of(row, take.a4_hz)
        assert note is not None
        assert (note.midi, note.cracked_from_midi, note.brightness) == (58, 51, 4.25)
        assert (note.first, note.last, note.measures) == (50, 487, MEASURES)
        assert (row.start_s, row.end_s) == (0.5, 4.87)
        assert (row.asked_midi, row.played_midi, row.spoke, row.step) == (58, 58, True, 0)
        assert (row.length_name, row.partial, row.on) == ("0", 3, "horn")
        assert (take.first_frame, take.duration_s, take.sample_rate) == (102, 5.37, 44_100)
        assert (take.exercise_key, take.a4_hz) == ("long-tone", 441)
        assert (take.started_at, take.source, take.standard) == (NOW, "microphone", "normal")
        assert take.instrument_key == "tenor-horn-eb"
        frames = frames_of(session, take)
        assert frames is not None
        assert len(frames["f0_hz"]) == 537


def test_a_task_and_its_verdict_come_back_whole(database: Database) -> None:
    heard = Events((replace(NOTE, first=50, last=487),))
    verdict = judge(lay_beside(TONE, heard, HORN), Standard.NORMAL)
    take_id = save(database)
    with database.session() as session:
        take = session.get_one(Take, take_id)
        assert task_of(take.task) == TONE
        assert verdict_of(take.verdict) == verdict
        # It begins on a wrong slot.
        assert take.judged_passed == verdict.passed is False


@pytest.mark.parametrize("family", FAMILIES)
def test_the_task_of_every_family_comes_back_whole(family: str) -> None:
    try:
        asked = task(family, "trombone-bass")
    except ExerciseRefusedError:
        asked = task(family, "tenor-horn-eb")
    assert task_of(json.loads(json.dumps(task_document(asked)))) == asked


def played(midi: int, first: int, cents: float = 0.0) -> Note:
    measures = replace(MEASURES, centre_cents=cents)
    return replace(
        NOTE, first=first, last=first + 120, midi=midi, measures=measures, cracked_from_midi=None
    )


def test_every_note_that_was_asked_for_is_a_row_spoken_or_not(database: Database) -> None:
    heard = Events((played(58, 50, 4.0), played(62, 200), played(58, 350)), (SLURRED, SLURRED))
    take_id = keep(database, SLUR, heard)
    with database.session() as session:
        take = session.get_one(Take, take_id)
        rows = [(row.asked_midi, row.spoke, row.played_midi, row.step) for row in take.notes]
        assert rows == [(58, True, 58, 0), (63, False, 62, 1), (58, True, 58, 2)]
        assert take.notes[0].centre_cents == 4
        # D4 lies 100 cents under the E♭4 that was asked for.
        assert take.notes[1].centre_cents == -100
        page = take_page(session, take)
        assert [bool(note.lines) for note in page.notes] == [True, True, True]
        assert page.judged.told.said.headline == "You played B4 instead of C5."
        silent = keep(database, SLUR, Events((played(58, 50),)), number=1)
        missed = session.get_one(Take, silent).notes[1]
        assert (missed.played_midi, measures_of(missed), note_of(missed, 440)) == (None, None, None)


def test_notes_teach_the_horns_tendencies_by_length_and_the_reach(database: Database) -> None:
    heard = Events(
        (played(58, 50, 6.0), played(63, 200, -8.0), played(58, 350, 6.0)), (SLURRED, SLURRED)
    )
    first = keep(database, SLUR, heard)
    with database.session() as session:
        maren = session.get_one(Player, 1)
        found = tendencies(session, maren)
        assert {place: tendency.cents for place, tendency in found.items()} == {
            ("0", 58): 6,
            ("0", 63): -8,
        }
        assert found["0", 58].takes == 2
        assert session.get_one(Take, first).passed is False or highest_passed(session, maren) == 63


def test_takes_of_the_same_notes_are_alike_and_others_are_not(database: Database) -> None:
    heard = Events((played(58, 50), played(63, 200), played(58, 350)), (SLURRED, SLURRED))
    same = [keep(database, SLUR, heard, number) for number in (0, 1)]
    wider = task("lip-slur", "tenor-horn-eb", slots=3, times=1)
    keep(database, wider, heard, 2)
    save(database, number=3)
    with database.session() as session:
        assert [take.id for take in alike(session, session.get_one(Take, same[1]))] == same


def test_deleted_takes_are_not_listed(database: Database) -> None:
    ids = [save(database, FINE, first=first) for first in (102, 1000, 2000)]
    with database.session() as session:
        session.get_one(Take, ids[2]).deleted_at = NOW
        session.flush()
        assert len(newest_takes(session, 1, 10)) == 2


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


def levels(session: Session, take: Take | None = None, source: str = "microphone") -> list[float]:
    """The levels of what has passed (before a take), newest first."""
    maren = session.get_one(Player, 1)
    return [tone.level_db for tone in passed_tones(session, maren, source, take)]


def test_the_tone_is_learnt_from_what_passed_as_the_player_says(database: Database) -> None:
    off = replace(FINE, centre_cents=40.0)
    attempts = [FINE if n in (0, 1, 4) else off for n in range(5)]
    ids = [save(database, replace(note, level_db=-20.0 - n), n) for n, note in enumerate(attempts)]
    with database.session() as session:
        takes = [session.get_one(Take, one) for one in ids]
        assert [take.passed for take in takes] == [True, True, False, False, True]
        takes[1].overruled_passed = False
        takes[2].overruled_passed = True
        session.flush()
        assert [take.passed for take in takes] == [True, False, True, False, True]
        assert levels(session, takes[4]) == [-22, -20]
        assert judged(session, takes[4]).told.take is takes[4]


def test_the_stand_ins_takes_are_not_the_players_own(database: Database) -> None:
    save(database, replace(FINE, level_db=-15.0), 0)
    save(database, FINE, 1)
    save(database, replace(FINE, level_db=-40.0), 2, source="stand-in")
    with database.session() as session:
        assert levels(session) == [-21.5, -15.0]
        assert levels(session, source="stand-in") == [-40.0]


def test_a_deleted_take_teaches_nothing(database: Database) -> None:
    ids = [save(database, replace(FINE, level_db=-20.0 - n), n) for n in range(3)]
    with database.session() as session:
        takes = [session.get_one(Take, one) for one in ids]
        takes[0].deleted_at = NOW
        session.flush()
        assert levels(session, takes[2]) == [-21]
        assert find_kept(session, Take, ids[0]) is None


def test_advice_that_did_not_help_twice_is_not_given_a_third_time(database: Database) -> None:
    flat = replace(FINE, centre_cents=-40.0)
    ids = [save(database, flat, 0, first) for first in (102, 702, 1302)]
    other = save(database, flat, 1)
    with database.session() as session:
        said = [
            judged(session, find_kept(session, Take, kept_id)).told.said  # type: ignore[arg-type]
            for kept_id in (*ids, other)
        ]
    assert len({one.headline for one in said}) == 1
    assert said[0].change == said[1].change
    # The exercise's own way out; in the next session one begins anew.
    assert said[2].change == FAMILIES["long-tone"].words.remedy != said[0].change
    assert said[3].change == said[0].change
