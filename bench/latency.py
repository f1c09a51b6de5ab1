"""From sound to drawn ribbon, in the running application.

A browser listens to a WAV file as its microphone, and the page notes when each numbered chunk
went out and when the frames it made possible came back and the next picture was drawn. A
frame's latency is counted from when its sound was captured: its place within its chunk is added
to the time the chunk took. A frame drawn early counts from when it stood within 20 cents of what
it came to be. What the sound card itself takes comes on top and is not seen here.
Wanted: p95 within 90 ms above 100 Hz.
"""

import tempfile
from pathlib import Path

import numpy as np
import soundfile
from playwright.sync_api import sync_playwright
from tests.running import Running

from bench.goals import at_most
from bench.listening_page import add_player, listening_browser, open_stand
from bench.sounds import RATE, REGISTERS, phrase
from orexis.core.listening.tracking.frames import HOP_S

_CHUNK = 512
_RIGHT_CENTS = 20
_WATCH = """
  window.sent = []; window.drawn = [];
  const send = WebSocket.prototype.send;
  WebSocket.prototype.send = function (message) {
    if (message instanceof Uint8Array)
      window.sent[new DataView(message.buffer).getUint32(0, true)] = performance.now();
    else {
      window.rate = JSON.parse(message).sample_rate ?? window.rate;
      this.addEventListener('message', ({ data }) => {
        const said = JSON.parse(data);
        if (said.type === 'frames')
          requestAnimationFrame(() =>
            window.drawn.push([said.first, said.pitch_cents, performance.now()]));
      });
    }
    return send.call(this, message);
  };
"""


def main() -> None:
    """Prints the latency of voiced frames, register by register."""
    print("From sound to drawn ribbon, ms (without the sound card)")
    print(f"{'':<10}{'median':>8}{'p95':>8}{'frames':>8}")
    for register in REGISTERS:
        latency_ms = _latency_ms(register)
        middle, late = np.percentile(latency_ms, (50, 95))
        print(f"{register:<10}{middle:>8.0f}{late:>8.0f}{len(latency_ms):>8}")
        if register != "pedals":
            at_most(f"sound to ribbon in {register}, p95, ms", float(late), 90.0)


def _latency_ms(register: str) -> np.ndarray:
    with tempfile.TemporaryDirectory() as folder:
        wav = Path(folder) / "microphone.wav"
        soundfile.write(wav, phrase(register).samples, RATE)
        server = Running(Path(folder) / "orexis.db", own_process=True)
        try:
            sent, drawn, rate = _listen(server.url, wav)
        finally:
            server.stop()
    final: dict[int, float | None] = {}
    for first, cents, _ in drawn:
        final.update(enumerate(cents, start=first))
    found: dict[int, float] = {}
    for first, cents, at_ms in drawn:
        for number, value in enumerate(cents, start=first):
            end = (number * HOP_S * rate) / _CHUNK
            chunk = int(end)
            stays = final[number]
            if number in found or value is None or stays is None:
                continue
            if abs(value - stays) > _RIGHT_CENTS or chunk >= len(sent) or sent[chunk] is None:
                continue
            captured_ms = sent[chunk] - 1000 * (chunk + 1 - end) * _CHUNK / rate
            found[number] = at_ms - captured_ms
    return np.array(list(found.values()))


def _listen(url: str, wav: Path) -> tuple[list[float], list[tuple[int, list[float], float]], int]:
    add_player(url)
    with sync_playwright() as playwright:
        browser = listening_browser(playwright, wav, again=False)
        page = browser.new_page()
        page.add_init_script(_WATCH)
        open_stand(page, url)
        page.wait_for_timeout(9000)
        watched = page.evaluate("[window.sent, window.drawn, window.rate]")
        browser.close()
    sent, drawn, rate = watched
    return sent, drawn, rate
