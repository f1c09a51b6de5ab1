"""A player's horn over HTTP: the map, slurs and glides, and a setup that is kept."""

import json
from pathlib import Path

import httpx
import numpy as np
import pytest
from fastapi.testclient import TestClient
from sqlalchemy import delete, select, update
from typer.testing import CliRunner

from orexis.cli import app
from orexis.server.app import Settings, create_app
from orexis.store.database import Database
from orexis.store.horns import tendencies
from orexis.store.models import Player, Take, TakeNote, TakeSound
from tests.server.conftest import BASE
from tests.server.test_api import problem

OSK = {"name": "Osk", "instrument_key": "trombone-bass", "view": "sounding", "clef": "bass"}
TONE = "/api/players/1/book/long-tone/stand"
SETUP = "/api/players/1/horn/setup"
SCALE = "! t.scl\nthirds\n2\n5/4\n2/1\n"


def horn(client: TestClient, player: int = 1, **query: str) -> dict[str, object]:
    found: dict[str, object] = client.get(f"/api/players/{player}/horn", params=query).json()
    return found


def note(found: dict[str, object], name: str) -> dict[str, object]:
    notes = found["notes"]
    assert isinstance(notes, list)
    return next(note for note in notes if note["name"] == name)


def test_the_horn_comes_with_its_lengths_and_its_chart(client: TestClient) -> None:
    found = horn(client)
    assert (found["name"], found["is_slide"], found["own"]) == ("Tenor horn in E♭", False, False)
    assert [length["name"] for length in found["lengths"]] == [  # type: ignore[attr-defined]
        *("0", "2", "1", "12", "3", "23", "13", "123")
    ]
    b4 = note(found, "B4")
    assert (b4["sounding"], b4["octave"], b4["clef"], b4["staff_steps"]) == (
        *("D4", "one-line octave", "treble"),
        4,
    )
    assert b4["target_hz"] == pytest.approx(440 * 2 ** (-7 / 12), abs=0.001)
    assert [way["off"] for way in b4["ways"]] == ["in tune", "17 cents sharp", "60 cents flat"]  # type: ignore[attr-defined]


def test_notes_are_named_in_a_key_and_as_they_sound(client: TestClient) -> None:
    assert note(horn(client, key="E"), "D♯5")["also"] == ["E♭5"]
    assert note(horn(client, view="sounding"), "D4")["written"] == "B4"
    problem(client.get("/api/players/1/horn", params={"key": "H"}), 422)


def test_between_two_notes_there_is_a_slur_and_on_a_slide_a_glide(client: TestClient) -> None:
    path = "/api/players/1/horn/between"
    between = client.get(path, params={"from_midi": 62, "to_midi": 69}).json()
    assert between["slur"]["words"].endswith("E♭5 lies between: a skip slur.")
    assert not between["glide"]["possible"]
    assert between["climb"] is None
    client.post("/api/players", json=OSK).raise_for_status()
    path = "/api/players/2/horn/between"
    between = client.get(path, params={"from_midi": 53, "to_midi": 56}).json()
    (leg,) = between["glide"]["route"]
    assert (leg["from"]["length"], leg["to"]["length"], leg["partial"]) == ("6", "3", 4)
    assert len(between["climb"]["route"]) == 3


def test_a_note_has_trills_pairs_and_a_pattern_through_the_lengths(client: TestClient) -> None:
    also = client.get("/api/players/1/horn/also", params={"midi": 62}).json()
    assert also["same_pitch"] == ["2 and 1 3: the second is 17 cents sharp"]
    through = client.get("/api/players/1/horn/through", params={"partials": [3, 4]}).json()
    assert [slot["name"] for slot in through[0]["slots"]] == ["G4", "C5"]
    problem(client.get("/api/players/1/horn/through", params={"partials": [40]}), 422)


def test_a_setup_survives_a_restart_and_changes_what_is_shown(settings: Settings) -> None:
    with TestClient(create_app(settings), base_url=BASE) as client:
        client.post("/api/players", json=OSK).raise_for_status()
        before = client.get(TONE, params={"set": "from_midi=62"}).json()["sheet"]["notes"][0]
        kept = client.put(
            SETUP,
            json={"temperament": "just", "tonic": 10, "slide_reach": 1.0, "temperature_c": 12},
        )
        assert kept.json()["temperament"] == "just"
    with TestClient(create_app(settings), base_url=BASE) as client:
        found = horn(client)
        assert found["own"]
        assert "29 cents flat" in found["cold"] or "30 cents flat" in found["cold"]  # type: ignore[operator]
        # The third over B♭ is 13.7 low, and the slide no longer goes out to F's sixth position.
        after = client.get(TONE, params={"set": "from_midi=62"}).json()["sheet"]["notes"][0]
        assert after["pitch_cents"] - before["pitch_cents"] == pytest.approx(-13.7, abs=0.1)
        c2 = {way["length"]: way for way in note(found, "C2")["ways"]}  # type: ignore[attr-defined]
        assert not c2["F+6"]["usable"]


def test_a_scale_is_kept_used_and_given_back(client: TestClient) -> None:
    problem(client.get("/api/players/1/horn/scale.scl"), 404)
    client.put(SETUP, json={"temperament": "scale", "tonic": 3, "scale": SCALE}).raise_for_status()
    assert client.get(SETUP).json()["scale_name"] == "thirds"
    assert note(horn(client), "E5")["target_cents"] == pytest.approx(-13.69, abs=0.01)
    saved = client.get("/api/players/1/horn/scale.scl")
    assert "386.313714" in saved.text
    again = client.put(SETUP, json={"temperament": "scale", "scale": saved.text})
    assert again.json()["scale_name"] == "thirds"


@pytest.mark.parametrize(
    ("setup", "says"),
    [
        ({"scale": "thirds\n2\n5/4\n", "temperament": "scale"}, "Line 3 is the last note"),
        ({"temperament": "scale"}, "Choose a scale file"),
        ({"f1_hz": 20}, "open horn's pitch"),
        ({"valve_cents": [200, 100, 900]}, "between 200 and 400 cents"),
        ({"scale": "x" * 40_000}, "Scale is too long"),
        ({"tonic": 12}, "Tonic must be 11 or less"),
    ],
)
def test_a_setup_that_cannot_be_is_refused_and_the_old_one_stays(
    client: TestClient, setup: dict[str, object], says: str
) -> None:
    client.put(SETUP, json={"main_pull_mm": 3}).raise_for_status()
    assert says in problem(client.put(SETUP, json=setup), 422)["detail"]
    assert client.get(SETUP).json()["main_pull_mm"] == 3


def run(*words: str) -> str:
    result = CliRunner().invoke(app, ["horn", *words])
    assert result.exit_code == 0, result.output
    return result.stdout


def test_the_command_lists_and_charts() -> None:
    keys = {load["key"] for load in json.loads(run("list", "--json"))}
    assert {"trumpet-bb", "horn-f", "trombone-tenor-f", "tuba-eb-4v-comp"} <= keys
    chart = json.loads(run("cornet-bb", "chart", "--json"))
    by_name = {note["written"]: note for note in chart["notes"]}
    assert by_name["C♯4"]["ways"][0]["length"] == "123"
    assert by_name["C3"]["pedal"] == "lip-led"
    assert "no slot: the lips alone" in run("cornet-bb", "chart")


def test_the_command_tells_a_notes_ways() -> None:
    told = json.loads(run("tenor-horn-eb", "note", "B4", "--written", "--json"))
    assert (told["instrument"], told["sounding"], told["written"]) == (
        *("tenor-horn-eb", "D4"),
        "B4",
    )
    first, second, third = told["ways"]
    assert (first["length"], first["partial"], first["cents"]) == ("2", 4, 0)
    assert (second["length"], second["pull"]["valve"]) == ("13", 3)
    assert second["pull"]["mm"] == pytest.approx(14.0, abs=0.1)
    assert (third["usable"], "extension_mm" in third) == (False, False)
    assert json.loads(run("trombone-bass", "note", "c2", "--json"))["ways"][0]["length"] == "F+G♭+3"
    assert (
        json.loads(run("horn-f", "note", "C5", "--written", "--json"))["ways"][0]["length"] == "T0"
    )


def test_the_command_tells_slots_slurs_and_glides() -> None:
    slots = json.loads(run("trombone-bass", "slots", "f+gb+2", "--json"))
    assert (slots["length"], slots["slots"][1]["sounding"]) == ("F+G♭+2", "C♯2")
    slur = json.loads(run("tenor-horn-eb", "slur", "D4", "A4", "--json"))
    assert slur["same_length"][0]["between"][0]["name"] == "F♯4"
    glide = json.loads(run("trombone-tenor", "glide", "F3", "3", "--json"))
    (leg,) = glide["route"]
    assert glide["possible"]
    assert (leg["partial"], leg["from"]["length"], leg["to"]["length"]) == (4, "6", "3")
    down = json.loads(run("trombone-tenor", "glide", "F3", "-2", "--json"))
    assert down["route"][0]["to"]["extension_mm"] > down["route"][0]["from"]["extension_mm"]
    assert "Valves step" in run("cornet-bb", "glide", "C4", "2")


@pytest.mark.parametrize(
    ("words", "says"),
    [
        (("kazoo", "note", "C4"), "no instrument kazoo"),
        (("cornet-bb", "note", "H4"), "is not a note"),
        (("cornet-bb", "note"), "takes one note"),
        (("cornet-bb", "fly", "C4"), "Ask for note, chart"),
        (("cornet-bb", "slots", "4"), "no length 4"),
        (("cornet-bb", "glide", "C4", "far"), "whole half steps"),
        (("cornet-bb", "note", "C4", "--clef", "bass"), "not written in bass clef"),
        (("list", "more"), "nothing more"),
    ],
)
def test_the_command_says_what_is_wrong(words: tuple[str, ...], says: str) -> None:
    result = CliRunner().invoke(app, ["horn", *words])
    assert result.exit_code == 2
    assert says in result.output


def test_what_takes_measured_is_weighed_in(settings: Settings, newcomer_copy: Path) -> None:
    database = Database(newcomer_copy)
    with database.session() as session:
        pia = session.get_one(Player, 1)
        # Of the demo's takes those with a sound, as if the stand-in player had played them.
        heard = select(TakeSound.take_id)
        session.execute(delete(Take).where(Take.id.not_in(heard)))
        session.execute(update(Take).values(source="stand-in"))
        found = tendencies(session, pia)
        assert found
        # The newest twenty count: of the note that was played least these are all.
        (length, midi), tendency = min(found.items(), key=lambda item: item[1].takes)
        rows = session.query(TakeNote).join(Take, Take.id == TakeNote.take_id)
        asked = rows.filter(Take.player_id == 1, TakeNote.asked_midi == midi).all()
        cents = [
            row.centre_cents
            for row in asked
            if row.centre_cents is not None
            and row.played_midi == midi
            and row.length_name == length
            and abs(row.centre_cents) <= 60
            and (row.end_s or 0.0) - (row.start_s or 0.0) >= 0.5
        ]
        assert tendency.cents == pytest.approx(np.median(cents))
        assert tendency.takes == len(cents)
        # One take into the microphone outweighs what the stand-in player played.
        take = session.query(Take).filter_by(player_id=1, exercise_key="long-tone").first()
        assert take is not None
        (row,) = take.notes
        take.source, row.asked_midi, row.played_midi, row.centre_cents = (
            "microphone",
            midi,
            midi,
            7.0,
        )
        row.length_name = length
        session.flush()
        assert [(t.cents, t.takes) for t in tendencies(session, pia).values()] == [(7.0, 1)]
    database.close()
    with TestClient(create_app(settings), base_url=BASE) as client:
        found_note = next(
            note
            for note in client.get("/api/players/1/horn").json()["notes"]
            if note["midi"] == midi
        )
    way = next(way for way in found_note["ways"] if way["length"] == length)
    assert way["cents"] == pytest.approx(0, abs=0.5)
    words = "The tubes alone: in tune. You: 7 cents sharp in 1 take."
    assert way["measured"] == {"cents": 7.0, "takes": 1, "words": words}
    assert way["expected_cents"] == pytest.approx(way["cents"] + (7 - way["cents"]) / 5, abs=0.01)


def test_hosts_and_origins_are_checked_here_too(client: TestClient) -> None:
    assert client.get("/api/players/1/horn", headers={"Host": "evil.example"}).status_code == 421
    refused: httpx.Response = client.put(SETUP, json={}, headers={"Origin": "http://evil.example"})
    assert refused.status_code == 403
