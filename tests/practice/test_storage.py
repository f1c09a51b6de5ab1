"""What takes the room and what may be let go: sizes and ages counted by hand."""

from collections.abc import Iterator
from datetime import UTC, date, datetime, timedelta
from pathlib import Path

import pytest

from orexis.core.horn.notation import Clef, NoteView
from orexis.practice.storage import AGES, AgeRefusedError, let_old_sound_go, storage_of
from orexis.store.bookmarks import add_bookmark
from orexis.store.copies import keep_days_copy
from orexis.store.database import Database
from orexis.store.models import TakeSound
from orexis.store.players import PlayerDetails, add_player
from tests.store.test_history import keep

NOW = datetime(2026, 11, 27, 18, tzinfo=UTC)
KEPT = {20: 1000, 40: 2000, 100: 4000, 200: 8000, 400: 16_000}
"""Bytes of sound by how many days old it is."""


@pytest.fixture
def database(tmp_path: Path) -> Iterator[Database]:
    database = Database(tmp_path / "orexis.db")
    with database.session() as session:
        add_player(session, PlayerDetails("Maren", "tenor-horn-eb", NoteView.WRITTEN, Clef.TREBLE))
        for days, size in KEPT.items():
            take = keep(session, 0, 58, started_at=NOW - timedelta(days=days))
            session.flush()
            session.add(TakeSound(take_id=take.id, flac=bytes(size)))
            if days == 400:
                add_bookmark(session, take, 1.0, "as clean as this")
    yield database
    database.close()


def sound(database: Database) -> int:
    parts = {part.name: part.size for part in storage_of(database, NOW).parts}
    return parts["the sound of takes"]


def test_sound_is_counted_by_its_age_and_what_is_bookmarked_is_none_to_let_go(
    database: Database,
) -> None:
    storage = storage_of(database, NOW)
    assert [(old_sound.days, old_sound.takes, old_sound.size) for old_sound in storage.old] == [
        (30, 3, 14_000),
        (91, 2, 12_000),
        (182, 1, 8000),
        (365, 0, 0),
    ]
    assert [old_sound.words for old_sound in storage.old] == list(AGES.values())
    assert sound(database) == 31_000
    assert sum(part.size for part in storage.parts) == storage.size


def test_what_is_older_goes_and_the_rest_stays(database: Database) -> None:
    let_old_sound_go(database, 91, NOW)
    assert sound(database) == 1000 + 2000 + 16_000
    let_old_sound_go(database, 91, NOW)
    assert sound(database) == 1000 + 2000 + 16_000
    let_old_sound_go(database, 30, NOW)
    assert sound(database) == 1000 + 16_000
    with pytest.raises(AgeRefusedError, match="30, 91, 182, 365"):
        let_old_sound_go(database, 7, NOW)
    assert sound(database) == 1000 + 16_000


def test_copies_are_named_with_where_they_lie(database: Database) -> None:
    assert storage_of(database, NOW).copies == ()
    copy = keep_days_copy(database.path, date(2026, 11, 27))
    storage = storage_of(database, NOW)
    assert storage.copies_folder == str(copy.parent)
    assert [(copy.name, copy.size) for copy in storage.copies] == [(copy.name, copy.stat().st_size)]
