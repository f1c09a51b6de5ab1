"""Players who are deleted: what goes is named, comes back for seven days, then is gone."""

import sqlite3
from contextlib import closing
from datetime import UTC, datetime, timedelta
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from orexis.practice.leaving import holding_words
from orexis.server.app import Settings, create_app
from orexis.store.database import Database
from orexis.store.leaving import Holding, purge_players
from orexis.store.models import Base
from tests.server.conftest import BASE, MAREN
from tests.server.test_live import CHUNKS, LIVE
from tests.server.test_taking_up import send

OSK = {**MAREN, "name": "Oskar from the lighthouse"}


@pytest.fixture
def played(client: TestClient) -> TestClient:
    """Maren has played a take, and so has Osk, who kept an exercise of his own."""
    client.post("/api/players", json=OSK).raise_for_status()
    for player, session in ((1, "ab" * 16), (2, "cd" * 16)):
        with client.websocket_connect(LIVE) as socket:
            hello = {
                "type": "hello", "kind": "task", "session": session, "player_id": player,
                "exercises": [{"family": "long-tone", "values": {"hold_s": "2"}}],
                "source": "microphone", "sample_rate": 48_000,
                "started_at": datetime.now(UTC).isoformat(),
            }  # fmt: skip
            send(socket, CHUNKS, hello)
            socket.send_json({"type": "bye"})
            while socket.receive_json()["type"] != "closed":
                pass
    return client


def names(client: TestClient) -> list[str]:
    return [one["name"] for one in client.get("/api/players").json()]


def test_what_goes_is_named_first(played: TestClient) -> None:
    told = played.get("/api/players/2/holding").json()
    assert told == {"words": "1 take, 1 of them with their sound, 1 session", "days": 7}
    assert holding_words(Holding(0, 0, 0, 0, 0)) == "nothing that was played"
    assert holding_words(Holding(2, 0, 0, 1, 3)) == "2 takes, 1 recording, 3 exercises"


def test_a_deleted_player_is_nowhere_and_comes_back_whole(played: TestClient) -> None:
    (take,) = played.get("/api/players/2/takes").json()
    assert played.delete("/api/players/2").status_code == 204
    assert names(played) == ["Maren"]
    for path in ("/api/players/2/takes", "/api/players/2/today", f"/api/takes/{take['id']}"):
        assert played.get(path).status_code == 404
    assert played.delete("/api/players/2").status_code == 404
    (told,) = played.get("/api/players/deleted").json()
    assert (told["id"], told["name"]) == (2, OSK["name"])
    until = (datetime.now().astimezone() + timedelta(days=7)).date()
    assert told["until"] == until.isoformat()
    assert played.post("/api/players/2/restore").json()["name"] == OSK["name"]
    assert names(played) == ["Maren", OSK["name"]]
    assert played.get(f"/api/takes/{take['id']}/sound").status_code == 200
    assert played.get("/api/players/deleted").json() == []


def test_a_deleted_player_plays_nothing(played: TestClient) -> None:
    played.delete("/api/players/2").raise_for_status()
    with played.websocket_connect(LIVE) as socket:
        socket.send_json(
            {
                "type": "hello", "kind": "task", "session": "ef" * 16, "player_id": 2,
                "exercises": [{"family": "long-tone", "values": {}}],
                "source": "microphone", "sample_rate": 48_000,
                "started_at": datetime.now(UTC).isoformat(),
            }
        )  # fmt: skip
        said = socket.receive_json()
    assert (said["type"], said["title"]) == ("problem", "There is no such player")


def rows(data: Path) -> dict[str, int]:
    with closing(sqlite3.connect(data)) as file:
        return {
            table: file.execute(f'SELECT count(*) FROM "{table}"').fetchone()[0]
            for table in Base.metadata.tables
        }


def test_after_seven_days_nothing_of_them_is_in_the_file(
    played: TestClient, settings: Settings
) -> None:
    before = rows(settings.data)
    assert before["takes"] == 2
    (take,) = played.get("/api/players/2/takes").json()
    theirs = [OSK["name"].encode(), take["id"].encode(), (b"cd" * 16)]
    played.delete("/api/players/2").raise_for_status()
    database: Database = played.app.state.database  # type: ignore[attr-defined]
    now = datetime.now(UTC)
    purge_players(database, now + timedelta(days=6, hours=23))
    assert rows(settings.data)["takes"] == 2
    purge_players(database, now + timedelta(days=7, minutes=1))
    after = rows(settings.data)
    for table in ("takes", "take_sounds", "take_frames", "take_events", "take_notes", "sessions"):
        assert after[table] == before[table] // 2, table
    assert after["players"] == 1
    # Not even where it lay.
    for path in settings.data.parent.glob("orexis.db*"):
        if path.is_file():
            content = path.read_bytes()
            assert not [their for their in theirs if their in content], path.name
    assert names(played) == ["Maren"]
    assert played.post("/api/players/2/restore").status_code == 404


def test_who_is_due_to_go_goes_when_it_starts(settings: Settings) -> None:
    with TestClient(create_app(settings), base_url=BASE) as client:
        client.post("/api/players", json=OSK).raise_for_status()
        client.delete("/api/players/1").raise_for_status()
    with closing(sqlite3.connect(settings.data)) as file, file:
        file.execute("UPDATE players SET deleted_at = '2026-01-01 00:00:00'")
    with TestClient(create_app(settings), base_url=BASE) as client:
        assert client.get("/api/players/deleted").json() == []
    assert rows(settings.data)["players"] == 0
