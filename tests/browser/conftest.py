"""A real server, and Chromium with a WAV file as its microphone."""

import io
import json
import shutil
import sqlite3
import uuid
from collections.abc import Callable, Generator, Iterator
from contextlib import closing, contextmanager
from datetime import UTC, datetime
from pathlib import Path

import httpx
import numpy as np
import numpy.typing as npt
import pytest
import soundfile
from playwright.sync_api import Browser, BrowserType, ConsoleMessage, Page, expect
from websockets.sync.client import connect
from websockets.typing import Origin

from orexis.server.schemas.players import PlayerIn
from orexis.store.database import Database
from orexis.store.players import add_player
from tests.running import Running
from tests.sounds import RATE, Samples

_CHUNK = 512
_WHOLE_CHROMIUM = "/usr/bin/chromium"
_SHELL = "/usr/bin/chromium-headless-shell"
CHROMIUM = _SHELL if Path(_SHELL).exists() else _WHOLE_CHROMIUM
"""Chromium without windows, which is less work for the machine, where it is there."""
QUIET_FLAGS = ["--no-sandbox", "--disable-background-networking", "--disable-component-update"]
MAREN = {"name": "Maren", "instrument_key": "tenor-horn-eb", "view": "written", "clef": "treble"}
OSK = {"name": "Osk", "instrument_key": "trombone-bass", "view": "sounding", "clef": "bass"}

expect.set_options(timeout=30_000)


class BrowserStumbledError(Exception):
    """A test failed, and what was kept shows that Chromium's microphone lost sound before it."""


# A file played as Chromium's microphone goes through a timer; when the machine is too busy for it,
# Chromium puts in digital silence, 10 ms at a time. None of the tests' sounds has such a hole.
_HOLE_S = (0.005, 1.0)


def _holes_ms(pcm: npt.NDArray[np.int16], rate: int) -> list[float]:
    """How long each hole within a sound is, in ms: digital silence too short to be meant."""
    sounding = np.flatnonzero(pcm)
    gaps_s = np.diff(sounding) / rate
    return [1000 * float(gap) for gap in gaps_s if _HOLE_S[0] <= gap <= _HOLE_S[1]]


class Server(Running):
    """The server, what it kept, and what is played to it without a browser."""

    def holes_ms(self) -> list[float]:
        """The holes in everything kept and everything still on its way in."""
        found: list[float] = []
        with closing(sqlite3.connect(f"file:{self.data}?mode=ro", uri=True)) as data:
            for (flac,) in data.execute("SELECT flac FROM take_sounds"):
                found += _holes_ms(*soundfile.read(io.BytesIO(flac), dtype="int16"))
        for spool in Path(f"{self.data}-spool").glob("*.spool"):
            told, _, sound = spool.read_bytes().partition(b"\n")
            whole = np.frombuffer(sound[: len(sound) // 2 * 2], dtype="<i2")
            found += _holes_ms(whole, json.loads(told)["hello"]["sample_rate"])
        return found

    def play(self, sound: Samples, hold_s: float = 4) -> None:
        """Plays a sound for Maren into the server's own ear, as fast as it listens: no browser's
        audio, which stumbles on a busy machine, is in between."""
        pcm = np.rint(sound * 32_767).astype("<i2")
        hello = {
            "type": "hello",
            "kind": "task",
            "session": uuid.uuid4().hex,
            "player_id": 1,
            "exercises": [
                {"family": "long-tone", "values": {"from_midi": "58", "hold_s": f"{hold_s:g}"}}
            ],
            "source": "microphone",
            "sample_rate": RATE,
            "started_at": datetime.now(UTC).isoformat(),
        }
        with connect(f"ws://127.0.0.1:{self.port}/api/live", origin=Origin(self.url)) as socket:
            socket.send(json.dumps(hello))
            for seq in range(len(pcm) // _CHUNK):
                part = pcm[seq * _CHUNK : (seq + 1) * _CHUNK].tobytes()
                socket.send(seq.to_bytes(4, "little") + part)
            socket.send(json.dumps({"type": "bye"}))
            for message in socket:
                if json.loads(message)["type"] == "closed":
                    return

    def takes(self) -> list[dict[str, object]]:
        found: list[dict[str, object]] = httpx.get(f"{self.url}/api/players/1/takes").json()
        return found


@pytest.hookimpl(wrapper=True)
def pytest_runtest_call(item: pytest.Function) -> Generator[None, None, None]:
    """Tells a browser that lost sound from an app that did: only the first is played again."""
    try:
        return (yield)
    except Exception as problem:
        server = item.funcargs.get("server")
        if isinstance(server, Server) and (holes := server.holes_ms()):
            raise BrowserStumbledError(
                f"Chromium's microphone lost {', '.join(f'{hole:.0f}' for hole in holes)} ms."
            ) from problem
        raise


@pytest.fixture(scope="session")
def players_file(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A data file with Maren and Osk; not to be written to."""
    path = tmp_path_factory.mktemp("players") / "orexis.db"
    database = Database(path)
    with database.session() as session:
        for player in (MAREN, OSK):
            add_player(session, PlayerIn.model_validate(player).details())
    database.close()
    return path


@pytest.fixture
def server(own_process: bool, players_file: Path, tmp_path: Path) -> Iterator[Server]:
    """Maren's and Osk's, which can be killed where a test is marked `kills`."""
    data = tmp_path / "orexis.db"
    shutil.copy(players_file, data)
    server = Server(data, own_process=own_process)
    yield server
    server.stop()


Launch = Callable[..., Browser]

_FAKE_EAR = "--use-fake-device-for-media-stream"
_EAR_ALLOWED = "--use-fake-ui-for-media-stream"


@pytest.fixture(scope="session")
def one_browser(browser_type: BrowserType) -> Iterator[Browser]:
    """Chromium with nothing of note at its microphone, for all tests that hear no file."""
    flags = [*QUIET_FLAGS, _FAKE_EAR, _EAR_ALLOWED]
    browser = browser_type.launch(executable_path=CHROMIUM, args=flags)
    yield browser
    browser.close()


@pytest.fixture
def launch(browser_type: BrowserType, one_browser: Browser) -> Iterator[Launch]:
    """Gives Chromium; one of its own with a `microphone`, a WAV file that is played once from when
    it is opened, or one that is not `allowed`."""
    started: list[Browser] = []

    def launching(*, microphone: Path | None = None, allowed: bool = True) -> Browser:
        if microphone is None and allowed:
            return one_browser
        flags = [*QUIET_FLAGS, _FAKE_EAR]
        flags += [_EAR_ALLOWED] if allowed else []
        if microphone:
            flags.append(f"--use-file-for-fake-audio-capture={microphone}%noloop")
        # Only the whole one asks whether a page may listen.
        program = CHROMIUM if allowed else _WHOLE_CHROMIUM
        started.append(browser_type.launch(executable_path=program, args=flags))
        return started[-1]

    yield launching
    for browser in started:
        browser.close()


_NEAR = "localStorage.setItem('orexis-far', localStorage.getItem('orexis-far') ?? 'no')"


@contextmanager
def page_of(
    browser: Browser, server: Server, init_script: str = "", **options: object
) -> Iterator[Page]:
    """The app with Maren at her Stand, seen from near; fails on any error in the browser's
    console."""
    context = browser.new_context(viewport={"width": 1280, "height": 800}, **options)  # type: ignore[arg-type]
    context.add_init_script(_NEAR)
    if init_script:
        context.add_init_script(init_script)
    page = context.new_page()
    errors: list[str] = []
    page.on("pageerror", lambda error: errors.append(str(error)))

    def watch(message: ConsoleMessage) -> None:
        if "Content Security Policy" in message.text:
            errors.append(message.text)

    page.on("console", watch)
    try:
        yield from _at_the_stand(page, server)
        assert errors == []
    finally:
        context.close()


def _at_the_stand(page: Page, server: Server) -> Iterator[Page]:
    page.goto(server.url)
    page.get_by_role("button", name="Maren").first.click()
    expect(page.get_by_role("button", name="Start Enter", exact=True)).to_be_visible()
    page.keyboard.press("2")
    expect(page.get_by_role("heading", name="Long tone")).to_be_visible()
    yield page
