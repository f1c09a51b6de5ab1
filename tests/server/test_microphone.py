"""How well the microphone hears is told while it is open."""

from typing import Any

import numpy as np
import pytest
from fastapi.testclient import TestClient

from orexis.core.listening.microphone.check import MicrophoneCheck
from tests.server.test_free import FREE, play
from tests.server.test_live import HELLO, LIVE, chunks, messages
from tests.sounds import RATE, noise, silence, softened, steady

NOTE = softened(steady(233.082, 2.0))
IN_A_ROOM = np.concatenate((silence(2.0), NOTE, silence(1.0), NOTE, silence(1.0)))
ROOM = noise(len(IN_A_ROOM) / RATE, 0.0005)


def told(said: list[dict[str, Any]]) -> list[dict[str, Any]]:
    return [one for one in said if one["type"] == "microphone"]


def test_levels_are_told_and_what_stands_in_the_way(client: TestClient) -> None:
    nothing, first, *_, last = told(play(client, IN_A_ROOM + ROOM))
    assert (nothing["room_db"], nothing["room_words"]) == (None, "not known yet")
    assert nothing["summary"].startswith("Be quiet for a moment")
    assert (first["louder_db"], first["notes_words"]) == (None, "none yet")
    assert first["summary"].startswith("The room is at −")
    assert last["room_db"] == pytest.approx(20 * np.log10(np.std(ROOM)), abs=1.5)
    assert last["louder_db"] > last["wanted_db"] > last["room_db"]
    assert last["findings"] == []
    (soft,) = told(play(client, IN_A_ROOM / 100 + ROOM / 4))[-1]["findings"]
    assert soft["finding"] == "too-soft"
    assert soft["advice"].startswith("Come nearer")


def test_what_the_browser_does_to_the_sound_is_told(client: TestClient) -> None:
    last = told(play(client, IN_A_ROOM + ROOM, processing=["echo", "gain"]))[-1]
    (one,) = last["findings"]
    assert one["words"] == "The browser changes the sound: echo cancelling and automatic gain."


@pytest.mark.parametrize("processing", [["loud"], "echo", ["echo"] * 4])
def test_what_no_browser_does_is_refused(client: TestClient, processing: Any) -> None:
    with client.websocket_connect(LIVE) as socket:
        socket.send_json({**FREE, "processing": processing})
        assert socket.receive_json()["type"] == "problem"


def test_a_session_is_told_too_but_not_of_the_stand_in_player(client: TestClient) -> None:
    for source, tells in (("microphone", True), ("stand-in", False)):
        with client.websocket_connect(LIVE) as socket:
            hello = {**HELLO, "session": f"{len(source):032x}", "source": source}
            socket.send_json(hello)
            for chunk in chunks(IN_A_ROOM + ROOM):
                socket.send_bytes(chunk)
            socket.send_json({"type": "bye"})
            assert bool(told(list(messages(socket)))) is tells


def test_nothing_is_told_of_the_room_while_a_drone_sounds_in_it(client: TestClient) -> None:
    with client.websocket_connect(LIVE) as socket:
        socket.send_json(FREE)
        sounds = {"midi": 46}
        socket.send_json({"type": "drone", "drone": sounds})
        for chunk in chunks(IN_A_ROOM + ROOM):
            socket.send_bytes(chunk)
        socket.send_json({"type": "bye"})
        said = list(messages(socket))
    assert "refused" not in {one["type"] for one in said}
    (nothing,) = told(said)
    assert (nothing["room_db"], nothing["louder_db"], nothing["findings"]) == (None, None, [])


def test_a_fault_of_the_check_costs_nothing_else(
    client: TestClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    def fail(*_: object) -> None:
        raise IndexError

    monkeypatch.setattr(MicrophoneCheck, "feed", fail)
    said = play(client, IN_A_ROOM + ROOM)
    assert len(told(said)) == 1
    over = next(one for one in said if one["type"] == "over")
    assert [note["times"] for note in over["notes"]] == [2]
