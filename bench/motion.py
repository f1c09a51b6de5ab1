"""How smoothly the ribbon moves: pictures that were dropped while somebody plays, beside the same
browser with nothing to draw.

A browser on a machine without a graphics card paints with its processor, beside the server that
listens. A picture counts as dropped for every sixtieth of a second that went by without one.
"""

import tempfile
from pathlib import Path

import numpy as np
import soundfile
from playwright.sync_api import Browser, Page, sync_playwright
from tests.running import Running

from bench.goals import at_most
from bench.listening_page import add_player, listening_browser, open_stand
from bench.sounds import RATE, phrase

_SIXTIETH_MS = 1000 / 60
_SECONDS = 8
_SIZES = {"laptop": (1280, 800), "upright tablet": (1024, 1366), "phone": (390, 844)}
_PICTURES = """(ms) => new Promise((done) => {
  const times = [];
  const see = (at) => {
    times.push(at);
    if (at - times[0] < ms) requestAnimationFrame(see);
    else done(times);
  };
  requestAnimationFrame(see);
})"""


def main() -> None:
    """Prints how many pictures were dropped, by size of the screen."""
    print(f"{'':<18}{'pictures a s':>14}{'dropped, %':>12}{'longest, ms':>13}")
    with tempfile.TemporaryDirectory() as folder, sync_playwright() as playwright:
        wav = Path(folder) / "microphone.wav"
        sound = phrase("middle").samples
        soundfile.write(wav, np.tile(sound, round(30 * RATE / len(sound))), RATE)
        server = Running(Path(folder) / "orexis.db", own_process=True)
        try:
            add_player(server.url)
            browser = listening_browser(playwright, wav, again=True)
            still = _told("nothing to draw", _still(browser))
            for name, size in _SIZES.items():
                dropped = _told(f"Stand, {name}", _playing(browser, server.url, size))
                at_most(f"motion: dropped on a {name} beside still, %", dropped - still, 5.0)
            browser.close()
        finally:
            server.stop()


def _still(browser: Browser) -> np.ndarray:
    page = browser.new_page()
    page.set_content("<p>Nothing moves here.</p>")
    return _times_ms(page)


def _playing(browser: Browser, url: str, size: tuple[int, int]) -> np.ndarray:
    width, height = size
    context = browser.new_context(viewport={"width": width, "height": height})
    page = context.new_page()
    open_stand(page, url)
    page.wait_for_timeout(3000)
    times_ms = _times_ms(page)
    context.close()
    return times_ms


def _times_ms(page: Page) -> np.ndarray:
    return np.array(page.evaluate(_PICTURES, 1000 * _SECONDS))


def _told(name: str, times_ms: np.ndarray) -> float:
    """Prints a row; the share of pictures that were dropped, in percent."""
    gaps_ms = np.diff(times_ms)
    wanted = (times_ms[-1] - times_ms[0]) / _SIXTIETH_MS
    dropped = float(100 * (np.round(gaps_ms / _SIXTIETH_MS) - 1).clip(0).sum() / wanted)
    rate = len(gaps_ms) / (times_ms[-1] - times_ms[0]) * 1000
    print(f"{name:<18}{rate:>14.0f}{dropped:>12.1f}{gaps_ms.max():>13.0f}")
    return dropped
