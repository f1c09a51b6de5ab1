"""Playing without a task, and the path of an exercise, driven in the real interface."""

import re
from pathlib import Path

import numpy as np
import pytest
import soundfile
from playwright.sync_api import expect

from tests.browser.conftest import Launch, Server, page_of
from tests.browser.test_book import open_exercise
from tests.sounds import RATE, noise, silence, softened, steady

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
        expect(played).to_contain_text("Deleted.")
        page.get_by_role("button", name="Bring it back").click()
        page.get_by_role("button", name="Hear it, and see it").click()
        expect(page.get_by_role("heading", name=re.compile("^Played "))).to_be_visible()


@pytest.mark.deep
@pytest.mark.microphone
def test_what_keeps_the_microphone_from_hearing_well_is_said_and_shown(
    server: Server, launch: Launch, tmp_path: Path
) -> None:
    wav = tmp_path / "hum.wav"
    sound = np.concatenate((silence(3.0), NOTE)) / 2
    time_s = np.arange(len(sound)) / RATE
    hum = sum(np.sin(2 * np.pi * 50 * order * time_s) / order for order in (1, 2, 3, 5))
    soundfile.write(wav, sound + 0.005 * hum + noise(len(sound) / RATE, 0.0005), RATE, "PCM_16")
    with page_of(launch(microphone=wav), server) as page:
        page.goto(f"{server.url}/#/free/now")
        note = page.get_by_role("region", name="The note")
        expect(note.get_by_role("status")).to_contain_text(
            "The microphone picks up mains hum at 50 Hz.", timeout=20_000
        )
        page.keyboard.press("m")
        dialog = page.get_by_role("dialog", name="How well the microphone hears you")
        expect(dialog).to_contain_text("Try without the charger")
        expect(dialog).to_contain_text(re.compile(r"Your notes\s*−1\d to −1\d dB|−1\d dB"))
        page.keyboard.press("Escape")
        expect(dialog).not_to_be_visible()
        # By a tap as by key.
        page.get_by_role("button", name="The microphone picks up mains hum").click()
        expect(dialog).to_be_visible()
        page.keyboard.press("Escape")
        page.keyboard.press(" ")


@pytest.mark.deep
def test_a_metronome_and_a_drone_sound_by_themselves_wherever_one_is(
    server: Server, launch: Launch
) -> None:
    with page_of(launch(), server) as page:
        page.keyboard.press("5")
        expect(page.get_by_role("heading", name="Book")).to_be_visible()
        page.keyboard.press("8")
        metronome = page.get_by_role("region", name="Metronome")
        expect(metronome).to_contain_text("80 a minute")
        # The bar that is counted in, then the first.
        expect(metronome).to_contain_text("breathe")
        expect(metronome).to_contain_text("bar 1")
        page.keyboard.press(")")
        page.keyboard.press(")")
        expect(metronome).to_contain_text("84 a minute")
        metronome.get_by_text("84").hover()
        page.mouse.wheel(0, -100)
        expect(metronome).to_contain_text("85 a minute")
        page.keyboard.press("(")
        expect(metronome).to_contain_text("83 a minute")
        page.mouse.wheel(0, -100)
        expect(metronome).to_contain_text("84 a minute")
        metronome.get_by_label("Beats in a bar").select_option("3 + 2")
        page.keyboard.press("4")
        expect(page.get_by_role("heading", level=1)).not_to_have_text("Book")
        expect(metronome).to_contain_text("84 a minute")
        metronome.get_by_role("button", name="more settings").click()
        metronome.get_by_label("Sounding, bars").fill("1")
        metronome.get_by_label("Then silent, bars").fill("1")
        metronome.get_by_label("Then silent, bars").blur()
        expect(metronome).to_contain_text("silent: keep the time")
        page.keyboard.press("8")
        expect(metronome).to_be_hidden()
        # It is as it was set, the next time too.
        page.reload()
        expect(page.get_by_role("heading", level=1)).to_be_visible()
        page.keyboard.press("8")
        expect(metronome).to_contain_text("84 a minute")
        page.keyboard.press("8")
        page.keyboard.press("9")
        drone = page.get_by_role("region", name="Drone")
        # The note her Stand begins on, then its upper octave and a half step more.
        expect(drone).to_contain_text("G4 sounds B♭3")
        drone.get_by_role("button", name="octave up").click()
        drone.get_by_role("button", name="A half step higher").click()
        expect(drone).to_contain_text("sounds B4")
        page.keyboard.press("9")
        expect(drone).to_be_hidden()


@pytest.mark.deep
@pytest.mark.microphone
def test_what_is_played_to_a_metronome_and_a_drone_is_told_against_them(
    server: Server, launch: Launch, tmp_path: Path
) -> None:
    # B♭3 and the F above it, pure, in turn.
    notes = [softened(steady(hz, 0.45)) for hz in (233.082, 349.623)] * 20
    wav = tmp_path / "fifths.wav"
    sound = np.concatenate([part for note in notes for part in (note, silence(0.3))])
    soundfile.write(wav, np.concatenate((silence(1.0), sound)), RATE, subtype="PCM_16")
    with page_of(launch(microphone=wav), server) as page:
        page.keyboard.press("7")
        page.keyboard.press("9")
        drone = page.get_by_role("region", name="Drone")
        expect(drone).to_contain_text("G4 sounds B♭3")
        page.keyboard.press(" ")
        note = page.get_by_role("region", name="The note")
        expect(note).to_contain_text("a fifth above the drone", timeout=20_000)
        page.keyboard.press("8")
        expect(page.get_by_role("region", name="Metronome")).to_contain_text("bar 2")
        page.keyboard.press("n")
        expect(page.get_by_text("1 marked")).to_be_visible()
        page.keyboard.press(" ")
        played = page.get_by_role("region", name="What you played")
        expect(played).to_contain_text("Against 80 beats a minute")
        page.get_by_role("button", name="Hear it, and see it").click()
        expect(page.get_by_text("marked while playing").first).to_be_visible()


@pytest.mark.deep
@pytest.mark.microphone
def test_whoever_comes_first_blows_a_note_and_says_afterwards_whose_it_was(
    server: Server, launch: Launch, tmp_path: Path
) -> None:
    wav = tmp_path / "note.wav"
    soundfile.write(wav, np.concatenate((silence(1.0), NOTE)), RATE, subtype="PCM_16")
    page = launch(microphone=wav).new_page()
    page.goto(server.url)
    expect(page.get_by_role("heading", name="Blow a note.")).to_be_visible()
    page.keyboard.press(" ")
    note = page.get_by_role("region", name="The note")
    # As it sounds, since nobody has said on which horn.
    expect(note).to_contain_text("B♭3", timeout=20_000)
    explained = page.get_by_role("list", name="Reading the ribbon")
    expect(explained).to_contain_text("on the line you are in tune")
    page.keyboard.press(" ")
    whose = page.get_by_role("region", name="Whose was it?")
    whose.get_by_role("button", name="Maren").click()
    played = page.get_by_role("region", name="What you played")
    expect(played).to_contain_text("Longest hold: G4", timeout=20_000)
    expect(whose).to_be_hidden()
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


def test_the_guide_opens_where_one_is_and_is_looked_through(server: Server, launch: Launch) -> None:
    with page_of(launch(), server) as page:
        page.keyboard.press("7")
        expect(page.get_by_role("heading", name="Free")).to_be_visible()
        page.keyboard.press("?")
        page.get_by_role("link", name=re.compile("^The guide")).click()
        expect(page.get_by_role("heading", name="Your first note")).to_be_in_viewport()
        page.keyboard.press("/")
        page.keyboard.type("echo noise")
        expect(page.get_by_role("heading", level=2)).to_have_text("Microphone and room")
        page.keyboard.type(" nowhere")
        expect(page.get_by_text("Nothing in the guide has all of these words.")).to_be_visible()
