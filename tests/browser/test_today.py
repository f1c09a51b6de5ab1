"""Today in the real interface: from the first run to the first exercise, and what changes a day."""

import json
import re
import sqlite3
from collections.abc import Iterator
from contextlib import closing
from datetime import date
from pathlib import Path

import httpx
import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import Launch, Server, page_of

ABOUT = {"experience": "some-years", "wish": "up", "minutes": 40, "days_a_week": 5}
QUICK = """
localStorage.setItem('orexis-clock', '40');
localStorage.setItem('orexis-stand-1', JSON.stringify({source: 'stand-in'}));
"""


@pytest.fixture
def empty(tmp_path: Path) -> Iterator[Server]:
    server = Server(tmp_path / "orexis.db")
    yield server
    server.stop()


def to_today(page: Page) -> None:
    page.keyboard.press("1")
    expect(page.get_by_role("button", name="Start Enter", exact=True)).to_be_visible()


def titles(page: Page) -> list[str]:
    plan = page.get_by_role("list", name="The plan")
    expect(plan).to_be_visible()
    return plan.locator(".title").all_inner_texts()


def planned(server: Server) -> list[str]:
    """The exercises of the newest session, in order."""
    with closing(sqlite3.connect(f"file:{server.data}?mode=ro", uri=True)) as data:
        (plan,) = data.execute("SELECT plan FROM sessions ORDER BY started_at DESC").fetchone()
    return [block["title"] for block in json.loads(plan)["blocks"]]


def test_from_the_first_run_to_the_first_exercise(empty: Server, launch: Launch) -> None:
    context = launch().new_context(viewport={"width": 1280, "height": 800})
    context.add_init_script(QUICK)
    page = context.new_page()
    page.goto(empty.url)
    expect(page.get_by_role("heading", name="Blow a note.")).to_be_visible()
    page.keyboard.press("n")
    page.get_by_label("Name", exact=True).fill("Pia")
    page.get_by_label("Instrument").select_option("cornet-bb")
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name="About you, Pia")).to_be_visible()
    page.get_by_label("You have played for").select_option("a few weeks")
    expect(page.get_by_text("Full breaths can make you dizzy at first")).to_be_visible()
    page.get_by_label("Time a day").fill("15")
    page.get_by_role("button", name="Keep, and plan").click()
    # No menu: what to do is there, and so is the way into it.
    expect(page.get_by_role("heading", name="buzz, then long notes.")).to_be_visible()
    assert titles(page)[:2] == ["Full breath", "First buzz"]
    page.keyboard.press("Enter")
    # The clock runs forty times as fast: what is there only for a while may be over.
    session = page.get_by_role("list", name="The session")
    expect(session.get_by_role("listitem").nth(1)).to_contain_text("First buzz")
    assert planned(empty)[:2] == ["Full breath", "First buzz"]
    context.close()


def test_a_plan_is_reordered_by_key_and_by_hand_and_played_so(
    server: Server, launch: Launch
) -> None:
    httpx.put(f"{server.url}/api/players/1/about", json=ABOUT).raise_for_status()
    with page_of(launch(), server, QUICK) as page:
        to_today(page)
        before = titles(page)
        for key in ["ArrowDown"] * 3 + ["["]:
            page.keyboard.press(key)
        expect(page.get_by_text("The order is not the usual one")).to_be_visible()
        moved = [before[0], before[1], before[3], before[2], *before[4:]]
        assert titles(page) == moved
        # And the last one by hand to the beginning.
        plan = page.get_by_role("list", name="The plan").locator("> li")
        plan.last.drag_to(plan.first)
        expect(plan.first.locator(".title")).to_have_text(moved[-1])
        page.keyboard.press("ArrowDown")
        page.keyboard.press("x")
        expect(plan).to_have_count(len(before) - 1)
        page.keyboard.press("w")
        expect(
            page.get_by_text(re.compile("was last played|has not been played")).first
        ).to_be_visible()
        wanted = titles(page)
        page.keyboard.press("Enter")
        session = page.get_by_role("list", name="The session")
        exercises = session.get_by_role("listitem").filter(has_not_text="Check before")
        expect(exercises).to_have_count(len(wanted))
        assert [one for one in planned(server) if not one.startswith("Check before")] == wanted


def test_minutes_lips_and_quiet_hours_make_another_day(server: Server, launch: Launch) -> None:
    httpx.put(f"{server.url}/api/players/1/about", json=ABOUT).raise_for_status()
    with page_of(launch(), server) as page:
        to_today(page)
        asked = page.get_by_role("group", name="What the plan is for")
        page.keyboard.press("-")
        expect(asked).to_contain_text("Minutes 35")
        page.keyboard.press("l")
        expect(page.get_by_text("Your lips are tired: shorter, and nothing high.")).to_be_visible()
        page.keyboard.press("l")
        expect(page.get_by_role("heading", name="easy, or rest.")).to_be_visible()
        expect(page.get_by_text("ask a doctor or dentist")).to_be_visible()
        page.keyboard.press("l")
        page.keyboard.press("q")
        expect(page.get_by_role("heading", name="the mouthpiece alone.")).to_be_visible()
        # It is the same plan after a reload.
        page.reload()
        expect(page.get_by_role("heading", name="the mouthpiece alone.")).to_be_visible()


def test_an_approach_is_changed_and_the_plan_follows(server: Server, launch: Launch) -> None:
    httpx.put(f"{server.url}/api/players/1/about", json=ABOUT).raise_for_status()
    with page_of(launch(), server) as page:
        to_today(page)
        assert "Siren" in titles(page)
        page.keyboard.press("o")
        expect(page.get_by_role("heading", name="Going up: how loud?")).to_be_visible()
        for _ in range(10):
            page.keyboard.press("ArrowDown")
        expect(page.get_by_role("heading", name="Buzzing?")).to_be_visible()
        page.keyboard.press("b")
        asked = page.get_by_role("list", name="Questions").get_by_role("button", name="Buzzing?")
        expect(asked).to_contain_text("as a diagnosis only")
        page.keyboard.press("m")
        expect(page.get_by_text("Measured until")).to_be_visible()
        page.get_by_role("button", name="Stop measuring").click()
        expect(page.get_by_text("Measure both:")).to_be_visible()
        page.keyboard.press("Escape")
        expect(page.get_by_role("button", name="Start Enter", exact=True)).to_be_visible()
        assert "Siren" not in titles(page)


def test_something_hurts_and_the_days_after(server: Server, launch: Launch) -> None:
    httpx.put(f"{server.url}/api/players/1/about", json=ABOUT).raise_for_status()
    with page_of(launch(), server) as page:
        page.keyboard.press("h")
        expect(page.get_by_role("heading", name="Put the horn down.")).to_be_visible()
        to_today(page)
        expect(page.get_by_text("play nothing until you say")).to_be_visible()
        # Cleared: a share of the usual, and more each week.
        httpx.delete(f"{server.url}/api/players/1/hurts").raise_for_status()
        page.keyboard.press("r")
        expect(page.get_by_text("30 % of your time this week, more next.")).to_be_visible()
        expect(page.get_by_text(re.compile(r"^[A-G].?\d to [A-G].?\d$")).first).to_be_visible()
        with closing(sqlite3.connect(server.data)) as data:
            data.execute("UPDATE hurts SET at = datetime(at, '-20 days'), "
                         "cleared_at = datetime(cleared_at, '-15 days')")  # fmt: skip
            data.commit()
        page.keyboard.press("r")
        expect(page.get_by_text("70 % of your time this week, more next.")).to_be_visible()


def test_a_programme_is_followed_and_a_concert_looked_ahead_to(
    server: Server, launch: Launch
) -> None:
    with page_of(launch(), server) as page:
        to_today(page)
        page.keyboard.press("g")
        expect(page.get_by_role("heading", name="Pedal sets")).to_be_visible()
        page.keyboard.press("b")
        expect(page.get_by_text("you are here")).to_be_visible()
        page.keyboard.press("Space")
        expect(page.get_by_text("Paused since").first).to_be_visible()
        page.keyboard.press("Space")
        coming = page.get_by_role("region", name="Coming dates")
        day = page.evaluate("new Date(Date.now() + 86400000).toLocaleDateString('sv')")
        coming.get_by_role("button", name="Open calendar").click()
        page.locator(".date-day:not([data-disabled])").first.click()
        today = date.today()
        typed = coming.get_by_role("textbox", name="Day")
        expect(typed).to_have_value(f"{today.day} {today:%B %Y}")
        typed.fill(day)
        coming.get_by_label("In a few words").fill("The centenary")
        coming.get_by_role("button", name="add it").click()
        expect(coming.get_by_role("listitem")).to_contain_text("The centenary")
        page.evaluate("document.activeElement.blur()")
        page.keyboard.press("Escape")
        expect(page.get_by_text("The centenary is tomorrow, so there is less.")).to_be_visible()
        expect(page.get_by_role("region", name="Programmes")).to_contain_text("2 sets of 20")


def test_the_server_gone_is_said_and_mended(server: Server, launch: Launch) -> None:
    with page_of(launch(), server) as page:
        page.route("**/today", lambda route: route.abort())
        page.keyboard.press("1")
        expect(page.get_by_text("Orexis has stopped answering")).to_be_visible()
        page.unroute("**/today")
        page.get_by_role("button", name="Try again").click()
        expect(page.get_by_role("button", name="Start Enter", exact=True)).to_be_visible()
