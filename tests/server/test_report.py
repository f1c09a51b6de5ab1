"""Reports: made, carried as a zip, read by a guest, and answered."""

import csv
import io
import json
import sqlite3
import zipfile
import zlib
from contextlib import closing
from datetime import UTC, date, datetime
from pathlib import Path
from typing import Any

import music21
import pytest
import soundfile
from fastapi.testclient import TestClient
from typer.testing import CliRunner

from orexis import cli
from orexis.server import bundles
from orexis.server.app import Settings
from orexis.store.database import Database
from orexis.store.guests import MOST_GUESTS, GuestRefusedError, add_guest
from tests.server.conftest import MAREN
from tests.server.test_tables import played

__all__ = ["played"]

RUN = CliRunner()
MAY = {"first": "2026-05-01", "last": "2026-05-31"}
WORDS = {
    "schema": "orexis.words/1",
    "said_by": "Ruven",
    "words": "Lower shoulders.",
    "marks": [{"take_id": "", "at_s": 1.5, "words": "as clean as this"}],
}


@pytest.fixture(autouse=True)
def _page(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """A page in place of the one that is built from the front end."""
    (tmp_path / "alone.js").write_text("show('</script>')")
    (tmp_path / "alone.css").write_text("p { color: black }")
    monkeypatch.setattr(bundles, "_ALONE", tmp_path)


def take_of(client: TestClient) -> dict[str, Any]:
    (take,) = client.get("/api/players/1/takes").json()
    found: dict[str, Any] = take
    return found


def carried(client: TestClient, **more: str) -> zipfile.ZipFile:
    answer = client.post("/api/players/1/report/bundle", json={**MAY, **more})
    assert answer.headers["content-type"] == "application/zip"
    return zipfile.ZipFile(io.BytesIO(answer.content))


def test_a_report_tells_of_its_weeks_and_of_no_other(played: TestClient) -> None:
    report = played.post("/api/players/1/report", json={**MAY, "words": " Top is tired. "}).json()
    assert (report["player"], report["instrument"]) == ("Maren", "Tenor horn in E♭")
    assert report["words"] == "Top is tired."
    # The one take, on the 4th of May, sounded for 2.4 s.
    assert report["summary"] == "Practice on 1 day: 1 attempt, 2 s of playing."
    assert [one["id"] for one in report["best"]] == [take_of(played)["id"]]
    assert report["worst"] == []
    (week,) = [row for row in report["range"]["horn"]["rows"] if row["played"]]
    assert week["monday"] == "2026-05-04"
    assert week["parts"][0]["top"]["held"] == 58
    june = {"first": "2026-06-01", "last": "2026-06-30"}
    empty = played.post("/api/players/1/report", json=june).json()
    assert (empty["summary"], empty["best"]) == ("No practice.", [])
    # B♭3 was held before, and the weeks of June are all without practice.
    assert not any(row["played"] for row in empty["range"]["horn"]["rows"])
    before = played.post(
        "/api/players/1/report", json={"first": "2026-04-01", "last": "2026-04-30"}
    ).json()
    assert before["range"]["horn"]["rows"] == []


def test_without_days_a_report_is_of_the_usual_weeks_up_to_today(client: TestClient) -> None:
    report = client.post("/api/players/1/report", json={}).json()
    first, last = (date.fromisoformat(report[end]) for end in ("first", "last"))
    assert last == date.today()
    # Eight weeks, both ends among them.
    assert (last - first).days == 8 * 7 - 1
    until = client.post("/api/players/1/report", json={"last": "2026-05-31"}).json()
    assert (until["first"], until["last"]) == ("2026-04-06", "2026-05-31")


@pytest.mark.parametrize(
    ("asked", "reason"),
    [
        ({"first": "2026-05-31", "last": "2026-05-01"}, "comes after the last"),
        ({"first": "2026-05-31", "last": "2100-05-01"}, "still to come"),
        ({"first": "2001-05-31", "last": "2026-05-01"}, "at most 520 weeks"),
    ],
)
def test_weeks_that_cannot_be_are_refused(
    client: TestClient, asked: dict[str, str], reason: str
) -> None:
    refused = client.post("/api/players/1/report", json=asked)
    assert refused.status_code == 422
    assert reason in refused.json()["detail"]


def test_a_zip_holds_what_other_programs_read(played: TestClient) -> None:
    take = take_of(played)
    file = carried(played, words="</script><b>höher")
    assert file.testzip() is None
    document = json.loads(file.read("report.json"))
    assert document.pop("schema") == "orexis.report/2"
    assert document["words"] == "</script><b>höher"
    rows = list(csv.DictReader(io.StringIO(file.read("takes.csv").decode())))
    assert [row["id"] for row in rows] == [take["id"]]
    assert len(list(csv.DictReader(io.StringIO(file.read("notes.csv").decode())))) == 1
    sound = file.read(f"takes/{take['id']}.flac")
    assert sound == played.get(f"/api/takes/{take['id']}/sound").content
    assert soundfile.info(io.BytesIO(sound)).frames > 0
    score = music21.converter.parseData(file.read(f"takes/{take['id']}.musicxml").decode())
    # Maren reads B♭3 as G4.
    assert {str(pitch) for pitch in score.flatten().pitches} == {"G4"}
    page = file.read("index.html").decode()
    head, said = page.split('<script type="application/json" id="report">')
    data, rest = said.split("</script>", 1)
    # Nothing that somebody wrote ends the element it stands in.
    assert json.loads(data)["words"] == "</script><b>höher"
    assert rest.count("</script>") == 1
    assert "http" not in head.replace("http-equiv", "")


def test_notes_to_oneself_stay_at_home(played: TestClient, settings: Settings) -> None:
    with closing(sqlite3.connect(settings.data)) as file, file:
        file.execute("UPDATE sessions SET title = 'x', kind = 'plan', note = 'my own'")
    assert "my own" in played.get("/api/players/1/tables/days.csv").text
    (day,) = csv.DictReader(io.StringIO(carried(played).read("days.csv").decode()))
    assert (day["date"], day["notes_to_self"]) == ("2026-05-04", "")
    assert b"my own" not in carried(played).read("report.json")


def open_as_guest(client: TestClient, content: bytes) -> Any:
    return client.post("/api/guests", content=content)


def content_of(file: zipfile.ZipFile, **changed: bytes) -> bytes:
    """The same zip with some of its files changed."""
    content = io.BytesIO()
    with zipfile.ZipFile(content, "w") as other:
        for name in file.namelist():
            other.writestr(name, changed.get(name.rsplit(".", 1)[-1], file.read(name)))
    return content.getvalue()


def test_a_guest_is_read_heard_and_gone(played: TestClient, settings: Settings) -> None:
    take = take_of(played)
    file = carried(played, words="Only for you.")
    guest = open_as_guest(played, content_of(file)).json()
    assert (guest["player"], guest["first"]) == ("Maren", "2026-05-01")
    assert played.get("/api/guests").json() == [guest]
    address = f"/api/guests/{guest['id']}"
    report = json.loads(file.read("report.json"))
    del report["schema"]
    assert played.get(address).json() == report
    sound = played.get(f"{address}/takes/{take['id']}/sound")
    assert sound.headers["content-type"] == "audio/flac"
    assert sound.content == file.read(f"takes/{take['id']}.flac")
    # It is nobody's practice here.
    assert len(played.get("/api/players/1/takes").json()) == 1
    assert played.delete(address).status_code == 204
    assert played.get(address).status_code == 404
    assert played.get(f"{address}/takes/{take['id']}/sound").status_code == 404
    assert played.delete(address).status_code == 404
    assert played.get("/api/guests").json() == []


_ONCE = {"standard": "gate_level", "bookmarks": "pins", "bookmark": "pin", "registers": "faces"}
"""What values of a report were called in its first version."""


@pytest.mark.usefixtures("reads_here")
def test_a_report_of_the_first_version_is_read(played: TestClient) -> None:
    played.post(f"/api/takes/{take_of(played)['id']}/bookmarks", json={"at_s": 0.5, "words": "ah"})
    file = carried(played)
    report = json.loads(file.read("report.json"))
    del report["schema"]
    text = json.dumps({"schema": "orexis.report/1", **report})
    for now, before in _ONCE.items():
        assert f'"{now}":' in text
        text = text.replace(f'"{now}":', f'"{before}":')
    guest = open_as_guest(played, content_of(file, json=text.encode())).json()
    assert played.get(f"/api/guests/{guest['id']}").json() == report


@pytest.mark.usefixtures("reads_here")
def test_a_guest_of_an_older_orexis_is_listed_and_says_what_to_do(
    played: TestClient, settings: Settings
) -> None:
    guest = open_as_guest(played, content_of(carried(played))).json()
    with closing(sqlite3.connect(settings.data)) as file, file:
        older = json.loads(zlib.decompress(file.execute("SELECT packed FROM guests").fetchone()[0]))
        del older["changes"]
        packed = zlib.compress(json.dumps(older).encode())
        file.execute("UPDATE guests SET packed = ?", (packed,))
    assert played.get("/api/guests").json() == [guest]
    refused = played.get(f"/api/guests/{guest['id']}")
    assert (refused.status_code, "open its zip again" in refused.json()["detail"]) == (422, True)
    assert played.delete(f"/api/guests/{guest['id']}").status_code == 204


@pytest.mark.usefixtures("reads_here")
def test_what_a_guest_said_is_gone_from_the_file_once_it_is_closed(
    played: TestClient, settings: Settings
) -> None:
    # Sound lies in the file as it is.
    sound = played.get(f"/api/takes/{take_of(played)['id']}/sound").content
    guest = open_as_guest(played, content_of(carried(played))).json()
    part = sound[len(sound) // 2 : len(sound) // 2 + 200]

    def times() -> int:
        """How often it lies in the file and in what lies beside it."""
        beside = settings.data.parent.glob(f"{settings.data.name}*")
        return sum(path.read_bytes().count(part) for path in beside if path.is_file())

    assert times() >= 2
    played.delete(f"/api/guests/{guest['id']}").raise_for_status()
    assert times() == 1


def test_there_is_an_end_to_how_many_guests_are_open(tmp_path: Path) -> None:
    database = Database(tmp_path / "a.db")
    now = datetime.now(UTC)
    with database.session() as session:
        for _ in range(MOST_GUESTS):
            add_guest(session, {"player": "Maren"}, {}, now)
        with pytest.raises(GuestRefusedError, match="Close one first"):
            add_guest(session, {"player": "Jory"}, {}, now)
    database.close()


@pytest.mark.usefixtures("reads_here")
def test_a_guest_that_could_do_harm_is_not_opened(played: TestClient) -> None:
    file = carried(played)
    report = json.loads(file.read("report.json"))
    drawn = json.loads(file.read("report.json"))
    svg = '<svg xmlns="http://www.w3.org/2000/svg"><script>x</script></svg>'
    drawn["best"][0]["sheet"]["svg"] = svg
    other = {**report, "player": 7}
    for changed, reason in (
        ({"json": json.dumps(drawn).encode()}, "no shape and no text"),
        ({"json": json.dumps(other).encode()}, "does not say what a report says"),
        ({"flac": b"fLaC of nothing"}, "cannot be played"),
    ):
        refused = open_as_guest(played, content_of(file, **changed))
        assert refused.status_code == 422
        assert reason in refused.json()["detail"]
    assert open_as_guest(played, b"no zip").status_code == 422
    assert played.get("/api/guests").json() == []


def say(client: TestClient, player: int = 1, **more: object) -> Any:
    words = {**WORDS, **more}
    return client.post(f"/api/players/{player}/words-back", content=json.dumps(words))


def test_words_come_back_to_their_spots_once(played: TestClient) -> None:
    take = take_of(played)
    marks = [
        {"take_id": take["id"], "at_s": 1.5, "words": "as clean as this"},
        {"take_id": take["id"], "at_s": 99.0, "words": "too late"},
        {"take_id": "0" * 32, "at_s": 1.0, "words": "gone"},
    ]
    kept = say(played, marks=marks).json()
    assert kept["lines"] == [
        f"“too late” could not be placed: Put a bookmark between 0 and {take['duration_s']:.1f} s.",
        "“gone” could not be placed: its take is no longer here.",
        "Kept: the words of Ruven and 1 bookmark.",
    ]
    assert [(one["said_by"], one["words"]) for one in kept["all"]] == [
        ("Ruven", "Lower shoulders.")
    ]
    (bookmark,) = played.get(f"/api/takes/{take['id']}").json()["bookmarks"]
    assert (bookmark["at_s"], bookmark["words"], bookmark["said_by"], bookmark["gone_back"]) == (
        1.5,
        "as clean as this",
        "Ruven",
        False,
    )
    refused = say(played, marks=marks)
    assert (refused.status_code, "here already" in refused.json()["detail"]) == (422, True)
    assert len(played.get("/api/players/1/words-back").json()) == 1
    assert len(played.get(f"/api/takes/{take['id']}").json()["bookmarks"]) == 1


def test_words_of_somebody_else_s_takes_are_refused(played: TestClient) -> None:
    played.post("/api/players", json={**MAREN, "name": "Jory"}).raise_for_status()
    marks = [{"take_id": take_of(played)["id"], "at_s": 1.0, "words": "x"}]
    refused = say(played, player=2, marks=marks)
    assert "None of the takes they speak of is Jory's" in refused.json()["detail"]
    assert played.get("/api/players/2/words-back").json() == []


@pytest.mark.parametrize(
    "content", [b"", b"[]", b"{}", b"\xff", json.dumps({**WORDS, "schema": "x"}).encode()]
)
def test_what_holds_no_words_is_refused(played: TestClient, content: bytes) -> None:
    refused = played.post("/api/players/1/words-back", content=content)
    assert refused.status_code == 422
    assert "orexis-words.json" in refused.json()["detail"]


def test_a_bookmark_is_gone_back_to_and_taken_up_again(played: TestClient) -> None:
    take = take_of(played)
    address = f"/api/takes/{take['id']}/bookmarks"
    bookmark = played.post(address, json={"at_s": 2.0, "words": "here"}).json()
    (open_bookmark,) = played.get("/api/players/1/diary/bookmarks").json()
    assert (open_bookmark["id"], open_bookmark["kept_id"], open_bookmark["kind"]) == (
        bookmark["id"],
        take["id"],
        "takes",
    )
    been = played.put(f"{address}/{bookmark['id']}/gone-back", json={"gone_back": True}).json()
    assert been["gone_back"]
    assert played.get("/api/players/1/diary/bookmarks").json() == []
    # The day it was bookmarked on still has it.
    day = played.get("/api/players/1/diary/2026/5/4").json()
    assert [bookmark["gone_back"] for bookmark in day["bookmarks"]] == [True]
    played.put(
        f"{address}/{bookmark['id']}/gone-back", json={"gone_back": False}
    ).raise_for_status()
    assert len(played.get("/api/players/1/diary/bookmarks").json()) == 1
    assert played.put(f"{address}/9/gone-back", json={"gone_back": True}).status_code == 404


def test_the_command_writes_a_report_whole_or_not_at_all(
    played: TestClient, settings: Settings, tmp_path: Path
) -> None:
    to = tmp_path / "report.zip"
    data = ["--data", str(settings.data)]
    written = RUN.invoke(cli.app, ["report", str(to), "--player", "maren", "--weeks", "520", *data])
    assert written.exit_code == 0
    assert "Practice on 1 day: 1 attempt" in written.output
    guest = open_as_guest(played, to.read_bytes())
    assert guest.json()["player"] == "Maren"
    again = RUN.invoke(cli.app, ["report", str(to), "--player", "maren", *data])
    assert (again.exit_code, "is there already" in again.output) == (2, True)
    nobody = RUN.invoke(cli.app, ["report", str(tmp_path / "x.zip"), "--player", "Nobody", *data])
    assert (nobody.exit_code, "There is no player Nobody" in nobody.output) == (2, True)
    nowhere = tmp_path / "nowhere" / "x.zip"
    lost = RUN.invoke(cli.app, ["report", str(nowhere), "--player", "Maren", *data])
    assert (lost.exit_code, "cannot be written" in lost.output) == (2, True)


def test_without_its_page_a_report_says_what_to_do(played: TestClient, tmp_path: Path) -> None:
    (tmp_path / "alone.js").unlink()
    refused = played.post("/api/players/1/report/bundle", json=MAY)
    assert (refused.status_code, "make demo" in refused.json()["detail"]) == (503, True)
