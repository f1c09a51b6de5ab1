"""Takes, notes and days as CSV and JSON: the same rows both ways, read by other readers."""

import csv
import io
import json
import re
import sqlite3
from contextlib import closing
from datetime import datetime
from pathlib import Path
from typing import Any

import mido
import pytest
from fastapi.testclient import TestClient

from orexis.formats.tables import TABLES, Form, Table, TableName, written
from orexis.server.app import Settings
from tests.server.test_live import CHUNKS, LIVE
from tests.server.test_taking_up import send

TABLE = "/api/players/1/tables/{}"
FORMATS = Path(__file__).parents[2] / "docs/formats.md"


SCHEMAS = {
    "takes": "orexis.takes/2",
    "notes": "orexis.notes/1",
    "days": "orexis.days/2",
    "log": "orexis.log/1",
}


def rows(client: TestClient, name: str) -> tuple[list[dict[str, str]], list[dict[str, Any]]]:
    """A table as CSV and as JSON."""
    answer = client.get(TABLE.format(f"{name}.csv"))
    assert answer.headers["content-type"] == "text/csv; charset=utf-8"
    assert f'filename="orexis-{name}.csv"' in answer.headers["content-disposition"]
    document = client.get(TABLE.format(f"{name}.json")).json()
    assert (document["schema"], document["player"]) == (SCHEMAS[name], "Maren")
    return list(csv.DictReader(io.StringIO(answer.text))), document[name]


@pytest.fixture
def played(client: TestClient) -> TestClient:
    """Maren has held B♭3 for 2.4 s, as long as was asked for."""
    with client.websocket_connect(LIVE) as socket:
        send(socket, CHUNKS)
        socket.send_json({"type": "bye"})
        while socket.receive_json()["type"] != "closed":
            pass
    return client


@pytest.mark.parametrize("name", TABLES)
def test_with_nothing_kept_a_table_has_its_columns_and_no_rows(
    client: TestClient, name: TableName
) -> None:
    as_csv, as_json = rows(client, name)
    assert (as_csv, as_json) == ([], [])
    head = client.get(TABLE.format(f"{name}.csv")).text
    assert head == ",".join(TABLES[name].columns) + "\r\n"


def test_a_take_its_note_and_its_day_are_carried_away(played: TestClient) -> None:
    (as_text,), (take,) = rows(played, "takes")
    kept = played.get("/api/players/1/takes").json()[0]
    assert (take["id"], take["exercise"], take["instrument"]) == (
        kept["id"],
        "long-tone",
        "tenor-horn-eb",
    )
    assert (take["passed"], take["failed"], take["has_sound"]) == (True, "", True)
    assert datetime.fromisoformat(take["started_at"]) == datetime.fromisoformat(kept["started_at"])
    assert (as_text["passed"], as_text["overruled"], as_text["rating"]) == ("yes", "no", "")
    (note_text,), (note,) = rows(played, "notes")
    assert (note["take_id"], note["asked_midi"], note["played_midi"]) == (kept["id"], 58, 58)
    assert note["hold_s"] == pytest.approx(2.4, abs=0.05)
    assert float(note_text["hold_s"]) == note["hold_s"]
    (_,), (day,) = rows(played, "days")
    assert (day["attempts"], day["passed"], day["lowest_midi"], day["highest_midi"]) == (
        1,
        1,
        58,
        58,
    )
    assert day["sounded_s"] == pytest.approx(2.4, abs=0.1)


def test_what_the_player_said_counts_and_what_the_standard_said_stands_beside(
    played: TestClient,
) -> None:
    (take,) = played.get("/api/players/1/takes").json()
    played.put(f"/api/takes/{take['id']}/overrule", json={"passed": False}).raise_for_status()
    (_,), (row,) = rows(played, "takes")
    assert (row["passed"], row["judged_passed"], row["overruled"]) == (False, True, True)
    (_,), (day,) = rows(played, "days")
    assert (day["attempts"], day["passed"]) == (1, 0)


def test_a_deleted_take_is_not_carried_away(played: TestClient) -> None:
    (take,) = played.get("/api/players/1/takes").json()
    played.delete(f"/api/takes/{take['id']}").raise_for_status()
    for name in TABLES:
        assert rows(played, name) == ([], [])


def test_a_day_has_what_was_written_down_and_what_hurt(
    client: TestClient, settings: Settings
) -> None:
    with closing(sqlite3.connect(settings.data)) as file, file:
        for number, note in enumerate(('a "good" one,\nat last', "=1+1")):
            file.execute(
                "INSERT INTO sessions (id, player_id, started_at, title, source, sample_rate, "
                "instrument_key, standard, plan, setup, heard_until, note) VALUES "
                "(?, 1, ?, 'Warm-up', 'microphone', 48000, 'x', 'normal', '{}', '{}', 0, ?)",
                (f"s{number}", f"2026-03-0{number + 1} 12:00:00", note),
            )
        file.execute("INSERT INTO hurts (player_id, at) VALUES (1, '2026-03-02 12:00:00')")
    as_csv, as_json = rows(client, "days")
    assert [(one["date"], one["sessions"], one["hurt"]) for one in as_json] == [
        ("2026-03-01", 1, False),
        ("2026-03-02", 1, True),
    ]
    assert [one["notes_to_self"] for one in as_json] == ['a "good" one,\nat last', "=1+1"]
    # A spreadsheet computes nothing that somebody typed.
    assert [one["notes_to_self"] for one in as_csv] == ['a "good" one,\nat last', "'=1+1"]


def test_many_rows_come_in_pieces_and_all_of_them() -> None:
    table = Table(TableName.TAKES, ("id",))
    pieces = list(written(table, Form.CSV, "Maren", ({"id": n} for n in range(1700))))
    assert len(pieces) == 4
    assert "".join(pieces).split() == ["id", *map(str, range(1700))]
    document = json.loads("".join(written(table, Form.JSON, 'Ma"ren', ({"id": n} for n in (1, 2)))))
    assert document == {
        "schema": "orexis.takes/1",
        "player": 'Ma"ren',
        "takes": [{"id": 1}, {"id": 2}],
    }


def test_every_column_is_described(client: TestClient) -> None:
    text = FORMATS.read_text(encoding="utf-8")
    described = set(re.findall(r"`(\w+)`", text[text.index("## Tables") :]))
    for table in TABLES.values():
        assert described >= set(table.columns), table.name


def test_what_is_no_table_and_whose_is_nobody_s_is_refused(client: TestClient) -> None:
    assert client.get(TABLE.format("secrets.csv")).status_code == 422
    assert client.get(TABLE.format("takes.exe")).status_code == 422
    assert client.get("/api/players/9/tables/takes.csv").status_code == 404


def test_what_was_heard_is_carried_away_as_midi_and_musicxml(played: TestClient) -> None:
    (take,) = played.get("/api/players/1/takes").json()
    answer = played.get(f"/api/takes/{take['id']}/heard.mid")
    assert answer.headers["content-type"] == "audio/midi"
    messages = list(mido.MidiFile(file=io.BytesIO(answer.content)))
    assert [message.note for message in messages if message.type == "note_on"] == [58]
    # It was played 8 cents above B♭3.
    bends = [2 * message.pitch / 8191 for message in messages if message.type == "pitchwheel"]
    assert bends == pytest.approx(len(bends) * [0.08], abs=0.015)
    text = played.get(f"/api/takes/{take['id']}/heard.musicxml")
    assert text.headers["content-disposition"].endswith('.musicxml"')
    # Maren reads G4.
    assert "<step>G</step>" in text.text


def test_where_nothing_was_heard_there_is_nothing_to_write_down(
    played: TestClient, settings: Settings
) -> None:
    (take,) = played.get("/api/players/1/takes").json()
    with closing(sqlite3.connect(settings.data)) as file, file:
        file.execute("DELETE FROM take_events")
    for ending in ("mid", "musicxml"):
        refused = played.get(f"/api/takes/{take['id']}/heard.{ending}")
        assert refused.status_code == 422
        assert "No note was heard" in refused.json()["detail"]
