"""The range in the real interface: nothing yet, then a take that was played."""

import re
from datetime import date
from pathlib import Path

import numpy as np
import pytest
from playwright.sync_api import expect

from tests.browser.conftest import Launch, Server, page_of
from tests.browser.test_accessibility import check
from tests.sounds import silence, softened, steady


def test_the_range_is_seen_and_heard_by_keys_alone(server: Server, launch: Launch) -> None:
    with page_of(launch(), server) as page:
        page.keyboard.press("6")
        expect(page.get_by_role("heading", name="Nothing to see of your range yet")).to_be_visible()
        # B♭3 for 4.5 s, which Maren reads as G4.
        server.play(np.concatenate((silence(0.6), softened(steady(233.082, 4.5)), silence(1.5))))
        page.keyboard.press("2")
        expect(page.get_by_role("region", name="Now")).to_be_visible()
        page.keyboard.press("6")
        expect(page.get_by_role("heading", name="Held from G4 to G4.")).to_be_visible()
        note = page.get_by_role("region", name="The note")
        expect(note.get_by_role("img", name="G4", exact=True)).to_be_visible()
        expect(note).to_contain_text("held since")
        expect(note).to_contain_text("spoke 1 of 1 time")
        page.keyboard.press("ArrowRight")
        expect(note.get_by_role("img", name="A♭4", exact=True)).to_be_visible()
        expect(note).to_contain_text("not played yet")
        expect(note.get_by_role("button", name="last")).to_be_disabled()
        page.keyboard.press("ArrowLeft")
        expect(note.get_by_role("button", name="last")).to_be_enabled()
        page.keyboard.press("b")
        expect(note.get_by_role("button", name="stop").first).to_be_visible()
        page.keyboard.press("b")
        expect(note.get_by_role("button", name="stop")).to_have_count(0)
        page.keyboard.press("t")
        row = page.get_by_role("row").filter(has_text="range")
        expect(row).to_contain_text("G4")
        check(page)
        page.keyboard.press("t")
        check(page)
        page.set_viewport_size({"width": 390, "height": 844})
        page.emulate_media(color_scheme="dark")
        check(page)
        page.keyboard.press("Enter")
        expect(page.get_by_role("link", name="Save the sound")).to_be_visible()


def test_questions_are_answered_where_there_is_enough_to_tell(
    server: Server, launch: Launch
) -> None:
    with page_of(launch(), server) as page:
        page.goto(f"{server.url}/#/progress/changes")
        expect(page.get_by_role("heading", name="Nothing to compare yet")).to_be_visible()
        server.play(np.concatenate((silence(0.6), softened(steady(233.082, 4.5)), silence(1.5))))
        page.reload()
        early = page.get_by_role("region", name="Too little to tell yet")
        early.get_by_role("button", name="Am I more in tune?").click()
        first = page.get_by_role("region", name="Am I more in tune?")
        expect(first).to_contain_text("Too little to tell yet.")
        expect(first).to_contain_text("so far there are 1 in 1.")
        check(page)
        for _ in range(4):
            page.keyboard.press("ArrowDown")
        right = page.get_by_role("region", name="Do I get more of it right?")
        expect(right).to_be_visible()
        page.keyboard.press("t")
        expect(right.get_by_role("row").nth(1)).to_contain_text("100.0")
        check(page)
        page.keyboard.press("r")
        expect(page.get_by_role("heading", name="Held from G4 to G4.")).to_be_visible()
        page.keyboard.press("c")
        expect(early).to_be_visible()


def test_what_was_kept_is_carried_away_by_key(server: Server, launch: Launch) -> None:
    with page_of(launch(), server) as page:
        server.play(np.concatenate((silence(0.6), softened(steady(233.082, 4.5)), silence(1.5))))
        page.keyboard.press("6")
        expect(page.get_by_role("heading", name="Held from G4 to G4.")).to_be_visible()
        page.keyboard.press("x")
        expect(page.get_by_role("heading", name="Carry it elsewhere")).to_be_visible()
        check(page)
        page.keyboard.press("ArrowDown")
        with page.expect_download() as saved:
            page.keyboard.press("c")
        assert saved.value.suggested_filename == "orexis-notes.csv"
        head, note = saved.value.path().read_text(encoding="utf-8").splitlines()
        assert dict(zip(head.split(","), note.split(","), strict=True))["asked_midi"] == "58"
        page.keyboard.press("Escape")
        expect(page.get_by_role("heading", name="Held from G4 to G4.")).to_be_visible()


def test_days_are_gone_through_by_key_and_set_beside_each_other(
    server: Server, launch: Launch
) -> None:
    with page_of(launch(), server) as page:
        server.play(np.concatenate((silence(0.6), softened(steady(233.082, 4.5)), silence(1.5))))
        page.keyboard.press("6")
        expect(page.get_by_role("heading", name="Held from G4 to G4.")).to_be_visible()
        page.keyboard.press("y")
        today = date.today()
        day = page.get_by_role("region", name=f"{today:%A}, {today.day} {today:%B %Y}")
        expect(day).to_contain_text(re.compile(r"1 attempt, 1 good, [45] s of playing, G4\."))
        cell = page.get_by_role("button", name=f"{today.day} {today:%B}, 1 attempt")
        expect(cell).to_have_attribute("aria-pressed", "true")
        check(page)
        page.keyboard.press("b")
        page.keyboard.press("[")
        # Before anything was played there is nothing to see.
        expect(page.get_by_role("heading", name=f"{today:%B %Y}", exact=True)).to_be_visible()
        page.keyboard.press("r")
        expect(page.get_by_role("heading", name="Held from G4 to G4.")).to_be_visible()
        page.set_viewport_size({"width": 390, "height": 844})
        page.keyboard.press("y")
        expect(day).to_be_visible()
        check(page)


@pytest.mark.deep
@pytest.mark.parametrize(("scheme", "size"), [("light", (1280, 800)), ("dark", (390, 844))])
def test_ten_weeks_are_accessible_whatever_is_asked_of_them(
    band_copy: Path,
    launch: Launch,
    scheme: str,
    size: tuple[int, int],
) -> None:
    server = Server(band_copy)
    try:
        with page_of(launch(), server, color_scheme=scheme) as page:
            page.set_viewport_size({"width": size[0], "height": size[1]})
            page.goto(f"{server.url}/#/progress")
            expect(page.get_by_role("region", name="The note")).to_contain_text("spoke")
            check(page)
            page.goto(f"{server.url}/#/progress/changes")
            questions = page.get_by_role("main").get_by_role("button")
            expect(page.get_by_role("heading", name="Am I more in tune?")).to_be_visible()
            along = {
                "Where do my notes lie?": "A dot is where a note lies now",
                "Do I play more?": "A dot is a day",
                "Do I stay steady as I go on?": "minutes of playing before it that day",
                "Where do I spend my playing time?": "Minutes of playing a week",
            }
            for question, told in along.items():
                questions.filter(has_text=question).click()
                answer = page.get_by_role("region", name=question)
                expect(answer).to_contain_text(told)
                check(page)
                page.keyboard.press("t")
                expect(answer.get_by_role("row").nth(3)).to_be_visible()
                check(page)
                page.keyboard.press("t")
            page.goto(f"{server.url}/#/progress/days")
            expect(page.get_by_role("region", name="Still to go back to")).to_contain_text("Ruven")
            check(page)
            page.goto(f"{server.url}/#/progress/report")
            expect(page.get_by_role("heading", name="Maren")).to_be_visible()
            check(page)
    finally:
        server.stop()
