"""What a player chose stays chosen, and what was planned with it does not outlive it."""

from typing import Any

from fastapi.testclient import TestClient

from tests.server.test_coach import ABOUT, ME, change, today


def chosen(client: TestClient) -> dict[str, str]:
    found: list[dict[str, Any]] = client.get(f"{ME}/approaches").json()
    return {one["key"]: one["chosen"] for one in found}


def test_what_a_player_says_of_themselves_leaves_their_approaches(client: TestClient) -> None:
    client.put(f"{ME}/approaches/low-air", json={"option": "faster"}).raise_for_status()
    client.put(f"{ME}/about", json=ABOUT).raise_for_status()
    assert chosen(client)["low-air"] == "faster"


def test_a_plan_that_was_changed_does_not_outlive_a_approach(client: TestClient) -> None:
    client.put(f"{ME}/about", json={**ABOUT, "minutes": 60}).raise_for_status()
    kinds = [block["kind"] for block in today(client)["blocks"]]
    change(client, change="drop", block=0).raise_for_status()
    assert [block["kind"] for block in today(client)["blocks"]] == kinds[1:]
    client.put(f"{ME}/approaches/dynamics-up", json={"option": "level"}).raise_for_status()
    assert next(block["kind"] for block in today(client)["blocks"]) == kinds[0]
