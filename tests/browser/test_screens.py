"""What is seen from afar, found by typing, swiped and explained on a picture."""

import gzip
import re
from datetime import datetime

import pytest
from playwright.sync_api import Page, Response, expect

from tests.browser.conftest import Launch, Server, page_of

_AFAR = "localStorage.setItem('orexis-far', 'yes')"
_PHONE = {"width": 390, "height": 844}


def swipe(page: Page, start_x: float, end_x: float, y: float = 60) -> None:
    """Draws a finger across the page."""
    session = page.context.new_cdp_session(page)
    session.send("Emulation.setTouchEmulationEnabled", {"enabled": True})
    for kind, points in (
        ("touchStart", [{"x": start_x, "y": y}]),
        ("touchMove", [{"x": (start_x + end_x) / 2, "y": y}]),
        ("touchMove", [{"x": end_x, "y": y}]),
        ("touchEnd", []),
    ):
        session.send("Input.dispatchTouchEvent", {"type": kind, "touchPoints": points})


@pytest.mark.deep
def test_from_afar_three_things_that_count_stand_beside_the_music(
    server: Server, launch: Launch
) -> None:
    with page_of(launch(), server, _AFAR) as page:
        page.keyboard.press("s")
        expect(page.get_by_role("heading", name="Good.")).to_be_visible(timeout=20_000)
        bars = page.locator(".bars dl > div")
        expect(bars).to_have_count(3)
        expect(bars.first).to_contain_text("15 allowed")
        expect(page.get_by_role("region", name="The stand-in player")).to_have_count(0)
        # Nearer there is everything, and it stays so.
        page.keyboard.press("f")
        expect(page.get_by_role("region", name="The stand-in player")).to_be_visible()
        expect(page.locator(".verdict dl > div").nth(4)).to_be_visible()
        expect(bars).to_have_count(0)


@pytest.mark.one_in(3)
@pytest.mark.parametrize(("width", "height"), [(1280, 800), (1024, 1366), (390, 844)])
def test_the_stand_shows_note_music_sound_and_verdict_without_scrolling(
    server: Server, launch: Launch, width: int, height: int
) -> None:
    with page_of(launch(), server, _AFAR) as page:
        page.goto(f"{server.url}/#/book/lip-slur")
        expect(page.get_by_role("heading", name="Lip slur", level=1)).to_be_visible()
        page.keyboard.press("Enter")
        expect(page.get_by_role("region", name="Now")).to_be_visible()
        page.set_viewport_size({"width": width, "height": height})
        page.keyboard.press("s")
        verdict = page.locator(".verdict h2")
        expect(verdict).to_be_visible(timeout=20_000)
        for part in (page.locator(".now .name"), page.locator(".music svg").first, verdict):
            box = part.bounding_box()
            assert box is not None
            assert box["x"] >= 0
            assert box["x"] + box["width"] <= width
            assert box["y"] + box["height"] <= height
        music = page.locator(".music svg").first.bounding_box()
        assert music is not None
        assert music["height"] > 90


def test_the_book_is_found_in_by_typing_and_by_what_an_exercise_is(
    server: Server, launch: Launch
) -> None:
    with page_of(launch(), server) as page:
        page.keyboard.press("5")
        links = page.locator(".groups a")
        expect(page.get_by_role("link", name=re.compile("^Siren"))).to_be_visible()
        everything = links.count()
        page.keyboard.press("/")
        page.keyboard.type("slur pyr")
        expect(links).to_have_count(1)
        expect(links.first).to_contain_text("Slur pyramid")
        # Its first notes are drawn and said.
        expect(links.first.locator(".music")).to_have_attribute(
            "aria-label", re.compile(r"^C4 G4 C5")
        )
        page.keyboard.press("Escape")
        expect(links).to_have_count(everything)
        page.get_by_label("Part of the day").select_option("low")
        expect(page.get_by_role("link", name=re.compile("^Siren"))).to_have_count(0)
        expect(page.get_by_role("link", name=re.compile("^Couplets"))).to_be_visible()
        page.get_by_label("Find").fill("nothing is called this")
        page.get_by_role("button", name="Show all of it").click()
        expect(links).to_have_count(everything)


def test_the_first_view_is_less_than_250_kb(server: Server, launch: Launch) -> None:
    context = launch().new_context()
    page = context.new_page()
    sizes: list[int] = []

    def add(response: Response) -> None:
        body = response.body()
        # Fonts are packed as they are.
        is_font = response.url.endswith(".woff2")
        sizes.append(len(body) if is_font else len(gzip.compress(body)))

    page.on("response", add)
    page.goto(server.url)
    expect(page.get_by_role("heading", name="Who plays?")).to_be_visible()
    page.wait_for_load_state("networkidle")
    assert len(sizes) > 5
    assert sum(sizes) < 250_000
    context.close()


def test_a_day_is_swiped_to_the_one_before_and_back(server: Server, launch: Launch) -> None:
    with page_of(launch(), server) as page:
        # In the middle of a month: before the first day of the first one there is nothing.
        page.clock.set_fixed_time(datetime(2026, 6, 15, 18))
        page.goto(f"{server.url}/#/progress/days")
        heading = page.locator("main h2").first
        expect(heading).to_be_visible()
        page.set_viewport_size(_PHONE)  # type: ignore[arg-type]
        today = heading.inner_text()
        swipe(page, 90, 300)
        expect(heading).not_to_have_text(today)
        swipe(page, 300, 90)
        expect(heading).to_have_text(today)


def test_the_ribbon_is_explained_on_a_picture_of_one(server: Server, launch: Launch) -> None:
    with page_of(launch(), server) as page:
        page.keyboard.press(".")
        legend = page.get_by_role("dialog", name="Reading the ribbon")
        expect(legend).to_contain_text("Thickness is loudness.")
        page.keyboard.press("Escape")
        expect(legend).to_have_count(0)


def test_today_shows_the_days_about_it_and_how_each_exercise_begins(
    server: Server, launch: Launch
) -> None:
    with page_of(launch(), server) as page:
        page.keyboard.press("1")
        days = page.get_by_role("list", name="The days about today").get_by_role("listitem")
        expect(days).to_have_count(14)
        plan = page.get_by_role("list", name="The plan")
        expect(plan.get_by_role("img").first).to_be_visible()


@pytest.mark.deep
def test_at_twice_the_size_nothing_is_cut_off_at_the_side(server: Server, launch: Launch) -> None:
    with page_of(launch(), server) as page:
        # 1280 × 800 at 200 %.
        page.set_viewport_size({"width": 640, "height": 400})
        wider: list[str] = []
        for path in (
            *("today", "stand", "takes", "horn", "book", "free", "programmes", "approaches"),
            *("progress", "progress/changes", "progress/days", "progress/report", "players"),
        ):
            page.goto(f"{server.url}/#/{path}")
            page.locator("main h1, main h2, main strong").first.wait_for()
            page.wait_for_load_state("networkidle")
            if page.evaluate("document.documentElement.scrollWidth > innerWidth"):
                wider.append(path)
        assert wider == []
