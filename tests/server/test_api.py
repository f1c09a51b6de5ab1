"""The HTTP routes, their problems, and the guard."""

import io
from pathlib import Path
from typing import Any
from unittest.mock import patch

import numpy as np
import pytest
import soundfile
from fastapi.testclient import TestClient
from httpx import Response

from orexis.server.app import Settings, create_app
from orexis.server.routes import players
from tests.server.conftest import BASE, MAREN


def problem(response: Response, status: int) -> dict[str, str]:
    assert response.status_code == status
    assert response.headers["content-type"] == "application/problem+json"
    document: dict[str, str] = response.json()
    assert document["title"]
    assert document["detail"]
    return document


def test_players_are_added_changed_and_listed(client: TestClient) -> None:
    (maren,) = client.get("/api/players").json()
    assert maren["instrument_name"] == "Tenor horn in E♭"
    changed = client.put("/api/players/1", json={**MAREN, "standard": "kind", "a4_hz": 442})
    assert changed.json()["standard"] == "kind"
    assert client.get("/api/players").json()[0]["a4_hz"] == 442


def test_a_player_without_a_name_is_refused_and_not_kept(client: TestClient) -> None:
    refused = client.post("/api/players", json={**MAREN, "name": " "})
    assert "name" in problem(refused, 422)["detail"]
    assert len(client.get("/api/players").json()) == 1


BOOK = "/api/players/1/book"


def plan_of(client: TestClient, family: str, *given: str) -> dict[str, Any]:
    """What is put on Maren's Stand of a family with some of it set."""
    found: dict[str, Any] = client.get(f"{BOOK}/{family}/stand", params={"set": given}).json()
    return found


def test_a_held_note_is_named_as_the_player_reads_it(client: TestClient) -> None:
    plan = plan_of(client, "long-tone", "from_midi=63", "hold_s=6")
    sheet = plan["sheet"]
    (note,) = sheet["notes"]
    assert (note["name"], note["sounding_name"], note["hand"]["label"]) == (
        "C5",
        "E♭4",
        "open, fourth partial",
    )
    assert [band["name"] for band in sheet["bands"]] == ["G5", "E5", "C5", "G4", "C4"]
    assert [band["asked"] for band in sheet["bands"]] == [False, False, True, False, False]
    assert sheet["limit_cents"] == 15
    assert sheet["svg"] == ""
    assert plan["cue"] == "breathe, air attack, hold 6 s"
    assert plan["values"] == {"from_midi": "63", "hold_s": "6", "times": "1", "hand": "usual"}
    assert plan["listen"] == "Sit in the middle of the slot, with a sound that does not change."
    assert [link["key"] for link in plan["leads_to"]] == ["dynamics", "finding-the-centre"]


def test_a_plan_tells_what_its_keys_turn_and_a_note_outside_is_refused(client: TestClient) -> None:
    plan = plan_of(client, "long-tone")
    higher, more = plan["higher"], plan["more"]
    assert (higher["key"], higher["least"], higher["most"]) == ("from_midi", 33, 79)
    assert (more["key"], more["least"], more["most"]) == ("hold_s", 1, 60)
    assert plan["values"]["from_midi"] == "58"
    refused = client.get(f"{BOOK}/long-tone/stand", params={"set": "from_midi=32"})
    assert problem(refused, 422)["detail"].startswith("note: from ")


def test_several_notes_come_with_their_music_and_a_band_each(client: TestClient) -> None:
    plan = plan_of(client, "lip-slur", "slots=3", "times=4")
    sheet = plan["sheet"]
    assert [note["name"] for note in sheet["notes"]] == ["G4", "C5", "E5", "C5", "G4"]
    assert [band["name"] for band in sheet["bands"] if band["asked"]] == ["E5", "C5", "G4"]
    # One repetition: five notes, with the number of their step.
    assert [sheet["svg"].count(f'id="step-{step}"') for step in range(6)] == [1, 1, 1, 1, 1, 0]
    assert sheet["described"].startswith("G4 C5 E5 C5 G4")
    assert plan["higher"]["key"] == "length"


def test_what_makes_no_sound_is_not_put_on_the_stand(client: TestClient) -> None:
    refused = problem(client.get(f"{BOOK}/breath/stand"), 422)
    assert refused["title"] == "There is nothing to listen to"
    assert "Full breath is done by breathing alone" in refused["detail"]


def test_the_stand_in_plays_what_is_asked_for(client: TestClient) -> None:
    # A sounding A4, held for as long as is written.
    given = {"set": ["from_midi=69", "hold_s=2"], "holds_percent": 100}
    sound = client.get(f"{BOOK}/long-tone/stand-in", params=given)
    samples, rate = soundfile.read(io.BytesIO(sound.content))
    # Half a second of quiet, 2.15 of sound, 0.8 of quiet; A4 has its peak at 440 Hz.
    assert len(samples) / rate == pytest.approx(3.45, abs=0.01)
    assert np.abs(samples[: rate // 3]).max() < 0.001
    middle = samples[rate : 2 * rate] * np.hanning(rate)
    assert np.argmax(np.abs(np.fft.rfft(middle))[300:600]) + 300 == pytest.approx(440, abs=1)


def test_the_stand_in_takes_everything_that_can_be_set_of_it(client: TestClient) -> None:
    usual = {one["key"]: one["usual"] for one in client.get("/api/fields").json()["stand_in"]}
    given = {"set": "hold_s=2", **usual}
    sound = client.get(f"{BOOK}/long-tone/stand-in", params=given)
    samples, rate = soundfile.read(io.BytesIO(sound.content))
    held_s = 2.15 * usual["holds_percent"] / 100
    assert len(samples) / rate == pytest.approx(held_s + 1.3, abs=0.01)


@pytest.mark.parametrize(
    ("query", "told"),
    [
        ({"holds_percent": 9000}, "must be 300 or less"),
        ({"scoop_cents": 1e9}, "must be 80 or less"),
        ({"set": "hold_s=9000"}, "hold: 1 to 60 s, not 9000"),
    ],
)
def test_the_stand_in_does_not_play_for_ever(
    client: TestClient, query: dict[str, Any], told: str
) -> None:
    refused = client.get(f"{BOOK}/long-tone/stand-in", params=query)
    assert told in problem(refused, 422)["detail"]


@pytest.mark.parametrize(
    ("path", "told"),
    [
        ("/api/players/9/takes", "There is no such player"),
        ("/api/takes/none", "There is no such take"),
        ("/api/takes/none/sound", "There is no such take"),
        ("/api/takes/..%2f..%2fetc", "There is nothing here"),
        ("/api/nowhere", "There is nothing here"),
    ],
)
def test_what_is_not_there_is_a_problem_document(client: TestClient, path: str, told: str) -> None:
    assert problem(client.get(path), 404)["title"] == told


def test_another_host_name_is_refused(client: TestClient) -> None:
    problem(client.get("/api/players", headers={"Host": "orexis.example"}), 421)
    assert client.get("/api/players", headers={"Host": "localhost:8420"}).status_code == 200
    assert client.get("/api/players", headers={"Host": "[::1]:8420"}).status_code == 200


@pytest.mark.parametrize("origin", ["http://elsewhere.example", "http://127.0.0.1:9999", "null"])
def test_another_pages_requests_are_refused(client: TestClient, origin: str) -> None:
    problem(client.post("/api/players", json=MAREN, headers={"Origin": origin}), 403)
    assert len(client.get("/api/players").json()) == 1


def test_our_own_page_may(client: TestClient) -> None:
    own = {"Origin": "http://127.0.0.1:8420"}
    assert client.post("/api/players", json=MAREN, headers=own).status_code == 201


def test_too_large_a_body_is_refused(client: TestClient) -> None:
    refused = client.post("/api/players", json={**MAREN, "name": "x" * 70_000})
    assert "Send at most 64 KiB" in problem(refused, 413)["detail"]
    assert len(client.get("/api/players").json()) == 1


def test_every_answer_carries_the_content_policy(client: TestClient) -> None:
    for path in ("/api/players", "/api/nowhere"):
        policy = client.get(path).headers["content-security-policy"]
        assert "default-src 'none'" in policy
        assert "unsafe" not in policy
        assert "http" not in policy


def test_a_rating_is_kept_and_the_ear_compared_with_the_gate(newcomer_copy: Path) -> None:
    with TestClient(create_app(Settings(newcomer_copy)), base_url=BASE) as client:
        takes = client.get("/api/players/1/takes").json()
        assert all(take["rating"] is None for take in takes)
        passed = 0
        for take in takes[:6]:
            rated = client.put(f"/api/takes/{take['id']}/rating", json={"rating": 3}).json()
            assert (rated["rating"]["rating"], rated["rating"]["word"]) == (3, "just right")
            assert rated["rating"]["agrees"] == take["verdict"]["passed"]
            passed += take["verdict"]["passed"]
        ear = client.get("/api/players/1/ear").json()
        assert (ear["rated"], f"{passed} of 6" in ear["words"]) == (6, True)
        assert f"too kind ({6 - passed})" in ear["words"]
        # What the player overrules counts as they say.
        failed = next(take for take in takes[:6] if not take["verdict"]["passed"])
        own = client.put(f"/api/takes/{failed['id']}/overrule", json={"passed": True}).json()
        assert (own["verdict"]["passed"], own["rating"]["agrees"]) == (True, True)
        assert f"{passed + 1} of 6" in client.get("/api/players/1/ear").json()["words"]
        problem(client.put(f"/api/takes/{takes[0]['id']}/rating", json={"rating": 9}), 422)
        problem(client.put("/api/takes/none/rating", json={"rating": 1}), 404)


def test_an_error_nobody_foresaw_is_a_problem_in_words(settings: Settings) -> None:
    def broken(*_: object) -> None:
        raise KeyError("unforeseen")

    with (
        patch.object(players, "all_players", broken),
        TestClient(create_app(settings), base_url=BASE, raise_server_exceptions=False) as client,
    ):
        assert "What was kept is safe" in problem(client.get("/api/players"), 500)["detail"]
