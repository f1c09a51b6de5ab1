"""A fault in listening costs one attempt: its sound is kept, the page says so, and it goes on."""

from typing import Any

import numpy as np
import pytest
from fastapi.testclient import TestClient
from starlette.testclient import WebSocketTestSession

from orexis.core.judging.attempts import Verdict, judge
from orexis.core.session import stand
from orexis.practice import session_record
from tests.server.test_live import HELLO, LIVE, chunks, takes, told
from tests.server.test_taking_up import heard_until, recordings, recover, send, tone
from tests.sounds import silence

SOUND = chunks(np.concatenate((silence(1.0), tone(2.4), silence(1.2), tone(2.4), silence(1.5))))


@pytest.fixture
def fails_once(monkeypatch: pytest.MonkeyPatch) -> None:
    """The first attempt cannot be judged."""
    left = [IndexError("a fault of ours")]

    def failing(*given: Any) -> Verdict:
        if left:
            raise left.pop()
        return judge(*given)

    monkeypatch.setattr(stand, "judge", failing)


def said(socket: WebSocketTestSession, words: str) -> dict[str, Any]:
    """The first word of the session that says so."""
    while True:
        now: dict[str, Any] = heard_until(socket, "session")["now"]
        if words in now["why"]:
            return now


@pytest.mark.usefixtures("fails_once")
def test_the_attempt_is_kept_as_a_recording_and_the_next_one_is_judged(
    client: TestClient, caplog: pytest.LogCaptureFixture
) -> None:
    with client.websocket_connect(LIVE) as socket:
        send(socket, SOUND)
        now = said(socket, "failed to judge")
        assert now["unheard"] == now["why"]
        assert "Its sound is under Takes" in now["unheard"]
        verdict = heard_until(socket, "verdict")["take"]
        # It is said until the next attempt has been judged.
        assert heard_until(socket, "session")["now"]["unheard"] == ""
        told(socket)
    assert [take["id"] for take in takes(client)] == [verdict["id"]]
    assert verdict["verdict"]["passed"]
    (recording,) = recordings(client)
    assert "Orexis failed" in recording["reason"]
    # The note and what lies around it; it can be looked at as any recording.
    # However much of what follows was taken in with it: up to 128 chunks, 1.4 s.
    assert 2.4 <= recording["duration_s"] <= 5.9
    page = client.get(f"/api/recordings/{recording['id']}").json()
    assert len(page["notes"]) == 1
    assert "a fault of ours" in caplog.text


@pytest.mark.usefixtures("fails_once")
def test_taken_up_again_it_is_not_kept_twice(client: TestClient) -> None:
    with client.websocket_connect(LIVE) as socket:
        send(socket, SOUND[: round(4.4 * 48_000 / 512)])
        said(socket, "failed to judge")
    with client.websocket_connect(LIVE) as socket:
        send(socket, SOUND)
        told(socket)
    recover(client)
    assert len(recordings(client)) == 1
    assert len(takes(client)) == 1


def test_what_fails_every_time_fills_no_disk(
    client: TestClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    def failing(*given: Any) -> Verdict:
        raise IndexError("a fault of ours")

    monkeypatch.setattr(stand, "judge", failing)
    monkeypatch.setattr(session_record, "_MOST_UNHEARD", 1)
    with client.websocket_connect(LIVE) as socket:
        send(socket, SOUND)
        assert "Its sound is under Takes" in said(socket, "Play it again.")["why"]
        assert "Its sound" not in said(socket, "Play it again.")["why"]
        told(socket)
    assert takes(client) == []
    assert len(recordings(client)) == 1


def test_a_hello_is_answered_whatever_goes_wrong(
    client: TestClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    def failing(*given: Any) -> None:
        raise AttributeError("a fault of ours")

    monkeypatch.setattr("orexis.server.live.socket.Connection._take_up", failing)
    with client.websocket_connect(LIVE) as socket:
        socket.send_json(HELLO)
        assert socket.receive_json()["type"] == "problem"
