"""Weeks are read ahead when the server starts, and whoever asks gets what they would have got."""

import logging
import time
from datetime import date
from pathlib import Path

import pytest
from fastapi.testclient import TestClient
from sqlalchemy.orm import Session

from orexis.practice.progress import changes_of
from orexis.server import warming
from orexis.server.app import Settings, create_app
from orexis.store.database import Database
from orexis.store.models import Player
from tests.server.conftest import BASE, MAREN

_WITHIN_S = 20.0


def test_weeks_are_read_ahead_for_every_player(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    with TestClient(create_app(Settings(tmp_path / "a.db")), base_url=BASE) as client:
        for name in ("Maren", "Jory"):
            client.post("/api/players", json={**MAREN, "name": name}).raise_for_status()
    looked: list[str] = []

    def look(session: Session, player: Player, today: date) -> None:
        looked.append(player.name)
        changes_of(session, player, today)

    monkeypatch.setattr("orexis.server.warming.changes_of", look)
    settings = Settings(tmp_path / "a.db", looks_back=True)
    with TestClient(create_app(settings), base_url=BASE) as client:
        assert client.get("/api/players/1/changes").json()["answers"] == []
        until = time.monotonic() + _WITHIN_S
        while len(looked) < 2 and time.monotonic() < until:
            time.sleep(0.01)
    assert looked == ["Maren", "Jory"]


def test_what_cannot_be_read_ahead_is_said_and_keeps_nothing_from_starting(
    tmp_path: Path, caplog: pytest.LogCaptureFixture
) -> None:
    database = Database(tmp_path / "a.db")
    with database.engine.begin() as connection:
        connection.exec_driver_sql(
            "INSERT INTO players VALUES (1, 'x', '?', '?', '?', 1, '?', '2026-01-01', NULL)"
        )
    with caplog.at_level(logging.ERROR):
        warming.look_back(database, date(2026, 1, 1))
    assert "could not be read ahead" in caplog.text
    database.close()
