"""The path of an exercise: where one is on it, and going to another step by hand."""

from fastapi.testclient import TestClient

from tests.server.test_api import problem

PATH = "/api/players/1/paths"


def test_a_path_says_its_steps_where_one_is_and_what_earns_the_next(client: TestClient) -> None:
    found = client.get(f"{PATH}/low-long-tones").json()
    assert [step["words"] for step in found["steps"][:2]] == ["notes 3", "notes 4"]
    at = found["at"]
    assert found["words"] == f"Step {at + 1} of {len(found['steps'])}: notes 7. 0 of 2 good days."
    assert "earn the next step" in found["earns"]
    # Its values can be set as they are.
    given = [f"{key}={value}" for key, value in found["steps"][at + 1]["values"].items()]
    page = client.get("/api/players/1/book/low-long-tones", params={"set": given}).json()
    assert page["values"]["notes"] == "8"


def test_what_has_no_path_says_so_and_what_is_unknown_is_not_found(client: TestClient) -> None:
    assert client.get(f"{PATH}/own-line").json() == {
        "steps": [],
        "at": 0,
        "words": "",
        "earns": "",
    }
    problem(client.get(f"{PATH}/nothing"), 404)
    problem(client.put(f"{PATH}/nothing", json={"step": 1}), 404)
    refused = problem(client.put(f"{PATH}/own-line", json={"step": 0}), 422)
    assert refused["detail"] == "Your own line has no path on this horn."


def test_one_goes_to_a_step_by_hand_and_stays_there_on_that_horn(client: TestClient) -> None:
    moved = client.put(f"{PATH}/siren", json={"step": 4}).json()
    assert moved["at"] == 4
    assert client.get(f"{PATH}/siren").json() == moved
    too_far = problem(client.put(f"{PATH}/siren", json={"step": 99}), 422)
    assert too_far["detail"] == f"This path has {len(moved['steps'])} steps."
    assert client.put(f"{PATH}/siren", json={"step": -1}).status_code == 422
    assert client.get(f"{PATH}/siren").json()["at"] == 4
    # Another horn has its own.
    player = client.get("/api/players").json()[0]
    body = {key: player[key] for key in ("name", "view", "clef")} | {"instrument_key": "tuba-eb"}
    client.put("/api/players/1", json=body).raise_for_status()
    assert client.get(f"{PATH}/siren").json()["at"] != 4


def test_today_is_planned_anew_with_the_step(client: TestClient) -> None:
    def low_tones() -> str:
        blocks = client.get("/api/players/1/today").json()["blocks"]
        return next(str(block["about"]) for block in blocks if block["title"] == "Low long tones")

    assert "notes 7" in low_tones()
    client.put(f"{PATH}/low-long-tones", json={"step": 0}).raise_for_status()
    assert "notes 3" in low_tones()
