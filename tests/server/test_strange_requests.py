"""Requests no browser of ours would send: each is told what is wrong, and nothing breaks."""

import io
import json
import re
import resource
from typing import Any

import numpy as np
import pytest
import soundfile
from fastapi.testclient import TestClient
from starlette.websockets import WebSocketDisconnect

from orexis.server.app import Settings, create_app
from tests.server.conftest import BASE, MAREN
from tests.server.test_api import problem
from tests.server.test_live import LIVE
from tests.server.test_recordings import ARPEGGIO, drop, dropped, encoded
from tests.sounds import RATE

HUGE = 2**70
JSON = {"content-type": "application/json"}


@pytest.mark.parametrize(
    ("path", "told"),
    [
        (f"/api/players/{HUGE}/takes", "or less"),
        (f"/api/players/{HUGE}/book", "or less"),
        (f"/api/players/{HUGE}/horn", "or less"),
        ("/api/players/-1/takes", "1 or more"),
        (f"/api/players/1/book/long-tone?set=from_midi={HUGE}", "note: from "),
        (f"/api/players/1/horn/also?midi={HUGE}", "127 or less"),
        (f"/api/players/1/horn/through?partials={HUGE}", "16 or less"),
        (f"/api/players/1/takes?count={HUGE}", "200 or less"),
        ("/api/players/1/takes?before=0001-01-01T00:00:00%2B14:00", "or more"),
        ("/api/players/1/takes?before=9999-12-31T23:59:59-14:00", "before 2200-01-01"),
        (f"/api/takes/{'x' * 65}", "at most 64 letters"),
    ],
)
def test_numbers_and_times_out_of_range_are_refused(
    client: TestClient, path: str, told: str
) -> None:
    assert told in problem(client.get(path), 422)["detail"]


def test_a_bookmark_with_a_huge_number_is_refused(client: TestClient) -> None:
    kept = dropped(client, encoded(ARPEGGIO))
    refused = client.delete(f"/api/recordings/{kept['id']}/bookmarks/{HUGE}")
    assert "or less" in problem(refused, 422)["detail"]
    assert client.get(f"/api/recordings/{kept['id']}").status_code == 200


@pytest.mark.parametrize(
    ("change", "told"),
    [
        ({"name": "\ud800"}, "Name has half a character in it"),
        ({"name": "x" * 61}, "Name is too long: use at most 60 letters"),
        ({"name": ""}, "Name is empty; fill it in"),
        ({"name": 7}, "Name cannot be used"),
        ({"a4_hz": "440"}, "A4 cannot be used"),
        ({"a4_hz": 414.9}, "A4 must be 415 or more"),
        ({"a4_hz": True}, "A4 cannot be used"),
        ({"colour": "red"}, "Colour is not known here; leave it out"),
        ({"standard": "harsh"}, "Standard cannot be used"),
    ],
)
def test_a_value_that_cannot_be_is_told_in_words(
    client: TestClient, change: dict[str, Any], told: str
) -> None:
    refused = client.post("/api/players", content=json.dumps({**MAREN, **change}), headers=JSON)
    assert told in problem(refused, 422)["detail"]
    assert len(client.get("/api/players").json()) == 1


@pytest.mark.parametrize("body", ["[" * 20_000, '{"a":' * 10_000, "{", "\xff", "NaN"])
def test_a_body_that_is_no_json_is_refused(client: TestClient, body: str) -> None:
    refused = client.post("/api/players", content=body.encode("latin-1"), headers=JSON)
    assert refused.status_code in (400, 422)
    problem(refused, refused.status_code)


@pytest.mark.parametrize(
    ("kind", "rate"), [("WAV", 700_000), ("WAV", 2_000_000), ("FLAC", 655_350)]
)
def test_a_rate_nobody_records_at_is_told(client: TestClient, kind: str, rate: int) -> None:
    refused = drop(client, encoded(np.zeros(2000), kind, rate), "fast.wav")
    assert f"{rate} Hz" in problem(refused, 422)["detail"]


def test_a_flac_whose_header_does_not_tell_its_length_is_read(client: TestClient) -> None:
    content = bytearray(encoded(ARPEGGIO, "FLAC", subtype="PCM_16"))
    # STREAMINFO begins at byte 8; its 36 bits of total samples end at its 18th byte. A stream
    # writer leaves them 0, which means unknown.
    content[8 + 13] &= 0xF0
    content[8 + 14 : 8 + 18] = bytes(4)
    kept = dropped(client, bytes(content), "stream.flac")
    assert kept["note_count"] == 3
    assert kept["duration_s"] == pytest.approx(len(ARPEGGIO) / RATE, abs=0.01)


def test_a_flac_of_unknown_length_that_goes_on_too_long_is_refused(
    client: TestClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("orexis.practice.recordings.LONGEST_S", 20 * 60.0)
    content = bytearray(encoded(np.zeros(21 * 60 * 8000), "FLAC", 8000))
    content[8 + 13] &= 0xF0
    content[8 + 14 : 8 + 18] = bytes(4)
    assert "up to 20 min:" in problem(drop(client, bytes(content), "long.flac"), 422)["detail"]


def test_a_file_of_many_channels_takes_no_more_memory(client: TestClient) -> None:
    out = io.BytesIO()
    channels = np.zeros((12_000, 1024), dtype=np.int16)
    soundfile.write(out, channels, RATE, format="WAV", subtype="PCM_16")
    content = out.getvalue()
    del channels, out
    before_kb = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
    dropped(client, content, "many.wav")
    grown_kb = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss - before_kb
    # The sound as floats, all at once, would be 98 MB, and its squares as much again.
    assert grown_kb < 90_000


@pytest.mark.parametrize(
    ("method", "path", "allow"),
    [
        ("PATCH", "/api/players", "GET, POST"),
        ("POST", "/api/takes/x", "DELETE, GET"),
        ("GET", "/api/recordings/x/bookmarks", "POST"),
        ("GET", "/api/players/1/standard", "PUT"),
    ],
)
def test_another_method_is_told_which_there_are(
    client: TestClient, method: str, path: str, allow: str
) -> None:
    refused = client.request(method, path)
    problem(refused, 405)
    assert refused.headers["allow"] == allow


def test_the_description_says_what_the_api_answers(client: TestClient) -> None:
    description = client.get("/api/openapi.json").json()
    shared = description["components"]["responses"]
    assert set(shared["Problem405"]["headers"]) == {"Allow"}
    for answer in shared.values():
        assert set(answer["content"]) == {"application/problem+json"}
    for path in description["paths"].values():
        for operation in path.values():
            for status in ("404", "405", "422"):
                refers = operation["responses"][status]
                assert refers == {"$ref": f"#/components/responses/Problem{status}"}
    schemas = description["components"]["schemas"]
    assert "HTTPValidationError" not in schemas
    player = schemas["PlayerIn"]["properties"]
    assert (player["name"]["maxLength"], player["a4_hz"]["minimum"]) == (60, 415)
    assert (schemas["BookmarkIn"]["properties"]["words"]["maxLength"]) == 120
    assert (schemas["WantedNotesIn"]["properties"]["wanted"]["maxLength"]) == 400


def test_a_strangers_refusal_carries_the_headers_and_another_code_than_a_full_body(
    client: TestClient,
) -> None:
    stranger = client.get("/api/players", headers={"Host": "orexis.example"})
    page = client.post("/api/players", json=MAREN, headers={"Origin": "http://x.example"})
    large = client.post("/api/players", json={**MAREN, "name": "x" * 70_000})
    assert [one.status_code for one in (stranger, page, large)] == [421, 403, 413]
    for refused in (stranger, page, large):
        assert "default-src 'none'" in refused.headers["content-security-policy"]
        assert refused.headers["x-content-type-options"] == "nosniff"


@pytest.mark.parametrize("header", [{"Origin": "http://x.example"}, {"Host": "x.example"}])
def test_a_strangers_socket_is_refused_before_it_opens(
    client: TestClient, header: dict[str, str]
) -> None:
    with pytest.raises(WebSocketDisconnect), client.websocket_connect(LIVE, headers=header):
        pass


def chunked(parts: int, size: int) -> Any:
    for _ in range(parts):
        yield b"x" * size


def test_a_body_that_grows_past_the_limit_unannounced_is_refused(client: TestClient) -> None:
    refused = client.post("/api/players", content=chunked(80, 1024), headers=JSON)
    assert "64 KiB" in problem(refused, 413)["detail"]
    small = client.post("/api/players", content=chunked(60, 1024), headers=JSON)
    assert small.status_code == 422
    # A recording may be larger than that.
    assert drop(client, b"".join(chunked(80, 1024)), "x.wav").status_code == 422


def test_a_recording_that_grows_past_its_limit_is_refused_and_leaves_nothing(
    settings: Settings, monkeypatch: pytest.MonkeyPatch
) -> None:
    limits = {re.compile(r"/api/players/1/recordings"): 100_000}
    monkeypatch.setattr("orexis.server.security._UPLOADS", limits)
    with TestClient(create_app(settings), base_url=BASE) as client:
        client.post("/api/players", json=MAREN)
        where = "/api/players/1/recordings?name=a.wav"
        problem(client.post(where, content=chunked(200, 1024)), 413)
        assert client.get("/api/players/1/recordings").json() == []
    assert not list(settings.data.parent.glob("*incoming-*"))
