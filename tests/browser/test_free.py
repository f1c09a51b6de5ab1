"""Playing without a task, and the path of an exercise, driven in the real interface."""

import re
from pathlib import Path

import numpy as np
import pytest
import soundfile
from playwright.sync_api import expect

from tests.browser.conftest import Launch, Server, page_of
from tests.browser.test_book import open_exercise
from tests.sounds import RATE, silence, softened, steady

# B♭3 (G4 on Maren's horn) 12 cents sharp, for as long as the test may take to listen.
NOTE = softened(steady(233.082 * 2 ** (12 / 1200), 12.0))


@pytest.mark.microphone
def test_a_note_is_blown_named_kept_and_thrown_away(
    server: Server, launch: Launch, tmp_path: Path
) -> None:
    wav = tmp_path / "note.wav"
    soundfile.write(wav, np.concatenate((silence(1.0), NOTE)), RATE, subtype="PCM_16")
    with page_of(launch(microphone=wav), server) as page:
        page.keyboard.press("7")
        expect(page.get_by_role("heading", name="Free")).to_be_visible()
        page.keyboard.press(" ")
        note = page.get_by_role("region", name="The note")
        expect(note).to_contain_text("G4", timeout=20_000)
        expect(note).to_contain_text(re.compile("1[123] cents sharp"))
        expect(note).to_contain_text("sounds B♭3, open, partial 3")
        page.keyboard.press(" ")
        played = page.get_by_role("region", name="What you played")
        expect(played).to_contain_text("Longest hold: G4")
        expect(played.get_by_role("row", name=re.compile("^G4"))).to_be_visible()
        page.keyboard.press("x")
        expect(played).to_contain_text("Thrown away.")
        page.get_by_role("button", name="Bring it back").click()
        page.get_by_role("button", name="Hear it, and see it").click()
        expect(page.get_by_role("heading", name=re.compile("^Played "))).to_be_visible()


def test_a_microphone_that_is_not_allowed_is_said_and_while_it_hurts_it_waits(
    server: Server, launch: Launch
) -> None:
    with page_of(launch(allowed=False), server) as page:
        page.keyboard.press("7")
        page.get_by_role("button", name="Listen").first.click()
        expect(page.get_by_text("The microphone is not allowed")).to_be_visible()
        page.request.post(f"{server.url}/api/players/1/hurts", headers={"Origin": server.url})
        page.keyboard.press("1")
        page.keyboard.press("7")
        expect(page.get_by_text("Something hurt, so playing waits.")).to_be_visible()
        expect(page.get_by_role("button", name="Listen").first).to_be_disabled()


def test_a_path_is_followed_by_hand(server: Server, launch: Launch) -> None:
    with page_of(launch(), server) as page:
        open_exercise(page, "Low long tones")
        path = page.get_by_role("region", name="Your path")
        expect(path).to_contain_text("Step 5 of 39: notes 7. 0 of 2 good days.")
        expect(path).to_contain_text("Next: notes 8.")
        page.keyboard.press(">")
        expect(path).to_contain_text("Step 6 of 39: notes 8.")
        page.keyboard.press("<")
        page.keyboard.press("<")
        expect(path).to_contain_text("Step 4 of 39: notes 6.")
        page.keyboard.press("p")
        expect(page.get_by_label("notes", exact=True)).to_have_value("6")
        # It is kept.
        page.reload()
        expect(path).to_contain_text("Step 4 of 39: notes 6.")
        page.keyboard.press("1")
        page.get_by_role("button", name=re.compile("why this")).first.wait_for()
