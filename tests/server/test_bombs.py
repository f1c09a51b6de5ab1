"""Small files that would be much work: refused before it is done, or within a stated time, while
others are served."""

import asyncio
import io
import json
import time
import zipfile
from pathlib import Path
from typing import Any

import numpy as np
import pytest
import soundfile
from fastapi.testclient import TestClient

from orexis.formats.audio import UnreadableSoundError, written_anew
from orexis.server import worker
from tests.server.conftest import run

_QUICK_S = 15.0
"""A process and its reader take two seconds to start, several on a busy machine; what is bounded
is over soon after, and what is not ends with the worker's own limit of 20 s."""


def score(notes: int) -> str:
    note = "<note><pitch><step>B</step><octave>3</octave></pitch><duration>1</duration></note>"
    return (
        "<score-partwise><part-list><score-part id='P1'><part-name>x</part-name></score-part>"
        "</part-list><part id='P1'><measure number='1'><attributes><divisions>1</divisions>"
        f"</attributes>{notes * note}</measure></part></score-partwise>"
    )


def packed(notes: int) -> bytes:
    kept = io.BytesIO()
    with zipfile.ZipFile(kept, "w", zipfile.ZIP_DEFLATED) as archive:
        container = '<container><rootfiles><rootfile full-path="a.xml"/></rootfiles></container>'
        archive.writestr("META-INF/container.xml", container)
        archive.writestr("a.xml", score(notes))
    return kept.getvalue()


def midi(notes: int) -> bytes:
    track = notes * b"\x01\x90\x3a\x40\x01\x80\x3a\x00" + b"\x00\xff\x2f\x00"
    head = b"MThd\x00\x00\x00\x06\x00\x00\x00\x01\x00\x60"
    return head + b"MTrk" + len(track).to_bytes(4, "big") + track


def bring(client: TestClient, content: bytes) -> Any:
    return client.post("/api/players/1/melodies?name=a", content=content)


@pytest.mark.parametrize(
    "content",
    [packed(50_000), score(15_000).encode(), midi(200_000)],
    ids=["mxl", "musicxml", "midi"],
)
def test_more_notes_than_a_melody_has_are_refused_soon(client: TestClient, content: bytes) -> None:
    assert len(content) < 2 << 20
    began = time.monotonic()
    answer = bring(client, content)
    assert answer.status_code == 422
    assert "Export the one part you want" in answer.json()["detail"]
    assert time.monotonic() - began < _QUICK_S


@pytest.mark.parametrize(
    "content",
    [
        b'<!DOCTYPE x [<!ENTITY a "aaaa">]><score-partwise>&a;</score-partwise>',
        score(3).replace("<duration>1<", "<duration>-1e999<").encode(),
        score(3).replace("<divisions>1<", "<divisions>0<").encode(),
        score(3).replace("<octave>3<", "<octave>99999999999<").encode(),
        b"<score-partwise>" + 100_000 * b"<a>" + b"</score-partwise>",
        packed(3)[:-40],
        packed(3).replace(b"META-INF", b"META-INX"),
    ],
)
def test_odd_music_is_read_or_refused(client: TestClient, content: bytes) -> None:
    assert bring(client, content).status_code in (200, 422)


def test_a_long_sound_of_nothing_is_refused_before_it_is_decoded(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    rate = 16_000
    sound = io.BytesIO()
    with soundfile.SoundFile(sound, "w", rate, channels=8, format="FLAC") as file:
        for _ in range(16):
            file.write(np.zeros((60 * rate, 8), dtype="int16"))
    assert len(sound.getvalue()) < 2 << 20

    def decodes(*_: object, **__: object) -> None:
        raise AssertionError("It was decoded")

    monkeypatch.setattr(soundfile.SoundFile, "read", decodes)
    with pytest.raises(UnreadableSoundError, match="more than 15 minutes"):
        written_anew(sound.getvalue(), 15 * 60.0)


def test_what_comes_in_as_a_sound_is_written_anew() -> None:
    tone = np.sin(np.arange(8000) / 5) / 4
    sound = io.BytesIO()
    soundfile.write(sound, np.column_stack((tone, tone)), 8000, format="WAV", subtype="FLOAT")
    anew = written_anew(sound.getvalue() + b"<script>", 60.0)
    assert anew.startswith(b"fLaC")
    assert b"<script>" not in anew
    samples, rate = soundfile.read(io.BytesIO(anew))
    assert (samples.shape, rate) == ((8000,), 8000)
    assert samples == pytest.approx(tone, abs=1 / 32_768)


def test_many_exercises_are_looked_at_before_anything_is_kept(client: TestClient) -> None:
    document = {
        "schema": "orexis.own/1",
        "exercises": [
            {"name": f"pyramid {n}", "family": "pyramid", "parameters": {"slots": "7"}}
            for n in range(60)
        ],
    }
    content = json.dumps(document).encode()
    answer = client.post("/api/players/1/incoming/own", content=content)
    assert answer.status_code == 200
    assert client.get("/api/players/1/own").json() == []
    kept = client.post("/api/players/1/incoming/own?keep=true", content=content).json()
    assert len([row for row in kept["rows"] if not row["refused"]]) == 60
    assert len(client.get("/api/players/1/own").json()) == 60


@pytest.mark.parametrize(
    "content",
    [
        b'{"schema": "orexis.own/1", "exercises": [{"name": "a", "family": "long-tone", '
        b'"parameters": {"hold_s": 1e400}}]}',
        b'{"schema": "orexis.own/1", "exercises": [{"name": "\\ud800", "family": "long-tone", '
        b'"parameters": {}}]}',
        b'{"schema": NaN}',
        b'{"schema": 123456789012345678901234567890}',
    ],
)
def test_json_that_says_what_cannot_be_is_refused(client: TestClient, content: bytes) -> None:
    assert client.post("/api/players/1/incoming/own", content=content).status_code == 422


@pytest.mark.parametrize(
    "begins",
    [
        "DTSTART;VALUE=PERIOD:20261212T100000Z/PT1H",
        "DTSTART;VALUE=TIME:100000",
        "DTSTART;VALUE=DATE:02010101",
        "DTSTART:00010101T000000Z",
        "DTSTART;TZID=Nowhere/Town:20261212T100000",
        "DTSTART:99991231T235959Z",
        "X-NOTHING:1",
    ],
)
def test_an_odd_date_refuses_its_row_and_not_the_file(client: TestClient, begins: str) -> None:
    lines = ["BEGIN:VCALENDAR", "VERSION:2.0", "PRODID:x"]
    for said, title in ((begins, "Odd"), ("DTSTART;VALUE=DATE:20991212", "Concert")):
        lines += ["BEGIN:VEVENT", f"UID:{title}", said, f"SUMMARY:{title}", "END:VEVENT"]
    text = "".join(f"{line}\r\n" for line in [*lines, "END:VCALENDAR"])
    answer = client.post("/api/players/1/incoming/concerts", content=text.encode())
    assert answer.status_code == 200, answer.text
    rows = answer.json()["rows"]
    assert [row["refused"] for row in rows if "Concert" in row["said"]] == [""]


class TestTheWorker:
    def test_it_ends_in_time(self) -> None:
        async def asks() -> None:
            began = time.monotonic()
            with pytest.raises(worker.NotReadInTimeError):
                # To parse 4000 notes takes longer.
                await worker.read(
                    "melody", score(4000).encode(), "a.xml", gone=_stays, within_s=0.01
                )
            assert time.monotonic() - began < _QUICK_S

        run(asks())

    def test_a_reader_that_does_not_load_ends_too(self, monkeypatch: pytest.MonkeyPatch) -> None:
        monkeypatch.setattr(worker, "_LOADS_WITHIN_S", 0.01)

        async def asks() -> None:
            with pytest.raises(worker.NotReadInTimeError, match="too busy to read it now"):
                await worker.read("melody", score(3).encode(), "a.xml", gone=_stays)

        run(asks())

    @pytest.mark.deep
    def test_to_load_it_is_not_to_read(
        self, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
    ) -> None:
        # A machine on which Python takes five seconds to start.
        (tmp_path / "sitecustomize.py").write_text("import time; time.sleep(5)")
        monkeypatch.setenv("PYTHONPATH", str(tmp_path))

        async def asks() -> None:
            parts = await worker.read(
                "melody", score(1).encode(), "a.xml", gone=_stays, within_s=4.5
            )
            assert len(parts) == 1

        run(asks())

    def test_it_ends_with_who_asked(self) -> None:
        async def asks() -> None:
            calls = 0

            async def leaves() -> bool:
                nonlocal calls
                calls += 1
                return True

            with pytest.raises(worker.NotReadInTimeError):
                await worker.read("report", packed(50_000), gone=leaves)
            assert calls == 1
            # No process is left behind.
            assert not [task for task in asyncio.all_tasks() if "communicate" in repr(task)]

        run(asks())

    def test_nothing_else_can_be_asked_of_it(self) -> None:
        async def asks() -> None:
            with pytest.raises(worker.NotReadInTimeError):
                await worker.read("os.system", "true", gone=_stays)

        run(asks())


async def _stays() -> bool:
    return False
