"""Listening back: marks as they happen, recordings dropped in, zoom, bookmarks, two takes at
once."""

import base64
import json
import re
from pathlib import Path

import httpx
import numpy as np
import pytest
import soundfile
from playwright.sync_api import Page, expect

from tests.browser.conftest import Launch, Server, page_of
from tests.browser.test_stand import B_FLAT_3_HZ, LEAD_S, listen, until
from tests.sounds import RATE, Samples, harmonic, silence, softened, steady


def tied(*parts: tuple[float, float]) -> Samples:
    """One breath: pitches (Hz) held for seconds."""
    return softened(harmonic(np.concatenate([np.full(round(s * RATE), hz) for hz, s in parts])))


# B♭3, a touched D4, F4: the tenor horn's written G4, B4, D5; then the same F4 again after 100 ms.
SLUR = tied((B_FLAT_3_HZ, 1.2), (293.665, 0.07), (349.228, 1.2))
PHRASE = np.concatenate((SLUR, silence(0.1), softened(steady(349.228, 0.8))))


def kept_recording(server: Server, path: Path) -> str:
    soundfile.write(path, np.concatenate((silence(0.5), PHRASE, silence(0.5))), RATE)
    response = httpx.post(
        f"{server.url}/api/players/1/recordings",
        params={"name": "harbour.wav"},
        content=path.read_bytes(),
        timeout=60,
    )
    return str(response.raise_for_status().json()["id"])


def drop(page: Page, content: bytes, name: str) -> None:
    """Lets a file fall onto the page, as a player's mouse does."""
    page.evaluate(
        """([content, name]) => {
          const bytes = Uint8Array.from(atob(content), (letter) => letter.charCodeAt(0));
          const dataTransfer = new DataTransfer();
          dataTransfer.items.add(new File([bytes], name));
          const view = document.querySelector('[aria-label="Takes"]');
          for (const kind of ['dragover', 'drop'])
            view.dispatchEvent(new DragEvent(kind, { dataTransfer, bubbles: true }));
        }""",
        [base64.b64encode(content).decode(), name],
    )


@pytest.mark.microphone
def test_a_touched_slot_is_marked_while_the_note_still_sounds(
    server: Server, launch: Launch, tmp_path: Path
) -> None:
    sound = np.concatenate((silence(LEAD_S), SLUR, steady(349.228, 4.0), silence(2)))
    soundfile.write(tmp_path / "slur.wav", sound, RATE)
    with page_of(launch(microphone=tmp_path / "slur.wav"), server) as page:
        listen(page)
        expect(page.get_by_role("heading", name="Hold it.")).to_be_visible()
        touched = re.compile(r"Long tone: .*touched B4, \d\d ms")
        expect(page.get_by_role("img", name=touched)).to_be_visible()
        # Not the verdict's marks: it is still sounding.
        expect(page.get_by_role("heading", name="Hold it.")).to_be_visible()


def test_a_recording_dropped_onto_takes_is_heard_and_compared_with_what_was_meant(
    server: Server, launch: Launch, tmp_path: Path
) -> None:
    soundfile.write(tmp_path / "a.flac", np.concatenate((silence(0.5), PHRASE)), RATE)
    with page_of(launch(), server) as page:
        page.keyboard.press("3")
        expect(page.get_by_role("heading", name="Nothing played yet")).to_be_visible()
        drop(page, b"no sound at all", "letter.wav")
        expect(page.get_by_text("letter.wav is not a recording Orexis can read")).to_be_visible()
        drop(page, (tmp_path / "a.flac").read_bytes(), "harbour.flac")
        expect(page.get_by_role("heading", name="harbour.flac")).to_be_visible()
        marked = re.compile(r"touched B4, \d\d ms, gap \d+ ms")
        expect(page.get_by_role("img", name=marked)).to_be_visible()
        page.keyboard.press("w")
        expect(page.get_by_label("What did you mean to play?")).to_be_focused()
        page.keyboard.type("G4 B4 D5")
        page.keyboard.press("Enter")
        expect(page.get_by_text("2 of 3 spoke; missed: B4.")).to_be_visible()
        expect(page.get_by_text("Broken in two: D5.")).to_be_visible()
        page.get_by_label("What did you mean to play?").fill("G4 X")
        page.keyboard.press("Enter")
        expect(page.get_by_role("alert")).to_contain_text("is not a note")
        page.evaluate("document.activeElement.blur()")
        page.keyboard.press("Escape")
        expect(page.get_by_role("link", name=re.compile("harbour.flac"))).to_be_visible()


def test_a_recording_is_deleted_and_brought_back(
    server: Server, launch: Launch, tmp_path: Path
) -> None:
    recording = kept_recording(server, tmp_path / "a.wav")
    with page_of(launch(), server) as page:
        page.goto(f"{server.url}/#/recordings/{recording}")
        expect(page.get_by_role("heading", name="harbour.wav")).to_be_visible()
        page.keyboard.press("Delete")
        expect(page.get_by_role("heading", name="Nothing played yet")).to_be_visible()
        page.keyboard.press("z")
        expect(page.get_by_role("heading", name="harbour.wav")).to_be_visible()


def test_spots_are_bookmarked_gone_to_and_taken_away(
    server: Server, launch: Launch, tmp_path: Path
) -> None:
    recording = kept_recording(server, tmp_path / "a.wav")
    with page_of(launch(), server) as page:
        page.goto(f"{server.url}/#/recordings/{recording}")
        expect(page.locator("audio")).to_be_attached()
        expect(page.get_by_role("button", name="bookmark this spot")).to_be_enabled()
        until(page, "document.querySelector('audio').readyState >= 2")
        page.keyboard.press("ArrowRight")
        page.keyboard.press("ArrowRight")
        page.keyboard.press("n")
        expect(page.get_by_label("What is at 1.00 s?")).to_be_focused()
        page.keyboard.type("listen to this")
        page.keyboard.press("Enter")
        bookmarks = page.get_by_role("list", name="Bookmarks")
        expect(bookmarks).to_contain_text("listen to this 1.0 s")
        # The next spot is the touched slot, and the one before that is the bookmark.
        page.keyboard.press("ArrowDown")
        until(page, "document.querySelector('audio').currentTime > 1.5")
        page.keyboard.press("ArrowUp")
        until(page, "Math.abs(document.querySelector('audio').currentTime - 1) < 0.01")
        page.reload()
        expect(bookmarks).to_contain_text("listen to this")
        page.get_by_role("button", name="take bookmark 1 away").click()
        expect(bookmarks).to_have_count(0)


def test_takes_of_one_note_are_compared_with_cursors_at_the_same_place(
    server: Server, launch: Launch
) -> None:
    # A first attempt that is cut short, and a whole one after it.
    short, whole = (softened(steady(B_FLAT_3_HZ, seconds)) for seconds in (2.0, 4.6))
    server.play(np.concatenate((silence(1.5), short, silence(1.2), whole, silence(1))))
    with page_of(launch(), server) as page:
        page.keyboard.press("3")
        expect(page.get_by_role("heading", name="Today")).to_be_visible()
        page.keyboard.press("Enter")
        expect(page.get_by_role("heading", name="How was it?")).to_be_visible()
        page.keyboard.press("v")
        expect(page.get_by_text("Your own tone is not known yet: 0 of 5")).to_be_visible()
        page.keyboard.press("c")
        expect(page.get_by_text("In grey: the first of that day")).to_be_visible()
        both = page.get_by_role(
            "img", name=re.compile("^The whole take over the first of that day")
        )
        expect(both).to_be_visible()
        expect(page.locator("audio")).to_have_count(2)
        until(page, "[...document.querySelectorAll('audio')].every((a) => a.readyState >= 2)")
        page.keyboard.press("ArrowRight")
        page.keyboard.press("a")
        expect(page.get_by_text("You hear it now.")).to_be_visible()
        # Both notes start half a second into their takes, so the other goes on from the same.
        until(page, "document.querySelectorAll('audio')[1].currentTime >= 0.45")
        page.keyboard.press("a")
        expect(page.get_by_text("A plays it from here.")).to_be_visible()
        page.keyboard.press("c")
        expect(page.get_by_text("In grey: the first of that day")).to_have_count(0)


@pytest.mark.deep
@pytest.mark.microphone
def test_a_drone_sounds_and_is_told_to_the_ear(
    server: Server, launch: Launch, tmp_path: Path
) -> None:
    # Chromium's own microphone beeps, and a drone is not turned off in the middle of an attempt.
    quiet = tmp_path / "quiet.wav"
    soundfile.write(quiet, silence(1.0), RATE)
    with page_of(launch(microphone=quiet), server) as page:
        drones: list[float | None] = []

        def note(sent: str | bytes) -> None:
            if isinstance(sent, str) and "drone_hz" in (hello := json.loads(sent)):
                drones.append(hello["drone_hz"])

        def told(count: int) -> None:
            for _ in range(300):
                if len(drones) >= count:
                    break
                page.wait_for_timeout(50)
            assert len(drones) == count

        page.on("websocket", lambda socket: socket.on("framesent", note))
        expect(page.get_by_role("img", name="G4", exact=True)).to_be_visible()
        page.keyboard.press("t")
        expect(page.get_by_role("button", name="drone off")).to_be_visible()
        listen(page)
        expect(page.get_by_text("Play to begin.")).to_be_visible()
        told(1)
        # Another note is another drone, and what is heard begins anew.
        page.keyboard.press("ArrowUp")
        expect(page.get_by_role("img", name="A♭4", exact=True)).to_be_visible()
        told(2)
        page.keyboard.press("t")
        expect(page.get_by_role("button", name="T drone", exact=True)).to_be_visible()
        told(3)
        # Sounding B♭3 and B3, then none.
        assert drones == [pytest.approx(233.082), pytest.approx(246.942), None]


SOUND_PIXELS = """(label) => {
  const frame = document.querySelector(`[role="img"][aria-label^="${label}"]`);
  const canvas = frame.querySelector('canvas');
  const sound = getComputedStyle(canvas).getPropertyValue('--sound').trim();
  const wanted = [1, 3, 5].map((at) => parseInt(sound.slice(at, at + 2), 16));
  const { data } = canvas.getContext('2d').getImageData(0, 0, canvas.width, canvas.height);
  const rows = new Set();
  for (let at = 0; at < data.length; at += 4)
    if (wanted.every((value, i) => Math.abs(value - data[at + i]) < 6))
      rows.add(Math.floor(at / 4 / canvas.width));
  return [Math.min(...rows), Math.max(...rows), rows.size, canvas.height];
}"""


def drawn_rows(page: Page, label: str) -> tuple[int, int, int, int]:
    """First and last row of a ribbon's canvas that shows sound, how many do, and of how many."""
    found: list[int] = page.evaluate(SOUND_PIXELS, label)
    return tuple(found)  # type: ignore[return-value]


def test_nothing_of_the_pitch_is_drawn_before_the_ear_has_spoken(
    server: Server, launch: Launch
) -> None:
    low = softened(steady(B_FLAT_3_HZ * 2 ** (-12 / 1200), 4.5))
    server.play(np.concatenate((silence(1), low, silence(1))))
    with page_of(launch(), server) as page:
        page.keyboard.press("3")
        expect(page.get_by_role("heading", name="Today")).to_be_visible()
        page.keyboard.press("Enter")
        expect(page.get_by_role("heading", name="How was it?")).to_be_visible()
        expect(page.get_by_role("img", name=re.compile("The whole take"))).to_be_visible()
        assert drawn_rows(page, "The whole take")[2] == 0
        as_midi = page.get_by_role("link", name="Save what was heard as MIDI")
        expect(as_midi).to_have_count(0)
        page.keyboard.press("e")
        expect(page.get_by_text("You said: good.")).to_be_visible()
        with page.expect_download() as saved:
            as_midi.click()
        assert saved.value.path().read_bytes()[:4] == b"MThd"
        page.wait_for_timeout(300)
        first, last, rows, height = drawn_rows(page, "The whole take")
        assert rows > 5
        # A note 12 cents low lies a little under the middle of its slot.
        middle = (first + last) / 2
        assert 0.4 * height < middle < 0.8 * height


def test_zooming_in_shows_less_of_the_sound_and_turns_with_it(
    server: Server, launch: Launch, tmp_path: Path
) -> None:
    recording = kept_recording(server, tmp_path / "a.wav")
    with page_of(launch(), server) as page:
        page.goto(f"{server.url}/#/recordings/{recording}")
        expect(page.get_by_role("button", name="closer")).to_be_enabled()
        until(page, "document.querySelector('audio')?.readyState >= 2")
        page.wait_for_timeout(300)
        whole = drawn_rows(page, "The whole recording")
        for _ in range(4):
            page.keyboard.press("+")
        # Four times doubled: a quarter of a second, which is silence before the first note.
        expect(page.get_by_role("button", name="closer")).to_be_disabled()
        page.wait_for_timeout(300)
        assert drawn_rows(page, "The whole recording")[2] == 0
        page.keyboard.press("ArrowRight")
        page.keyboard.press("ArrowRight")
        page.wait_for_timeout(300)
        # A second in, the first note alone fills the view.
        inside = drawn_rows(page, "The whole recording")
        assert 0 < inside[2] < whole[2]
        for _ in range(4):
            page.keyboard.press("-")
        page.wait_for_timeout(300)
        assert drawn_rows(page, "The whole recording")[:2] == whole[:2]
