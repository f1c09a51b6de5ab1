"""What one window listens to is shown in another, and what is pressed there reaches the session."""

from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

import pytest
from fastapi.testclient import TestClient
from starlette.testclient import WebSocketTestSession
from starlette.websockets import WebSocketDisconnect

from orexis.server.live.house import House, LaggingError, Watcher
from orexis.server.live.messages import Refused
from tests.server.conftest import run
from tests.server.test_free import FREE
from tests.server.test_live import CHUNKS, HELLO, LIVE, messages

HOUSE = LIVE.replace("live", "house")
SESSION = HELLO["session"]


@contextmanager
def window(client: TestClient, watches: str | None = None) -> Iterator[WebSocketTestSession]:
    with client.websocket_connect(HOUSE) as socket:
        assert socket.receive_json()["type"] == "ears"
        if watches is not None:
            socket.send_json({"type": "watch", "session": watches})
        yield socket


def until(socket: WebSocketTestSession, kind: str) -> dict[str, Any]:
    """The next message of a kind."""
    while (said := socket.receive_json())["type"] != kind:
        pass
    found: dict[str, Any] = said
    return found


def listen(socket: WebSocketTestSession, **hello: Any) -> None:
    socket.send_json({**HELLO, **hello})
    until(socket, "ready")


def test_every_window_is_told_which_ears_are_open(client: TestClient) -> None:
    with window(client) as other:
        with client.websocket_connect(LIVE) as ear:
            listen(ear)
            (told,) = until(other, "ears")["ears"]
            assert (told["session"], told["player_id"], told["player"]) == (SESSION, 1, "Maren")
            assert (told["device"], told["kind"], told["source"]) == (
                "the computer",
                "task",
                "microphone",
            )
            with client.websocket_connect(HOUSE) as late:
                assert late.receive_json() == {
                    "type": "ears",
                    "device": "the computer",
                    "ears": [told],
                }
        assert until(other, "ears")["ears"] == []


def test_who_watches_is_told_what_the_ear_is_told(client: TestClient) -> None:
    with window(client, SESSION) as other:
        with client.websocket_connect(LIVE) as ear:
            listen(ear)
            for chunk in CHUNKS:
                ear.send_bytes(chunk)
            ear.send_json({"type": "bye"})
            heard = list(messages(ear))
        seen: list[dict[str, Any]] = []
        while not seen or seen[-1] != {"type": "ears", "device": "the computer", "ears": []}:
            seen.append(other.receive_json())
    for kind in ("frames", "marks", "verdict"):
        mine = [one for one in heard if one["type"] == kind]
        assert [one for one in seen if one["type"] == kind] == mine, kind
        assert mine, kind
    # Where it stood, whole, and only then what moved on.
    assert seen[1]["type"] == "session"
    assert seen[1]["plan"]["sheet"]["title"] == "Long tone"
    assert not any(one["type"] in ("ack", "ready", "closed") for one in seen)


def test_who_comes_later_is_told_where_it_stands_and_how_the_last_one_was(
    client: TestClient,
) -> None:
    with client.websocket_connect(LIVE) as ear:
        listen(ear)
        for chunk in CHUNKS:
            ear.send_bytes(chunk)
        verdict = until(ear, "verdict")
        with window(client, SESSION) as other:
            assert until(other, "session")["plan"] is not None
            assert other.receive_json() == {"type": "state", "playing_since": None}
            assert other.receive_json() == verdict
            assert other.receive_json()["type"] == "microphone"


def test_what_is_pressed_elsewhere_is_done_and_shown_everywhere(client: TestClient) -> None:
    with client.websocket_connect(LIVE) as ear, window(client) as other, window(client) as third:
        listen(ear)
        for watcher in (other, third):
            watcher.send_json({"type": "watch", "session": SESSION})
            until(watcher, "microphone")
        other.send_json({"type": "press", "press": "pause"})
        for socket in (ear, other, third):
            while not until(socket, "session")["now"]["paused"]:
                pass
        third.send_json({"type": "press", "press": "go-on"})
        assert not until(other, "session")["now"]["paused"]


def test_a_verdict_is_overruled_from_elsewhere(client: TestClient) -> None:
    with client.websocket_connect(LIVE) as ear, window(client, SESSION) as other:
        listen(ear)
        for chunk in CHUNKS:
            ear.send_bytes(chunk)
        take = until(other, "verdict")["take"]
        other.send_json({"type": "overrule", "take_id": take["id"], "passed": False})
        assert until(other, "verdict")["take"]["verdict"]["overruled"]
        until(ear, "verdict")
        assert until(ear, "verdict")["take"]["verdict"]["overruled"]


def test_nothing_else_can_be_said_from_elsewhere(client: TestClient) -> None:
    strange: Any
    for strange in (
        {"type": "bye"},
        {"type": "put", "exercise": {"family": "long-tone", "values": {}}},
        {"type": "watch", "session": "x"},
        {"type": "watch"},
        [],
    ):
        with window(client) as other:
            other.send_json(strange)
            with pytest.raises(WebSocketDisconnect) as closed:
                other.receive_json()
            assert closed.value.code == 4001
    with window(client) as other:
        other.send_bytes(b"x")
        with pytest.raises(WebSocketDisconnect):
            other.receive_json()


def test_a_press_where_nobody_listens_is_refused(client: TestClient) -> None:
    with window(client, SESSION) as other:
        other.send_json({"type": "press", "press": "pause"})
        assert until(other, "refused")["detail"].startswith("Nobody is listening now.")


def test_a_press_is_none_where_one_plays_freely_and_a_spot_is_marked(client: TestClient) -> None:
    with client.websocket_connect(LIVE) as ear:
        ear.send_json(FREE)
        until(ear, "ready")
        with window(client, FREE["session"]) as other:
            assert until(other, "note")["note"] is None
            # It is a press for exercises; playing goes on.
            other.send_json({"type": "press", "press": "pause"})
            other.send_json({"type": "mark"})
            until(other, "microphone")
            for chunk in CHUNKS:
                ear.send_bytes(chunk)
            ear.send_json({"type": "bye"})
            over = until(ear, "over")
    bookmarks = client.get(f"/api/recordings/{over['recording_id']}").json()["bookmarks"]
    assert len(bookmarks) == 1


def test_a_window_is_told_of_the_session_it_chose_last_alone(client: TestClient) -> None:
    with client.websocket_connect(LIVE) as ear, window(client, SESSION) as other:
        listen(ear)
        until(other, "microphone")
        other.send_json({"type": "watch", "session": "e" * 32})
        other.send_json({"type": "press", "press": "pause"})
        assert until(other, "refused")["detail"].startswith("Nobody")
        for chunk in CHUNKS:
            ear.send_bytes(chunk)
        until(ear, "verdict")
        with window(client):
            pass
        other.send_json({"type": "watch", "session": SESSION})
        told = other.receive_json()
        assert told["type"] == "session"


def test_a_second_ear_takes_the_session_over_and_the_first_is_told(client: TestClient) -> None:
    with window(client, SESSION) as other, client.websocket_connect(LIVE) as first:
        listen(first)
        before = 40
        for chunk in CHUNKS[:before]:
            first.send_bytes(chunk)
        until(other, "frames")
        with client.websocket_connect(LIVE) as second:
            second.send_json({**HELLO, "resumes": True})
            ready = until(second, "ready")
            assert until(first, "moved")["device"] == "the computer"
            with pytest.raises(WebSocketDisconnect) as closed:
                first.receive_json()
            assert closed.value.code == 4001
            for at, chunk in enumerate(CHUNKS[before:], ready["next"]):
                second.send_bytes(at.to_bytes(4, "little") + chunk[4:])
            # Whoever watches goes on watching.
            assert until(other, "verdict")["take"]["verdict"]["passed"]
    # Nothing is lost and nothing there twice.
    assert len(client.get("/api/players/1/takes").json()) == 1


def test_a_window_that_takes_nothing_is_let_go_and_keeps_nobody_waiting() -> None:
    house = House()
    with house.window("Phone") as watcher:
        for _ in range(3000):
            watcher.put(Refused(detail="x"))
        assert _lags(watcher)


def _lags(watcher: Watcher) -> bool:
    try:
        run(watcher.next())
    except LaggingError:
        return True
    return False
