"""Copies of a data file: whole or not at all, kept by themselves, put back."""

import os
import sqlite3
import subprocess
import sys
from contextlib import closing
from datetime import date, datetime, timedelta
from pathlib import Path

import pytest

from orexis.core.horn.notation import Clef, NoteView
from orexis.practice.safekeeping import contents_of, restore
from orexis.store import database
from orexis.store.copies import (
    CopyRefusedError,
    copies_of,
    copy_to,
    keep_copy,
    keep_days_copy,
)
from orexis.store.database import Database, DatabaseUnusableError, _engine, upgrade
from orexis.store.players import PlayerDetails, add_player
from tests.store.test_older_files import VERSIONS, older

NOW = datetime(2026, 11, 27, 9, 30)


def add(data: Database, name: str) -> None:
    with data.session() as session:
        add_player(session, PlayerDetails(name, "tenor-horn-eb", NoteView.WRITTEN, Clef.TREBLE))


@pytest.fixture
def data(tmp_path: Path) -> Path:
    """A data file with Maren in it."""
    made = Database(tmp_path / "orexis.db")
    add(made, "Maren")
    made.close()
    return made.path


def names(path: Path) -> tuple[str, ...]:
    return contents_of(path).players


def test_a_copy_made_while_it_is_written_to_holds_what_was_kept_by_then(
    data: Path, tmp_path: Path
) -> None:
    open_one = Database(data)
    with open_one.session() as session:
        add_player(session, PlayerDetails("Pia", "cornet-bb", NoteView.WRITTEN, Clef.TREBLE))
        session.flush()
        # Pia is being written; Maren has been.
        copy_to(data, tmp_path / "copy.db")
    assert names(tmp_path / "copy.db") == ("Maren",)
    copy_to(data, tmp_path / "later.db")
    assert names(tmp_path / "later.db") == ("Maren", "Pia")
    open_one.close()
    # One file that holds all of it, with nothing beside it.
    assert sorted(path.name for path in tmp_path.glob("later*")) == ["later.db"]


def test_a_copy_takes_no_other_files_place(data: Path, tmp_path: Path) -> None:
    (tmp_path / "letter.txt").write_text("dear teacher")
    with pytest.raises(CopyRefusedError, match="there already"):
        copy_to(data, tmp_path / "letter.txt")
    assert (tmp_path / "letter.txt").read_text() == "dear teacher"


def test_a_copy_that_was_cut_short_is_not_there(
    data: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    def full(number: int) -> None:
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(os, "fsync", full)
    with pytest.raises(CopyRefusedError, match="No space left on device"):
        copy_to(data, tmp_path / "copy.db")
    assert not list(tmp_path.glob("*copy*"))


def test_a_backup_that_is_killed_leaves_no_file_under_its_name(data: Path, tmp_path: Path) -> None:
    killed = (
        "import os, signal, sys; from pathlib import Path; from orexis.store import copies\n"
        "os.fsync = lambda number: os.kill(os.getpid(), signal.SIGKILL)\n"
        "copies.copy_to(Path(sys.argv[1]), Path(sys.argv[2]))"
    )
    to = tmp_path / "copy.db"
    ended = subprocess.run([sys.executable, "-c", killed, str(data), str(to)], check=False)
    assert ended.returncode == -9
    assert not to.exists()
    # What it left lies in nobody's way.
    copy_to(data, to)
    assert names(to) == ("Maren",)
    assert not list(tmp_path.glob("*.part"))


def test_a_day_has_one_copy_and_seven_are_kept(data: Path) -> None:
    first = date(2026, 11, 1)
    for number in range(9):
        kept = keep_days_copy(data, first + timedelta(days=number))
        os.utime(kept, (number * 86_400.0, number * 86_400.0))
    keep_days_copy(data, first + timedelta(days=8))
    assert [path.name for path in copies_of(data)] == [
        f"orexis 2026-11-{day:02}.db" for day in range(9, 2, -1)
    ]
    before = kept.read_bytes()
    again = Database(data)
    add(again, "Jory")
    again.close()
    assert keep_days_copy(data, first + timedelta(days=8)).read_bytes() == before


def test_copies_dated_ahead_take_no_days_place_and_others_stay(data: Path) -> None:
    # A clock that was a year ahead for a week, and a copy from before a migration.
    before = keep_copy(data, "2026-11-01 080000 before version 0010")
    letter = before.with_name("letter.db")
    letter.write_bytes(b"not ours")
    ahead = [keep_copy(data, f"2999-11-{day:02}") for day in range(1, 8)]
    days = [keep_copy(data, f"2026-01-{day:02}") for day in range(2, 12)]
    # All of them were made today, whatever day they are of: nothing of today is thrown away.
    today = keep_days_copy(data, date.today())
    assert all(path.exists() for path in (before, letter, today, *days))
    for number, path in enumerate(days):
        os.utime(path, (number * 86_400.0, number * 86_400.0))
    keep_days_copy(data, date.today())
    assert [path.exists() for path in days] == [False] * 4 + [True] * 6
    assert all(path.exists() for path in (before, letter, today, *ahead))


@pytest.mark.parametrize("version", VERSIONS)
def test_a_file_is_copied_before_it_is_brought_up_to_date(tmp_path: Path, version: str) -> None:
    path = older(tmp_path / "old.db", version)
    Database(path).close()
    (copy,) = copies_of(path)
    with closing(sqlite3.connect(copy)) as file:
        assert file.execute("SELECT version_num FROM alembic_version").fetchall() == [(version,)]
    # Opened again, it is up to date: nothing is copied.
    Database(path).close()
    assert copies_of(path) == [copy]


def test_without_room_for_the_copy_it_is_not_brought_up_to_date(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    path = older(tmp_path / "old.db", "0004")

    def full(path: Path, why: str) -> Path:
        raise CopyRefusedError("There is no room.")

    monkeypatch.setattr(database, "keep_copy", full)
    with pytest.raises(DatabaseUnusableError, match="There is no room"):
        Database(path)
    with closing(sqlite3.connect(path)) as file:
        assert file.execute("SELECT version_num FROM alembic_version").fetchall() == [("0004",)]


@pytest.mark.one_in(4)
@pytest.mark.parametrize("version", sorted(database._revisions())[:-1])
def test_a_copy_of_every_older_version_is_put_back_and_brought_up_to_date(
    data: Path, tmp_path: Path, version: str
) -> None:
    copy = tmp_path / "copy.db"
    engine = _engine(copy)
    upgrade(engine, version)
    engine.dispose()
    standard = "standard" if version >= "0019" else "gate_level"
    with closing(sqlite3.connect(copy)) as file, file:
        file.execute(
            f"INSERT INTO players (id, name, instrument_key, view, clef, a4_hz, {standard}, "
            "created_at) VALUES (1, 'Osk', 'trombone-bass', 'sounding', 'bass', 440, 'normal', "
            "'2026-01-01')"
        )
    replaced = restore(copy, data, NOW)
    assert replaced == tmp_path / "orexis replaced 2026-11-27 093000.db"
    assert (names(data), names(replaced)) == (("Osk",), ("Maren",))
    assert database.revision_of(data) == database.newest_revision()


def test_what_is_replaced_is_kept_whole_with_the_sound_being_played(
    data: Path, tmp_path: Path
) -> None:
    copy_to(data, tmp_path / "copy.db")
    # As a killed server leaves it: a log not yet taken in, and sound on its way.
    left = Database(data)
    add(left, "Jory")
    log = data.with_name("orexis.db-wal")
    content = data.read_bytes(), log.read_bytes()
    left.close()
    data.write_bytes(content[0])
    log.write_bytes(content[1])
    spool = tmp_path / "orexis.db-spool"
    spool.mkdir()
    (spool / "ab.spool").write_bytes(b"sound")
    replaced = restore(tmp_path / "copy.db", data, NOW)
    assert replaced is not None
    assert names(data) == ("Maren",)
    assert not log.exists()
    assert not spool.exists()
    assert names(replaced) == ("Maren", "Jory")
    kept = replaced.with_name(f"{replaced.name}-spool") / "ab.spool"
    assert kept.read_bytes() == b"sound"


@pytest.mark.parametrize(
    ("content", "why"),
    [
        (b"no data file at all, but a letter of some length", "cannot be opened"),
        (b"", "holds nothing"),
    ],
)
def test_what_is_no_copy_is_refused_and_nothing_changes(
    data: Path, tmp_path: Path, content: bytes, why: str
) -> None:
    strange = tmp_path / "strange.db"
    strange.write_bytes(content)
    with pytest.raises((CopyRefusedError, DatabaseUnusableError), match=why):
        restore(strange, data, NOW)
    assert names(data) == ("Maren",)
    assert not list(tmp_path.glob("*replaced*"))


def test_a_damaged_copy_is_refused_and_nothing_changes(data: Path, tmp_path: Path) -> None:
    copy = tmp_path / "copy.db"
    copy_to(data, copy)
    content = bytearray(copy.read_bytes())
    size = int.from_bytes(content[16:18], "big")
    # Two pages in the middle of it are no pages any more.
    content[3 * size : 5 * size] = b"\xa5" * (2 * size)
    copy.write_bytes(content)
    with pytest.raises((CopyRefusedError, DatabaseUnusableError)):
        restore(copy, data, NOW)
    assert names(data) == ("Maren",)


def test_a_file_is_not_put_back_over_itself(data: Path) -> None:
    with pytest.raises(CopyRefusedError, match="itself"):
        restore(data, data, NOW)
    assert names(data) == ("Maren",)


def test_a_copy_is_put_back_where_nothing_is_left(data: Path, tmp_path: Path) -> None:
    copy_to(data, tmp_path / "copy.db")
    data.unlink()
    assert restore(tmp_path / "copy.db", data, NOW) is None
    assert names(data) == ("Maren",)
