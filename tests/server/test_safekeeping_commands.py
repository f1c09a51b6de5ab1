"""`orexis backup`, `restore` and `check`, run as commands on a data file."""

import sqlite3
from collections.abc import Callable
from contextlib import closing
from datetime import date
from pathlib import Path

import pytest
from fastapi import FastAPI
from typer.testing import CliRunner, Result

from orexis import cli
from orexis.core.horn.notation import Clef, NoteView
from orexis.practice.safekeeping import contents_of
from orexis.store.copies import CopyRefusedError, copies_of
from orexis.store.database import Database
from orexis.store.holding import held
from orexis.store.players import PlayerDetails, add_player

RUN = CliRunner()


def run(*words: str | Path, data: Path, answer: str = "") -> Result:
    return RUN.invoke(cli.app, [*map(str, words), "--data", str(data)], input=answer)


@pytest.fixture
def data(tmp_path: Path) -> Path:
    """A data file with Jory in it."""
    database = Database(tmp_path / "orexis.db")
    with database.session() as session:
        add_player(session, PlayerDetails("Jory", "tuba-eb-4v-comp", NoteView.SOUNDING, Clef.BASS))
    database.close()
    return database.path


def with_osk(data: Path) -> None:
    with closing(sqlite3.connect(data)) as file, file:
        file.execute("UPDATE players SET name = 'Osk'")


def test_a_backup_says_what_it_holds_while_a_server_has_the_file(
    data: Path, tmp_path: Path
) -> None:
    with held(data, "at http://127.0.0.1:8420"):
        made = run("backup", tmp_path / "copy.db", data=data)
    assert made.exit_code == 0, made.output
    assert "Jory: 0 takes" in made.stdout
    again = run("backup", tmp_path / "copy.db", data=data)
    assert again.exit_code == 2
    assert "is there already" in again.stderr


def test_a_backup_of_nothing_says_so(tmp_path: Path) -> None:
    result = run("backup", tmp_path / "copy.db", data=tmp_path / "none.db")
    assert result.exit_code == 2
    assert "There is no data file" in result.stderr
    assert list(tmp_path.iterdir()) == []


def test_a_restore_asks_first_and_keeps_what_it_replaces(data: Path, tmp_path: Path) -> None:
    copy = tmp_path / "copy.db"
    run("backup", copy, data=data)
    with_osk(data)
    asked = run("restore", copy, data=data, answer="n\n")
    assert "Jory: 0 takes" in asked.stdout
    assert "Osk: 0 takes" in asked.stdout
    assert "Nothing was changed" in asked.stdout
    assert contents_of(data).players == ("Osk",)
    done = run("restore", copy, data=data, answer="y\n")
    assert done.exit_code == 0, done.output
    assert contents_of(data).players == ("Jory",)
    (replaced,) = tmp_path.glob("*replaced*")
    assert str(replaced) in done.stdout
    assert contents_of(replaced).players == ("Osk",)


def test_a_restore_waits_until_nobody_has_the_file(data: Path, tmp_path: Path) -> None:
    copy = tmp_path / "copy.db"
    run("backup", copy, data=data)
    with_osk(data)
    with held(data, "at http://127.0.0.1:8420"):
        refused = run("restore", copy, "--yes", data=data)
    assert refused.exit_code == 2
    assert "http://127.0.0.1:8420" in refused.stderr
    assert contents_of(data).players == ("Osk",)


def test_a_broken_file_is_replaced_by_its_copy(data: Path, tmp_path: Path) -> None:
    copy = tmp_path / "copy.db"
    run("backup", copy, data=data)
    data.write_bytes(b"\x00 spilt tea " * 999)
    done = run("restore", copy, "--yes", data=data)
    assert done.exit_code == 0, done.output
    assert "it cannot be read" in done.stdout
    assert contents_of(data).players == ("Jory",)
    (replaced,) = tmp_path.glob("*replaced*")
    assert replaced.read_bytes().startswith(b"\x00 spilt tea")


@pytest.mark.deep
def test_the_demo_is_whole_and_what_is_lost_from_it_is_told(band_copy: Path) -> None:
    whole = run("check", data=band_copy)
    assert whole.exit_code == 0, whole.output
    assert "is whole" in whole.stdout
    with closing(sqlite3.connect(band_copy)) as file, file:
        some = file.execute("SELECT take_id FROM take_sounds ORDER BY take_id LIMIT 3").fetchall()
        (silent,), (cut,), (unmeasured,) = some
        file.execute("UPDATE take_sounds SET flac = X'00' WHERE take_id = ?", (silent,))
        file.execute(
            "UPDATE takes SET duration_s = duration_s + 2 WHERE id = ?",
            (cut,),
        )
        file.execute("DELETE FROM take_frames WHERE take_id = ?", (unmeasured,))
        # Whoever wrote this did not ask for foreign keys to be kept.
        file.execute("INSERT INTO take_sounds (take_id, flac) VALUES ('nobody', X'00')")
    told = run("check", data=band_copy)
    assert told.exit_code == 1
    lines = told.stdout.splitlines()
    for what in (
        f"The sound of the take {silent} is not as it was written",
        f"The sound of the take {cut} ends 2.0 s too soon",
        f"The take {unmeasured} has lost what was measured",
        "There is no take nobody",
    ):
        assert any(what in line for line in lines), what


def test_serving_keeps_the_days_copy_and_a_full_disk_keeps_nobody_from_playing(
    data: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    served: list[int] = []

    def run_it(app: FastAPI, listener: object, answers: Callable[[], None]) -> None:
        served.append(1)

    monkeypatch.setattr("orexis.cli.serve.run", run_it)
    assert run("serve", data=data).exit_code == 0
    (copy,) = copies_of(data)
    assert copy.name == f"orexis {date.today()}.db"
    assert contents_of(copy).players == ("Jory",)

    def full(data: Path, day: date) -> Path:
        raise CopyRefusedError("There is no room.")

    monkeypatch.setattr("orexis.cli.serve.keep_days_copy", full)
    result = run("serve", data=data)
    assert "There is no room" in result.stderr
    assert len(served) == 2
