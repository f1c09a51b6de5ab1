"""Files that come in, the calendar that goes out, and what takes the room."""

import json
import sqlite3
from contextlib import closing
from datetime import UTC, date, datetime, timedelta
from typing import Any

import pytest
from fastapi.testclient import TestClient
from icalendar import Calendar

from orexis.formats.ical import whole_day, written_calendar
from orexis.server.app import Settings
from tests.server.conftest import MAREN
from tests.server.test_live import HELLO, LIVE
from tests.server.test_tables import played

__all__ = ["played"]

INCOMING = "/api/players/1/incoming/{}"
TODAY = date.today()
LOG = (
    "date,minutes,words\n"
    "2026-03-02,45,long tones\n"
    "3/4/2026,30,which?\n"
    "2026-03-02,45,long tones\n"
    "2026-03-03,1:15,\n"
)


def bring(client: TestClient, what: str, content: str | bytes, *, keep: bool = False) -> Any:
    answer = client.post(INCOMING.format(what), params={"keep": keep}, content=content)
    answer.raise_for_status()
    return answer.json()


def test_a_log_is_seen_first_then_kept_without_what_is_refused(client: TestClient) -> None:
    seen = bring(client, "log", LOG)
    assert (seen["good"], seen["kept"]) == (2, False)
    assert [(row["place"], row["refused"]) for row in seen["rows"]] == [
        ("line 2", ""),
        ("line 3", "“3/4/2026” is no day. Write it as 2026-11-27."),
        ("line 4", "It is here already."),
        ("line 5", ""),
    ]
    day = "/api/players/1/diary/2026/3/2"
    assert client.get(day).json()["words"] == "No practice."
    assert bring(client, "log", LOG, keep=True)["kept"]
    page = client.get(day).json()
    assert page["words"] == "45 min written down elsewhere."
    (typed,) = page["typed"]
    assert (typed["minutes"], typed["words"]) == (45, "long tones")
    month = client.get("/api/players/1/diary/2026/3").json()
    assert month["words"] == "2 h written down elsewhere."
    # As far back as that the diary can be turned.
    assert month["begins"] == "2026-03-02"
    # Again, all of it is here already.
    assert bring(client, "log", LOG, keep=True)["good"] == 0
    client.delete(f"/api/players/1/typed/{typed['id']}").raise_for_status()
    assert client.get(day).json()["words"] == "No practice."
    assert client.delete(f"/api/players/1/typed/{typed['id']}").status_code == 404


def test_a_log_goes_out_and_comes_in_with_another_player_as_it_was(client: TestClient) -> None:
    bring(client, "log", LOG, keep=True)
    client.post("/api/players", json={**MAREN, "name": "Jory"}).raise_for_status()
    out = client.get("/api/players/1/tables/log.csv").content
    answer = client.post("/api/players/2/incoming/log", params={"keep": True}, content=out)
    assert answer.json()["good"] == 2
    assert client.get("/api/players/2/tables/log.csv").content == out
    (typed,) = client.get("/api/players/1/diary/2026/3/2").json()["typed"]
    # Nobody takes away what is somebody else's.
    assert client.delete(f"/api/players/2/typed/{typed['id']}").status_code == 404


def test_dates_of_a_band_s_calendar_are_looked_ahead_to(client: TestClient) -> None:
    ahead = TODAY + timedelta(days=9)
    calendar = written_calendar(
        "band",
        [
            whole_day("a", ahead, "Harbour concert"),
            whole_day("b", ahead, "Harbour concert"),
            whole_day("c", TODAY - timedelta(days=1), "Last night"),
        ],
        datetime.now(UTC),
    )
    broken = calendar.replace(b"END:VCALENDAR", b"BEGIN:VEVENT\r\nEND:VEVENT\r\nEND:VCALENDAR")
    seen = bring(client, "concerts", broken, keep=True)
    assert [row["refused"] for row in seen["rows"]] == [
        "",
        "It is here already.",
        "It is over.",
        "Its day cannot be read.",
    ]
    (kept,) = client.get("/api/players/1/dates").json()
    assert (kept["day"], kept["kind"], kept["words"]) == (
        ahead.isoformat(),
        "concert",
        "Harbour concert",
    )


def test_exercises_of_one_s_own_come_in_where_they_can_be(client: TestClient) -> None:
    own = {"name": "Morning", "family": "long-tone", "values": {"from_midi": "58"}}
    client.post("/api/players/1/own", json=own).raise_for_status()
    client.post("/api/players", json={**MAREN, "name": "Jory"}).raise_for_status()
    document = client.get("/api/players/1/own.json").json()
    assert document["schema"] == "orexis.own/1"
    document["exercises"] += [
        {"name": "Nothing", "family": "nothing", "parameters": {}},
        {"name": "Too high", "family": "long-tone", "parameters": {"from_midi": "127"}},
        {"name": "morning", "family": "long-tone", "parameters": {}},
    ]
    address = "/api/players/2/incoming/own"
    content = json.dumps(document)
    seen = client.post(address, params={"keep": True}, content=content).json()
    assert [bool(row["refused"]) for row in seen["rows"]] == [False, True, True, True]
    (kept,) = client.get("/api/players/2/own").json()
    assert kept["name"] == "Morning"
    carried = client.get("/api/players/2/own.json").json()["exercises"]
    assert carried == client.get("/api/players/1/own.json").json()["exercises"]


@pytest.mark.parametrize("what", ["log", "concerts", "rehearsals", "own"])
def test_what_cannot_be_read_is_refused_whole(client: TestClient, what: str) -> None:
    refused = client.post(INCOMING.format(what), params={"keep": True}, content=b"\0\xff{")
    assert refused.status_code == 422
    assert refused.json()["title"] == "This file cannot be taken in"
    assert client.post(INCOMING.format("takes"), content=b"").status_code == 422
    too_much = client.post(INCOMING.format(what), content=3 * 1024 * 1024 * b"x")
    assert too_much.status_code == 413


def test_the_calendar_has_the_plan_the_dates_and_the_sessions(
    played: TestClient, settings: Settings
) -> None:
    with closing(sqlite3.connect(settings.data)) as file, file:
        file.execute(
            "UPDATE sessions SET title = 'After the rehearsal', kind = 'plan', "
            "note = 'less mouthpiece', ended_at = '2026-05-04 18:40:00'"
        )
    ahead = TODAY + timedelta(days=2)
    date_in = {"day": ahead.isoformat(), "kind": "concert", "words": "Harbour"}
    played.post("/api/players/1/dates", json=date_in).raise_for_status()
    bring(played, "log", "date,minutes\n2026-03-02,45", keep=True)
    answer = played.get("/api/players/1/calendar.ics")
    assert answer.headers["content-type"] == "text/calendar; charset=utf-8"
    calendar: Any = Calendar.from_ical(answer.content)
    events = {str(one["summary"]): one for one in calendar.walk("VEVENT")}
    plan = next(one for title, one in events.items() if title.startswith("To practise"))
    assert plan["dtstart"].dt == TODAY
    assert events["Concert: harbour"]["dtstart"].dt == ahead
    session = events["Practised: After the rehearsal"]
    assert session["dtstart"].dt == datetime(2026, 5, 4, 18, tzinfo=UTC)
    assert session["dtend"].dt == datetime(2026, 5, 4, 18, 40, tzinfo=UTC)
    assert str(session["description"]).endswith("less mouthpiece")
    assert events["Practised 45 min"]["dtstart"].dt == date(2026, 3, 2)
    # Read again, it has the same events and no others.
    again: Any = Calendar.from_ical(played.get("/api/players/1/calendar.ics").content)
    assert {str(one["uid"]) for one in again.walk("VEVENT")} == {
        str(event["uid"]) for event in events.values()
    }


def test_the_room_is_told_and_old_sound_let_go(played: TestClient, settings: Settings) -> None:
    (take,) = played.get("/api/players/1/takes").json()
    sound = played.get(f"/api/takes/{take['id']}/sound").content
    told = played.get("/api/storage").json()
    assert told["path"] == str(settings.data)
    assert told["copies_folder"] == str(settings.data.with_name("orexis.db-copies"))
    assert told["parts"][0] == {"name": "the sound of takes", "size": len(sound)}
    assert sum(part["size"] for part in told["parts"]) == told["size"]
    # The take is of the 4th of May 2026.
    age = (TODAY - date(2026, 5, 4)).days
    for old in told["old"]:
        there = age > old["days"]
        assert (old["takes"], old["size"]) == ((1, len(sound)) if there else (0, 0))
    assert played.post("/api/storage/let-go", json={"days": 1}).status_code == 422
    assert played.get("/api/players/1/range/58").json()["last"]["take_id"] == take["id"]
    # A bookmark keeps it.
    bookmarks = f"/api/takes/{take['id']}/bookmarks"
    bookmark = played.post(bookmarks, json={"at_s": 1.0, "words": ""}).json()
    assert played.post("/api/storage/let-go", json={"days": 30}).json()["parts"][0]["size"] > 0
    played.delete(f"{bookmarks}/{bookmark['id']}").raise_for_status()
    after = played.post("/api/storage/let-go", json={"days": 30}).json()
    assert after["parts"][0]["size"] == 0
    assert after["size"] < told["size"]
    assert played.get(f"/api/takes/{take['id']}/sound").status_code == 404
    page = played.get(f"/api/takes/{take['id']}").json()
    assert not page["has_sound"]
    assert page["frames"]["pitch_cents"]
    # What is worth hearing is looked for anew.
    assert played.get("/api/players/1/range/58").json()["last"] is None
    with closing(sqlite3.connect(settings.data)) as file:
        assert file.execute("PRAGMA integrity_check").fetchall() == [("ok",)]


def test_nothing_is_let_go_while_somebody_plays(client: TestClient) -> None:
    with client.websocket_connect(LIVE) as socket:
        socket.send_json(HELLO)
        assert socket.receive_json()["type"] == "ready"
        refused = client.post("/api/storage/let-go", json={"days": 30})
        assert (refused.status_code, refused.json()["title"]) == (409, "Somebody is playing")
        socket.send_json({"type": "bye"})
        while socket.receive_json()["type"] != "closed":
            pass
