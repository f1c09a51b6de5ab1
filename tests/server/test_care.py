"""Something hurts: the same follows whoever says it and wherever."""

import time
from datetime import UTC, datetime
from typing import Any

import numpy as np
import pytest
from fastapi.testclient import TestClient

from tests.server.test_live import HELLO, LIVE, SESSION, chunks
from tests.server.test_taking_up import heard_until, send, sessions_of, tone
from tests.sounds import silence

ABOUT = {"experience": "some-years", "wish": "up", "minutes": 60, "days_a_week": 5}


def kinds(client: TestClient) -> list[str]:
    """The kinds of blocks in today's plan."""
    return [block["kind"] for block in client.get("/api/players/1/today").json()["blocks"]]


def on_the_stand(client: TestClient) -> None:
    client.post("/api/players/1/hurts").raise_for_status()


def in_a_session(client: TestClient) -> None:
    hello = {**HELLO, "started_at": datetime.now(UTC).isoformat()}
    with client.websocket_connect(LIVE) as socket:
        send(socket, chunks(silence(0.5)), hello)
        socket.send_json({"type": "press", "press": "hurts"})
        while heard_until(socket, "session")["now"]["ended"] is None:
            pass


@pytest.mark.parametrize("says", [on_the_stand, in_a_session])
def test_todays_plan_is_made_anew_even_one_that_was_changed(client: TestClient, says: Any) -> None:
    client.put("/api/players/1/about", json=ABOUT).raise_for_status()
    before = kinds(client)
    assert "high" in before
    changed = client.post("/api/players/1/today/change", json={"change": "drop", "block": 0})
    assert changed.status_code == 200, changed.text
    assert kinds(client) == before[1:]
    says(client)
    assert not {"high", "pedals"} & set(kinds(client))
    client.delete("/api/players/1/hurts").raise_for_status()
    assert client.get("/api/players/1/hurts").json() == []


@pytest.mark.parametrize("says_bye", [True, False])
def test_a_session_that_is_left_for_good_ends_in_its_log(
    client: TestClient, says_bye: bool
) -> None:
    begun = {"title": "Today", "kind": "plan", "started_at": datetime.now(UTC).isoformat()}
    hello = {**HELLO, **begun, "exercises": 2 * HELLO["exercises"]}
    sound = chunks(np.concatenate((silence(1.0), tone(2.4), silence(0.6))))
    with client.websocket_connect(LIVE) as socket:
        send(socket, sound, hello)
        heard_until(socket, "verdict")
        # While it is played, nobody else ends it.
        assert client.delete(f"/api/sessions/{SESSION}").status_code == 409
        if says_bye:
            socket.send_json({"type": "bye"})
            heard_until(socket, "closed")
    assert client.get("/api/players/1/sessions/open").json()["id"] == SESSION
    let_go(client)
    client.delete(f"/api/sessions/{SESSION}").raise_for_status()
    assert client.get("/api/players/1/sessions/open").json() is None
    # Taken up all the same, it says that it is over, as its log does.
    with client.websocket_connect(LIVE) as socket:
        socket.send_json(hello)
        assert heard_until(socket, "session")["now"]["ended"] == "stopped"
    assert client.delete("/api/sessions/" + "0" * 32).status_code == 404


def let_go(client: TestClient) -> None:
    """Waits until the socket's session is held by nobody."""
    until = time.monotonic() + 10
    while sessions_of(client).playing and time.monotonic() < until:
        time.sleep(0.01)
