"""Recordings from elsewhere: dropped in, listened to, matched, bookmarked, deleted."""

import errno
import io
from pathlib import Path
from typing import Any
from unittest.mock import patch

import numpy as np
import pytest
import soundfile
from fastapi.testclient import TestClient
from httpx import Response

from orexis.server.app import Settings, create_app
from orexis.server.security import LARGEST_RECORDING_BYTES
from tests.server.conftest import BASE
from tests.server.test_api import problem
from tests.sounds import RATE, Samples, silence, softened, steady


def tone(midi: float, seconds: float = 0.5) -> Samples:
    return softened(steady(440 * 2 ** ((midi - 69) / 12), seconds))


# Sounding B♭3, D4, F4: the tenor horn's written G4, B4, D5.
ARPEGGIO = np.concatenate(
    [silence(0.4), *(part for midi in (58, 62, 65) for part in (tone(midi), silence(0.1)))]
)


def encoded(
    sound: Samples, kind: str = "WAV", rate: int = RATE, subtype: str | None = None
) -> bytes:
    out = io.BytesIO()
    soundfile.write(out, sound, rate, format=kind, subtype=subtype)
    return out.getvalue()


def drop(client: TestClient, content: bytes, name: str = "evening.wav") -> Response:
    response: Response = client.post(
        "/api/players/1/recordings", params={"name": name}, content=content
    )
    return response


def dropped(client: TestClient, content: bytes, name: str = "evening.wav") -> dict[str, Any]:
    response = drop(client, content, name)
    assert response.status_code == 201, response.text
    kept: dict[str, Any] = response.json()
    return kept


def page(client: TestClient, recording_id: str) -> dict[str, Any]:
    found: dict[str, Any] = client.get(f"/api/recordings/{recording_id}").json()
    return found


@pytest.mark.parametrize(
    ("kind", "rate", "subtype"),
    [("WAV", 44_100, "PCM_24"), ("FLAC", 48_000, "PCM_16"), ("OGG", 48_000, "VORBIS")],
)
def test_a_recording_is_heard_and_told_in_the_players_notes(
    client: TestClient, kind: str, rate: int, subtype: str
) -> None:
    pitch = 440 * 2 ** ((58 - 69) / 12)
    sound = np.concatenate((silence(0.4, rate), softened(steady(pitch, 1.0, rate), rate)))
    kept = dropped(client, encoded(np.column_stack((sound, sound)), kind, rate, subtype))
    assert (kept["name"], kept["note_count"], kept["clipped"]) == ("evening.wav", 1, False)
    whole = page(client, kept["id"])
    (note,) = whole["notes"]
    assert (note["name"], note["off"]) == ("G4", "in tune")
    assert whole["slots"] == [{"name": "G4", "pitch_cents": 5800.0, "asked": False}]
    assert (whole["lowest_cents"], whole["highest_cents"]) == (5800, 5800)
    sounding = [cents for cents in whole["frames"]["pitch_cents"] if cents is not None]
    assert abs(float(np.median(sounding)) - 5800) < 1
    assert len(whole["frames"]["pitch_cents"]) == pytest.approx(100 * kept["duration_s"], abs=1)


def test_its_sound_is_kept_and_given_back(client: TestClient) -> None:
    kept = dropped(client, encoded(ARPEGGIO, "FLAC"))
    sound = client.get(f"/api/recordings/{kept['id']}/sound")
    assert sound.headers["content-type"] == "audio/flac"
    samples, rate = soundfile.read(io.BytesIO(sound.content))
    assert rate == RATE
    assert np.abs(samples - ARPEGGIO).max() < 1 / 32_768


def test_what_was_meant_is_held_against_what_was_played(client: TestClient) -> None:
    kept = dropped(client, encoded(ARPEGGIO))
    assert page(client, kept["id"])["pattern"] is None
    whole = client.put(
        f"/api/recordings/{kept['id']}/wanted", json={"wanted": " G4  B, C5 D5 "}
    ).json()
    assert whole["wanted"] == "G4 B, C5 D5"
    assert [(note["name"], note["spoke"]) for note in whole["pattern"]["notes"]] == [
        ("G4", True),
        ("B4", True),
        ("C5", False),
        ("D5", True),
    ]
    assert whole["pattern"]["sentences"][0] == "3 of 4 spoke; missed: C5."
    assert "In one breath." in whole["pattern"]["sentences"]
    refused = client.put(f"/api/recordings/{kept['id']}/wanted", json={"wanted": "G4 H9"})
    assert "H9" in problem(refused, 422)["detail"]
    assert page(client, kept["id"])["wanted"] == "G4 B, C5 D5"


def test_recordings_are_listed_deleted_and_brought_back(client: TestClient) -> None:
    first = dropped(client, encoded(ARPEGGIO), "one.wav")
    second = dropped(client, encoded(ARPEGGIO), "two.wav")
    names = [one["name"] for one in client.get("/api/players/1/recordings").json()]
    assert names == ["two.wav", "one.wav"]
    assert client.delete(f"/api/recordings/{first['id']}").status_code == 204
    problem(client.get(f"/api/recordings/{first['id']}"), 404)
    (left,) = client.get("/api/players/1/recordings").json()
    assert left["id"] == second["id"]
    assert client.post(f"/api/recordings/{first['id']}/restore").status_code == 204
    assert page(client, first["id"])["note_count"] == 3


def test_bookmarks_are_put_down_and_taken_away(client: TestClient) -> None:
    kept = dropped(client, encoded(ARPEGGIO))
    where = f"/api/recordings/{kept['id']}/bookmarks"
    late = client.post(where, json={"at_s": 1.2, "words": "  the   D "}).json()
    client.post(where, json={"at_s": 0.5})
    bookmarks = page(client, kept["id"])["bookmarks"]
    assert [(bookmark["at_s"], bookmark["words"]) for bookmark in bookmarks] == [
        (0.5, ""),
        (1.2, "the D"),
    ]
    assert client.delete(f"{where}/{late['id']}").status_code == 204
    assert len(page(client, kept["id"])["bookmarks"]) == 1
    problem(client.delete(f"{where}/{late['id']}"), 404)
    assert "between 0 and" in problem(client.post(where, json={"at_s": 99}), 422)["detail"]
    assert "120" in problem(client.post(where, json={"at_s": 1, "words": "x" * 121}), 422)["detail"]


def truncated() -> bytes:
    whole = encoded(ARPEGGIO, "FLAC")
    return whole[: len(whole) // 2]


def without_numbers() -> bytes:
    sound = ARPEGGIO.copy()
    sound[5000] = np.nan
    return encoded(sound, subtype="FLOAT")


@pytest.mark.parametrize(
    ("content", "name", "told"),
    [
        (b"", "empty.wav", "empty.wav is empty"),
        (b"RIFF" + b"\0" * 40, "odd.wav", "odd.wav is not a recording Orexis can read"),
        (b"a letter, not a sound", "letter.wav", "Use WAV, FLAC or Ogg"),
        (encoded(ARPEGGIO, "AIFF"), "apple.wav", "apple.wav is a AIFF file"),
        (encoded(np.zeros(0)), "nothing.wav", "nothing.wav holds no sound"),
        (truncated(), "half.flac", "half.flac is damaged"),
        (without_numbers(), "odd.wav", "samples that are not numbers"),
        (encoded(np.zeros(4000), "WAV", 4000), "slow.wav", "4000 Hz"),
    ],
)
def test_a_strange_file_is_refused_with_what_to_do_and_nothing_is_kept(
    client: TestClient, settings: Settings, content: bytes, name: str, told: str
) -> None:
    assert told in problem(drop(client, content, name), 422)["detail"]
    assert client.get("/api/players/1/recordings").json() == []
    assert not list(settings.data.parent.glob("*incoming-*"))


def test_a_recording_that_is_too_long_is_refused_with_how_long_it_may_be(
    client: TestClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("orexis.practice.recordings.LONGEST_S", 20 * 60.0)
    content = encoded(np.zeros(21 * 60 * 8000), "FLAC", 8000)
    told = problem(drop(client, content, "long.flac"), 422)["detail"]
    assert told.startswith("long.flac lasts 21 min 0 s.")
    assert "up to 20 min:" in told
    assert client.get("/api/players/1/recordings").json() == []


@pytest.mark.parametrize("sound", [np.zeros(RATE), np.full(RATE, 0.3)])
def test_a_silent_recording_is_kept_with_nothing_heard(client: TestClient, sound: Samples) -> None:
    whole = page(client, dropped(client, encoded(sound))["id"])
    assert (whole["notes"], whole["marks"], whole["slots"]) == ([], [], [])


def test_a_name_is_only_a_name(client: TestClient, settings: Settings) -> None:
    kept = dropped(client, encoded(ARPEGGIO), "../../etc/horn\n.wav")
    assert kept["name"] == "horn.wav"
    assert {path.name.split(".")[0] for path in settings.data.parent.iterdir()} == {"orexis"}


def test_only_recordings_may_be_large(client: TestClient) -> None:
    big = {"content-length": str(LARGEST_RECORDING_BYTES + 1)}
    recording = drop_headed(client, "/api/players/1/recordings?name=a.wav", big)
    assert "Send at most 409600 KiB" in problem(recording, 413)["detail"]
    other = drop_headed(client, "/api/players", {"content-length": str(70_000)})
    assert "Send at most 64 KiB" in problem(other, 413)["detail"]


def drop_headed(client: TestClient, where: str, headers: dict[str, str]) -> Response:
    response: Response = client.post(where, headers=headers, content=b"x")
    return response


def test_a_full_disk_is_said_and_leaves_nothing(client: TestClient, settings: Settings) -> None:
    def full(self: Path, *_: object) -> None:
        raise OSError(errno.ENOSPC, "No space left on device")

    with patch.object(Path, "open", full):
        assert "Free some space" in problem(drop(client, encoded(ARPEGGIO)), 507)["detail"]
    assert not list(settings.data.parent.glob("*incoming-*"))


def test_what_a_killed_server_left_of_an_upload_is_cleared_away(settings: Settings) -> None:
    left, another = (
        settings.data.with_name(f"{name}-incoming-x") for name in (settings.data.name, "other.db")
    )
    for folder in (left, another):
        folder.mkdir(parents=True)
        (folder / "recording").write_bytes(b"half")
    with TestClient(create_app(settings), base_url=BASE):
        assert not left.exists()
        assert another.exists()
