"""The range over HTTP: as it is with nothing played, and what is refused."""

from fastapi.testclient import TestClient

RANGE = "/api/players/1/range"


def test_with_nothing_played_there_are_notes_and_no_weeks(client: TestClient) -> None:
    found = client.get(RANGE).json()
    assert found["horn"] == {
        "headline": "No note is held yet.",
        "words": (
            "A note is held once it has passed and lasted two seconds. Play, and it is told here."
        ),
        "rows": [],
    }
    # A tenor horn in E♭ by the names Maren reads: B♭3 sounds as G4 is written.
    names = {note["midi"]: note["name"] for note in found["notes"]}
    assert names[58] == "G4"
    assert {note["standing"] for note in found["notes"]} == {"not played yet"}


def test_a_note_that_was_never_played_is_a_page_with_nothing_on_it(client: TestClient) -> None:
    page = client.get(f"{RANGE}/58").json()
    assert (page["days"], page["lines"], page["best"]) == ([], [], None)
    assert page["note"]["words"] == "not played yet"


def test_what_is_no_note_and_nobody_s_range_is_refused(client: TestClient) -> None:
    assert client.get(f"{RANGE}/128").status_code == 422
    assert client.get(f"{RANGE}/-1").status_code == 422
    assert client.get("/api/players/9/range").status_code == 404
