"""Every loss and every flipped bit is told of, in a report; the file stays as it is."""

import hashlib
import shutil
import sqlite3
from contextlib import closing
from pathlib import Path
from zlib import crc32

import numpy as np
import pytest
from typer.testing import CliRunner, Result

from orexis import cli
from orexis.practice.wholeness import findings, opened_to_look
from tests.store.test_older_files import VERSIONS, older


def check(data: Path) -> Result:
    return CliRunner().invoke(cli.app, ["check", "--data", str(data)])


def told(data: Path) -> list[str]:
    with opened_to_look(data) as session:
        return list(findings(session))


_GONE = """
DELETE FROM takes WHERE id NOT IN (SELECT take_id FROM take_events ORDER BY take_id LIMIT 12);
DELETE FROM sessions WHERE id NOT IN (SELECT session_id FROM takes) AND id NOT IN
  (SELECT session_id FROM session_log WHERE number = 3 ORDER BY session_id LIMIT 1);
DELETE FROM tasks WHERE key NOT IN (SELECT task_key FROM takes);
"""
_PLAYED_FREELY = """
INSERT INTO sittings (id, player_id, started_at, source, instrument_key, low_s, middle_s, high_s)
  VALUES ('s', 1, '2026-05-04 18:00:00.000000', 'microphone', 'tenor-horn-eb', 1, 2, 3);
INSERT INTO sitting_log (sitting_id, number, sample, kind, content) VALUES
  ('s', 0, 100, 'marked', '{}'), ('s', 1, 200, 'drone', '{"drone": null}'),
  ('s', 2, 300, 'metronome', '{"pulse": null}');
"""


@pytest.fixture(scope="module")
def few(newcomer: Path, tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A little of the newcomer's data, whole; not to be written to."""
    path = Path(shutil.copy(newcomer, tmp_path_factory.mktemp("few") / "demo.db"))
    with closing(sqlite3.connect(path)) as file:
        file.execute("PRAGMA foreign_keys = ON")
        file.executescript(_GONE)
        file.executescript(_PLAYED_FREELY)
        file.execute("VACUUM")
    assert told(path) == []
    return path


@pytest.fixture
def demo(few: Path, tmp_path: Path) -> Path:
    """A copy of it."""
    return Path(shutil.copy(few, tmp_path / "demo.db"))


_TAKE = "(SELECT take_id FROM take_events ORDER BY take_id LIMIT 1)"
_SESSION = "(SELECT session_id FROM session_log WHERE number = 3 ORDER BY session_id LIMIT 1)"


@pytest.mark.parametrize(
    ("damage", "finding"),
    [
        (f"DELETE FROM take_sounds WHERE take_id = {_TAKE}", "has lost its sound"),
        (f"DELETE FROM take_frames WHERE take_id = {_TAKE}", "has lost what was measured"),
        (f"DELETE FROM take_events WHERE take_id = {_TAKE}", "has lost what was heard"),
        (f"UPDATE takes SET verdict = '{{}}' WHERE id = {_TAKE}", "The verdict of the take"),
        (f"UPDATE takes SET verdict = 'x' WHERE id = {_TAKE}", "The verdict of the take"),
        ("DELETE FROM tasks", "has lost what it was to be"),
        ("UPDATE tasks SET document = '[]'", "The exercise"),
        (f"UPDATE sessions SET plan = '{{}}' WHERE id = {_SESSION}", "The plan of the session"),
        (f"DELETE FROM session_log WHERE number = 1 AND session_id = {_SESSION}", "has a gap"),
        (
            f"UPDATE session_log SET kind = 'x' WHERE number = 1 AND session_id = {_SESSION}",
            "Entry 1 of the log",
        ),
        ("DELETE FROM sitting_log WHERE number = 1", "The log of the sitting s has a gap"),
        (
            "UPDATE sitting_log SET content = '{}' WHERE number = 1",
            "Entry 1 of the log of the sitting s cannot be read",
        ),
    ],
)
def test_what_is_missing_or_unreadable_is_told(demo: Path, damage: str, finding: str) -> None:
    with closing(sqlite3.connect(demo)) as file, file:
        assert file.execute(damage).rowcount > 0
    lines = told(demo)
    assert any(finding in line for line in lines), lines
    result = check(demo)
    assert result.exit_code == 1
    assert "wrong in" in result.stdout


@pytest.mark.parametrize(
    ("table", "key", "column"),
    [
        ("take_sounds", "take_id", "flac"),
        ("take_frames", "take_id", "packed"),
        ("take_events", "take_id", "packed"),
    ],
)
def test_a_flipped_bit_in_what_is_kept_packed_is_told(
    demo: Path, table: str, key: str, column: str
) -> None:
    rng = np.random.default_rng(1)
    with closing(sqlite3.connect(demo)) as file, file:
        query = f"SELECT {key}, {column}, {column}_sum FROM {table} ORDER BY {key} LIMIT 1"
        found, content, written = file.execute(query).fetchone()
        assert crc32(content) == written
        flipped = bytearray(content)
        flipped[int(rng.integers(len(content)))] ^= 1 << int(rng.integers(8))
        file.execute(f"UPDATE {table} SET {column} = ? WHERE {key} = ?", (bytes(flipped), found))
    (line,) = [line for line in told(demo) if "is not as it was written" in line]
    assert found in line


def test_whatever_is_flipped_in_the_file_ends_in_a_report(demo: Path) -> None:
    whole = demo.read_bytes()
    rng = np.random.default_rng(2)
    codes = set()
    for _ in range(6):
        broken = bytearray(whole)
        for at in rng.integers(0, len(whole), 400):
            broken[at] ^= 1 << int(rng.integers(8))
        demo.write_bytes(broken)
        result = check(demo)
        codes.add(result.exit_code)
        assert result.exception is None or isinstance(result.exception, SystemExit), result.output
        assert demo.read_bytes() == bytes(broken)
    assert codes <= {1, 2}


def test_looking_alters_nothing_not_even_the_version(tmp_path: Path) -> None:
    data = older(tmp_path / "old.db", VERSIONS[1])
    before = hashlib.sha256(data.read_bytes()).hexdigest()
    names = sorted(path.name for path in tmp_path.iterdir())
    # Its sound is no FLAC.
    assert any("sound of the take t1" in line for line in told(data))
    assert hashlib.sha256(data.read_bytes()).hexdigest() == before
    assert sorted(path.name for path in tmp_path.iterdir()) == names


def test_another_file_is_no_data_file(tmp_path: Path) -> None:
    letter = tmp_path / "letter.db"
    letter.write_text("dear teacher, " * 99)
    result = check(letter)
    assert result.exit_code == 2
    assert "cannot be opened" in result.stderr
