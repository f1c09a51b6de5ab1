"""A server with one player, talked to in the same process."""

from collections.abc import Iterator
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from orexis.server.app import Settings, create_app

BASE = "http://127.0.0.1:8420"
MAREN = {"name": "Maren", "instrument_key": "tenor-horn-eb", "view": "written", "clef": "treble"}


@pytest.fixture
def settings(tmp_path: Path) -> Settings:
    return Settings(tmp_path / "orexis.db")


@pytest.fixture
def client(settings: Settings) -> Iterator[TestClient]:
    with TestClient(create_app(settings), base_url=BASE) as client:
        client.post("/api/players", json=MAREN).raise_for_status()
        yield client
