"""A restore that is killed at any step: the data file is then the old one, whole, or the new."""

import itertools
import os
import shutil
import signal
import sqlite3
import sys
from contextlib import closing
from datetime import datetime
from pathlib import Path

import pytest

from orexis.practice.safekeeping import contents_of, restore
from orexis.store.copies import CopyRefusedError, copy_to
from orexis.store.database import Database, _engine, upgrade
from orexis.store.holding import held
from tests.store.test_copies import NOW, add

_STEPS = ("os.rename", "os.remove", "os.mkdir", "os.link", "shutil.copyfile", "sqlite3.connect")
_MOST_STEPS = 60


def killed_at(step: int, copy: Path, data: Path) -> bool:
    """Restores in a process of its own that is killed at its n-th step on the disk; false where it
    came to its end before."""
    child = os.fork()
    if child == 0:
        left = step

        def count(event: str, given: tuple[object, ...]) -> None:
            nonlocal left
            flags = given[2] if event == "open" else 0
            writes = isinstance(flags, int) and bool(flags & (os.O_WRONLY | os.O_RDWR))
            if event in _STEPS or writes:
                left -= 1
                if left == 0:
                    os.kill(os.getpid(), signal.SIGKILL)

        ended = 1
        try:
            with held(data, "for a test"):
                sys.addaudithook(count)
                restore(copy, data, NOW)
                ended = 0
        finally:
            os._exit(ended)
    _, status = os.waitpid(child, 0)
    assert status in (0, signal.SIGKILL)
    return status != 0


@pytest.fixture(scope="module")
def before(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A folder with Maren's file, its log not yet taken in and sound on its way, and with an older
    copy that is Osk's."""
    folder = tmp_path_factory.mktemp("before")
    live = Database(folder / "live.db")
    add(live, "Maren")
    left = live.path.read_bytes(), live.path.with_name("live.db-wal").read_bytes()
    live.close()
    live.path.rename(folder / "orexis.db")
    (folder / "orexis.db").write_bytes(left[0])
    (folder / "orexis.db-wal").write_bytes(left[1])
    (folder / "orexis.db-spool").mkdir()
    (folder / "orexis.db-spool" / "ab.spool").write_bytes(b"sound")
    engine = _engine(folder / "copy.db")
    upgrade(engine, "0008")
    engine.dispose()
    with closing(sqlite3.connect(folder / "copy.db")) as file, file:
        file.execute(
            "INSERT INTO players (id, name, instrument_key, view, clef, a4_hz, gate_level, "
            "created_at) VALUES (1, 'Osk', 'trombone-bass', 'sounding', 'bass', 440, 'normal', "
            "'2026-01-01')"
        )
    return folder


@pytest.mark.deep
def test_a_kill_at_any_step_leaves_the_old_one_whole_or_the_new_one(
    before: Path, tmp_path: Path
) -> None:
    found: list[str] = []
    for step in range(1, _MOST_STEPS):
        folder = shutil.copytree(before, tmp_path / str(step))
        data, copy = folder / "orexis.db", folder / "copy.db"
        killed = killed_at(step, copy, data)
        # Whoever opens it next finds one of the two, with every file of its own beside it.
        Database(data).close()
        (name,) = contents_of(data).players
        found.append(name)
        spool = folder / "orexis.db-spool" / "ab.spool"
        kept = list(folder.glob("orexis replaced *.db"))
        if name == "Maren":
            assert spool.read_bytes() == b"sound"
        else:
            assert not spool.exists()
            (replaced,) = kept
            assert contents_of(replaced).players == ("Maren",)
            sound = replaced.with_name(f"{replaced.name}-spool") / "ab.spool"
            assert sound.read_bytes() == b"sound"
        for path in kept:
            assert not path.samefile(data)
        # What was cut short keeps nobody from trying again.
        with held(data, "for a test"):
            restore(copy, data, datetime(2026, 11, 28))
        assert contents_of(data).players == ("Osk",)
        assert not list(folder.glob(".*part")) + list(folder.glob(".*restored"))
        shutil.rmtree(folder)
        if not killed:
            break
    assert not killed
    changes = [one for one, other in itertools.pairwise(found) if one != other]
    assert (found[0], found[-1], changes) == ("Maren", "Osk", ["Maren"])
    assert len(found) > 12


def test_a_copy_that_cannot_be_brought_up_to_date_changes_nothing(
    before: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    folder = shutil.copytree(before, tmp_path / "full")
    data = folder / "orexis.db"

    def full(path: Path) -> None:
        raise OSError(28, "No space left on device")

    monkeypatch.setattr("orexis.practice.safekeeping.bring_up_to_date", full)
    with pytest.raises(CopyRefusedError, match="Nothing was changed"):
        restore(folder / "copy.db", data, NOW)
    assert contents_of(data).players == ("Maren",)
    assert (folder / "orexis.db-spool" / "ab.spool").exists()
    assert not list(folder.glob("*replaced*"))


def test_without_room_to_keep_what_is_replaced_nothing_is(
    before: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    folder = shutil.copytree(before, tmp_path / "full")
    data = folder / "orexis.db"

    def full(source: object, to: object) -> None:
        raise OSError(28, "No space left on device")

    monkeypatch.setattr("orexis.store.copies.shutil.copy2", full)
    with pytest.raises(CopyRefusedError, match="Make room"):
        restore(folder / "copy.db", data, NOW)
    assert contents_of(data).players == ("Maren",)
    assert not list(folder.glob("*replaced*"))


def test_what_is_kept_can_be_opened_without_harm_to_the_live_one(
    before: Path, tmp_path: Path
) -> None:
    folder = shutil.copytree(before, tmp_path / "both")
    data = folder / "orexis.db"
    copy_to(data, folder / "same.db")
    replaced = restore(folder / "same.db", data, NOW)
    assert replaced is not None
    other = Database(replaced)
    add(other, "Jory")
    other.close()
    assert contents_of(data).players == ("Maren",)
