"""Exercises of one's own: kept, changed, deleted and brought back; melodies coming in."""

from datetime import UTC, datetime, timedelta
from typing import Any

import numpy as np
import pytest
from fastapi.testclient import TestClient

from orexis.core.horn.notation import NoteView
from orexis.formats.midi import midi_of
from orexis.practice.exercises import musicxml_of_task
from orexis.server.app import Settings, create_app
from orexis.store.database import Database
from orexis.store.models import OwnExercise, TakeNote
from tests.core.exercises.writing import task, writer
from tests.server.conftest import BASE, MAREN
from tests.server.test_api import problem
from tests.server.test_takes import play
from tests.sounds import silence, softened, steady

OWN = "/api/players/1/own"
OSK = {"name": "Osk", "instrument_key": "trombone-bass", "view": "sounding", "clef": "bass"}
LINE = {"name": "Down the stairs", "family": "own-line", "values": {"line": "Eb4:2 ~Bb3:2 '"}}


@pytest.fixture
def kept(client: TestClient) -> dict[str, Any]:
    response = client.post(OWN, json=LINE)
    assert response.status_code == 201
    found: dict[str, Any] = response.json()
    return found


def test_what_is_kept_is_there_whole_and_by_name(client: TestClient, kept: dict[str, Any]) -> None:
    other = {"name": " a  slur ", "family": "lip-slur", "values": {"slots": "3"}}
    client.post(OWN, json=other).raise_for_status()
    first, second = client.get(OWN).json()
    assert [first["name"], second["name"]] == ["a slur", "Down the stairs"]
    assert (first["title"], first["values"]["slots"], first["refused"]) == ("Lip slur", "3", "")
    assert second == kept
    # What was not set is kept as it was usual.
    assert second["values"] == {
        "line": "Eb4:2 ~Bb3:2 '",
        "semitones": "0",
        "tempo": "0",
        "bar": "4",
        "times": "1",
        "tuning": "horn",
    }
    given = [f"{key}={value}" for key, value in second["values"].items()]
    page = client.get("/api/players/1/book/own-line", params={"set": given}).json()
    assert page["described"] == "C5 G4, free."


def test_it_is_changed_in_place(client: TestClient, kept: dict[str, Any]) -> None:
    where = f"{OWN}/{kept['id']}"
    changed = {**LINE, "name": "Stairs", "values": {"line": "Eb4:4"}}
    client.put(where, json=changed).raise_for_status()
    (only,) = client.get(OWN).json()
    assert (only["id"], only["name"], only["values"]["line"]) == (kept["id"], "Stairs", "Eb4:4")
    other = problem(client.put(where, json={**changed, "family": "lip-slur"}), 422)
    assert "keep it by a new name" in other["detail"]


@pytest.mark.parametrize(
    ("change", "told"),
    [
        ({"name": "  "}, "1 to 60 letters"),
        ({"name": "x" * 61}, "1 to 60 letters"),
        ({"name": "down the STAIRS"}, "called down the STAIRS already"),
        ({"values": {"line": "H4:1"}}, "“H4:1” cannot be read"),
        ({"values": {"line": "Eb4:1", "colour": "red"}}, "has no colour"),
        ({"values": {"line": "Eb4:1 " * 1200}}, ""),
        ({"name": "x" * 10_000}, ""),
    ],
)
def test_what_cannot_be_kept_is_refused_and_changes_nothing(
    client: TestClient, kept: dict[str, Any], change: dict[str, Any], told: str
) -> None:
    assert told in problem(client.post(OWN, json={**LINE, **change}), 422)["detail"]
    assert client.get(OWN).json() == [kept]


def test_an_unknown_family_and_another_players_are_not_there(
    client: TestClient, kept: dict[str, Any]
) -> None:
    problem(client.post(OWN, json={**LINE, "family": "nothing"}), 404)
    client.post("/api/players", json=OSK).raise_for_status()
    others = f"/api/players/2/own/{kept['id']}"
    assert client.get("/api/players/2/own").json() == []
    problem(client.put(others, json=LINE), 404)
    problem(client.delete(others), 404)
    problem(client.post(f"{others}/restore"), 404)


def test_a_deleted_one_comes_back_for_seven_days(settings: Settings) -> None:
    with TestClient(create_app(settings), base_url=BASE) as client:
        client.post("/api/players", json=MAREN).raise_for_status()
        kept = client.post(OWN, json=LINE).json()
        where = f"{OWN}/{kept['id']}"
        assert client.delete(where).status_code == 204
        assert client.get(OWN).json() == []
        problem(client.delete(where), 404)
        # Its name is free again meanwhile.
        assert client.post(f"{where}/restore").json() == kept
        client.delete(where)
        database = Database(settings.data)
        with database.session() as session:
            session.get_one(OwnExercise, kept["id"]).deleted_at = datetime.now(UTC) - timedelta(8)
        database.close()
    with TestClient(create_app(settings), base_url=BASE) as client:
        problem(client.post(f"{where}/restore"), 404)


def test_one_that_fits_another_horn_no_more_says_why(client: TestClient) -> None:
    high = {**LINE, "values": {"line": "Eb5:2"}}
    client.post(OWN, json=high).raise_for_status()
    client.put("/api/players/1", json={**OSK, "instrument_key": "tuba-eb"}).raise_for_status()
    (own,) = client.get(OWN).json()
    assert "The horn has no" in own["refused"]


def melodies(client: TestClient, content: bytes, name: str = "tune.mid") -> Any:
    return client.post("/api/players/1/melodies", params={"name": name}, content=content)


def test_a_melody_comes_in_from_midi_and_from_musicxml(client: TestClient) -> None:
    melody = task("melody", "tenor-horn-eb", tune="slack-water", from_midi="C4")
    horn = writer("tenor-horn-eb").horn
    written = horn.instrument.notation(NoteView.WRITTEN, horn.instrument.readings[0].clef)
    for content in (
        midi_of(melody.score, "Slack Water"),
        musicxml_of_task(melody, horn, written).encode(),
    ):
        (part,) = melodies(client, content).json()
        assert (part["notes"], part["refused"], part["moved"]) == ("18 notes", "", "")
        # Sounding C4 to A4, which Maren reads as A4 to F♯5.
        assert (part["lowest"], part["highest"]) == ("A4", "F♯5")
        assert (part["values"]["tempo"], part["values"]["bar"]) == ("84", "3")
        given = [f"{key}={value}" for key, value in part["values"].items()]
        page = client.get(f"/api/players/1/book/{part['family']}", params={"set": given}).json()
        assert page["described"].startswith("E5 D5 C♯5 B4 C♯5 A4")


@pytest.mark.usefixtures("reads_here")
def test_a_melody_off_the_horn_is_moved_by_octaves(client: TestClient) -> None:
    high = task("melody", "trumpet-bb", tune="gulls", from_midi="G4", octaves=0).score
    (there,) = melodies(client, midi_of(high, "Gulls")).json()
    assert there["moved"] in ("", "moved down by 1 octave")
    client.put("/api/players/1", json={**OSK, "instrument_key": "tuba-eb"}).raise_for_status()
    (moved,) = melodies(client, midi_of(high, "Gulls")).json()
    assert moved["moved"].startswith("moved down by ")
    assert moved["refused"] == ""


@pytest.mark.usefixtures("reads_here")
def test_what_is_no_melody_or_too_much_is_refused(client: TestClient) -> None:
    told = problem(melodies(client, b"<html/>", "page.xml"), 422)
    assert told["detail"].startswith("page.xml is no MusicXML or MIDI")
    problem(melodies(client, bytes((2 << 20) + 1)), 413)


def test_a_page_says_how_its_notes_stand(client: TestClient, settings: Settings) -> None:
    def standings() -> dict[str, str]:
        page = client.get("/api/players/1/book/lip-slur").json()
        return {standing["name"]: standing["standing"] for standing in page["standings"]}

    assert standings() == {"G4": "not played yet", "C5": "not played yet"}
    now = datetime.now(UTC)
    sound = np.concatenate((silence(0.7), softened(steady(233.082, 2.5)), silence(0.8)))
    play(client, sound, 1, started_at=now.isoformat())
    assert standings() == {"G4": "held", "C5": "not played yet"}
    database = Database(settings.data)
    with database.session() as session:
        assert session.query(TakeNote).count() == 1
    database.close()
