"""Sessions that are taken up again: nothing twice, nothing lost, one holder at a time."""

import asyncio
import json
import logging
import os
import threading
import time
from collections.abc import Iterator
from contextlib import ExitStack, contextmanager
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from fastapi.testclient import TestClient
from starlette.testclient import WebSocketTestSession
from starlette.websockets import WebSocketDisconnect

from orexis.practice.sessions import Session
from orexis.server.app import Settings
from orexis.server.live import sessions as live_sessions
from orexis.server.live import socket as live_socket
from orexis.server.live.sessions import LiveSessions, in_thread
from orexis.store.spool import Spool
from tests.server.conftest import MAREN, held_s, run
from tests.server.test_live import (
    CHUNK,
    CHUNKS,
    HELLO,
    LIVE,
    SESSION,
    SOUND,
    chunks,
    long_tone,
    takes,
    told,
)
from tests.sounds import RATE, Samples, silence, softened, steady

OTHER = "cd" * 16


def tone(seconds: float) -> Samples:
    return softened(steady(233.082, seconds))


def send(socket: WebSocketTestSession, sound: list[bytes], hello: dict[str, Any] = HELLO) -> int:
    """Opens a session and sends what the server wants of a sound; returns where it began."""
    socket.send_json(hello)
    ready: dict[str, Any] = socket.receive_json()
    assert ready["type"] == "ready", ready
    for chunk in sound[ready["next"] :]:
        socket.send_bytes(chunk)
    begun: int = ready["next"]
    return begun


def heard_until(socket: WebSocketTestSession, kind: str) -> dict[str, Any]:
    while True:
        message: dict[str, Any] = socket.receive_json()
        if message["type"] == kind:
            return message


def drawn_to(socket: WebSocketTestSession, frame: int) -> None:
    """Hears until a frame was drawn: the test's client drops what was not read when it leaves."""
    while True:
        frames = heard_until(socket, "frames")
        if frames["first"] + len(frames["pitch_cents"]) >= frame:
            return


def code_of(socket: WebSocketTestSession) -> int:
    """The code a socket closes with, whatever is said before."""
    try:
        while True:
            socket.receive_json()
    except WebSocketDisconnect as closed:
        return closed.code


def sessions_of(client: TestClient) -> LiveSessions:
    found: LiveSessions = client.app.state.live_sessions  # type: ignore[attr-defined]
    return found


def recover(client: TestClient) -> None:
    """Ends what is left behind once the sockets have let go of it."""
    sessions = sessions_of(client)
    deadline = time.monotonic() + 10
    while sessions._waiting and time.monotonic() < deadline:
        time.sleep(0.01)
    run(sessions.recover(idle_s=0))


def recordings(client: TestClient) -> list[dict[str, Any]]:
    found: list[dict[str, Any]] = client.get("/api/players/1/recordings").json()
    return found


@pytest.mark.parametrize("tone_s", [5.9, 6.4])
def test_a_finished_try_is_not_kept_again_from_the_middle_of_its_note(
    client: TestClient, tone_s: float
) -> None:
    # The spool is cut at a whole second, which lies inside the note.
    sound = chunks(np.concatenate((silence(1.0), tone(tone_s), silence(1.3))))
    with client.websocket_connect(LIVE) as socket:
        send(socket, sound)
        verdict = heard_until(socket, "verdict")["take"]
    with client.websocket_connect(LIVE) as socket:
        send(socket, sound)
        told(socket)
    recover(client)
    assert [take["id"] for take in takes(client)] == [verdict["id"]]


@pytest.mark.one_in(2)
@pytest.mark.parametrize("dropped_at_s", [1.7, 3.6, 4.3, 6.1])
def test_a_break_anywhere_gives_the_same_takes(client: TestClient, dropped_at_s: float) -> None:
    sound = chunks(np.concatenate((silence(1.0), tone(2.4), silence(0.9), tone(2.4), silence(1.5))))
    cut = round(dropped_at_s * RATE / CHUNK)
    with client.websocket_connect(LIVE) as socket:
        send(socket, sound[:cut])
    with client.websocket_connect(LIVE) as socket:
        send(socket, sound)
        told(socket)
    with client.websocket_connect(LIVE) as socket:
        send(socket, sound, {**HELLO, "session": OTHER})
        told(socket)
    details = [client.get(f"/api/takes/{take['id']}").json() for take in takes(client)]
    found = [
        {key: detail[key] for key in ("first_frame", "frames", "notes")}
        for detail in sorted(details, key=lambda detail: detail["first_frame"])
    ]
    assert len(found) == 4
    assert (found[0], found[2]) == (found[1], found[3])


def test_one_bad_spool_keeps_no_other_from_being_recovered(
    client: TestClient, settings: Settings, caplog: pytest.LogCaptureFixture
) -> None:
    folder = settings.spool_folder
    with client.websocket_connect(LIVE) as socket:
        send(socket, CHUNKS)
    whole = (folder / f"{SESSION}.spool").read_bytes()
    header, pcm = whole.split(b"\n", 1)
    said = json.loads(header)
    changes: list[dict[str, Any]] = [
        {"started_at": "9999-12-31T23:59:59+00:00"},
        {"started_at": "0001-01-01T00:00:00+14:00"},
        {"started_at": None},
        {"player_id": 77},
        {"exercises": 7},
    ]
    for number, change in enumerate(changes):
        hello = {**said["hello"], **change}
        line = json.dumps({**said, "hello": hello}).encode() + b"\n"
        (folder / f"{number:032x}.spool").write_bytes(line + pcm)
    with caplog.at_level(logging.WARNING):
        recover(client)
    assert len(takes(client)) == 1
    assert not list(folder.glob("*.spool"))
    # Nothing played is lost: what cannot be judged is set aside whole, and said.
    assert [path.read_bytes()[-len(pcm) :] for path in folder.glob("*.unreadable")] == [pcm] * 5
    assert caplog.text.count("set aside") == 5


@pytest.mark.parametrize(
    "knew",
    [
        {"midi": 58, "hold_s": 2.0},
        {"family": "long-tone", "values": {"from_midi": "58", "hold_s": "2"}},
    ],
)
def test_a_spool_of_an_older_version_is_judged_as_what_it_was(
    client: TestClient, settings: Settings, knew: dict[str, Any]
) -> None:
    with client.websocket_connect(LIVE) as socket:
        send(socket, CHUNKS)
        heard_until(socket, "verdict")
    path = settings.spool_folder / f"{SESSION}.spool"
    header, pcm = path.read_bytes().split(b"\n", 1)
    said = json.loads(header)
    # It knew one held note or one exercise, and nothing of sessions.
    hello = {key: said["hello"][key] for key in said["hello"] if key != "exercises"}
    old = {**said, "hello": {**hello, **knew}}
    path.unlink()
    path.with_stem(OTHER).write_bytes(json.dumps(old).encode() + b"\n" + pcm)
    client.delete(f"/api/takes/{takes(client)[0]['id']}")
    recover(client)
    (take,) = takes(client)
    assert (take["span"], take["verdict"]["passed"]) == (["G4"], True)
    assert "hold 2 s" in take["setting"]


def test_a_session_that_ends_while_others_are_recovered_hurts_none(
    client: TestClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    with client.websocket_connect(LIVE) as socket:
        send(socket, CHUNKS)
    real = Spool.left_behind

    def with_one_gone(folder: Path, idle_s: float) -> list[str]:
        return ["ee" * 16, *real(folder, idle_s)]

    monkeypatch.setattr(Spool, "left_behind", staticmethod(with_one_gone))
    recover(client)
    assert len(takes(client)) == 1


def test_recovery_goes_on_after_an_error_nobody_foresaw(
    client: TestClient, monkeypatch: pytest.MonkeyPatch, caplog: pytest.LogCaptureFixture
) -> None:
    rounds: list[float] = []

    async def failing(idle_s: float) -> None:
        rounds.append(idle_s)
        raise KeyError("unforeseen")

    async def three_rounds() -> None:
        sessions = sessions_of(client)
        monkeypatch.setattr(sessions, "recover", failing)
        monkeypatch.setattr(live_sessions, "_RECOVERY_EVERY_S", 0.01)
        task = asyncio.create_task(sessions.recover_for_ever())
        while len(rounds) < 3:
            await asyncio.sleep(0.01)
        task.cancel()

    run(three_rounds())
    assert "it goes on" in caplog.text


def test_a_full_disk_leaves_the_spool_for_the_next_round(
    client: TestClient, settings: Settings, monkeypatch: pytest.MonkeyPatch
) -> None:
    with client.websocket_connect(LIVE) as socket:
        send(socket, CHUNKS[:220])
        drawn_to(socket, 215)

    def full(self: Session, *_: object, cut: bool = False) -> None:
        raise OSError(28, "No space left on device")

    with monkeypatch.context() as patched:
        patched.setattr(Session, "_keep", full)
        recover(client)
    assert (settings.spool_folder / f"{SESSION}.spool").exists()
    recover(client)
    assert len(takes(client)) == 1


@pytest.mark.parametrize("comes_back", [True, False])
def test_a_session_is_judged_on_the_horn_it_began_on(client: TestClient, comes_back: bool) -> None:
    trombone = {**MAREN, "instrument_key": "trombone-bass", "clef": "bass"}
    client.put("/api/players/1", json=trombone).raise_for_status()
    sound = chunks(np.concatenate((silence(1.0), softened(steady(41.2, 2.4)), silence(0.2))))
    low = {**HELLO, **long_tone(from_midi="28", hold_s="2")}
    with client.websocket_connect(LIVE) as socket:
        send(socket, sound, low)
        drawn_to(socket, 340)
    # The line was down while the horn was changed: a cornet has no E1.
    client.put("/api/players/1", json={**MAREN, "instrument_key": "cornet-bb"}).raise_for_status()
    if comes_back:
        with client.websocket_connect(LIVE) as socket:
            send(socket, sound, low)
            told(socket)
    recover(client)
    (take,) = takes(client)
    assert take["verdict"]["passed"]
    held = next(rule for rule in take["verdict"]["rules"] if rule["rule"] == "held")
    assert held["measured"] == pytest.approx(2.4, abs=0.1)


@pytest.mark.parametrize("comes_back", [True, False])
def test_sound_whose_exercise_cannot_be_is_kept_as_a_recording_with_the_reason(
    client: TestClient, settings: Settings, comes_back: bool
) -> None:
    with client.websocket_connect(LIVE) as socket:
        send(socket, CHUNKS, {**HELLO, "session": OTHER})
        heard_until(socket, "verdict")
    # Left by a version that kept no plan, for a note that the horn has not.
    client.delete(f"/api/takes/{takes(client)[0]['id']}")
    kept = settings.spool_folder / f"{OTHER}.spool"
    header, pcm = kept.read_bytes().split(b"\n", 1)
    said = json.loads(header)
    old = {**said, "hello": {**said["hello"], "family": "long-tone", "values": {"from_midi": "5"}}}
    del old["hello"]["exercises"]
    kept.unlink()
    kept.with_stem(SESSION).write_bytes(json.dumps(old).encode() + b"\n" + pcm)
    if comes_back:
        with client.websocket_connect(LIVE) as socket:
            socket.send_json(HELLO)
            problem = heard_until(socket, "problem")
            assert "is kept as a recording" in problem["detail"]
    recover(client)
    (recording,) = recordings(client)
    assert "note: from" in recording["reason"]
    assert recording["remarks"] == [f"Kept unjudged: {recording['reason']}"]
    assert recording["note_count"] == 1
    assert takes(client) == []
    assert list(settings.spool_folder.iterdir()) == []


def test_a_browser_that_comes_back_waits_for_the_recovery_and_loses_no_note(
    client: TestClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    sound = chunks(np.concatenate((SOUND, SOUND)))
    half = len(CHUNKS)
    with client.websocket_connect(LIVE) as socket:
        send(socket, sound[:half])
    entered, go_on = threading.Event(), threading.Event()
    replay = Session.replay

    def slow(self: Session) -> Any:
        if not entered.is_set():
            entered.set()
            go_on.wait(10)
        return replay(self)

    monkeypatch.setattr(Session, "replay", slow)
    recovering = threading.Thread(target=lambda: client.portal.call(_recover, client))  # type: ignore[union-attr]
    recovering.start()
    assert entered.wait(10)
    with client.websocket_connect(LIVE) as socket:
        socket.send_json(HELLO)
        threading.Timer(0.3, go_on.set).start()
        ready = heard_until(socket, "ready")
        # Nothing was acknowledged that was not taken in.
        assert go_on.is_set()
        for chunk in sound[ready["next"] :]:
            socket.send_bytes(chunk)
        told(socket)
    recovering.join()
    kept = takes(client)
    assert [round(held_s(take), 1) for take in kept] == [2.4, 2.4]


async def _recover(client: TestClient) -> None:
    await sessions_of(client).recover(idle_s=0)


def test_the_last_of_three_windows_has_the_session(client: TestClient) -> None:
    with (
        client.websocket_connect(LIVE) as first,
        client.websocket_connect(LIVE) as second,
        client.websocket_connect(LIVE) as third,
    ):
        send(first, CHUNKS[:40])
        second.send_json(HELLO)
        heard_until(second, "ready")
        third.send_json(HELLO)
        ready = heard_until(third, "ready")
        for older in (first, second):
            assert code_of(older) == 4001
        for chunk in CHUNKS[ready["next"] :]:
            third.send_bytes(chunk)
        told(third)
    assert len(takes(client)) == 1


def test_a_cancelled_holder_waits_for_its_thread() -> None:
    done: list[str] = []

    def working() -> None:
        time.sleep(0.2)
        done.append("worked")

    async def cancelled() -> None:
        task = asyncio.create_task(in_thread(working))
        await asyncio.sleep(0.05)
        task.cancel()
        with pytest.raises(asyncio.CancelledError):
            await task
        done.append("let go")

    run(cancelled())
    assert done == ["worked", "let go"]


def test_a_pause_waits_for_a_replay(client: TestClient, settings: Settings) -> None:
    with client.websocket_connect(LIVE) as socket:
        send(socket, CHUNKS)
    database = client.app.state.database  # type: ignore[attr-defined]
    session = Session(database, Spool.open(settings.spool_folder, SESSION))
    order: list[str] = []
    feed = session._stand.feed

    def slow(samples: Samples) -> Any:
        order.append("feed")
        time.sleep(0.05)
        return feed(samples)

    session._stand.feed = slow  # type: ignore[method-assign]
    replaying = threading.Thread(target=session.replay)
    replaying.start()
    while not order:
        time.sleep(0.001)
    session.pause()
    order.append("paused")
    replaying.join()
    assert order[-1] == "paused"


@contextmanager
def refused(client: TestClient) -> Iterator[dict[str, Any]]:
    """A socket's problem and the code it closes with after it."""
    said: dict[str, Any] = {}
    with client.websocket_connect(LIVE) as socket:
        said["socket"] = socket
        yield said
        said.update(heard_until(socket, "problem"))
        with pytest.raises(WebSocketDisconnect) as closed:
            socket.receive_json()
        said["code"] = closed.value.code


def test_a_hello_that_never_comes_is_said_to_have_timed_out(
    client: TestClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(live_socket, "HELLO_WITHIN_S", 0.05)
    with refused(client) as said:
        pass
    assert (said["status"], said["code"]) == (408, 4001)
    assert "in time" in said["title"]


@pytest.mark.one_in(3)
@pytest.mark.parametrize(
    "text", ["", "bye", '{"type": "hello"}', "[" * 20_000, '"\\ud800"', "null"]
)
def test_only_a_bye_is_a_bye(client: TestClient, settings: Settings, text: str) -> None:
    with refused(client) as said:
        send(said["socket"], CHUNKS[:100])
        said["socket"].send_text(text)
    assert said["code"] == 4001
    # The session is not over: its sound is still there.
    recover(client)
    with client.websocket_connect(LIVE) as socket:
        send(socket, CHUNKS)
        told(socket)
    assert len(takes(client)) <= 2


@pytest.mark.parametrize(
    ("text", "told_of"),
    [
        ("[" * 20_000, ""),
        ("{}", "type"),
        (json.dumps({**HELLO, "player_id": 2**70}), "player_id"),
        (json.dumps({**HELLO, "player_id": "1"}), "player_id"),
        (
            json.dumps(
                {**HELLO, "exercises": [{"family": "long-tone", "values": {"from_midi": 58}}]}
            ),
            "from_midi",
        ),
        (json.dumps({**HELLO, **long_tone(**{str(n): "1" for n in range(99)})}), "values"),
        (json.dumps({**HELLO, "started_at": "9999-12-31T23:59:59+00:00"}), "started_at"),
        (json.dumps({**HELLO, "sample_rate": 1e300}), "sample_rate"),
        (json.dumps({**HELLO, "oldest_seq": 2**62}), "oldest_seq"),
    ],
)
def test_a_strange_hello_is_told_what_is_wrong_with_it(
    client: TestClient, text: str, told_of: str
) -> None:
    with refused(client) as said:
        said["socket"].send_text(text)
    assert (said["status"], said["code"]) == (400, 4001)
    assert told_of.lower() in said["detail"].lower()


def test_a_spool_dated_tomorrow_is_recovered(client: TestClient, settings: Settings) -> None:
    with client.websocket_connect(LIVE) as socket:
        send(socket, CHUNKS)
    path = settings.spool_folder / f"{SESSION}.spool"
    tomorrow = (datetime.now(UTC) + timedelta(days=1)).timestamp()
    deadline = time.monotonic() + 10
    while sessions_of(client)._waiting and time.monotonic() < deadline:
        time.sleep(0.01)
    os.utime(path, (tomorrow, tomorrow))
    run(sessions_of(client).recover(idle_s=60))
    assert len(takes(client)) == 1


def test_what_is_overruled_between_two_tries_counts_in_the_second(client: TestClient) -> None:
    def level(take: dict[str, Any]) -> dict[str, Any]:
        rules = take["verdict"]["rules"]
        found: dict[str, Any] = next(rule for rule in rules if rule["rule"] == "loudness")
        return found

    sound = chunks(np.concatenate((SOUND, SOUND, SOUND)))
    third = len(CHUNKS)
    with client.websocket_connect(LIVE) as socket:
        send(socket, sound[: third + 20])
        first = heard_until(socket, "verdict")["take"]
        for chunk in sound[third + 20 : 2 * third + 20]:
            socket.send_bytes(chunk)
        second = heard_until(socket, "verdict")["take"]
        for take in (first, second):
            client.put(f"/api/takes/{take['id']}/overrule", json={"passed": False})
        for chunk in sound[2 * third + 20 :]:
            socket.send_bytes(chunk)
        last = heard_until(socket, "verdict")["take"]
        told(socket)
    assert (first["verdict"]["passed"], level(first)["told"]) == (True, False)
    assert (level(second)["told"], level(second)["words"]) == (True, "0")
    assert not level(last)["told"]


def test_so_many_sessions_and_no_more_are_listened_to_at_once(client: TestClient) -> None:
    with ExitStack() as stack:
        sockets = [stack.enter_context(client.websocket_connect(LIVE)) for _ in range(16)]
        for number, socket in enumerate(sockets):
            socket.send_json({**HELLO, "session": f"{number:032x}"})
            heard_until(socket, "ready")
        with refused(client) as said:
            said["socket"].send_json({**HELLO, "session": OTHER})
        assert (said["status"], said["code"]) == (503, 4001)
        # One that is listened to already may come back in another window.
        with client.websocket_connect(LIVE) as again:
            again.send_json({**HELLO, "session": f"{3:032x}"})
            heard_until(again, "ready")
        assert code_of(sockets[3]) == 4001
