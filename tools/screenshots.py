"""Makes the pictures in docs/screenshots from the demo data: `make screenshots`."""

import tempfile
from datetime import datetime
from pathlib import Path

from playwright.sync_api import Page, expect, sync_playwright
from tests.browser.conftest import CHROMIUM, QUIET_FLAGS, Server

from orexis.demo.scenario import fill
from orexis.store.database import Database

SHOTS = Path(__file__).parents[1] / "docs" / "screenshots"


def shoot(page: Page, name: str) -> None:
    """Takes one picture once the view has settled."""
    page.mouse.move(2, 2)
    page.wait_for_timeout(700)
    page.screenshot(path=SHOTS / f"{name}.png")


def choose(page: Page, url: str, name: str) -> None:
    """Opens the app as one of the band."""
    page.goto(url)
    page.get_by_role("button", name=name).first.click()
    expect(page.get_by_role("heading", name="Long tone")).to_be_visible()


def two_tries(page: Page) -> None:
    """Lets the stand-in play once well and once from below."""
    page.keyboard.press("s")
    expect(page.get_by_role("status").get_by_role("heading")).to_be_visible(timeout=20_000)
    page.get_by_role("slider", name="start", exact=True).focus()
    for _ in range(30):
        page.keyboard.press("ArrowLeft")
    expect(page.get_by_role("button", name="stand-in plays")).to_be_enabled()
    page.keyboard.press("Space")
    expect(page.get_by_role("heading", name="Again: slid up into it.")).to_be_visible(
        timeout=20_000
    )
    page.evaluate("document.activeElement.blur()")


def horn(page: Page, scheme: str) -> None:
    """A skip slur on valves by day, a glide on the slide in the evening, and My horn."""
    page.keyboard.press("3")
    note = page.get_by_role("region", name="The note")
    expect(note.locator(".name")).to_be_visible()
    if scheme == "dark":
        page.keyboard.press("p")
        page.get_by_role("button", name="Osk").first.click()
        expect(page.get_by_role("heading", name="Long tone")).to_be_visible()
        page.keyboard.press("3")
        expect(note.locator(".name")).to_have_text("B♭2")
    for key in (
        ["ArrowUp"] * (4 if scheme == "light" else 7)
        + ["s"]
        + ["ArrowUp"] * (7 if scheme == "light" else 3)
    ):
        page.keyboard.press(key)
    expect(note).to_contain_text("skip slur" if scheme == "light" else "mm in")
    shoot(page, f"horn-{scheme}")
    if scheme == "light":
        page.keyboard.press("m")
        expect(page.get_by_label("Targets")).to_be_visible()
        shoot(page, "my-horn-light")
        return
    page.keyboard.press("p")
    page.get_by_role("button", name="Maren").first.click()
    expect(page.get_by_role("heading", name="Long tone")).to_be_visible()


def main() -> None:
    """Makes every picture."""
    SHOTS.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as folder, sync_playwright() as playwright:
        data = Path(folder) / "demo.db"
        database = Database(data)
        with database.session() as session:
            fill(session, datetime.now().astimezone())
        database.close()
        server = Server(data)
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=QUIET_FLAGS)
        try:
            for scheme, size in (("light", (1280, 800)), ("dark", (1280, 800))):
                page = browser.new_page(
                    viewport={"width": size[0], "height": size[1]},
                    color_scheme="dark" if scheme == "dark" else "light",
                )
                choose(page, server.url, "Maren")
                two_tries(page)
                shoot(page, f"stand-{scheme}")
                if scheme == "light":
                    page.keyboard.press("2")
                    expect(page.get_by_role("heading", name="Yesterday")).to_be_visible()
                    shoot(page, "takes-light")
                    page.keyboard.press("p")
                    shoot(page, "players-light")
                horn(page, scheme)
                page.keyboard.press("2")
                page.get_by_role("link", name="Again").first.click()
                expect(page.get_by_role("link", name="Save the sound")).to_be_visible()
                if scheme == "light":
                    page.keyboard.press("w")
                    expect(page.get_by_text("You said: uneven.")).to_be_visible()
                shoot(page, f"take-{scheme}")
                page.close()
            phone = browser.new_page(viewport={"width": 390, "height": 844})
            choose(phone, server.url, "Osk")
            phone.keyboard.press("s")
            expect(phone.get_by_role("status").get_by_role("heading")).to_be_visible(timeout=20_000)
            phone.get_by_role("status").scroll_into_view_if_needed()
            shoot(phone, "stand-phone")
            phone.keyboard.press("3")
            expect(phone.get_by_role("region", name="The note")).to_be_visible()
            shoot(phone, "horn-phone")
        finally:
            browser.close()
            server.stop()


if __name__ == "__main__":
    main()
