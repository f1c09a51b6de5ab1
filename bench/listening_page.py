"""A page that listens to a WAV file at the Stand, for benches of what happens in it."""

from pathlib import Path

import httpx
from playwright.sync_api import Browser, Page, Playwright
from tests.browser.conftest import CHROMIUM, QUIET_FLAGS


def add_player(url: str) -> None:
    """Adds the player whose Stand `open_stand` opens: the first of an empty file."""
    player = {"name": "A", "instrument_key": "trombone-tenor", "view": "sounding", "clef": "bass"}
    httpx.post(f"{url}/api/players", json=player).raise_for_status()


def listening_browser(playwright: Playwright, wav: Path, *, again: bool) -> Browser:
    """Chromium that hears a file as its microphone, once or over and over."""
    ear = f"--use-file-for-fake-audio-capture={wav}"
    return playwright.chromium.launch(
        executable_path=CHROMIUM,
        args=[
            *QUIET_FLAGS,
            "--use-fake-device-for-media-stream",
            "--use-fake-ui-for-media-stream",
            ear if again else f"{ear}%noloop",
        ],
    )


def open_stand(page: Page, url: str) -> None:
    """Opens the Stand and begins to listen."""
    page.add_init_script("localStorage.setItem('orexis-player', '1')")
    page.goto(f"{url}/#/stand")
    page.locator(".begin button").click()
