"""The record: the file, its migrations, players, takes and the spool."""

import errno
import os
import sqlite3
import time
from datetime import UTC, datetime, timedelta
from pathlib import Path

import pytest
from alembic.autogenerate import compare_metadata
from alembic.migration import MigrationContext
from sqlalchemy.exc import IntegrityError

from orexis.core.horn.notation import Clef, NoteView
from orexis.demo.scenario import fill
from orexis.formats.task import verdict_of
from orexis.store.database import Database, DatabaseUnusableError
from orexis.store.kept import (
    delete_kept,
    find_kept,
    frames_of,
    newest_kept,
    purge_deleted,
    restore_kept,
    sound_of,
)
from orexis.store.models import Base, Take, TakeFrames, TakeSound
from orexis.store.players import PlayerDetails, PlayerRefusedError, add_player, all_players
from orexis.store.spool import Spool, SpoolUnreadableError
from orexis.store.takes import measures_of

MAREN = PlayerDetails("Maren", "tenor-horn-eb", NoteView.WRITTEN, Clef.TREBLE)


@pytest.fixture
def database(tmp_path: Path) -> Database:
    return Database(tmp_path / "orexis.db")


def test_the_migrations_make_exactly_the_tables_of_the_models(database: Database) -> None:
    with database.engine.connect() as connection:
        context = MigrationContext.configure(connection)
        assert compare_metadata(context, Base.metadata) == []


def test_the_file_is_in_wal_mode_with_foreign_keys(database: Database) -> None:
    with database.engine.connect() as connection:
        assert connection.exec_driver_sql("PRAGMA journal_mode").scalar() == "wal"
        assert connection.exec_driver_sql("PRAGMA foreign_keys").scalar() == 1
    with pytest.raises(IntegrityError), database.session() as session:
        session.add(TakeSound(take_id="none", flac=b""))


def test_opening_again_keeps_what_is_there(tmp_path: Path, database: Database) -> None:
    with database.session() as session:
        add_player(session, MAREN)
    database.close()
    with Database(tmp_path / "orexis.db").session() as session:
        assert [player.name for player in all_players(session)] == ["Maren"]


def test_a_file_that_is_no_database_is_refused_in_words(tmp_path: Path) -> None:
    (tmp_path / "x.db").write_bytes(b"not a database at all, sorry" * 100)
    with pytest.raises(DatabaseUnusableError, match="Check that it is an Orexis file"):
        Database(tmp_path / "x.db")


@pytest.mark.parametrize(
    ("details", "message"),
    [
        (PlayerDetails("  ", "cornet-bb", NoteView.WRITTEN, Clef.TREBLE), "name"),
        (PlayerDetails("x" * 61, "cornet-bb", NoteView.WRITTEN, Clef.TREBLE), "60 letters"),
        (PlayerDetails("A", "kazoo", NoteView.WRITTEN, Clef.TREBLE), "instruments"),
        (PlayerDetails("A", "cornet-bb", NoteView.WRITTEN, Clef.BASS), "another clef"),
        (PlayerDetails("A", "cornet-bb", NoteView.WRITTEN, Clef.TREBLE, 400.0), "415 and 466"),
    ],
)
def test_a_player_that_cannot_be_is_refused_with_what_to_change(
    database: Database, details: PlayerDetails, message: str
) -> None:
    with database.session() as session, pytest.raises(PlayerRefusedError, match=message):
        add_player(session, details)
    with database.session() as session:
        assert all_players(session) == []


@pytest.fixture
def played(newcomer_copy: Path) -> Database:
    """What the demo's newcomer has played."""
    return Database(newcomer_copy)


@pytest.mark.deep
def test_the_demo_band_is_made_once(band_copy: Path) -> None:
    band = Database(band_copy)
    with band.session() as session:
        assert not fill(session, datetime.now().astimezone())
        assert [player.name for player in all_players(session)] == ["Maren", "Jory", "Pia", "Osk"]


def test_demo_takes_are_uneven_and_come_with_sound_and_frames(played: Database) -> None:
    with played.session() as session:
        for player in all_players(session):
            takes = newest_kept(session, Take, player.id, 100)
            assert len(takes) >= 10
            assert {take.passed for take in takes} == {True, False}
            assert takes == sorted(takes, key=lambda take: take.started_at, reverse=True)
            assert all(take.started_at <= datetime.now(UTC) for take in takes)
            newest = takes[0]
            flac, frames = sound_of(session, newest), frames_of(session, newest)
            assert flac is not None
            assert flac[:4] == b"fLaC"
            assert frames is not None
            assert len(frames["f0_hz"]) == round(100 * newest.duration_s)


def test_what_was_judged_is_what_is_read_back(played: Database) -> None:
    with played.session() as session:
        for take in newest_kept(session, Take, 1, 100):
            verdict = verdict_of(take.verdict)
            assert verdict.passed == take.judged_passed
            measured = [measures_of(row) for row in take.notes if row.spoke]
            centres = [note.centre_cents for note in measured if note is not None]
            centred = [
                result for result in verdict.results if result.aim == "centre" and not result.untold
            ]
            for centre in centred:
                assert abs(centre.measured) == max(map(abs, centres))


def test_a_page_of_takes_goes_on_where_the_last_one_ended(played: Database) -> None:
    with played.session() as session:
        every = [take.id for take in newest_kept(session, Take, 1, 100)]
        first = newest_kept(session, Take, 1, 4)
        rest = newest_kept(session, Take, 1, 96, before=first[-1].started_at)
        assert [take.id for take in first + rest] == every


def test_a_deleted_take_is_gone_until_it_is_brought_back_or_purged(played: Database) -> None:
    now = datetime.now(UTC)
    with played.session() as session:
        take_id = newest_kept(session, Take, 1, 1)[0].id
        take = find_kept(session, Take, take_id)
        assert take is not None
        delete_kept(take)
    with played.session() as session:
        assert find_kept(session, Take, take_id) is None
        purge_deleted(session, now + timedelta(days=6))
        assert restore_kept(session, Take, take_id) is not None
    with played.session() as session:
        take = find_kept(session, Take, take_id)
        assert take is not None
        delete_kept(take)
    with played.session() as session:
        purge_deleted(session, now + timedelta(days=8))
        assert restore_kept(session, Take, take_id) is None
        assert session.get(Take, take_id) is None
        assert session.get(TakeFrames, take_id) is None


SESSION = "0123456789abcdef" * 2
HELLO = {"sample_rate": 1000}


def spool(tmp_path: Path, oldest: int = 0) -> Spool:
    return Spool.take_up(tmp_path, SESSION, HELLO, oldest)


def pcm(first: int, count: int) -> bytes:
    return b"".join(n.to_bytes(2, "little") for n in range(first, first + count))


def test_what_was_appended_is_there_after_the_process_is_gone(tmp_path: Path) -> None:
    first = spool(tmp_path)
    first.append(pcm(0, 700))
    # No close: a killed process does not close either.
    again = spool(tmp_path)
    assert again.end_sample == 700
    assert again.read(0) == pcm(0, 700)
    # Frame 10 of 10 ms at 1000 Hz is sample 100.
    assert again.read(10, 20) == pcm(100, 100)


def test_half_a_sample_left_by_a_kill_is_dropped(tmp_path: Path) -> None:
    first = spool(tmp_path)
    first.append(pcm(0, 5))
    with (tmp_path / f"{SESSION}.spool").open("ab") as file:
        file.write(b"\x07")
    again = spool(tmp_path)
    assert again.end_sample == 5
    again.append(pcm(5, 1))
    assert again.read(0) == pcm(0, 6)


def test_old_sound_is_forgotten_by_whole_seconds(tmp_path: Path) -> None:
    kept = spool(tmp_path)
    kept.append(pcm(0, 9000))
    kept.forget_before(450)
    assert kept.first_frame == 0  # four seconds are not worth it
    kept.forget_before(777)
    assert kept.first_frame == 700
    assert kept.end_sample == 9000
    assert kept.read(700) == pcm(7000, 2000)
    kept.append(pcm(9000, 10))
    assert spool(tmp_path).read(895) == pcm(8950, 60)


@pytest.mark.parametrize(
    ("rate", "oldest", "starts"), [(1000, 1536, 1540), (44_100, 512 * 7, 3969), (22_050, 512, 662)]
)
def test_a_lost_spool_starts_at_the_next_whole_frame(
    tmp_path: Path, rate: int, oldest: int, starts: int
) -> None:
    # 10 ms are 441 samples at 44.1 kHz: frame 9 stands on 3969; 220.5 at 22.05 kHz: frame 3.
    hello = {"sample_rate": rate}
    assert Spool.take_up(tmp_path, SESSION, hello, oldest).end_sample == starts


def test_a_full_disk_keeps_nothing_half(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    kept = spool(tmp_path)
    kept.append(pcm(0, 100))

    class Full:
        def __init__(self, file: object) -> None:
            self._file = file

        def write(self, content: bytes) -> int:
            self._file.write(content[:7])  # type: ignore[attr-defined]
            raise OSError(errno.ENOSPC, os.strerror(errno.ENOSPC))

        def __getattr__(self, name: str) -> object:
            return getattr(self._file, name)

    monkeypatch.setattr(kept, "_file", Full(kept._file))
    with pytest.raises(OSError, match="No space"):
        kept.append(pcm(100, 100))
    assert spool(tmp_path).read(0) == pcm(0, 100)


def test_only_idle_spools_are_left_behind(tmp_path: Path) -> None:
    spool(tmp_path).close()
    assert Spool.left_behind(tmp_path, 60) == []
    for off_s in (-100, 24 * 3600):
        # A file of tomorrow was written by a clock that has been set back since.
        at = time.time() + off_s
        os.utime(tmp_path / f"{SESSION}.spool", (at, at))
        assert Spool.left_behind(tmp_path, 60) == [SESSION]


def test_a_file_that_is_no_sessions_is_set_aside(tmp_path: Path) -> None:
    (tmp_path / "broken.spool").write_bytes(b"{")
    assert Spool.left_behind(tmp_path, 0) == []
    assert (tmp_path / "broken.unreadable").read_bytes() == b"{"


@pytest.mark.parametrize(
    "content",
    [
        b"",
        b"{",
        b"[" * 30_000,
        b"\xff\n",
        b"null\n",
        b'{"hello": {}, "first_frame": 0}\n',
        b'{"hello": {"sample_rate": "x"}, "first_frame": 0}\n',
        b'{"hello": {"sample_rate": 48000}, "first_frame": -5}\n',
    ],
)
def test_a_spool_that_makes_no_sense_is_set_aside_whole(tmp_path: Path, content: bytes) -> None:
    (tmp_path / f"{SESSION}.spool").write_bytes(content)
    with pytest.raises(SpoolUnreadableError):
        Spool.open(tmp_path, SESSION)
    assert (tmp_path / f"{SESSION}.unreadable").read_bytes() == content
    with pytest.raises(FileNotFoundError):
        Spool.open(tmp_path, SESSION)


@pytest.mark.parametrize("session_id", ["../../etc/passwd", "ABC", "", "0" * 33])
def test_a_session_id_that_is_no_id_makes_no_file(tmp_path: Path, session_id: str) -> None:
    with pytest.raises(ValueError, match="32 hexadecimal"):
        Spool.take_up(tmp_path / "in", session_id, HELLO)
    assert not (tmp_path / "in").exists()


def test_the_data_file_is_plain_sqlite(played: Database) -> None:
    with sqlite3.connect(played.path) as connection:
        assert connection.execute("SELECT count(*) FROM takes").fetchone()[0] > 40
