"""A piece that was played freely, followed bar by bar in the real interface."""

import re
from pathlib import Path

import httpx
import numpy as np
import pytest
import soundfile
from playwright.sync_api import expect

from orexis.standin.performance import perform
from orexis.standin.reading import as_played
from orexis.standin.tone import timbre_of
from tests.browser.conftest import Launch, Server, page_of
from tests.browser.test_listening import drop
from tests.core.exercises.writing import task

_RATE = 44_100
_OWN = "/api/players/1/own"
_LINE = "Bb3:1 C4:1 D4:1 Eb4:1 F4:1 Eb4:1 D4:1 C4:1"


def test_a_recording_is_followed_as_a_piece_and_its_bad_bar_taken_by_itself(
    server: Server, launch: Launch, tmp_path: Path
) -> None:
    with_a_hole = _LINE.replace("D4:1 C4:1", "-:1 C4:1")
    assert with_a_hole.endswith("Eb4:1 -:1 C4:1")
    played = task("own-line", "tenor-horn-eb", line=with_a_hole, tempo=90.0)
    sound = perform(as_played(played.score), timbre_of(39), _RATE).samples
    wav = tmp_path / "rehearsal.wav"
    soundfile.write(wav, sound, _RATE)
    with page_of(launch(), server) as page:
        page.goto(f"{server.url}/#/book/own-line")
        expect(page.get_by_role("heading", name="Your own line", level=1)).to_be_visible()
        page.get_by_label("notes", exact=True).fill(_LINE)
        page.get_by_label("beats a minute, 0 is free").fill("90")
        page.get_by_label("beats a minute, 0 is free").press("Tab")
        page.get_by_role("heading", name="Your own line", level=1).click()
        page.keyboard.press("k")
        page.get_by_label("What is it called?").fill("Steps")
        page.keyboard.press("Enter")
        expect(page.get_by_role("heading", name="Steps", level=1)).to_be_visible()
        page.keyboard.press("3")
        expect(page.get_by_role("heading", name="Nothing played yet")).to_be_visible()
        drop(page, wav.read_bytes(), "rehearsal.wav")
        expect(page.get_by_role("heading", name="rehearsal.wav")).to_be_visible()
        page.get_by_role("link", name="Steps").click()
        bars = page.get_by_role("region", name="Bar by bar")
        expect(bars.get_by_role("heading", level=2)).to_contain_text("Bar 2 needs work.")
        expect(bars).to_contain_text("missed")
        bars.get_by_role("button", name="bar 2").click()
        expect(page.get_by_role("heading", name="Your own line", level=1)).to_be_visible()
        expect(page.get_by_label("notes", exact=True)).to_have_value("F4:1 Eb4:1 D4:1 C4:1")


@pytest.mark.microphone
def test_a_piece_is_followed_while_it_is_played_and_its_bad_bar_leads_back_into_it(
    server: Server, launch: Launch, tmp_path: Path
) -> None:
    values = {"line": _LINE, "tempo": "90"}
    own = {"name": "Steps", "family": "own-line", "values": values}
    httpx.post(f"{server.url}{_OWN}", json=own).raise_for_status()
    # The second note of bar 2 is another one.
    wrong = _LINE.replace("F4:1 Eb4:1", "F4:1 E4:1")
    played = task("own-line", "tenor-horn-eb", line=wrong, tempo=90.0)
    sound = perform(as_played(played.score), timbre_of(39), _RATE).samples
    wav = tmp_path / "steps.wav"
    soundfile.write(wav, np.concatenate((np.zeros(2 * _RATE), sound, np.zeros(20 * _RATE))), _RATE)
    with page_of(launch(microphone=wav), server) as page:
        page.keyboard.press("7")
        expect(page.get_by_role("heading", name="Free")).to_be_visible()
        expect(page.get_by_role("group", name="Follow a piece")).to_be_visible()
        page.keyboard.press("f")
        piece = page.get_by_role("region", name="The piece")
        expect(piece).to_contain_text("begin anywhere")
        page.keyboard.press(" ")
        expect(piece).to_contain_text("bar 2", timeout=20_000)
        # On Maren's horn a major sixth higher than it sounds.
        expect(piece.get_by_role("listitem")).to_have_text("Bar 2 C♯5 for C5", timeout=20_000)
        page.keyboard.press(" ")
        expect(page.get_by_role("region", name="What you played")).to_be_visible()
        page.keyboard.press("b")
        bars = page.get_by_role("region", name="Bar by bar")
        expect(bars.get_by_role("heading", level=2)).to_contain_text("Bar 2 needs work.")
        bars.get_by_role("button", name="slower, at tempo, then with the bars beside").click()
        expect(page.get_by_role("heading", name="Steps, bar 2", level=1)).to_be_visible()


def test_two_recordings_are_laid_beside_each_other_and_heard_from_the_same_spot(
    server: Server, launch: Launch, tmp_path: Path
) -> None:
    def kept(name: str, tempo: float, lead_s: float) -> str:
        score = task("own-line", "tenor-horn-eb", line=_LINE, tempo=tempo).score
        sound = perform(as_played(score), timbre_of(39), _RATE, lead_s=lead_s).samples
        soundfile.write(tmp_path / name, sound, _RATE)
        response = httpx.post(
            f"{server.url}/api/players/1/recordings",
            params={"name": name},
            content=(tmp_path / name).read_bytes(),
            timeout=60,
        )
        return str(response.raise_for_status().json()["id"])

    kept("first.wav", 90.0, 2.0)
    second = kept("second.wav", 120.0, 0.5)
    with page_of(launch(), server) as page:
        page.goto(f"{server.url}/#/recordings/{second}")
        expect(page.get_by_role("heading", name="second.wav")).to_be_visible()
        expect(page.locator("audio")).to_have_count(1)
        page.keyboard.press("c")
        beside = page.get_by_role("region", name="Compared with another recording")
        expect(beside).to_contain_text("The same 8 notes are in both.")
        # 120 beats a minute against 90, by onsets on frames of 10 ms.
        expect(beside).to_contain_text(re.compile(r"This one is 3[234] % faster\."))
        expect(page.locator("audio")).to_have_count(2)
        # The fifth note begins after four beats: 2.5 s here, 2 s and four of 0.667 s there.
        beside.get_by_role("row").nth(5).get_by_role("button").click()
        page.keyboard.press("a")
        expect(beside).to_contain_text("You hear it now.")
        there = page.evaluate("document.querySelectorAll('audio')[1].currentTime")
        assert 4.5 <= there <= 6.5
        page.keyboard.press("c")
        expect(beside).not_to_be_visible()
