"""Every view, light and dark, wide and narrow: axe finds nothing serious, nothing overflows."""

from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import Launch, Server, page_of
from tests.browser.test_listening import kept_recording

AXE = Path(__file__).parents[2] / "web/node_modules/axe-core/axe.min.js"
RULES = "{ runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'] }"


def check(page: Page) -> None:
    # The content policy forbids added scripts, so axe comes in through the debugger.
    if not page.evaluate("'axe' in window"):
        page.evaluate(AXE.read_text(encoding="utf-8"))
    found = page.evaluate(f"axe.run(document, {RULES}).then((result) => result.violations)")
    serious = [
        (violation["id"], [node["html"] for node in violation["nodes"]][:3])
        for violation in found
        if violation["impact"] in ("serious", "critical")
    ]
    assert serious == []
    overflow = "document.documentElement.scrollWidth - document.documentElement.clientWidth"
    assert page.evaluate(overflow) <= 0


@pytest.mark.one_in(6)
@pytest.mark.parametrize("scheme", ["light", "dark"])
@pytest.mark.parametrize("size", [(1280, 800), (390, 844), (1024, 1366)])
def test_views_are_accessible(
    server: Server, launch: Launch, tmp_path: Path, scheme: str, size: tuple[int, int]
) -> None:
    recording = kept_recording(server, tmp_path / "a.wav")
    with page_of(launch(), server, color_scheme=scheme) as page:
        page.set_viewport_size({"width": size[0], "height": size[1]})
        page.keyboard.press("1")
        expect(page.get_by_role("list", name="The plan")).to_be_visible()
        page.keyboard.press("w")
        check(page)
        ways = (("o", "Approaches"), ("g", "Programmes"), ("a", "About you, Maren"))
        # Each is looked at once by day and once in the dark.
        looked_at = (scheme, size[0]) in {("light", 1280), ("dark", 390)}
        for key, there in ways if looked_at else ():
            page.keyboard.press(key)
            expect(page.get_by_role("heading", name=there, exact=True)).to_be_visible()
            check(page)
            page.keyboard.press("Escape")
            expect(page.get_by_role("list", name="The plan")).to_be_visible()
        page.keyboard.press("2")
        expect(page.get_by_role("heading", name="Long tone")).to_be_visible()
        check(page)
        page.keyboard.press("s")
        expect(page.get_by_role("status").get_by_role("heading")).to_be_visible()
        check(page)
        page.keyboard.press("3")
        expect(page.get_by_role("heading", name="Today")).to_be_visible()
        check(page)
        page.keyboard.press("Enter")
        expect(page.get_by_role("link", name="Save the sound")).to_be_visible()
        check(page)
        page.keyboard.press("e")
        expect(page.get_by_text("You said: good.")).to_be_visible()
        check(page)
        page.goto(f"{server.url}/#/recordings/{recording}")
        expect(page.get_by_role("heading", name="harbour.wav")).to_be_visible()
        expect(page.get_by_role("button", name="bookmark this spot")).to_be_enabled()
        page.keyboard.press("n")
        expect(page.get_by_label("What is at 0.00 s?")).to_be_focused()
        page.keyboard.press("Enter")
        expect(page.get_by_role("list", name="Bookmarks")).to_be_visible()
        check(page)
        page.evaluate("document.activeElement.blur()")
        page.keyboard.press("4")
        expect(page.get_by_role("region", name="The note")).to_be_visible()
        page.keyboard.press("t")
        page.keyboard.press("s")
        page.keyboard.press("ArrowUp")
        expect(page.get_by_text("Through the fingerings")).to_be_visible()
        check(page)
        page.keyboard.press("m")
        expect(page.get_by_label("Targets")).to_be_visible()
        check(page)
        page.keyboard.press("p")
        expect(page.get_by_role("heading", name="Who plays?")).to_be_visible()
        page.keyboard.press("n")
        expect(page.get_by_label("Name", exact=True)).to_be_visible()
        check(page)
        page.keyboard.press("Escape")
        page.keyboard.press("8")
        expect(page.get_by_role("region", name="Metronome")).to_contain_text("bar 1")
        page.keyboard.press("9")
        expect(page.get_by_role("region", name="Drone")).to_contain_text("sounds")
        check(page)
        page.keyboard.press("8")
        page.keyboard.press("9")
        page.get_by_role(
            "button", name="Keys" if size[0] > 760 else "More", exact=size[0] <= 760
        ).click()
        expect(page.get_by_role("dialog")).to_be_visible()
        check(page)
