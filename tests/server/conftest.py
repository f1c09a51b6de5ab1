"""A server with one player, talked to in the same process."""

import asyncio
from collections.abc import Coroutine, Iterator
from concurrent.futures import ThreadPoolExecutor
from importlib import import_module
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient

from orexis.server import worker
from orexis.server.app import Settings, create_app

BASE = "http://127.0.0.1:8420"
MAREN = {"name": "Maren", "instrument_key": "tenor-horn-eb", "view": "written", "clef": "treble"}


def run(work: Coroutine[Any, Any, object]) -> None:
    """Runs a coroutine in a thread: the browser tests leave a loop running in this one."""
    with ThreadPoolExecutor(1) as pool:
        pool.submit(asyncio.run, work).result()


@pytest.fixture
def settings(tmp_path: Path) -> Settings:
    return Settings(tmp_path / "orexis.db")


@pytest.fixture
def client(settings: Settings) -> Iterator[TestClient]:
    with TestClient(create_app(settings), base_url=BASE) as client:
        client.post("/api/players", json=MAREN).raise_for_status()
        yield client


@pytest.fixture
def reads_here(monkeypatch: pytest.MonkeyPatch) -> None:
    """Files are read in the server's own process, which is quicker than to start one."""

    async def read(what: str, *given: Any, **_: object) -> Any:
        module, name = worker.READERS[what]
        return getattr(import_module(module), name)(*given)

    monkeypatch.setattr(worker, "read", read)


def held_s(take: dict[str, Any]) -> float:
    """How long the one note of a take was held."""
    (held,) = (rule for rule in take["verdict"]["rules"] if rule["rule"] == "held")
    seconds: float = held["measured"]
    return seconds
