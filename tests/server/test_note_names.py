"""Notes are named as the player says them wherever the player reads or types one."""

from typing import Any

import pytest
from fastapi.testclient import TestClient

from tests.server.conftest import MAREN
from tests.server.test_live import CHUNKS, HELLO, LIVE, messages
from tests.server.test_recordings import ARPEGGIO, dropped, encoded

# An E♭ tenor horn in treble clef: sounding B♭3 is written G4, and sounding D4 is B4.
NAMES = {
    ("english", "numbers"): ("B4", "D4"),
    ("german", "numbers"): ("H4", "D4"),
    ("solfege", "numbers"): ("Si4", "Re4"),
    ("german", "strokes"): ("h’", "d’"),
}


def named(client: TestClient, names: str, octaves: str) -> None:
    body = {**MAREN, "note_names": names, "octaves": octaves}
    told = client.put("/api/players/1", json=body)
    told.raise_for_status()
    assert (told.json()["note_names"], told.json()["octaves"]) == (names, octaves)


@pytest.mark.parametrize(("asked", "names"), NAMES.items())
def test_the_horn_and_the_book_name_notes_so(
    client: TestClient, asked: tuple[str, str], names: tuple[str, str]
) -> None:
    written, sounding = names
    named(client, *asked)
    horn = client.get("/api/players/1/horn").json()
    (note,) = (note for note in horn["notes"] if note["midi"] == 62)
    assert (note["name"], note["sounding"], note["written"]) == (written, sounding, written)
    stand = client.get("/api/players/1/book/long-tone/stand", params={"set": "from_midi=62"}).json()
    (shown,) = stand["sheet"]["notes"]
    assert (shown["name"], shown["sounding_name"]) == names
    chart = client.get("/api/players/1/chart").json()
    assert written in [band["name"] for band in chart["bands"]]


def test_scales_are_read_by_the_same_notes_whatever_they_are_called(client: TestClient) -> None:
    marked: list[list[int]] = []
    for names, octaves in NAMES:
        named(client, names, octaves)
        notes = client.get("/api/players/1/range").json()["notes"]
        marked.append([note["midi"] for note in notes if note["landmark"]])
        horn = client.get("/api/players/1/horn").json()
        # Written C sounds E♭ on an E♭ horn, and G sounds B♭.
        assert {note["midi"] % 12 for note in horn["notes"] if note["begins_octave"]} == {3}
    assert {midi % 12 for midi in marked[0]} == {3, 10}
    assert all(one == marked[0] for one in marked)


def test_keys_are_named_so_and_asked_for_as_before(client: TestClient) -> None:
    named(client, "german", "numbers")
    keys = client.get("/api/players/1/horn").json()["keys"]
    assert {"key": "B♭", "name": "B"} in keys
    assert {"key": "B", "name": "H"} in keys
    horn = client.get("/api/players/1/horn", params={"key": "B♭"})
    assert horn.status_code == 200


def test_verdicts_and_marks_name_notes_so(client: TestClient) -> None:
    named(client, "german", "numbers")
    exercise = {"family": "long-tone", "values": {"from_midi": "62", "hold_s": "2"}}
    with client.websocket_connect(LIVE) as socket:
        socket.send_json({**HELLO, "exercises": [exercise]})
        for chunk in CHUNKS:
            socket.send_bytes(chunk)
        socket.send_json({"type": "bye"})
        heard: list[dict[str, Any]] = list(messages(socket))
    # B♭3 was played where D4 (written H4) was asked for.
    (verdict,) = (one["take"]["verdict"] for one in heard if one["type"] == "verdict")
    words = f"{verdict['headline']} {verdict['change']}"
    assert "H4" in words
    assert "B4" not in words


def test_a_player_from_before_says_notes_in_english(client: TestClient) -> None:
    (player,) = client.get("/api/players").json()
    assert (player["note_names"], player["octaves"]) == ("english", "numbers")


@pytest.mark.parametrize("change", [{"note_names": "dutch"}, {"octaves": "colours"}])
def test_other_names_are_refused(client: TestClient, change: dict[str, str]) -> None:
    assert client.put("/api/players/1", json={**MAREN, **change}).status_code == 422


def test_what_was_meant_stays_the_same_notes_whatever_they_are_called_later(
    client: TestClient,
) -> None:
    kept = dropped(client, encoded(ARPEGGIO))
    path = f"/api/recordings/{kept['id']}"
    named(client, "german", "numbers")
    # Written H4 sounds D4.
    meant = client.put(f"{path}/wanted", json={"wanted": "b4  h4"}).json()
    assert meant["wanted"] == "B4 H4"
    before = [note["name"] for note in meant["pattern"]["notes"]]
    assert before == ["B4", "H4"]
    for names, said in (("english", "B♭4 B4"), ("solfege", "Si♭4 Si4")):
        named(client, names, "numbers")
        page = client.get(path).json()
        assert page["wanted"] == said
        assert [note["name"] for note in page["pattern"]["notes"]] == said.split()
    refused = client.put(f"{path}/wanted", json={"wanted": "H4"})
    assert "Do to Si" in refused.json()["detail"]


LINES = {
    ("english", "numbers"): "Bb3:2 ~B3:1 -:1 ' p *F#4@1.3:1/2",
    ("german", "numbers"): "B3:2 ~H3:1 -:1 ' p *Fis4@1.3:1/2",
    ("german", "strokes"): "b:2 ~h:1 -:1 ' p *fis’@1.3:1/2",
    ("solfege", "numbers"): "Sib3:2 ~Si3:1 -:1 ' p *Fa#4@1.3:1/2",
}


@pytest.mark.parametrize(("asked", "typed"), LINES.items())
def test_a_line_is_typed_and_shown_so_and_kept_as_the_same_notes(
    client: TestClient, asked: tuple[str, str], typed: str
) -> None:
    named(client, *asked)
    book = "/api/players/1/book/own-line"
    page = client.get(book, params={"set": f"line={typed}", "typed": True}).json()
    assert page["values"]["line"] == LINES["english", "numbers"]
    assert page["typed_line"] == typed
    # What is kept has one form, and a slot that was tapped says its note by number.
    kept = client.get(book, params={"set": "line=58:2 ~59:1 -:1 ' p *66@1.3:1/2"}).json()
    assert (kept["typed_line"], kept["svg"] == page["svg"]) == (typed, True)


def test_a_line_that_cannot_be_read_says_what_to_type_in_ones_own_names(client: TestClient) -> None:
    named(client, "german", "numbers")
    asked = {"set": "line=B3:1 X3:1", "typed": True}
    refused = client.get("/api/players/1/book/own-line", params=asked)
    assert refused.status_code == 422
    assert "“X3:1” cannot be read" in refused.json()["detail"]
    assert "B3:2 ~Es4:1" in refused.json()["detail"]
