"""The range and what changed over HTTP: with nothing, with ten weeks, and what is refused."""

from datetime import date, timedelta
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from orexis.core.coach.approaches import BY_KEY
from orexis.core.coach.trial import Trial
from orexis.server.app import Settings, create_app
from orexis.store.coaching import keep_trial
from orexis.store.database import Database
from tests.server.conftest import BASE

RANGE = "/api/players/1/range"


def test_with_nothing_played_there_are_notes_and_no_weeks(client: TestClient) -> None:
    found = client.get(RANGE).json()
    assert found["horn"] == {
        "headline": "No note is held yet.",
        "words": (
            "A note is held once it was good and lasted two seconds. Play, and it appears here."
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


@pytest.mark.deep
def test_questions_of_ten_weeks_are_answered_along_what_they_are_asked_of(band_copy: Path) -> None:
    app = create_app(Settings(band_copy))
    with TestClient(app, base_url=BASE) as client:
        names = {one["name"]: one["id"] for one in client.get("/api/players").json()}
        found = client.get(f"/api/players/{names['Maren']}/changes").json()
        answers = {answer["key"]: answer for answer in found["answers"]}
        along = {key: one["along"] for key, one in answers.items()}
        assert along["centre"] == along["minutes"] == along["pyramid"] == "days"
        assert along["steady-late"] == along["response-late"] == "minutes"
        assert (along["tendencies"], along["registers"]) == ("notes", "weeks")
        # Nothing that was never played is asked about.
        assert "trill" not in answers or answers["trill"]["values"]
        for answer in answers.values():
            assert answer["told"] == bool(answer.get("line", True))
            assert answer["told"] or answer["answer"] == "Too little to tell yet."
        # A pyramid's values lie among notes that have the player's names.
        pyramid = answers["pyramid"]
        midis = [name["midi"] for name in pyramid["names"]]
        values = [value["value"] for value in pyramid["values"]]
        assert (min(midis), max(midis)) == (round(min(values)), round(max(values)))
        assert pyramid["scale"] == "highest note of a good pyramid"
        assert answers["centre"]["names"] == []
        # Week by week it sums up to what all of it sounded.
        weeks = answers["registers"]["rows"]
        minutes = sum(register["minutes"] for row in weeks for register in row["registers"])
        table = client.get(f"/api/players/{names['Maren']}/tables/notes.json").json()["notes"]
        sounded = [one["end_s"] - one["start_s"] for one in table if one["end_s"] is not None]
        assert minutes == pytest.approx(sum(sounded) / 60, rel=1e-6)


def test_what_an_approach_showed_is_among_the_answers(
    client: TestClient, settings: Settings
) -> None:
    trial = Trial("after-failure", "back", "stop", date.today(), date.today() + timedelta(days=14))
    database = Database(settings.data)
    with database.session() as session:
        keep_trial(session, 1, trial)
    database.close()
    (answer,) = client.get("/api/players/1/changes").json()["answers"]
    assert answer["along"] == "words"
    assert answer["question"] == BY_KEY["after-failure"].words
    assert "too little to tell" in answer["answer"]
