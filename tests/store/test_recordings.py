"""Recordings and bookmarks in the file, and what a file from before them becomes."""

from datetime import UTC, datetime, timedelta
from pathlib import Path

import pytest

from orexis.core.horn.notation import Clef, NoteView
from orexis.store.bookmarks import BookmarkRefusedError, add_bookmark, bookmarks_of, find_bookmark
from orexis.store.database import Database
from orexis.store.kept import (
    delete_kept,
    document_of,
    find_kept,
    newest_kept,
    purge_deleted,
    restore_kept,
    sound_of,
)
from orexis.store.models import Bookmark, Player, Recording, RecordingContent
from orexis.store.packed import pack, unpack
from orexis.store.players import PlayerDetails, add_player
from orexis.store.recordings import AnalysedSound, save_recording

NOW = datetime(2026, 5, 4, 18, tzinfo=UTC)
DOCUMENT = {
    "take": {"duration_s": 12.5, "sample_rate": 44_100, "clipped": True},
    "frames": {"f0_hz": [None, 233.1]},
    "notes": [{"midi": 58}, {"midi": 60}],
}


@pytest.fixture
def database(tmp_path: Path) -> Database:
    database = Database(tmp_path / "orexis.db")
    with database.session() as session:
        add_player(session, PlayerDetails("Maren", "cornet-bb", NoteView.WRITTEN, Clef.TREBLE))
        add_player(session, PlayerDetails("Osk", "trombone-bass", NoteView.SOUNDING, Clef.BASS))
    return database


def save(database: Database, player_id: int = 1, at: datetime = NOW, name: str = "a.wav") -> str:
    with database.session() as session:
        player = session.get_one(Player, player_id)
        return save_recording(session, player, AnalysedSound(name, b"fLaC", DOCUMENT), at).id


def test_a_recording_is_kept_with_its_sound_and_document(database: Database) -> None:
    recording_id = save(database)
    with database.session() as session:
        kept = find_kept(session, Recording, recording_id)
        assert kept is not None
        assert (kept.instrument_key, kept.note_count, kept.clipped) == ("cornet-bb", 2, True)
        assert (kept.duration_s, kept.sample_rate, kept.started_at) == (12.5, 44_100, NOW)
        assert sound_of(session, kept) == b"fLaC"
        assert document_of(session, kept) == DOCUMENT


def test_each_player_has_their_own_newest_first(database: Database) -> None:
    for hour, name in ((0, "one"), (2, "three"), (1, "two")):
        save(database, at=NOW + timedelta(hours=hour), name=name)
    save(database, player_id=2, name="another's")
    with database.session() as session:
        assert [recording.name for recording in newest_kept(session, Recording, 1, 9)] == [
            "three",
            "two",
            "one",
        ]
        assert [recording.name for recording in newest_kept(session, Recording, 1, 2)] == [
            "three",
            "two",
        ]
        assert [recording.name for recording in newest_kept(session, Recording, 2, 9)] == [
            "another's"
        ]


def test_a_long_name_is_cut(database: Database) -> None:
    recording_id = save(database, name="x" * 500)
    with database.session() as session:
        kept = find_kept(session, Recording, recording_id)
        assert kept is not None
        assert len(kept.name) == 120


def test_a_deleted_recording_comes_back_for_seven_days(database: Database) -> None:
    recording_id = save(database)
    with database.session() as session:
        kept = find_kept(session, Recording, recording_id)
        assert kept is not None
        delete_kept(kept)
    with database.session() as session:
        assert find_kept(session, Recording, recording_id) is None
        assert newest_kept(session, Recording, 1, 9) == []
        purge_deleted(session, datetime.now(UTC) + timedelta(days=6))
        assert restore_kept(session, Recording, recording_id) is not None
    with database.session() as session:
        kept = find_kept(session, Recording, recording_id)
        assert kept is not None
        add_bookmark(session, kept, 1.0, "here")
        delete_kept(kept)
    with database.session() as session:
        purge_deleted(session, datetime.now(UTC) + timedelta(days=8))
        assert restore_kept(session, Recording, recording_id) is None
        # Its sound and its bookmarks go with it.
        assert session.get(RecordingContent, recording_id) is None
        assert session.query(Bookmark).count() == 0


def test_bookmarks_stand_in_the_order_of_time_with_their_words_tidied(database: Database) -> None:
    recording_id, other_id = save(database), save(database, player_id=2)
    with database.session() as session:
        recording = session.get_one(Recording, recording_id)
        late = add_bookmark(session, recording, 9.0, "  the   end ")
        add_bookmark(session, recording, 2.5, "")
        assert [
            (bookmark.at_s, bookmark.words) for bookmark in bookmarks_of(session, recording)
        ] == [
            (2.5, ""),
            (9.0, "the end"),
        ]
        assert find_bookmark(session, recording, late.id) is late
        assert find_bookmark(session, session.get_one(Recording, other_id), late.id) is None


@pytest.mark.parametrize(
    ("at_s", "words", "told"),
    [(-0.1, "", "between 0"), (12.6, "", "12.5 s"), (1.0, "x" * 121, "120 letters")],
)
def test_a_bookmark_that_cannot_be_is_refused(
    database: Database, at_s: float, words: str, told: str
) -> None:
    recording_id = save(database)
    with database.session() as session:
        recording = session.get_one(Recording, recording_id)
        with pytest.raises(BookmarkRefusedError, match=told):
            add_bookmark(session, recording, at_s, words)
        assert bookmarks_of(session, recording) == []


def test_documents_go_round() -> None:
    assert unpack(pack(DOCUMENT)) == DOCUMENT
    assert len(pack({"frames": [None] * 10_000})) < 1000
