"""What is done every day is done while the server runs."""

import asyncio
from datetime import UTC, date, datetime, timedelta
from pathlib import Path

import pytest

from orexis.core.horn.notation import Clef, NoteView
from orexis.server import daily
from orexis.server.daily import every_day
from orexis.store.copies import CopyRefusedError, copies_of
from orexis.store.database import Database
from orexis.store.models import Player
from orexis.store.players import PlayerDetails, add_player
from tests.server.conftest import run


@pytest.fixture
def data(tmp_path: Path) -> Database:
    """A data file with one who was deleted eight days ago."""
    database = Database(tmp_path / "orexis.db")
    with database.session() as session:
        add_player(session, PlayerDetails("Osk", "tuba-eb", NoteView.SOUNDING, Clef.BASS))
        session.get_one(Player, 1).deleted_at = datetime.now(UTC) - timedelta(days=8)
    return database


def goes_on(database: Database, days: list[date], *, keeps_copies: bool = True) -> None:
    """Lets the days go by, one after the other, until the last of them has come twice."""

    async def looks() -> None:
        left = iter(days)

        def today() -> date:
            day = next(left, None)
            if day is None:
                raise asyncio.CancelledError
            return day

        with pytest.raises(asyncio.CancelledError):
            await every_day(database, keeps_copies=keeps_copies, today=today)

    run(looks())


@pytest.fixture(autouse=True)
def looks_at_once(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(daily, "LOOKS_EVERY_S", 0.0)


FIRST = date(2026, 11, 1)


def test_each_new_day_has_its_copy_and_what_was_deleted_goes(data: Database) -> None:
    days = [FIRST + timedelta(days=number) for number in (0, 0, 1, 1, 2)]
    goes_on(data, days)
    names = sorted(path.name for path in copies_of(data.path))
    assert names == ["orexis 2026-11-02.db", "orexis 2026-11-03.db"]
    with data.session() as session:
        assert session.get(Player, 1) is None


def test_the_demo_keeps_no_copies(data: Database) -> None:
    goes_on(data, [FIRST, FIRST + timedelta(days=1)], keeps_copies=False)
    assert copies_of(data.path) == []


def test_a_full_disk_is_said_and_the_next_day_is_tried_again(
    data: Database, monkeypatch: pytest.MonkeyPatch, caplog: pytest.LogCaptureFixture
) -> None:
    kept: list[date] = []

    def full_on_the_first(path: Path, day: date) -> Path:
        kept.append(day)
        if len(kept) == 1:
            raise CopyRefusedError("There is no room.")
        return path

    monkeypatch.setattr(daily, "keep_days_copy", full_on_the_first)
    goes_on(data, [FIRST + timedelta(days=number) for number in range(3)])
    assert len(kept) == 2
    assert "There is no room" in caplog.text
