"""What takes a while the first time is done when the server starts: weeks are read ahead, and
whoever asks gets what they would have got; what listening needs is there."""

import json
import logging
import subprocess
import sys
import threading
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
from tests.server.test_live import CHUNKS, HELLO, LIVE

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
    settings = Settings(tmp_path / "a.db", warms_up=True)
    with TestClient(create_app(settings), base_url=BASE) as client:
        assert client.get("/api/players/1/changes").json()["answers"] == []
        until = time.monotonic() + _WITHIN_S
        while len(looked) < 2 and time.monotonic() < until:
            time.sleep(0.01)
    assert looked == ["Maren", "Jory"]


NOT_READY = """
import json, sys
from numba.core.dispatcher import Dispatcher
from orexis.server.warming import listen_once
listen_once()
made = {id(one): one for name, module in sys.modules.items() if name.startswith("orexis.")
        for one in vars(module).values() if isinstance(one, Dispatcher)}.values()
called = {name for one in made for name in one.py_func.__code__.co_names}
json.dump({one.__name__: [len(one.signatures), one.__name__ in called] for one in made}, sys.stdout)
"""


def test_all_that_is_compiled_is_ready_and_made_once() -> None:
    done = subprocess.run(
        [sys.executable, "-c", NOT_READY], capture_output=True, text=True, check=True
    )
    made = json.loads(done.stdout)
    assert len(made) > 40
    # One machine code each, since what is given is always of the same kind; one that compiled
    # ones call may be within theirs.
    assert {name for name, (count, called) in made.items() if count > 1} == set()
    assert {name for name, (count, called) in made.items() if count == 0 and not called} == set()


def test_what_cannot_be_read_ahead_is_said_and_keeps_nothing_from_starting(
    tmp_path: Path, caplog: pytest.LogCaptureFixture
) -> None:
    database = Database(tmp_path / "a.db")
    with database.engine.begin() as connection:
        connection.exec_driver_sql(
            "INSERT INTO players (id, name, instrument_key, view, clef, a4_hz, standard, "
            "created_at) VALUES (1, 'x', '?', '?', '?', 1, '?', '2026-01-01')"
        )
    with caplog.at_level(logging.ERROR):
        warming.look_back(database, date(2026, 1, 1))
    assert "could not be read ahead" in caplog.text
    database.close()


def test_a_server_that_gets_ready_to_listen_can_be_stopped(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    begun, end = threading.Event(), threading.Event()

    def listen() -> None:
        begun.set()
        end.wait()

    monkeypatch.setattr("orexis.server.warming.listen_once", listen)
    settings = Settings(tmp_path / "a.db", warms_up=True)
    with TestClient(create_app(settings), base_url=BASE) as client:
        assert begun.wait(_WITHIN_S)
        assert client.get("/api/players").json() == []
    # Here it has stopped, and the listening goes on.
    assert not end.is_set()
    end.set()


def test_while_listening_is_not_ready_the_page_is_told_and_what_is_played_then_is_judged(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    end = threading.Event()
    monkeypatch.setattr("orexis.server.warming.listen_once", end.wait)
    settings = Settings(tmp_path / "a.db", warms_up=True)
    with TestClient(create_app(settings), base_url=BASE) as client:
        client.post("/api/players", json=MAREN).raise_for_status()
        with client.websocket_connect(LIVE) as socket:
            socket.send_json(HELLO)
            assert socket.receive_json()["type"] == "getting-ready"
            # Everything else can be used.
            assert client.get("/api/players").json()[0]["name"] == "Maren"
            end.set()
            while (said := socket.receive_json())["type"] == "getting-ready":
                pass
            assert said == {"type": "ready", "next": 0}
            for chunk in CHUNKS:
                socket.send_bytes(chunk)
            assert any(socket.receive_json()["type"] == "verdict" for _ in range(2000))
