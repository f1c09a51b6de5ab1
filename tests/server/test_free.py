"""Playing without a task: what sounds is named, and what was played becomes a recording."""

from pathlib import Path
from typing import Any

import numpy as np
import pytest
from fastapi.testclient import TestClient
from starlette.testclient import WebSocketTestSession

from orexis.server.live.sessions import LiveSessions
from tests.server.conftest import MAREN, run
from tests.server.test_api import problem
from tests.server.test_live import HELLO, LIVE, chunks, messages
from tests.sounds import RATE, noise, silence, softened, steady

FREE: dict[str, Any] = {**HELLO, "kind": "free", "exercises": []}
# On an E♭ tenor horn: B♭3 12 cents sharp, then D4 where it belongs.
FIRST = softened(steady(233.082 * 2 ** (12 / 1200), 2.0))
SECOND = softened(steady(293.665, 1.5))
SOUND = np.concatenate((silence(1.0), FIRST, silence(0.6), SECOND, silence(1.0)))


def play(client: TestClient, sound: Any = SOUND, **hello: Any) -> list[dict[str, Any]]:
    """Plays a sound and leaves; everything that was said."""
    with client.websocket_connect(LIVE) as socket:
        socket.send_json({**FREE, **hello})
        assert socket.receive_json() == {"type": "ready", "next": 0}
        for chunk in chunks(sound):
            socket.send_bytes(chunk)
        socket.send_json({"type": "bye"})
        return list(messages(socket))


def recordings(client: TestClient) -> list[dict[str, Any]]:
    found: list[dict[str, Any]] = client.get("/api/players/1/recordings").json()
    return found


def test_the_note_that_sounds_is_named_as_it_is_written_and_sounds(client: TestClient) -> None:
    sent = chunks(SOUND)

    def told(socket: WebSocketTestSession) -> dict[str, Any] | None:
        while (said := socket.receive_json())["type"] != "note":
            pass
        found: dict[str, Any] | None = said["note"]
        return found

    with client.websocket_connect(LIVE) as socket:
        socket.send_json(FREE)
        socket.receive_json()
        # In the middle of the first, of the second, and of the silence at the end.
        at = [round(seconds * RATE) // 512 for seconds in (2.5, 4.6, 6.1)]
        for chunk in sent[: at[0]]:
            socket.send_bytes(chunk)
        while (first := told(socket)) is None or first["words"] != "12 cents sharp":
            pass
        for chunk in sent[at[0] : at[1]]:
            socket.send_bytes(chunk)
        while (second := told(socket)) is None or second["name"] != "B4":
            pass
        for chunk in sent[at[1] : at[2]]:
            socket.send_bytes(chunk)
        while told(socket) is not None:
            pass
    assert (first["name"], first["sounding_name"], first["pitch_cents"]) == ("G4", "B♭3", 5800)
    assert first["cents"] == pytest.approx(12, abs=0.5)
    assert (first["hand"], first["partial"]) == ("open", 3)
    assert second["sounding_name"] == "D4"


def test_its_frames_are_drawn_as_in_any_session(client: TestClient) -> None:
    frames = [one for one in play(client) if one["type"] == "frames"]
    heard = {
        part["first"] + at
        for part in frames
        for at, cents in enumerate(part["pitch_cents"])
        if cents is not None
    }
    assert set(range(110, 290)) <= heard


def test_at_the_end_it_says_what_was_played_and_keeps_it_as_a_recording(
    client: TestClient,
) -> None:
    over = next(one for one in play(client) if one["type"] == "over")
    assert [(one["name"], one["times"]) for one in over["notes"]] == [("B4", 1), ("G4", 1)]
    assert over["notes"][1]["words"] == "12 cents sharp"
    assert over["words"][0].startswith("6.1 s of sound, 3.")
    assert over["words"][-1] == "Longest hold: G4, 2.0 s."
    (kept,) = recordings(client)
    assert kept["id"] == over["recording_id"]
    assert kept["note_count"] == 2
    assert kept["duration_s"] == pytest.approx(len(SOUND) / RATE, abs=0.05)
    # It is no take, and no session to go on with.
    assert client.get("/api/players/1/takes").json() == []
    assert client.get(f"/api/recordings/{kept['id']}").json()["name"].startswith("Played 04.05.")


def test_where_no_note_was_heard_nothing_is_kept(client: TestClient) -> None:
    over = next(one for one in play(client, noise(2.0, 0.001)) if one["type"] == "over")
    assert over["recording_id"] is None
    assert over["words"][-1].startswith("No notes were heard.")
    assert recordings(client) == []


def test_a_dropped_line_goes_on_where_it_was(client: TestClient) -> None:
    sent = chunks(SOUND)
    half = len(sent) // 2
    with client.websocket_connect(LIVE) as socket:
        socket.send_json(FREE)
        socket.receive_json()
        for chunk in sent[:half]:
            socket.send_bytes(chunk)
        while socket.receive_json()["type"] != "ack":
            pass
    with client.websocket_connect(LIVE) as socket:
        socket.send_json(FREE)
        ready = socket.receive_json()
        assert ready["type"] == "ready"
        for chunk in sent[ready["next"] :]:
            socket.send_bytes(chunk)
        socket.send_json({"type": "bye"})
        over = next(one for one in messages(socket) if one["type"] == "over")
    assert [one["name"] for one in over["notes"]] == ["B4", "G4"]
    (kept,) = recordings(client)
    assert kept["duration_s"] == pytest.approx(len(SOUND) / RATE, abs=0.05)


def test_what_nobody_came_back_to_becomes_a_recording(client: TestClient) -> None:
    with client.websocket_connect(LIVE) as socket:
        socket.send_json(FREE)
        socket.receive_json()
        for chunk in chunks(SOUND):
            socket.send_bytes(chunk)
        while socket.receive_json()["type"] != "ack":
            pass
    sessions: LiveSessions = client.app.state.live_sessions  # type: ignore[attr-defined]
    run(sessions.recover(0.0))
    (kept,) = recordings(client)
    assert kept["note_count"] >= 1
    assert list(Path(sessions.spool_folder).glob("*.spool")) == []


def test_nothing_else_can_be_said_in_it_and_others_need_an_exercise(client: TestClient) -> None:
    with client.websocket_connect(LIVE) as socket:
        socket.send_json(FREE)
        socket.receive_json()
        socket.send_json({"type": "press", "press": "pause"})
        assert socket.receive_json()["type"] == "problem"
    with client.websocket_connect(LIVE) as socket:
        socket.send_json({**HELLO, "exercises": []})
        assert socket.receive_json()["type"] == "problem"


def test_while_something_hurts_it_waits(client: TestClient) -> None:
    client.post("/api/players/1/hurts").raise_for_status()
    with client.websocket_connect(LIVE) as socket:
        socket.send_json(FREE)
        said = socket.receive_json()
    assert said["type"] == "problem"
    assert "playing waits" in said["detail"]


def test_the_chart_has_every_note_of_the_horn(client: TestClient) -> None:
    chart = client.get("/api/players/1/chart").json()
    pitches = [one["pitch_cents"] for one in chart["bands"]]
    assert pitches == sorted(pitches, reverse=True)
    assert {"name": "G4", "pitch_cents": 5800.0, "asked": False} in chart["bands"]
    assert chart["limit_cents"] == 15
    client.put("/api/players/1", json={**MAREN, "gate_level": "strict"}).raise_for_status()
    assert client.get("/api/players/1/chart").json()["limit_cents"] == 10
    problem(client.get("/api/players/9/chart"), 404)
