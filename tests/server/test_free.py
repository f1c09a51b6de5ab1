"""Playing without a task: what sounds is named, and what was played becomes a recording."""

import io
from datetime import UTC, date, datetime, timedelta
from pathlib import Path
from typing import Any

import numpy as np
import pytest
import soundfile
from fastapi.testclient import TestClient
from starlette.testclient import WebSocketTestSession

from orexis.server.app import Settings
from orexis.server.live.sessions import LiveSessions
from orexis.store.database import Database
from orexis.store.models import Player
from orexis.store.sittings import free_played
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
    assert [(note["name"], note["times"]) for note in over["notes"]] == [("B4", 1), ("G4", 1)]
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
        over = next(message for message in messages(socket) if message["type"] == "over")
    assert [note["name"] for note in over["notes"]] == ["B4", "G4"]
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


def said_while_playing(client: TestClient, *said: dict[str, Any], **hello: Any) -> dict[str, Any]:
    """Plays and says some things after the first half of the sound; what came of it."""
    sent = chunks(SOUND)
    half = len(sent) // 2
    with client.websocket_connect(LIVE) as socket:
        socket.send_json({**FREE, **hello})
        socket.receive_json()
        for chunk in sent[:half]:
            socket.send_bytes(chunk)
        for one in said:
            socket.send_json(one)
        for chunk in sent[half:]:
            socket.send_bytes(chunk)
        socket.send_json({"type": "bye"})
        told: dict[str, Any] = next(
            message for message in messages(socket) if message["type"] == "over"
        )
    return told


def test_against_its_metronome_notes_are_early_or_late(client: TestClient) -> None:
    # At 60 from 0.98 s on: the first note at 1.0 s is 20 ms late, the second at 3.6 s is 20 ms
    # after a beat parted in five, so of two notes beats alone say much.
    pulse = {"bpm": 100, "bars": "3 + 2"}
    given = {"type": "metronome", "pulse": pulse, "sample": round(0.98 * RATE)}
    over = said_while_playing(client, given, latency_s=0)
    (against,) = [word for word in over["words"] if word.startswith("Against 100 beats a minute")]
    assert "late" in against
    unmeasured = said_while_playing(client, given, latency_s=None, session="b" * 32)
    (against,) = [word for word in unmeasured["words"] if word.startswith("Against 100")]
    assert "on average" not in against


def test_spots_that_are_marked_while_playing_become_bookmarks(client: TestClient) -> None:
    over = said_while_playing(client, {"type": "mark"})
    bookmarks = client.get(f"/api/recordings/{over['recording_id']}").json()["bookmarks"]
    assert [bookmark["words"] for bookmark in bookmarks] == ["marked while playing"]
    assert bookmarks[0]["at_s"] == pytest.approx(len(SOUND) / RATE / 2, abs=0.6)


def test_a_note_is_told_against_the_drone_that_sounds(client: TestClient) -> None:
    sent = chunks(SOUND)
    with client.websocket_connect(LIVE) as socket:
        socket.send_json({**FREE, "source": "stand-in"})
        socket.receive_json()
        socket.send_json({"type": "drone", "drone": {"midi": 46}})
        for chunk in sent[: round(4.6 * RATE) // 512]:
            socket.send_bytes(chunk)
        heard: list[dict[str, Any]] = []
        while not heard or heard[-1]["sounding_name"] != "D4":
            said = socket.receive_json()
            if said["type"] == "note" and said["note"] is not None:
                heard.append(said["note"])
    # D4 over B♭: a pure third lies 13.7 cents under the equal one, which is what was played.
    assert heard[-1]["interval"] == "a major third above the drone"
    assert heard[-1]["words"] == "14 cents sharp"
    assert heard[-1]["target_cents"] == pytest.approx(6200 - 13.7, abs=0.05)
    assert any(
        (one["interval"], one["words"]) == ("the drone's own note", "12 cents sharp")
        for one in heard
    )


def test_a_drone_that_cannot_be_heard_apart_is_refused_and_playing_goes_on(
    client: TestClient,
) -> None:
    with client.websocket_connect(LIVE) as socket:
        socket.send_json(FREE)
        socket.receive_json()
        socket.send_json({"type": "drone", "drone": {"midi": 30, "fifth": True}})
        while (said := socket.receive_json())["type"] != "refused":
            pass
        assert said["detail"] == "With its fifth a drone can sound from C2 up."
        socket.send_json({"type": "bye"})
        assert any(message["type"] == "over" for message in messages(socket))


def test_the_next_time_each_note_is_told_beside_the_usual(client: TestClient) -> None:
    for day in range(3):
        play(client, session=f"{day:032x}", started_at=f"2026-05-0{day + 1}T17:30:00+02:00")
    over = next(
        one
        for one in play(client, softened(steady(233.082, 2.0)), session="f" * 32)
        if one["type"] == "over"
    )
    assert [note["usual"] for note in over["notes"]] == ["usually 12 cents sharp"]


def test_what_was_played_is_known_to_the_coach(client: TestClient, settings: Settings) -> None:
    play(client)
    play(client, session="1" * 32, source="stand-in")
    database = Database(settings.data)
    with database.session() as session:
        player = session.get_one(Player, 1)
        (day,) = free_played(session, player, datetime(2026, 5, 1, tzinfo=UTC))
    database.close()
    assert day.day == date(2026, 5, 4)
    # Two seconds and one and a half; the stand-in's are nobody's lips.
    assert day.easy_s + day.high_s == pytest.approx(3.5, abs=0.15)


def test_what_was_said_outlives_the_line(client: TestClient) -> None:
    sent = chunks(SOUND)
    half = len(sent) // 2
    with client.websocket_connect(LIVE) as socket:
        socket.send_json(FREE)
        socket.receive_json()
        for chunk in sent[:half]:
            socket.send_bytes(chunk)
        socket.send_json({"type": "mark"})
        socket.send_json({"type": "metronome", "pulse": {"bpm": 100}, "sample": 0})
        socket.send_json({"type": "drone", "drone": {"midi": 46, "fifth": True}})
        for chunk in sent[half : half + 40]:
            socket.send_bytes(chunk)
        # What was said came before this sound was listened to.
        said_at = round(half * 512 / RATE * 100)
        heard_to = 0
        while heard_to <= said_at + 1:
            told = socket.receive_json()
            if told["type"] == "frames":
                heard_to = told["first"] + len(told["pitch_cents"])
    sessions: LiveSessions = client.app.state.live_sessions  # type: ignore[attr-defined]
    run(sessions.recover(0.0))
    (kept,) = recordings(client)
    assert len(client.get(f"/api/recordings/{kept['id']}").json()["bookmarks"]) == 1


def test_nobodys_notes_are_named_as_they_sound(client: TestClient) -> None:
    said = play(client, player_id=None)
    named = {one["note"]["name"] for one in said if one["type"] == "note" and one["note"]}
    assert named == {"B♭3", "D4"}
    over = next(one for one in said if one["type"] == "over")
    assert over["recording_id"] is None
    assert [note["name"] for note in over["notes"]] == ["D4", "B♭3"]
    pitches = [band["pitch_cents"] for band in client.get("/api/chart").json()["bands"]]
    assert pitches == [100.0 * midi for midi in range(93, 20, -1)]


def test_it_becomes_somebodys_when_they_say_so(client: TestClient) -> None:
    play(client, player_id=None, session="c" * 32)
    assert recordings(client) == []
    (waiting,) = client.get("/api/sittings/unclaimed").json()
    assert waiting["id"] == "c" * 32
    assert waiting["duration_s"] == pytest.approx(len(SOUND) / RATE, abs=0.05)
    over = client.post(f"/api/sittings/{'c' * 32}/owner", json={"player_id": 1}).json()
    assert [note["name"] for note in over["notes"]] == ["B4", "G4"]
    (kept,) = recordings(client)
    assert kept["id"] == over["recording_id"]
    assert client.get("/api/sittings/unclaimed").json() == []
    problem(client.post(f"/api/sittings/{'c' * 32}/owner", json={"player_id": 1}), 404)


def test_nobodys_playing_can_be_thrown_away_and_goes_after_a_week(client: TestClient) -> None:
    play(client, player_id=None, session="d" * 32, started_at="2026-05-04T17:30:00+02:00")
    problem(client.post(f"/api/sittings/{'d' * 32}/owner", json={"player_id": 9}), 404)
    assert client.delete(f"/api/sittings/{'d' * 32}").status_code == 204
    problem(client.delete(f"/api/sittings/{'d' * 32}"), 404)
    now = datetime.now(UTC)
    for days, session in ((6, "e" * 32), (8, "f" * 32)):
        started_at = (now - timedelta(days=days)).isoformat()
        play(client, player_id=None, session=session, started_at=started_at)
    sessions: LiveSessions = client.app.state.live_sessions  # type: ignore[attr-defined]
    run(sessions.recover(0.0))
    assert [one["id"] for one in client.get("/api/sittings/unclaimed").json()] == ["e" * 32]


def test_what_was_marked_while_nobody_played_is_kept_for_whoever_it_was(
    client: TestClient,
) -> None:
    said_while_playing(client, {"type": "mark"}, player_id=None, session="a" * 32)
    over = client.post(f"/api/sittings/{'a' * 32}/owner", json={"player_id": 1}).json()
    bookmarks = client.get(f"/api/recordings/{over['recording_id']}").json()["bookmarks"]
    assert [bookmark["words"] for bookmark in bookmarks] == ["marked while playing"]


def test_only_free_playing_can_be_nobodys(client: TestClient) -> None:
    with client.websocket_connect(LIVE) as socket:
        socket.send_json({**HELLO, "player_id": None})
        said = socket.receive_json()
    assert said["type"] == "problem"
    assert "Choose who plays first." in said["detail"]


def test_nothing_else_can_be_said_in_it_and_others_need_an_exercise(client: TestClient) -> None:
    with client.websocket_connect(LIVE) as socket:
        socket.send_json(FREE)
        assert [socket.receive_json()["type"] for _ in range(2)] == ["ready", "microphone"]
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
    pitches = [band["pitch_cents"] for band in chart["bands"]]
    assert pitches == sorted(pitches, reverse=True)
    assert {"name": "G4", "pitch_cents": 5800.0, "asked": False} in chart["bands"]
    assert chart["limit_cents"] == 15
    client.put("/api/players/1", json={**MAREN, "standard": "strict"}).raise_for_status()
    assert client.get("/api/players/1/chart").json()["limit_cents"] == 10
    problem(client.get("/api/players/9/chart"), 404)


def test_what_fits_into_no_recording_any_more_is_ended_and_kept(
    client: TestClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("orexis.practice.free.LONGEST_SAMPLES", round(3.0 * RATE))
    with client.websocket_connect(LIVE) as socket:
        socket.send_json(FREE)
        for chunk in chunks(SOUND):
            socket.send_bytes(chunk)
        # Nobody says bye.
        said = list(messages(socket))
    assert [one["type"] for one in said][-2:] == ["over", "closed"]
    (kept,) = recordings(client)
    assert kept["id"] == said[-2]["recording_id"]
    assert kept["duration_s"] == pytest.approx(3.0, abs=1.4)


def test_sound_that_could_not_be_compressed_as_it_came_is_kept_all_the_same(
    client: TestClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    class Full(io.BytesIO):
        """A file on a disk with room for little."""

        def write(self, content: Any) -> int:
            if self.tell() > 20_000:
                raise OSError(28, "No space left on device")
            return super().write(content)

    monkeypatch.setattr("orexis.formats.audio.TemporaryFile", lambda dir: Full())
    play(client)
    (kept,) = recordings(client)
    flac = client.get(f"/api/recordings/{kept['id']}/sound").content
    sound, rate = soundfile.read(io.BytesIO(flac))
    assert len(sound) / rate == pytest.approx(len(SOUND) / RATE, abs=0.02)
