"""A report in the real interface: made, printed, carried as a zip, answered; and what comes in."""

import io
import json
import re
import zipfile
from datetime import date, timedelta
from pathlib import Path

import numpy as np
import pytest
from playwright.sync_api import Page, expect
from pypdf import PdfReader

from tests.browser.conftest import Launch, Server, page_of
from tests.browser.test_accessibility import check
from tests.sounds import silence, softened, steady

# B♭3 for 4.5 s, which Maren reads as G4.
NOTE = np.concatenate((silence(0.6), softened(steady(233.082, 4.5)), silence(1.5)))
A4_PT, LETTER_PT = (595.3, 841.9), (612.0, 792.0)


def open_report(page: Page) -> None:
    """From Progress by keys alone."""
    page.keyboard.press("6")
    expect(page.get_by_role("heading", name="Held from G4 to G4.")).to_be_visible()
    page.keyboard.press("x")
    expect(page.get_by_role("heading", name="Carry it elsewhere")).to_be_visible()
    page.keyboard.press("r")
    expect(page.get_by_role("heading", name="Report for your teacher")).to_be_visible()
    expect(page.get_by_role("heading", name="Maren")).to_be_visible()


def is_printed_whole(page: Page, paper: str, size_pt: tuple[float, float]) -> None:
    pdf = PdfReader(io.BytesIO(page.pdf(format=paper)))
    for sheet in pdf.pages:
        width, height = float(sheet.mediabox.width), float(sheet.mediabox.height)
        assert abs(width - size_pt[0]) < 2
        assert abs(height - size_pt[1]) < 2
    text = " ".join(sheet.extract_text() for sheet in pdf.pages)
    for said in ("Maren", "The top is tired.", "Held from", "Went best", "Good."):
        assert said in text
    # What is for the screen alone stays on it.
    assert "take in the words" not in text
    assert "Progress" not in text


def test_a_report_is_printed_carried_answered_and_its_words_come_back(
    server: Server, launch: Launch, tmp_path: Path
) -> None:
    browser = launch()
    with page_of(browser, server) as page:
        server.play(NOTE)
        open_report(page)
        page.keyboard.press("w")
        page.keyboard.type("The top is tired.")
        page.keyboard.press("Escape")
        report = page.get_by_role("article").first
        expect(report.get_by_role("heading", name="Maren")).to_be_visible()
        expect(report).to_contain_text("Practice on 1 day: 1 attempt")
        expect(report.get_by_role("region", name="In their own words")).to_have_text(
            "The top is tired."
        )
        expect(page.locator("audio")).to_have_js_property("paused", True)
        page.keyboard.press("Space")
        expect(page.locator("audio")).to_have_js_property("paused", False)
        page.keyboard.press("Space")
        check(page)
        is_printed_whole(page, "A4", A4_PT)
        is_printed_whole(page, "Letter", LETTER_PT)
        page.keyboard.press("-")
        # Seven weeks up to today, today among them.
        shorter = date.today() - timedelta(days=7 * 7 - 1)
        first = page.get_by_role("textbox", name="From")
        expect(first).to_have_value(f"{shorter.day} {shorter:%B %Y}")
        with page.expect_download() as saved:
            page.keyboard.press("s")
        assert re.fullmatch(r"orexis-report-\d{8}\.zip", saved.value.suggested_filename)
        bundle = saved.value.path()
        # Unpacked, it opens by itself: no server, no network.
        with zipfile.ZipFile(bundle) as file:
            file.extractall(tmp_path / "unpacked")
        alone = browser.new_context(offline=True).new_page()
        errors: list[str] = []
        alone.on("pageerror", lambda error: errors.append(str(error)))
        alone.goto((tmp_path / "unpacked/index.html").as_uri())
        expect(alone.get_by_role("heading", name="Maren")).to_be_visible()
        expect(alone.get_by_text("The top is tired.")).to_be_visible()
        alone.keyboard.press("Space")
        expect(alone.locator("audio")).to_have_js_property("paused", False)
        alone.keyboard.press("Space")
        alone.keyboard.press("n")
        alone.get_by_label(re.compile("What is at")).fill("as clean as this")
        alone.keyboard.press("Enter")
        expect(alone.get_by_role("list", name="Bookmarks")).to_contain_text("as clean as this")
        alone.keyboard.press("w")
        alone.get_by_label("Your name").fill("Ruven")
        alone.get_by_label("Your words").fill("Lower shoulders.")
        check(alone)
        with alone.expect_download() as said:
            alone.get_by_role("button", name=re.compile("Save what you say")).click()
        assert said.value.suggested_filename == "orexis-words.json"
        words = tmp_path / "orexis-words.json"
        words.write_bytes(said.value.path().read_bytes())
        assert json.loads(words.read_text())["marks"][0]["words"] == "as clean as this"
        assert errors == []
        # Back home.
        page.get_by_label("Words that came back").set_input_files(words)
        expect(page.get_by_text("Kept: the words of Ruven and 1 bookmark.")).to_be_visible()
        expect(page.get_by_role("region", name="What was said")).to_contain_text("Lower shoulders.")
        page.get_by_label("Words that came back").set_input_files(words)
        expect(page.get_by_text("These words are here already.")).to_be_visible()
        page.keyboard.press("6")
        expect(page.get_by_role("heading", name="Held from G4 to G4.")).to_be_visible()
        expect(page.get_by_role("region", name="The note")).to_contain_text("spoke")
        page.keyboard.press("y")
        open_bookmarks = page.get_by_role("region", name="Still to go back to")
        expect(open_bookmarks).to_contain_text("Ruven: as clean as this")
        page.keyboard.press("g")
        bookmarks = page.get_by_role("list", name="Bookmarks")
        expect(bookmarks).to_contain_text("Ruven: as clean as this")
        page.keyboard.press("g")
        expect(bookmarks).to_contain_text("been there")
        page.go_back()
        month = f"{date.today():%B %Y}"
        expect(page.get_by_role("heading", name=month, exact=True)).to_be_visible()
        expect(open_bookmarks).to_have_count(0)


@pytest.mark.deep
def test_somebody_s_report_is_a_guest_to_be_read(
    server: Server, launch: Launch, tmp_path: Path
) -> None:
    with page_of(launch(), server) as page:
        server.play(NOTE)
        open_report(page)
        with page.expect_download() as saved:
            page.keyboard.press("s")
        bundle = tmp_path / "report.zip"
        bundle.write_bytes(saved.value.path().read_bytes())
        page.keyboard.press("p")
        expect(page.get_by_role("heading", name="Who plays?")).to_be_visible()
        page.get_by_label("A report to read").set_input_files(
            {"name": "x.zip", "mimeType": "application/zip", "buffer": b"no zip"}
        )
        expect(page.get_by_role("alert")).to_contain_text("This report cannot be opened")
        page.get_by_label("A report to read").set_input_files(bundle)
        expect(page.get_by_text("nothing here changes it")).to_be_visible()
        page.keyboard.press("Space")
        expect(page.locator("audio")).to_have_js_property("paused", False)
        page.keyboard.press("Space")
        check(page)
        page.set_viewport_size({"width": 390, "height": 844})
        check(page)
        page.set_viewport_size({"width": 1280, "height": 800})
        page.keyboard.press("Escape")
        guests = page.get_by_role("region", name="Guests")
        expect(guests.get_by_role("link")).to_contain_text("Maren")
        check(page)
        page.keyboard.press("g")
        expect(page.get_by_text("nothing here changes it")).to_be_visible()
        page.keyboard.press("Escape")
        guests.get_by_role("button", name="close the report").click()
        expect(guests.get_by_role("link")).to_have_count(0)


def test_a_log_is_looked_at_then_kept_and_old_sound_let_go(server: Server, launch: Launch) -> None:
    today = date.today()
    log = f"date,minutes,words\n{today},45,long tones\n1/2/2026,30,which?\n"
    with page_of(launch(), server) as page:
        page.goto(f"{server.url}/#/progress/in")
        expect(page.get_by_role("heading", name="Bring something in")).to_be_visible()
        page.get_by_label("A practice log to bring in").set_input_files(
            {"name": "log.csv", "mimeType": "text/csv", "buffer": log.encode()}
        )
        expect(page.get_by_role("heading", name="1 of 2 can be kept.")).to_be_visible()
        expect(page.get_by_role("row").filter(has_text="1/2/2026")).to_contain_text("is no day")
        check(page)
        page.keyboard.press("Enter")
        expect(page.get_by_role("heading", name="1 kept.")).to_be_visible()
        page.keyboard.press("Escape")
        expect(page.get_by_role("heading", name="Carry it elsewhere")).to_be_visible()
        for _ in range(4):
            page.keyboard.press("ArrowDown")
        with page.expect_download() as saved:
            page.keyboard.press("i")
        assert b"Practised 45 min" in saved.value.path().read_bytes()
        page.keyboard.press("s")
        expect(page.get_by_role("heading", name="What takes the room")).to_be_visible()
        expect(page.get_by_text(f"{server.data}-copies")).to_be_visible()
        expect(page.get_by_role("button", name="delete it…")).to_be_disabled()
        check(page)
        page.goto(f"{server.url}/#/progress/days")
        day = page.get_by_role("region", name=f"{today:%A}, {today.day} {today:%B %Y}")
        expect(day).to_contain_text("45 min written down elsewhere: long tones")
        page.keyboard.press("m")
        expect(page.get_by_role("table")).to_have_count(1)
        day.get_by_role("button", name="delete it").click()
        expect(day).to_contain_text("No practice.")
        check(page)
