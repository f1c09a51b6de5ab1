"""The coach over HTTP: the day and its changes, what a player says, approaches, programmes,
dates."""

from datetime import date, timedelta
from typing import Any

import pytest
from fastapi.testclient import TestClient
from sqlalchemy import text

ME = "/api/players/1"
ABOUT = {"experience": "some-years", "wish": "up", "minutes": 40, "days_a_week": 5}


def today(client: TestClient) -> dict[str, Any]:
    found: dict[str, Any] = client.get(f"{ME}/today").raise_for_status().json()
    return found


def kinds(plan: dict[str, Any]) -> list[str]:
    return [block["kind"] for block in plan["blocks"]]


def change(client: TestClient, **asked: Any) -> Any:
    return client.post(f"{ME}/today/change", json=asked)


def test_a_player_who_has_said_nothing_has_a_plan_and_is_told_so(client: TestClient) -> None:
    plan = today(client)
    assert not plan["said"]
    assert plan["minutes"] == 30
    assert kinds(plan)[0] == "breath"
    assert plan["load"] == "Too few days to tell the load yet"
    # What is set of each is what a session takes.
    assert all(block["exercise"]["why"].startswith(block["reason"]) for block in plan["blocks"])


def test_what_a_player_says_is_kept_and_planned_with(client: TestClient) -> None:
    said = client.put(f"{ME}/about", json={**ABOUT, "quiet_from": "21:30", "quiet_until": "07:00"})
    assert said.json()["said"]
    assert said.json()["quiet_from"] == "21:30:00"
    plan = today(client)
    assert plan["said"]
    assert plan["minutes"] == 40
    assert client.get(f"{ME}/about").json()["wish"] == "up"


def test_a_break_braces_and_first_weeks_bring_their_programmes(client: TestClient) -> None:
    client.put(f"{ME}/about", json={**ABOUT, "weeks_off": 10, "braces": True})
    followed = [one["key"] for one in client.get(f"{ME}/programmes").json() if one["since"]]
    assert sorted(followed) == ["braces", "graded-return"]
    plan = today(client)
    # 30 % of forty minutes.
    assert plan["takes_minutes"] <= 12
    assert not {"high", "pedals"} & set(kinds(plan))


def test_something_that_hurts_now_holds_hard_work_back(client: TestClient) -> None:
    client.put(f"{ME}/about", json={**ABOUT, "hurts": True})
    plan = today(client)
    assert plan["hurts"]
    assert not {"high", "pedals"} & set(kinds(plan))
    client.delete(f"{ME}/hurts").raise_for_status()
    assert not today(client)["hurts"]
    assert "30 % of your time" in today(client)["warnings"][0]


@pytest.mark.parametrize(
    "wrong",
    [
        {"minutes": 4},
        {"minutes": 121},
        {"days_a_week": 8},
        {"experience": "forever"},
        {"weeks_off": -1},
        {"high_midi": 128},
        {"low_midi": 70, "high_midi": 60},
        {"quiet_from": "25:00"},
    ],
)
def test_what_cannot_be_is_refused_and_nothing_is_kept(
    client: TestClient, wrong: dict[str, Any]
) -> None:
    answer = client.put(f"{ME}/about", json={**ABOUT, **wrong})
    assert answer.status_code == 422
    assert answer.json()["detail"]
    assert not client.get(f"{ME}/about").json()["said"]


def test_lips_minutes_and_quiet_hours_make_another_plan_that_stays(client: TestClient) -> None:
    asked = {"minutes": 20, "lips": "tired", "quiet": False}
    made = client.put(f"{ME}/today", json=asked).raise_for_status().json()
    assert made["takes_minutes"] <= 14
    assert today(client)["lips"] == "tired"
    quiet = client.put(f"{ME}/today", json={**asked, "quiet": True}).json()
    assert quiet["headline"].endswith("the mouthpiece alone.")


def test_a_change_is_kept_until_the_plan_is_made_anew(client: TestClient) -> None:
    before = today(client)
    at = kinds(before).index("slurs")
    longer = change(client, change="lengthen", block=at, by_min=3).json()
    assert longer["blocks"][at]["all_minutes"] == before["blocks"][at]["all_minutes"] + 3
    moved = change(client, change="move", block=at, to=0).json()
    assert kinds(moved)[0] == "slurs"
    assert any("order" in warning for warning in moved["warnings"])
    assert today(client) == moved
    swapped = change(client, change="swap", block=0).json()
    assert swapped["blocks"][0]["title"] != moved["blocks"][0]["title"]
    assert len(change(client, change="drop", block=0).json()["blocks"]) == len(before["blocks"]) - 1
    anew = client.put(
        f"{ME}/today", json={"minutes": 30, "lips": "normal", "quiet": before["quiet"]}
    )
    assert kinds(anew.json()) == kinds(before)


def test_a_change_that_cannot_be_says_why(client: TestClient) -> None:
    for asked in (
        {"change": "drop", "block": 19},
        {"change": "lengthen", "block": 0, "by_min": -60},
        {"change": "move", "block": 0, "to": 19},
    ):
        answer = change(client, **asked)
        assert answer.status_code == 422
        assert answer.json()["title"] == "That cannot be changed"
    assert change(client, change="explode", block=0).status_code == 422


def approach(client: TestClient, key: str) -> dict[str, Any]:
    found: dict[str, Any] = next(
        one for one in client.get(f"{ME}/approaches").json() if one["key"] == key
    )
    return found


def test_an_approach_that_is_chosen_changes_the_plan(client: TestClient) -> None:
    client.put(f"{ME}/today", json={"minutes": 40, "lips": "normal", "quiet": False})
    assert "buzz" in kinds(today(client))
    client.put(f"{ME}/approaches/buzzing", json={"option": "diagnosis"}).raise_for_status()
    assert approach(client, "buzzing")["chosen"] == "diagnosis"
    again = client.put(f"{ME}/today", json={"minutes": 40, "lips": "normal", "quiet": False})
    assert "buzz" not in kinds(again.json())


def test_both_are_measured_in_turn_and_a_choice_ends_it(client: TestClient) -> None:
    client.post(f"{ME}/approaches/low-air/measure", json={"option": "faster"}).raise_for_status()
    trial = approach(client, "low-air")["trial"]
    assert trial["first"] == trial["today"] == "open, unforced, slower"
    assert trial["ends"] == (date.today() + timedelta(days=14)).isoformat()
    assert "too little to tell" in trial["words"]
    client.put(f"{ME}/approaches/low-air", json={"option": "slower"}).raise_for_status()
    assert approach(client, "low-air")["trial"] is None


def test_what_no_measure_decides_is_not_measured(client: TestClient) -> None:
    for key, option in (("pressure", "zero"), ("low-air", "slower"), ("diet", "soup")):
        answer = client.post(f"{ME}/approaches/{key}/measure", json={"option": option})
        assert answer.status_code == 422
        assert answer.json()["detail"].endswith(".")


def test_a_programme_is_begun_paused_gone_on_with_and_left(client: TestClient) -> None:
    def step(what: str) -> dict[str, Any]:
        answer = client.put(f"{ME}/programmes/low-intervals", json={"step": what})
        found: dict[str, Any] = answer.raise_for_status().json()[0]
        return found

    begun = step("begin")
    assert (begun["key"], begun["stage"], begun["due"]) == ("low-intervals", 0, True)
    assert [programme["title"] for programme in today(client)["programmes"]] == ["Low intervals"]
    assert step("pause")["paused"]
    assert not step("go-on")["paused"]
    left = client.delete(f"{ME}/programmes/low-intervals").json()
    assert all(one["stage"] is None for one in left)
    assert client.put(f"{ME}/programmes/low-intervals", json={"step": "pause"}).status_code == 404
    assert client.put(f"{ME}/programmes/miracle", json={"step": "begin"}).status_code == 404


def test_a_coming_date_is_planned_for_and_forgotten(client: TestClient) -> None:
    tomorrow = (date.today() + timedelta(days=1)).isoformat()
    asked = {"day": tomorrow, "kind": "concert", "words": "  The  centenary "}
    kept = client.post(f"{ME}/dates", json=asked).raise_for_status().json()
    assert kept["words"] == "The centenary"
    plan = today(client)
    assert "The centenary is tomorrow, so there is less." in plan["summary"]
    assert plan["takes_minutes"] <= 15
    client.delete(f"{ME}/dates/{kept['id']}").raise_for_status()
    assert client.get(f"{ME}/dates").json() == []
    assert client.delete(f"{ME}/dates/{kept['id']}").status_code == 404
    assert client.post(f"{ME}/dates", json={**asked, "day": "1492-10-12"}).status_code == 422


def test_nobody_sees_or_changes_what_is_another_players(client: TestClient) -> None:
    for path in ("today", "about", "approaches", "programmes", "dates"):
        assert client.get(f"/api/players/99/{path}").status_code == 404
    kept = client.post(f"{ME}/dates", json={"day": "2030-01-01"}).json()
    client.post(
        "/api/players",
        json={"name": "Osk", "instrument_key": "trombone-bass", "clef": "bass"},
    ).raise_for_status()
    assert client.delete(f"/api/players/2/dates/{kept['id']}").status_code == 404


def test_a_plan_of_an_older_kind_is_made_anew(client: TestClient) -> None:
    today(client)
    database = client.app.state.database  # type: ignore[attr-defined]
    with database.session() as session:
        session.execute(text("""UPDATE day_plans SET plan = '{"blocks": "none"}'"""))
    assert kinds(today(client))[0] == "breath"


def test_a_plan_follows_the_hour_unless_it_was_asked_for(client: TestClient) -> None:
    whole_day = {"quiet_from": "00:00", "quiet_until": "23:59"}
    client.put(f"{ME}/about", json={**ABOUT, **whole_day}).raise_for_status()
    assert today(client)["quiet"]
    database = client.app.state.database  # type: ignore[attr-defined]
    with database.session() as session:
        session.execute(text("UPDATE player_abouts SET quiet_from = NULL"))
    # The quiet hours are over.
    assert not today(client)["quiet"]
    client.put(f"{ME}/today", json={"minutes": 40, "lips": "normal", "quiet": True})
    assert today(client)["quiet"]
