"""A piece followed while it is played freely, and told over all the times it was played."""

from typing import Any

import numpy as np
import pytest
from fastapi.testclient import TestClient

from orexis.standin.performance import perform
from orexis.standin.reading import as_played
from orexis.standin.tone import timbre_of
from tests.core.exercises.writing import task
from tests.server.test_api import problem
from tests.server.test_free import FREE, recordings
from tests.server.test_live import LIVE, chunks, messages
from tests.server.test_takes import play
from tests.sounds import RATE, Samples, silence

OWN = "/api/players/1/own"
# On an E♭ tenor horn, three bars of quarters.
BARS = ("Bb3:1 C4:1 D4:1 Eb4:1", "F4:1 Eb4:1 D4:1 C4:1", "Bb3:1 D4:1 F4:1 Bb4:1")
LINE = " ".join(BARS)


def sound_of(line: str) -> Samples:
    """A line as the stand-in player plays it, at 100 beats a minute."""
    score = task("own-line", "tenor-horn-eb", line=line, tempo=100.0).score
    return perform(as_played(score), timbre_of(39), RATE).samples


@pytest.fixture
def own(client: TestClient) -> str:
    values = {"line": LINE, "tempo": "100"}
    body = {"name": "Harbour steps", "family": "own-line", "values": values}
    kept = client.post(OWN, json=body)
    kept.raise_for_status()
    own_id: str = kept.json()["id"]
    return own_id


def play_freely(
    client: TestClient, own: str | None, sound: Samples, **hello: Any
) -> list[dict[str, Any]]:
    """Plays with a piece before one, and leaves; what was said."""
    with client.websocket_connect(LIVE) as socket:
        socket.send_json({**FREE, **hello})
        assert socket.receive_json() == {"type": "ready", "next": 0}
        socket.send_json({"type": "piece", "own_id": own})
        for chunk in chunks(sound):
            socket.send_bytes(chunk)
        socket.send_json({"type": "bye"})
        return list(messages(socket))


def times(client: TestClient, own: str) -> dict[str, Any]:
    response = client.get(f"{OWN}/{own}/times")
    response.raise_for_status()
    found: dict[str, Any] = response.json()
    return found


def test_where_one_is_and_what_went_wrong_is_told_while_it_is_played(
    client: TestClient, own: str
) -> None:
    # The third note of bar 2 is another one.
    wrong = LINE.replace("Eb4:1 D4:1 C4:1", "Eb4:1 E4:1 C4:1")
    sound = np.concatenate((silence(0.5), sound_of(wrong), silence(1.0)))
    places = [one for one in play_freely(client, own, sound) if one["type"] == "place"]
    bars = [place["bar"] for place in places]
    assert bars == sorted(bars)
    assert set(bars) == {1, 2, 3}
    last = places[-1]
    assert (last["step"], last["bar"]) == (11, 3)
    assert [step["step"] for step in last["steps"] if step["outcome"] == "missed"] == [6]
    # As the player reads it.
    assert last["wrong"] == [{"bar": 2, "wrong": "C♯5 for B4"}]


def test_the_recording_is_known_as_one_of_the_piece_from_where_it_lay_open(
    client: TestClient, own: str
) -> None:
    again = " ".join((BARS[0], BARS[1], "' -:3", BARS[1], BARS[2]))
    play_freely(client, own, np.concatenate((sound_of(again), silence(0.6))))
    (recording,) = recordings(client)
    found = times(client, own)
    (heard_in,) = found["recordings"]
    assert (heard_in["recording_id"], heard_in["times"]) == (recording["id"], 2)
    assert found["headline"] == "You played parts of it twice. No bar goes wrong often."
    assert [bar["often"] for bar in found["bars"]] == ["", "0 of 2 times", ""]


def test_a_recording_is_said_to_be_one_of_a_piece_and_that_is_taken_back(
    client: TestClient, own: str
) -> None:
    play_freely(client, None, np.concatenate((sound_of(LINE), silence(0.6))))
    (recording,) = recordings(client)
    assert times(client, own)["recordings"] == []
    address = f"{OWN}/{own}/times/{recording['id']}"
    said = client.put(address)
    assert said.status_code == 200
    assert said.json()["headline"].startswith("All 3 bars are there. You played it at 100")
    client.put(address).raise_for_status()
    assert [recording["times"] for recording in times(client, own)["recordings"]] == [1]
    assert client.delete(address).status_code == 204
    assert times(client, own)["recordings"] == []


def test_attempts_on_the_stand_are_times_too(client: TestClient, own: str) -> None:
    values = {"line": LINE, "tempo": "80"}
    play(client, sound_of(LINE), 1, exercises=[{"family": "own-line", "values": values}])
    other = {"line": BARS[0], "tempo": "100"}
    play(client, sound_of(BARS[0]), 2, exercises=[{"family": "own-line", "values": other}])
    found = times(client, own)
    assert (found["on_the_stand"], found["recordings"]) == (1, [])
    assert found["headline"].startswith("All 3 bars are there.")


def test_what_cannot_be_followed_is_refused_and_playing_goes_on(
    client: TestClient, own: str
) -> None:
    client.delete(f"{OWN}/{own}").raise_for_status()
    said = play_freely(client, own, np.concatenate((sound_of(BARS[0]), silence(0.6))))
    (refused,) = [one for one in said if one["type"] == "refused"]
    assert refused["detail"] == "This piece is not there any more."
    assert said[-1]["type"] == "closed"
    assert len(recordings(client)) == 1


def test_an_exercise_without_notes_is_nothing_to_follow(client: TestClient) -> None:
    body = {"name": "Air", "family": "breath", "values": {}}
    breath = client.post(OWN, json=body).json()["id"]
    found = problem(client.get(f"{OWN}/{breath}/times"), 422)
    assert found["title"] == "There is nothing to follow"


def test_two_recordings_of_a_piece_lie_beside_each_other(client: TestClient, own: str) -> None:
    play_freely(client, own, np.concatenate((silence(0.4), sound_of(LINE), silence(0.6))))
    slower = task("own-line", "tenor-horn-eb", line=LINE, tempo=75.0).score
    sound = perform(as_played(slower), timbre_of(39), RATE).samples
    later = {"session": "e" * 32, "started_at": "2026-06-01T17:30:00+02:00"}
    play_freely(client, own, np.concatenate((silence(1.5), sound, silence(0.6))), **later)
    second, first = recordings(client)
    page = client.get(f"/api/recordings/{second['id']}").json()
    assert page["others"] == [{"id": first["id"], "which": first["name"]}]
    address = f"/api/recordings/{second['id']}/comparison/recordings/{first['id']}"
    found = client.get(address).json()
    assert len(found["notes"]) == 12
    # Half a second of quiet before the stand-in's first note, and a beat of 0.8 s against 0.6 s.
    for place, note in enumerate(found["notes"]):
        assert note["at_s"] == pytest.approx(2.0 + 0.8 * place, abs=0.08)
        assert note["other_at_s"] == pytest.approx(0.9 + 0.6 * place, abs=0.08)
    assert found["words"][0] == "The same 12 notes are in both."
    assert "This one is 25 % slower." in found["words"]
    at = np.interp(2.0 + 0.8 * 7, found["at_s"], found["other_s"])
    assert at == pytest.approx(0.9 + 0.6 * 7, abs=0.1)


def test_takes_and_recordings_are_compared_alike(client: TestClient) -> None:
    values = {"line": LINE, "tempo": "100"}
    play(client, sound_of(LINE), 1, exercises=[{"family": "own-line", "values": values}])
    play_freely(client, None, np.concatenate((sound_of(LINE), silence(0.6))))
    (take,), (recording,) = client.get("/api/players/1/takes").json(), recordings(client)
    address = f"/api/takes/{take['id']}/comparison/recordings/{recording['id']}"
    assert len(client.get(address).json()["notes"]) == 12
    gone = client.get(f"/api/takes/{take['id']}/comparison/recordings/{'0' * 32}")
    assert problem(gone, 404)["title"]


def test_other_players_recordings_are_not_there(client: TestClient, own: str) -> None:
    address = f"{OWN}/{own}/times/{'0' * 32}"
    assert client.put(address).status_code == 404
    assert client.delete(address).status_code == 404


def test_a_session_on_some_bars_is_called_by_its_piece_as_far_as_there_is_room(
    client: TestClient,
) -> None:
    values = {"line": LINE, "tempo": "100"}
    body = {"name": 60 * "x", "family": "own-line", "values": values}
    own = client.post(OWN, json=body).json()["id"]
    play_freely(
        client, own, np.concatenate((sound_of(LINE.replace("F4:1 Eb4", "F4:1 E4")), silence(0.6)))
    )
    (passage,) = times(client, own)["passages"]
    assert passage["title"] == f"{53 * 'x'}, bar 2"
