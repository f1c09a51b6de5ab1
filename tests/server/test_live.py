"""The live socket: sound in, verdicts out, and nothing lost on the way."""

import errno
import os
import struct
import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import numpy as np
import pytest
import soundfile
from fastapi.testclient import TestClient
from starlette.testclient import WebSocketTestSession
from starlette.websockets import WebSocketDisconnect

from orexis.server.app import Settings, create_app
from orexis.server.live.sessions import LiveSessions
from orexis.store.spool import Spool
from tests.server.conftest import BASE, held_s, run
from tests.sounds import RATE, Samples, silence, softened, steady

LIVE = "ws://127.0.0.1:8420/api/live"
SESSION = "ab" * 16
CHUNK = 512


def long_tone(**values: str) -> dict[str, Any]:
    """What a hello says of one note."""
    return {"exercises": [{"family": "long-tone", "values": values}]}


HELLO: dict[str, Any] = {
    "type": "hello",
    "kind": "task",
    "session": SESSION,
    "player_id": 1,
    **long_tone(from_midi="58", hold_s="2"),
    "source": "microphone",
    "sample_rate": RATE,
    "started_at": "2026-05-04T18:00:00+00:00",
}
# B♭3 (233.082 Hz) 8 cents high.
NOTE = softened(steady(233.082 * 2 ** (8 / 1200), 2.4))
SOUND = np.concatenate((silence(1.0), NOTE, silence(1.0)))


def chunks(sound: Samples) -> list[bytes]:
    pcm = np.rint(sound * 32_768).astype("<i2")
    return [
        struct.pack("<I", seq) + pcm[seq * CHUNK : (seq + 1) * CHUNK].tobytes()
        for seq in range(len(pcm) // CHUNK)
    ]


CHUNKS = chunks(SOUND)


def messages(socket: WebSocketTestSession) -> Iterator[dict[str, Any]]:
    while True:
        message: dict[str, Any] = socket.receive_json()
        yield message
        if message["type"] == "closed":
            return


def opened(socket: WebSocketTestSession, **hello: Any) -> dict[str, Any]:
    """Opens a session; returns where it is."""
    socket.send_json({**HELLO, **hello})
    told = [socket.receive_json() for _ in range(3)]
    assert [one["type"] for one in told] == ["ready", "session", "microphone"], told
    found: dict[str, Any] = told[1]
    return found


def told(socket: WebSocketTestSession) -> list[dict[str, Any]]:
    """Says bye and returns everything said until the end."""
    socket.send_json({"type": "bye"})
    return list(messages(socket))


def takes(client: TestClient) -> list[dict[str, Any]]:
    found: list[dict[str, Any]] = client.get("/api/players/1/takes").json()
    return found


def test_a_note_is_drawn_judged_and_kept(client: TestClient) -> None:
    with client.websocket_connect(LIVE) as socket:
        socket.send_json(HELLO)
        assert socket.receive_json() == {"type": "ready", "next": 0}
        for chunk in CHUNKS:
            socket.send_bytes(chunk)
        said = told(socket)
    frames = [message for message in said if message["type"] == "frames"]
    numbers: list[int] = []
    seen = 0
    for part in frames:
        end = part["first"] + len(part["pitch_cents"])
        assert part["first"] == len(numbers)
        numbers += range(part["first"], end - part["early"])
        seen = max(seen, end)
    assert numbers == list(range(seen))
    assert len(numbers) == pytest.approx(100 * len(SOUND) / RATE, abs=3)
    states = [message["playing_since"] for message in said if message["type"] == "state"]
    assert states == [pytest.approx(100, abs=4), None]
    (verdict,) = [message["take"] for message in said if message["type"] == "verdict"]
    assert verdict["verdict"]["passed"]
    (kept,) = takes(client)
    assert kept["id"] == verdict["id"]
    centre = next(rule for rule in kept["verdict"]["rules"] if rule["rule"] == "centre")
    assert centre["measured"] == pytest.approx(8, abs=0.3)
    assert kept["span"] == ["G4"]
    # The note began a second after 18:00; its take half a second before that.
    assert kept["started_at"].startswith("2026-05-04T18:00:00.")


def test_the_kept_sound_is_what_was_sent_sample_for_sample(
    client: TestClient, tmp_path: Path
) -> None:
    with client.websocket_connect(LIVE) as socket:
        socket.send_json(HELLO)
        for chunk in CHUNKS:
            socket.send_bytes(chunk)
        told(socket)
    (kept,) = takes(client)
    sound = client.get(f"/api/takes/{kept['id']}/sound")
    assert sound.headers["content-type"] == "audio/flac"
    (tmp_path / "a.flac").write_bytes(sound.content)
    samples, _ = soundfile.read(tmp_path / "a.flac", dtype="int16")
    start = kept["first_frame"] * RATE // 100
    sent = np.rint(SOUND * 32_768).astype(np.int16)
    assert np.array_equal(samples, sent[start : start + len(samples)])
    detail = client.get(f"/api/takes/{kept['id']}").json()
    assert len(detail["frames"]["pitch_cents"]) == round(100 * kept["duration_s"])
    assert {line["label"] for line in detail["notes"][0]["measures"]} >= {"drift", "clearness"}


def test_acknowledged_sound_is_on_disk(client: TestClient, settings: Settings) -> None:
    with client.websocket_connect(LIVE) as socket:
        socket.send_json(HELLO)
        for chunk in CHUNKS[:60]:
            socket.send_bytes(chunk)
        acknowledged = next(m["next"] for m in messages(socket) if m["type"] == "ack")
        size = (settings.spool_folder / f"{SESSION}.spool").stat().st_size
        assert acknowledged > 0
        assert size >= acknowledged * CHUNK * 2
        told(socket)


def test_a_dropped_socket_goes_on_where_the_disk_left_off(client: TestClient) -> None:
    half = len(CHUNKS) // 2
    with client.websocket_connect(LIVE) as socket:
        opened(socket)
        for chunk in CHUNKS[:half]:
            socket.send_bytes(chunk)
    with client.websocket_connect(LIVE) as socket:
        socket.send_json(HELLO)
        ready = socket.receive_json()
        assert ready["next"] <= half
        # What was seen already is sent again, as a browser that missed the answer would.
        for chunk in CHUNKS[max(0, ready["next"] - 5) :]:
            socket.send_bytes(chunk)
        told(socket)
    (kept,) = takes(client)
    assert held_s(kept) == pytest.approx(2.4, abs=0.08)
    assert kept["verdict"]["passed"]


def test_a_take_kept_before_a_crash_is_not_kept_twice(
    client: TestClient, settings: Settings, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(Spool, "forget_before", lambda self, frame: None)
    monkeypatch.setattr(Spool, "remove", lambda self: self.close())
    for _ in range(2):
        with client.websocket_connect(LIVE) as socket:
            socket.send_json(HELLO)
            ready = socket.receive_json()
            for chunk in CHUNKS[ready["next"] :]:
                socket.send_bytes(chunk)
            told(socket)
    assert len(takes(client)) == 1


def test_sound_nobody_came_back_for_is_judged_and_kept(
    client: TestClient, settings: Settings
) -> None:
    with client.websocket_connect(LIVE) as socket:
        opened(socket)
        for chunk in CHUNKS[: len(CHUNKS) // 2]:
            socket.send_bytes(chunk)
        # All of it was heard before the browser went away.
        next(m for m in messages(socket) if m.get("first", 0) + len(m.get("pitch_cents", "")) > 205)
    sessions: LiveSessions = client.app.state.live_sessions  # type: ignore[attr-defined]
    deadline = time.monotonic() + 10
    while not takes(client) and time.monotonic() < deadline:
        run(sessions.recover(idle_s=0))
    (kept,) = takes(client)
    # Half of the 4.4 s that were sent, less the second before the note.
    assert held_s(kept) == pytest.approx(1.2, abs=0.15)
    assert list(settings.spool_folder.iterdir()) == []


def test_a_second_window_of_the_same_session_takes_over(client: TestClient) -> None:
    with client.websocket_connect(LIVE) as first:
        first.send_json(HELLO)
        first.receive_json()
        with client.websocket_connect(LIVE) as second:
            second.send_json(HELLO)
            assert second.receive_json()["type"] == "ready"
            told(second)


def test_a_full_disk_is_said_and_sent_again_later(
    client: TestClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    def full(self: Spool, pcm: bytes) -> None:
        raise OSError(errno.ENOSPC, os.strerror(errno.ENOSPC))

    with monkeypatch.context() as patched:
        patched.setattr(Spool, "append", full)
        with client.websocket_connect(LIVE) as socket:
            opened(socket)
            socket.send_bytes(CHUNKS[0])
            assert socket.receive_json()["title"] == "The disk is full"
            with pytest.raises(WebSocketDisconnect) as closed:
                socket.receive_json()
            assert closed.value.code == 4000
    with client.websocket_connect(LIVE) as socket:
        socket.send_json(HELLO)
        assert socket.receive_json()["next"] == 0
        for chunk in CHUNKS:
            socket.send_bytes(chunk)
        told(socket)
    assert len(takes(client)) == 1


@pytest.mark.parametrize(
    "change",
    [
        {"player_id": 99},
        long_tone(from_midi="5"),
        {"sample_rate": 100},
        {"session": "../../../x"},
        {"type": "hullo"},
        long_tone(hold_s="0"),
    ],
)
def test_a_hello_that_cannot_be_is_refused_for_good(
    client: TestClient, settings: Settings, change: dict[str, Any]
) -> None:
    with client.websocket_connect(LIVE) as socket:
        socket.send_json({**HELLO, **change})
        problem = socket.receive_json()
        assert problem["type"] == "problem"
        with pytest.raises(WebSocketDisconnect) as closed:
            socket.receive_json()
        assert closed.value.code == 4001
    folder = settings.spool_folder
    assert not folder.exists() or list(folder.iterdir()) == []


def test_sound_in_a_strange_form_is_refused(client: TestClient) -> None:
    with client.websocket_connect(LIVE) as socket:
        opened(socket)
        socket.send_bytes(b"\x00" * 99)
        assert socket.receive_json()["type"] == "problem"


def test_a_gap_in_the_sound_asks_to_come_again(client: TestClient) -> None:
    with client.websocket_connect(LIVE) as socket:
        opened(socket)
        socket.send_bytes(CHUNKS[7])
        with pytest.raises(WebSocketDisconnect) as closed:
            socket.receive_json()
        assert closed.value.code == 4000


def test_another_pages_socket_is_refused(client: TestClient) -> None:
    with (
        pytest.raises(WebSocketDisconnect),
        client.websocket_connect(LIVE, headers={"Origin": "http://elsewhere.example"}),
    ):
        pass


def test_overruling_is_kept_and_can_be_taken_back(client: TestClient) -> None:
    with client.websocket_connect(LIVE) as socket:
        socket.send_json({**HELLO, **long_tone(from_midi="58", hold_s="4")})
        for chunk in CHUNKS:
            socket.send_bytes(chunk)
        told(socket)
    (kept,) = takes(client)
    assert not kept["verdict"]["passed"]
    path = f"/api/takes/{kept['id']}"
    judged = kept["verdict"]["headline"]
    assert client.put(f"{path}/overrule", json={"passed": True}).json()["verdict"]["passed"]
    verdict = takes(client)[0]["verdict"]
    assert (verdict["passed"], verdict["overruled"], verdict["word"]) == (True, True, "good")
    assert (verdict["headline"], verdict["change"]) == (
        "You say: good.",
        f"Orexis said: {judged}",
    )
    assert (
        client.put(f"{path}/overrule", json={"passed": None}).json()["verdict"] == (kept["verdict"])
    )
    assert client.delete(path).status_code == 204
    assert takes(client) == []
    assert client.post(f"{path}/restore").status_code == 204
    assert len(takes(client)) == 1


def test_a_new_server_on_the_same_file_finds_the_takes(
    client: TestClient, settings: Settings
) -> None:
    with client.websocket_connect(LIVE) as socket:
        socket.send_json(HELLO)
        for chunk in CHUNKS:
            socket.send_bytes(chunk)
        told(socket)
    today = takes(client)
    with TestClient(create_app(settings), base_url=BASE) as tomorrow:
        assert takes(tomorrow) == today
