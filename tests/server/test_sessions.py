"""Whole sessions over the socket and beside it: said, kept, gone on with, held back."""

import sqlite3
from datetime import UTC, datetime, timedelta
from typing import Any

import numpy as np
import pytest
import soundfile
from fastapi.testclient import TestClient
from starlette.testclient import WebSocketTestSession

from orexis.core.listening.round_trip import clicks
from orexis.server.app import Settings
from tests.server.conftest import MAREN
from tests.server.test_api import problem
from tests.server.test_live import HELLO, LIVE, SESSION, chunks, messages, opened, takes, told
from tests.server.test_taking_up import heard_until, recover
from tests.sounds import RATE, Samples, silence, softened, steady

B_FLAT_3_HZ = 233.082
TONE = {"family": "long-tone", "values": {"from_midi": "58", "hold_s": "1"}}
TWICE = {**TONE, "way": {"needed": "2", "rest_s": "5"}}
HIGHER = {**TONE, "way": {"follow": "ladder", "rungs": "3", "as_played": "off"}}
WHOLE = {"title": "Evening", "kind": "plan", "exercises": [TWICE, HIGHER]}
NOTE = np.concatenate((silence(0.5), softened(steady(B_FLAT_3_HZ, 1.3)), silence(0.5)))


class Line:
    """A socket that sounds are sent down one after the other."""

    def __init__(self, socket: WebSocketTestSession, seq: int = 0) -> None:
        self.socket = socket
        self.seq = seq

    def play(self, *sounds: Samples) -> None:
        whole = np.concatenate(sounds)
        whole = np.concatenate((whole, np.zeros(-len(whole) % 512)))
        for chunk in chunks(whole):
            self.socket.send_bytes(self.seq.to_bytes(4, "little") + chunk[4:])
            self.seq += 1

    def say(self, kind: str, **said: Any) -> None:
        self.socket.send_json({"type": kind, **said})

    def where(self) -> dict[str, Any]:
        return heard_until(self.socket, "session")


def phases(where: dict[str, Any]) -> list[str]:
    return [stretch["phase"] for stretch in where["now"]["stretches"]]


def log(settings: Settings) -> list[str]:
    with sqlite3.connect(settings.data) as data:
        return [kind for (kind,) in data.execute("SELECT kind FROM session_log ORDER BY number")]


def test_a_session_says_where_it_is_and_what_is_next(client: TestClient) -> None:
    with client.websocket_connect(LIVE) as socket:
        where = opened(socket, **WHOLE)
        assert where["title"] == "Evening"
        assert where["plan"]["sheet"]["title"] == "Long tone"
        assert [block["title"] for block in where["now"]["blocks"]] == ["Long tone", "Long tone"]
        line = Line(socket)
        line.play(NOTE)
        after = line.where()
        # The same exercise is not sent again; the rest is five seconds.
        assert (after["plan"], phases(after)) == (None, ["rest", "ready"])
        rest = after["now"]["stretches"][0]
        assert rest["end"] - rest["start"] == 5 * RATE
        assert after["now"]["place"] == "1 of 2 good"
        line.play(silence(5), NOTE)
        assert line.where()["now"]["whole"] == "2 of 2: Long tone"
        told(socket)
    assert [take["place"] for take in reversed(takes(client))] == [
        "0 of 2 good",
        "1 of 2 good",
    ]


def test_what_is_played_in_a_rest_makes_no_take(client: TestClient, settings: Settings) -> None:
    with client.websocket_connect(LIVE) as socket:
        opened(socket, **WHOLE)
        line = Line(socket)
        line.play(NOTE)
        line.where()
        line.play(NOTE)
        still = line.where()
        assert "Still resting" in still["now"]["stretches"][0]["headline"]
        told(socket)
    assert len(takes(client)) == 1
    assert log(settings) == ["judged", "disturbed", "pressed"]


def test_keys_are_on_disk_before_they_are_answered(client: TestClient, settings: Settings) -> None:
    with client.websocket_connect(LIVE) as socket:
        opened(socket, **WHOLE)
        line = Line(socket)
        for press, expected in (("pause", ["paused"]), ("go-on", ["ready"]), ("next", ["ready"])):
            line.say("press", press=press)
            assert phases(line.where()) == expected
            assert len(log(settings)) == ["pause", "go-on", "next"].index(press) + 1
        line.say("press", press="end")
        where = line.where()
        assert (where["now"]["ended"], where["summary"]["takes"]) == ("stopped", 0)
        told(socket)
    # What is over is not gone on with.
    assert client.get("/api/players/1/sessions/open").json() is None


def test_a_key_in_the_middle_of_a_note_keeps_what_was_played(
    client: TestClient, settings: Settings
) -> None:
    with client.websocket_connect(LIVE) as socket:
        opened(socket, **WHOLE)
        line = Line(socket)
        line.play(silence(0.5), softened(steady(B_FLAT_3_HZ, 1.0)))
        heard_until(socket, "state")
        line.say("press", press="again")
        line.where()
        told(socket)
    assert len(takes(client)) == 1
    assert log(settings) == ["judged", "pressed", "pressed"]


def test_another_exercise_is_put_in_or_refused_and_nothing_changes(client: TestClient) -> None:
    with client.websocket_connect(LIVE) as socket:
        opened(socket)
        line = Line(socket)
        line.say("put", exercise={"family": "lip-slur", "values": {"slots": "3"}})
        assert line.where()["plan"]["sheet"]["title"] == "Lip slur"
        for exercise, reason in (
            ({"family": "long-tone", "values": {"from_midi": "5"}}, "note: from"),
            ({"family": "breath", "values": {}}, "nothing to listen to"),
            ({"family": "nothing", "values": {}}, "no exercise nothing"),
            ({**TONE, "way": {"follow": "lengths"}}, "how attempts follow: choose"),
            ({**TONE, "way": {"speed": "9"}}, "A session has no speed"),
        ):
            line.say("put", exercise=exercise)
            assert reason in heard_until(socket, "refused")["detail"]
        line.say("overrule", take_id="0" * 32, passed=True)
        assert heard_until(socket, "refused")["detail"] == "That is not there any more."
        told(socket)


def test_an_overrule_moves_the_session_on(client: TestClient) -> None:
    flat = softened(steady(B_FLAT_3_HZ * 2 ** (-40 / 1200), 1.3))
    with client.websocket_connect(LIVE) as socket:
        opened(socket, title="Up", kind="plan", exercises=[HIGHER])
        line = Line(socket)
        line.play(silence(0.5), flat, silence(0.5))
        take = heard_until(socket, "verdict")["take"]
        assert not take["verdict"]["passed"]
        assert line.where()["now"]["place"] == "step 1 of 3"
        line.say("overrule", take_id=take["id"], passed=True)
        assert heard_until(socket, "verdict")["take"]["verdict"]["overruled"]
        assert line.where()["now"]["place"] == "step 2 of 3"
        told(socket)


def test_the_standard_and_the_drone_are_set_on_the_way(client: TestClient) -> None:
    with client.websocket_connect(LIVE) as socket:
        opened(socket)
        line = Line(socket)
        line.play(silence(1.0))
        line.say("tune", level="strict", drone_hz=116.5)
        now = line.where()["now"]
        assert (now["level"], now["drone_hz"]) == ("strict", 116.5)
        hum = steady(116.5, 2.0) * 0.3
        note = np.concatenate((silence(0.6), softened(steady(B_FLAT_3_HZ, 1.2)), silence(0.2)))
        line.play(hum[: len(note)] + note, silence(0.8))
        take = heard_until(socket, "verdict")["take"]
        assert take["standard"] == "strict"
        told(socket)


@pytest.mark.deep
def test_a_help_is_played_and_leads_back(client: TestClient) -> None:
    flat = np.concatenate(
        (silence(0.5), softened(steady(B_FLAT_3_HZ * 2 ** (-40 / 1200), 1.3)), silence(0.5))
    )
    easy = {**TONE, "way": {"fails": "9"}}
    with client.websocket_connect(LIVE) as socket:
        opened(socket, title="Hard", kind="plan", exercises=[easy])
        line = Line(socket)
        for _ in range(3):
            line.play(flat)
            where = line.where()
        assert where["now"]["question"]["words"] == "Was the breath full?"
        line.say("help", question="breath")
        helping = line.where()
        assert helping["now"]["breathing"][0]["inward"]
        assert phases(helping) == ["moment", "breathe"]
        line.play(silence(27))
        assert line.where()["now"]["blocks"][0]["title"] == "Long tone"
        told(socket)


def test_a_session_that_was_left_is_gone_on_with_later(
    client: TestClient, settings: Settings
) -> None:
    started = datetime.now(UTC) - timedelta(minutes=5)
    whole = {**WHOLE, "started_at": started.isoformat()}
    with client.websocket_connect(LIVE) as socket:
        opened(socket, **whole)
        Line(socket).play(NOTE)
        heard_until(socket, "verdict")
        told(socket)
    left = client.get("/api/players/1/sessions/open").json()
    assert (left["id"], left["title"]) == (SESSION, "Evening")
    assert not list(settings.spool_folder.glob("*.spool"))
    with client.websocket_connect(LIVE) as socket:
        again = {**HELLO, **whole, "started_at": datetime.now(UTC).isoformat(), "resumes": True}
        socket.send_json(again)
        ready = heard_until(socket, "ready")
        assert ready["next"] > 0
        line = Line(socket, ready["next"])
        assert line.where()["now"]["paused"]
        line.say("press", press="go-on")
        assert phases(line.where())[-1] == "ready"
        line.play(silence(5), NOTE)
        assert line.where()["now"]["whole"] == "2 of 2: Long tone"
        told(socket)
    newest, oldest = takes(client)
    apart = datetime.fromisoformat(newest["started_at"]) - datetime.fromisoformat(
        oldest["started_at"]
    )
    # By the clock on the wall, not by the samples that were heard.
    assert timedelta(minutes=4.5) < apart < timedelta(minutes=6)
    client.delete(f"/api/sessions/{SESSION}").raise_for_status()
    assert client.get("/api/players/1/sessions/open").json() is None


def test_a_session_cannot_go_on_at_another_rate(client: TestClient) -> None:
    with client.websocket_connect(LIVE) as socket:
        opened(socket, **WHOLE)
        told(socket)
    with client.websocket_connect(LIVE) as socket:
        socket.send_json({**HELLO, **WHOLE, "resumes": True, "sample_rate": 44_100})
        assert "another rate" in heard_until(socket, "problem")["title"]
    assert client.get("/api/players/1/sessions").json()[0]["ended"] == ""


def test_a_session_nobody_came_back_for_keeps_its_take_and_can_be_gone_on_with(
    client: TestClient,
) -> None:
    now = datetime.now(UTC).isoformat()
    with client.websocket_connect(LIVE) as socket:
        opened(socket, **WHOLE, started_at=now)
        Line(socket).play(NOTE[: round(1.6 * RATE)])
        heard_until(socket, "state")
    recover(client)
    assert len(takes(client)) == 1
    assert client.get("/api/players/1/sessions/open").json()["id"] == SESSION


def test_sessions_are_listed_with_how_they_went_and_notes_to_oneself(client: TestClient) -> None:
    with client.websocket_connect(LIVE) as socket:
        opened(socket, title="One", kind="plan", exercises=[TONE])
        line = Line(socket)
        line.play(NOTE)
        where = line.where()
        assert where["now"]["ended"] == "done"
        (block,) = where["summary"]["timeline"]
        assert (block["title"], block["words"]) == ("Long tone", "1 of 1 good.")
        assert where["summary"]["left_out"] == []
        assert where["summary"]["playing"] == "You played for 1 s."
        (register,) = where["summary"]["registers"]
        assert (register["name"], register["seconds"]) == ("middle", pytest.approx(1.3, abs=0.1))
        told(socket)
    note = {"note": "  Faster air at the end. "}
    client.put(f"/api/sessions/{SESSION}/note", json=note).raise_for_status()
    spoken = np.rint(steady(220, 1.0) * 20_000).astype("<i2").tobytes()
    client.post(f"/api/sessions/{SESSION}/memo?rate=48000", content=spoken).raise_for_status()
    (listed,) = client.get("/api/players/1/sessions").json()
    assert (listed["ended"], listed["results"], listed["note"], listed["has_memo"]) == (
        "done",
        ["Long tone: 1 of 1 good."],
        "Faster air at the end.",
        True,
    )
    memo = client.get(f"/api/sessions/{SESSION}/memo")
    assert memo.headers["content-type"] == "audio/flac"
    problem(client.post(f"/api/sessions/{SESSION}/memo?rate=48000", content=b"ab"), 422)
    problem(client.get(f"/api/sessions/{'0' * 32}/memo"), 404)
    problem(client.put(f"/api/sessions/{'0' * 32}/note", json=note), 404)


def test_after_something_hurt_high_and_pedal_work_waits(
    client: TestClient, settings: Settings
) -> None:
    with client.websocket_connect(LIVE) as socket:
        opened(socket, **WHOLE)
        line = Line(socket)
        line.say("press", press="hurts")
        assert line.where()["now"]["ended"] == "hurt"
        told(socket)
    assert len(client.get("/api/players/1/hurts").json()) == 1
    offered = client.get("/api/players/1/sessions/offered").json()
    pedals = next(one for one in offered if one["title"] == "Pedal sets")
    assert pedals["exercises"] == []
    assert "Pedal air attacks waits, since something hurt." in pedals["left_out"]
    high = {"family": "chromatic-ladder", "values": {}}
    with client.websocket_connect(LIVE) as socket:
        socket.send_json({**HELLO, "session": "ef" * 16, "exercises": [high]})
        assert "Something hurt on" in heard_until(socket, "problem")["detail"]
    with client.websocket_connect(LIVE) as socket:
        socket.send_json({**HELLO, "session": "ee" * 16})
        assert "playing waits" in heard_until(socket, "problem")["detail"]
    client.delete("/api/players/1/hurts").raise_for_status()
    assert client.get("/api/players/1/hurts").json() == []
    with client.websocket_connect(LIVE) as socket:
        opened(socket, session="ed" * 16, exercises=[high])
        told(socket)


def test_what_hurts_with_nothing_listened_to_is_kept_too(client: TestClient) -> None:
    client.post("/api/players/1/hurts").raise_for_status()
    assert len(client.get("/api/players/1/hurts").json()) == 1
    problem(client.post("/api/players/9/hurts"), 404)


def test_quiet_hours_are_played_on_the_mouthpiece(client: TestClient) -> None:
    loud = client.get("/api/players/1/sessions/offered").json()
    quiet = client.get("/api/players/1/sessions/offered?quiet=true").json()
    assert [one["title"] for one in quiet] == [one["title"] for one in loud]
    played = {exercise["family"] for one in quiet for exercise in one["exercises"]}
    buzzed = {"breath", "first-buzz", "siren", "sustained-buzz", "slur-shape", "interval-buzz"}
    assert played <= buzzed
    higher = next(one for one in quiet if one["title"] == "A step higher")
    assert "Chromatic ladder needs the horn." in higher["left_out"]


@pytest.mark.parametrize("instrument", ["cornet-bb", "tuba-eb-4v-comp", "trombone-bass"])
def test_every_session_on_offer_can_be_begun(client: TestClient, instrument: str) -> None:
    clef = "treble" if instrument == "cornet-bb" else "bass"
    changed = {**MAREN, "instrument_key": instrument, "clef": clef, "view": "sounding"}
    client.put("/api/players/1", json=changed).raise_for_status()
    for number, one in enumerate(client.get("/api/players/1/sessions/offered").json()):
        keys = ("family", "values", "way", "why")
        exercises = [{key: each[key] for key in keys} for each in one["exercises"]]
        with client.websocket_connect(LIVE) as socket:
            where = opened(
                socket,
                session=f"{number:032x}",
                title=one["title"],
                kind="plan",
                exercises=exercises,
            )
            titles = [block["title"] for block in where["now"]["blocks"]]
            asked = [each for each in titles if not each.startswith("Check before")]
            assert len(asked) == len(exercises)
            told(socket)


def test_the_round_trip_is_measured_and_nonsense_is_said(client: TestClient) -> None:
    played = client.get("/api/latency?rate=48000")
    assert played.headers["content-type"] == "audio/wav"
    heard = np.concatenate((np.zeros(2400), 0.2 * clicks(48_000)))[: len(clicks(48_000))]
    pcm = np.rint(heard * 32_767).astype("<i2").tobytes()
    found = client.post("/api/latency?rate=48000", content=pcm).json()
    assert found["seconds"] == pytest.approx(0.05, abs=0.001)
    refused = problem(client.post("/api/latency?rate=48000", content=b"\0" * 9000), 422)
    assert "Turn the loudspeaker up" in refused["detail"]


def test_the_stand_in_plays_what_a_session_asks_for(client: TestClient, tmp_path: Any) -> None:
    with client.websocket_connect(LIVE) as socket:
        opened(socket, title="Up", kind="plan", exercises=[HIGHER])
        wav = client.get(f"/api/sessions/{SESSION}/stand-in?centre_cents=-6")
        assert wav.headers["content-type"] == "audio/wav"
        (tmp_path / "a.wav").write_bytes(wav.content)
        samples, rate = soundfile.read(tmp_path / "a.wav")
        assert len(samples) / rate > 1.0
        # At once, so that it is on the beat where there is one.
        assert np.flatnonzero(np.abs(samples) > 0.01)[0] / rate < 0.1
        told(socket)
    problem(client.get(f"/api/sessions/{'0' * 32}/stand-in"), 404)


@pytest.mark.parametrize(
    "said",
    [
        {"type": "press", "press": "louder"},
        {"type": "put", "exercise": {"family": "long-tone"}},
        {"type": "tune", "level": "soft", "drone_hz": None},
        {"type": "tune", "level": "kind", "drone_hz": 1e9},
        {"type": "sing"},
    ],
)
def test_strange_words_close_the_line_with_a_problem(
    client: TestClient, said: dict[str, Any]
) -> None:
    with client.websocket_connect(LIVE) as socket:
        opened(socket)
        socket.send_json(said)
        assert heard_until(socket, "problem")["status"] == 400


def test_messages_come_to_an_end(client: TestClient) -> None:
    with client.websocket_connect(LIVE) as socket:
        opened(socket)
        socket.send_json({"type": "bye"})
        assert [message["type"] for message in messages(socket)][-1] == "closed"
