"""A device's microphone, over TLS: what drops and what is killed loses nothing and keeps nothing
twice."""

import json
from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

import httpx
import pytest
from websockets.sync.client import ClientConnection, connect
from websockets.typing import Origin

from orexis.server.home.door import COOKIE
from tests.server.conftest import MAREN
from tests.server.home.conftest import ServingHouse
from tests.server.test_live import CHUNKS, HELLO

HALF = len(CHUNKS) // 2


@contextmanager
def ear(house: ServingHouse, device: httpx.Client, **hello: Any) -> Iterator[ClientConnection]:
    """The ear of a device, as soon as the server listens; what it wants next is asked for."""
    with connect(
        f"wss://{house.host}/api/live",
        ssl=house.trust,
        origin=Origin(house.house),
        additional_headers={"Cookie": f"{COOKIE}={device.cookies[COOKIE]}"},
    ) as socket:
        socket.send(json.dumps({**HELLO, **hello}))
        yield socket


def until(socket: ClientConnection, kind: str) -> dict[str, Any]:
    while (said := json.loads(socket.recv(timeout=30)))["type"] != kind:
        pass
    found: dict[str, Any] = said
    return found


@pytest.mark.parametrize(
    "break_",
    ["line dropped", pytest.param("server killed", marks=[pytest.mark.kills, pytest.mark.deep])],
)
def test_the_rest_is_sent_from_where_the_disk_left_off(fresh: ServingHouse, break_: str) -> None:
    with fresh.at_the_machine() as here:
        here.post("/api/players", json=MAREN).raise_for_status()
    with fresh.paired("Tablet") as device:
        with ear(fresh, device) as socket:
            assert until(socket, "ready")["next"] == 0
            for chunk in CHUNKS[:HALF]:
                socket.send(chunk)
            on_disk = until(socket, "ack")["next"]
            assert 0 < on_disk <= HALF
            if break_ == "server killed":
                fresh.kill()
        if break_ == "server killed":
            fresh.start()
        with ear(fresh, device) as socket:
            wanted = until(socket, "ready")["next"]
            assert on_disk <= wanted <= HALF
            for chunk in CHUNKS[wanted:]:
                socket.send(chunk)
            socket.send(json.dumps({"type": "bye"}))
            until(socket, "closed")
        (take,) = device.get("/api/players/1/takes").json()
    assert take["verdict"]["passed"]
