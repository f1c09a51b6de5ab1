"""The book, driven in the real interface."""

import re
from pathlib import Path

import numpy as np
import pytest
import soundfile
from playwright.sync_api import Page, expect

from orexis.formats.midi import midi_of
from tests.browser.conftest import Launch, Server, page_of
from tests.core.exercises.writing import task
from tests.sounds import RATE, silence, softened, steady


def open_exercise(page: Page, title: str) -> None:
    page.keyboard.press("5")
    expect(page.get_by_role("heading", name="Book")).to_be_visible()
    page.get_by_role("link", name=re.compile(f"^{title}")).click()
    expect(page.get_by_role("heading", name=title, level=1)).to_be_visible()


def test_an_exercise_is_found_by_keys_alone_and_played_on_the_stand(
    server: Server, launch: Launch
) -> None:
    with page_of(launch(), server) as page:
        page.keyboard.press("5")
        expect(page.get_by_role("link", name=re.compile("^Full breath"))).to_be_visible()
        # Three groups on is long tones; the second of them is the long tone.
        for _ in range(3):
            page.keyboard.press("ArrowRight")
        page.keyboard.press("ArrowDown")
        page.keyboard.press("Enter")
        expect(page.get_by_role("heading", name="Long tone", level=1)).to_be_visible()
        page.get_by_label("hold, s").fill("7")
        page.get_by_label("hold, s").press("Tab")
        what_is_set = page.get_by_role("form", name="What is set")
        # What is in the music, not the first of what could be.
        expect(what_is_set.get_by_label("note")).to_have_value("58")
        what_is_set.get_by_label("note").select_option(label="A♭4")
        expect(page.get_by_role("img", name="A♭4, free.")).to_be_visible()
        page.get_by_role("heading", name="Long tone", level=1).click()
        page.keyboard.press("Enter")
        expect(page.get_by_text("air attack, hold 7 s")).to_be_visible()
        expect(page.get_by_role("img", name="A♭4", exact=True)).to_be_visible()


def test_the_music_follows_what_is_set_and_what_cannot_be_says_why(
    server: Server, launch: Launch
) -> None:
    with page_of(launch(), server) as page:
        open_exercise(page, "Lip slur")
        music = page.get_by_role("img", name=re.compile("free, 3 times"))
        expect(music).to_have_attribute("aria-label", "G4 C5 G4, free, 3 times.")
        page.get_by_label("partials", exact=True).fill("3")
        page.get_by_label("partials", exact=True).press("Tab")
        expect(music).to_have_attribute("aria-label", "G4 C5 E5 C5 G4, free, 3 times.")
        page.get_by_label("partials", exact=True).fill("9")
        page.get_by_label("partials", exact=True).press("Tab")
        expect(page.get_by_role("alert")).to_contain_text("partials: 2 to 7, not 9")
        # The music is still there, as it was.
        expect(music).to_have_attribute("aria-label", "G4 C5 E5 C5 G4, free, 3 times.")
        page.get_by_role("heading", name="Lip slur").click()
        page.keyboard.press("u")
        expect(page.get_by_role("alert")).to_have_count(0)
        expect(music).to_have_attribute("aria-label", "G4 C5 G4, free, 3 times.")


@pytest.mark.deep
def test_what_was_set_is_still_set_when_one_comes_back(server: Server, launch: Launch) -> None:
    with page_of(launch(), server) as page:
        open_exercise(page, "Slur pyramid")
        page.get_by_label("partials at most").fill("4")
        page.get_by_label("partials at most").press("Tab")
        described = "C4 G4 C5 G4 C4 C4 G4 C5 E5 C5 G4 C4, free."
        expect(page.get_by_role("img", name=described)).to_be_visible()
        page.keyboard.press("Escape")
        expect(page.get_by_role("heading", name="Book")).to_be_visible()
        page.reload()
        open_exercise(page, "Slur pyramid")
        expect(page.get_by_role("img", name=described)).to_be_visible()
        # On to another page from here.
        page.get_by_role("link", name="on to Skip slur").click()
        expect(page.get_by_role("heading", name="Skip slur")).to_be_visible()
        expect(page.get_by_role("img", name=re.compile("^C5 G4|^E5 G4"))).to_be_visible()


def test_an_exercise_is_heard_and_stopped(server: Server, launch: Launch) -> None:
    with page_of(launch(), server) as page:
        open_exercise(page, "Next note")
        page.keyboard.press("Space")
        expect(page.get_by_role("button", name="Space stop")).to_be_visible()
        page.keyboard.press("Space")
        expect(page.get_by_role("button", name="Space hear it")).to_be_visible()
        open_exercise(page, "Full breath")
        expect(page.get_by_role("button", name="Space hear it")).to_be_disabled()


def test_an_exercise_is_carried_away_and_printed(
    server: Server, launch: Launch, tmp_path: Path
) -> None:
    with page_of(launch(), server) as page:
        open_exercise(page, "Slur pyramid")
        expect(page.get_by_role("img", name=re.compile("^C4 G4"))).to_be_visible()
        for key, name in (("x", "pyramid.musicxml"), ("m", "pyramid.mid")):
            with page.expect_download() as download:
                page.keyboard.press(key)
            assert download.value.suggested_filename == name
        page.emulate_media(media="print")
        expect(page.get_by_role("navigation", name="Places")).to_be_hidden()
        expect(page.get_by_role("img", name=re.compile("^C4 G4"))).to_be_visible()
        for paper in ("A4", "Letter"):
            assert page.pdf(format=paper).startswith(b"%PDF")


def test_what_this_horn_cannot_do_stands_last_with_the_reason(
    server: Server, launch: Launch
) -> None:
    with page_of(launch(), server) as page:
        page.keyboard.press("5")
        high = page.get_by_role("region", name="high").get_by_role("link")
        expect(high.last).to_contain_text("Valves cannot glide")
        high.last.click()
        # Its page says so, and the way on; the list before it says the same of two.
        choose = page.get_by_role("link", name="Choose another")
        expect(choose).to_be_visible()
        expect(page.get_by_text("Take the chromatic ladder")).to_be_visible()
        expect(page.get_by_role("button", name="O on paper")).to_be_disabled()
        choose.click()
        expect(page.get_by_role("heading", name="Book")).to_be_visible()


def test_a_recording_is_judged_and_the_spot_is_marked_in_the_music(
    server: Server, launch: Launch, tmp_path: Path
) -> None:
    # G4 C5 G4 on Maren's horn sound B♭3 E♭4 B♭3; between the first two there is a gap.
    tones = [softened(steady(440 * 2 ** ((midi - 69) / 12), 1.2)) for midi in (58, 63, 58)]
    parts = (silence(0.5), tones[0], silence(0.15), tones[1][:-400], tones[2], silence(0.5))
    path = tmp_path / "slurs.wav"
    soundfile.write(path, np.concatenate(parts), RATE)
    with page_of(launch(), server) as page:
        open_exercise(page, "Lip slur")
        page.get_by_label("repetitions").fill("1")
        page.get_by_label("repetitions").press("Tab")
        expect(page.get_by_role("img", name="G4 C5 G4, free.")).to_be_visible()
        page.get_by_label("A recording of it").set_input_files(path)
        verdict = page.get_by_role("heading", name=re.compile("^A [0-9]+ ms gap before C5"))
        expect(verdict).to_be_visible()
        expect(page.locator("#step-1.missed")).to_have_count(1)
        expect(page.locator("#step-0.missed")).to_have_count(0)
        page.get_by_role("link", name="Hear it, and see it on the ribbon").click()
        expect(page.get_by_role("heading", name="slurs.wav")).to_be_visible()


@pytest.mark.deep
def test_a_slur_is_played_on_the_stand_repetition_by_repetition(
    server: Server, launch: Launch
) -> None:
    with page_of(launch(), server) as page:
        page.goto(f"{server.url}/#/book/lip-slur")
        expect(page.get_by_role("img", name="G4 C5 G4, free, 3 times.")).to_be_visible()
        page.get_by_label("beats a note").fill("1")
        page.get_by_label("repetitions").fill("2")
        expect(page.get_by_role("img", name="G4 C5 G4, free, 2 times.")).to_be_visible()
        page.keyboard.press("Tab")
        page.evaluate("document.activeElement.blur()")
        page.keyboard.press("Enter")
        expect(page.get_by_role("heading", name="Lip slur")).to_be_visible()
        music = page.get_by_role("img", name="G4 C5 G4, free.")
        expect(music).to_be_visible()
        page.keyboard.press("s")
        # While it sounds the music follows: the second note is reached, and named large.
        expect(music.locator("#step-1.at")).to_be_attached()
        expect(page.get_by_role("img", name="C5", exact=True)).to_be_visible()
        expect(page.get_by_role("heading", name="Good.")).to_be_visible()
        expect(page.get_by_text("1 of 2")).to_be_visible()
        expect(music.locator(".met[id^=step-]")).to_have_count(3)
        expect(page.get_by_role("button", name="stand-in plays")).to_be_enabled()
        page.keyboard.press("Space")
        expect(page.get_by_text("all 2 done")).to_be_visible()
        # What it leads to is a key away, and so is its page.
        expect(
            page.get_by_role("button", name="on to Through the fingerings or positions")
        ).to_be_visible()
        page.keyboard.press("e")
        expect(page.get_by_role("img", name="G4 C5 G4, free, 2 times.")).to_be_visible()
        page.keyboard.press("Enter")
        expect(music).to_be_visible()
        # Another length is a key away; what is on the Stand is there again after a reload.
        page.keyboard.press("ArrowDown")
        expect(page.get_by_role("img", name="F♯4 B4 F♯4, free.")).to_be_visible()
        page.reload()
        expect(page.get_by_role("img", name="F♯4 B4 F♯4, free.")).to_be_visible()
    first, second = server.takes()
    assert first["span"] == second["span"] == ["G4", "C5"]


def test_what_cannot_be_is_said_and_what_was_there_stays(server: Server, launch: Launch) -> None:
    with page_of(launch(), server) as page:
        page.goto(f"{server.url}/#/book/lip-slur")
        page.get_by_label("partials").first.wait_for()
        page.keyboard.press("Enter")
        # Its page in the Book has the same title and music: the Stand is there with its note.
        expect(page.get_by_role("region", name="Now")).to_be_visible()
        expect(page.get_by_role("img", name="G4 C5 G4, free.")).to_be_visible()
        said = page.get_by_role("alert")
        # A press that comes while the one before it is on its way is none.
        for _ in range(60):
            if said.is_visible():
                break
            page.keyboard.press("+")
            page.wait_for_timeout(120)
        expect(said).to_be_visible()
        expect(page.get_by_role("region", name="Now")).to_be_visible()


def test_a_line_is_tapped_kept_changed_played_and_deleted(server: Server, launch: Launch) -> None:
    with page_of(launch(), server) as page:
        page.keyboard.press("5")
        expect(page.get_by_role("heading", name="Book")).to_be_visible()
        page.keyboard.press("n")
        expect(page.get_by_role("heading", name="Your own line")).to_be_visible()
        taps = page.get_by_role("region", name="Slots to tap")
        taps.get_by_role("button", name="all of it away").click()
        # B♭3 and E♭4 on the open horn, which Maren reads as G4 and C5; a breath; G4 an octave long.
        taps.get_by_role("button", name="G4, open, partial 3").click()
        taps.get_by_role("button", name="C5, open, partial 4").click()
        expect(page.get_by_role("img", name="G4 C5, free.")).to_be_visible()
        page.keyboard.press("b")
        page.keyboard.press("ArrowDown")
        for _ in range(2):
            page.keyboard.press(".")
        page.keyboard.press("t")
        expect(page.get_by_role("img", name="G4 C5 G4, free.")).to_be_visible()
        expect(page.get_by_label("notes")).to_have_value("~Bb3@0.3:1 ~Eb4@0.4:1 ' ~Bb3@0.3:2")
        page.keyboard.press("Backspace")
        expect(page.get_by_role("img", name="G4 C5, free.")).to_be_visible()
        page.keyboard.press("k")
        page.get_by_label("What is it called?").fill("Two steps")
        page.keyboard.press("Enter")
        expect(page.get_by_role("heading", name="Two steps")).to_be_visible()
        # Changed and kept again, it is the same one.
        page.get_by_label("repetitions").fill("2")
        expect(page.get_by_role("img", name="G4 C5, free, 2 times.")).to_be_visible()
        page.get_by_role("heading", name="Two steps").click()
        with page.expect_response(re.compile("/own/")) as changed:
            page.keyboard.press("k")
        assert changed.value.ok
        page.keyboard.press("5")
        yours = page.get_by_role("region", name="yours").get_by_role("link")
        expect(yours).to_have_count(1)
        yours.click()
        expect(page.get_by_role("img", name="G4 C5, free, 2 times.")).to_be_visible()
        page.keyboard.press("Enter")
        expect(page.get_by_role("region", name="Now")).to_be_visible()
        page.keyboard.press("s")
        expect(page.get_by_text("1 of 2")).to_be_visible()
        page.keyboard.press("5")
        page.get_by_role("link", name="Two steps").click()
        expect(page.get_by_role("heading", name="Two steps")).to_be_visible()
        page.keyboard.press("Delete")
        expect(page.get_by_role("heading", name="Book")).to_be_visible()
        expect(page.get_by_role("region", name="yours")).to_have_count(0)
        page.get_by_role("button", name="Bring it back").click()
        expect(page.get_by_role("heading", name="Two steps")).to_be_visible()


def test_a_melody_comes_in_and_what_is_none_says_so(
    server: Server, launch: Launch, tmp_path: Path
) -> None:
    (tmp_path / "page.xml").write_text("<html/>")
    melody = task("melody", "tenor-horn-eb", tune="slack-water", from_midi="C4")
    (tmp_path / "slack.mid").write_bytes(midi_of(melody.score, "Slack Water"))
    with page_of(launch(), server) as page:
        page.keyboard.press("5")
        expect(page.get_by_role("heading", name="Book")).to_be_visible()
        page.get_by_label("A melody").set_input_files(tmp_path / "page.xml")
        expect(page.get_by_role("alert")).to_contain_text("page.xml is no MusicXML or MIDI")
        page.get_by_label("A melody").set_input_files(tmp_path / "slack.mid")
        part = page.get_by_role("button", name="Slack Water 18 notes, A4 to F♯5")
        expect(part).to_be_visible()
        part.click()
        music = page.get_by_role("img", name=re.compile("^E5 D5 C♯5 B4"))
        expect(music).to_be_visible()
        # A third lower: six notes of the tune are no longer those.
        page.get_by_label("moved by").fill("-3")
        expect(page.get_by_role("img", name=re.compile("^C♯5 B4 B♭4"))).to_be_visible()
