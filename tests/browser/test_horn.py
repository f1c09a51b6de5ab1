"""The Horn view and My horn, driven by keys alone."""

import re

from playwright.sync_api import expect

from tests.browser.conftest import Launch, Server, page_of


def test_the_horn_is_explored_by_keys_alone(server: Server, launch: Launch) -> None:
    with page_of(launch(), server) as page:
        page.keyboard.press("4")
        note = page.get_by_role("region", name="The note")
        # The tenor horn starts on its written G4.
        expect(note.locator(".name")).to_have_text("G4")
        for _ in range(4):
            page.keyboard.press("ArrowUp")
        expect(note.locator(".name")).to_have_text("B4")
        ways = note.get_by_role("list", name="Ways to play it").get_by_role("listitem")
        expect(ways).to_have_count(3)
        expect(ways.nth(0)).to_contain_text("fourth partial")
        expect(ways.nth(2)).to_contain_text("too far off")
        page.keyboard.press("ArrowRight")
        expect(note).to_contain_text("On 13, pull the third slide 14 mm.")
        expect(note.get_by_role("img", name="valves 1 and 3")).to_be_visible()
        page.keyboard.press("s")
        for _ in range(7):
            page.keyboard.press("ArrowUp")
        expect(note).to_contain_text("E♭5 lies between: a skip slur.")
        expect(note).to_contain_text("Valves step, they do not glide.")
        page.keyboard.press("s")
        page.keyboard.press("w")
        expect(note.locator(".name")).to_have_text("A4")
        page.keyboard.press("t")
        expect(note).to_contain_text("Through the fingerings")
        page.get_by_label("spelled in").select_option("E")
        page.evaluate("document.activeElement.blur()")
        page.keyboard.press("ArrowDown")
        expect(note.locator(".name")).to_have_text("G♯4")


def test_a_tone_sounds_until_its_key_is_pressed_again(server: Server, launch: Launch) -> None:
    with page_of(launch(), server) as page:
        page.evaluate(
            "window.heard = [];"
            "const start = OscillatorNode.prototype.start;"
            "OscillatorNode.prototype.start = function () {"
            "  window.heard.push(this.frequency.value); start.call(this); }; 0;"
        )
        page.keyboard.press("4")
        expect(page.get_by_role("button", name="equal")).to_be_visible()
        for key, pressed in (("e", "equal"), ("j", "just"), ("n", "as the horn gives it")):
            page.keyboard.press(key)
            expect(page.get_by_role("button", name=pressed)).to_have_attribute(
                "aria-pressed", "true"
            )
        page.keyboard.press("n")
        expect(page.get_by_role("button", name="as the horn gives it")).to_have_attribute(
            "aria-pressed", "false"
        )
        # Written G4 on the tenor horn sounds B♭3.
        (hz,) = page.evaluate("window.heard")
        assert abs(hz - 440 * 2 ** (-11 / 12)) < 0.01


def test_a_glide_on_the_slide_is_planned_and_drawn(server: Server, launch: Launch) -> None:
    with page_of(launch(), server) as page:
        page.keyboard.press("p")
        page.get_by_role("button", name="Osk").first.click()
        expect(page.get_by_role("button", name="Start Enter", exact=True)).to_be_visible()
        page.keyboard.press("4")
        note = page.get_by_role("region", name="The note")
        expect(note.locator(".name")).to_have_text("B♭2")
        for _ in range(7):
            page.keyboard.press("ArrowUp")
        expect(note.locator(".name")).to_have_text("F3")
        page.keyboard.press("s")
        for _ in range(3):
            page.keyboard.press("ArrowUp")
        expect(note).to_contain_text("F3 on position 6, fourth partial: move 314 mm in")
        expect(page.locator("path.glide")).to_have_count(1)


def test_my_horn_is_kept_and_changes_the_stand(server: Server, launch: Launch) -> None:
    with page_of(launch(), server) as page:
        page.keyboard.press("4")
        expect(page.get_by_role("region", name="The note")).to_be_visible()
        page.keyboard.press("m")
        page.get_by_label("Targets").select_option("just")
        # Sounding E♭ is the tenor horn's written C.
        page.get_by_label("Drone, or the scale's first note").select_option(label="C")
        page.get_by_label("valve 3 slide pulled, mm").fill("14")
        page.get_by_role("button", name="Keep").click()
        expect(page.get_by_role("status")).to_have_text("Kept.")
        page.reload()
        expect(page.get_by_label("valve 3 slide pulled, mm")).to_have_value("14")
        page.get_by_label("valve 3 slide pulled, mm").fill("900")
        page.get_by_role("button", name="Keep").click()
        expect(page.get_by_role("alert")).to_contain_text(
            "Valve 3 slide pulled must be 150 or less."
        )
        # Esc leaves it, wherever one is.
        page.get_by_label("valve 3 slide pulled, mm").focus()
        page.keyboard.press("Escape")
        note = page.get_by_role("region", name="The note")
        expect(note).to_contain_text("as I have it")
        for _ in range(9):
            page.keyboard.press("ArrowUp")
        # Written E5 over C: 440·2^(−2/12)·2^(−13.7/1200) Hz.
        expect(note.locator(".name")).to_have_text("E5")
        expect(note).to_contain_text("388.9 Hz")
        page.keyboard.press("Enter")
        expect(page.get_by_text("open, fifth partial")).to_be_visible()


def test_a_scale_file_is_taken_in_and_a_bad_one_named_by_line(
    server: Server, launch: Launch
) -> None:
    with page_of(launch(), server) as page:
        page.goto(f"{server.url}/#/horn/mine")
        chooser = page.get_by_label("Scale file (.scl)")
        bad = {"name": "bad.scl", "mimeType": "text/plain", "buffer": b"x\n1\nhigh\n"}
        chooser.set_input_files(bad)  # type: ignore[arg-type]
        page.get_by_role("button", name="Keep").click()
        expect(page.get_by_role("alert")).to_contain_text("Line 3 should be a pitch")
        good = {"name": "good.scl", "mimeType": "text/plain", "buffer": b"thirds\n2\n5/4\n2\n"}
        chooser.set_input_files(good)  # type: ignore[arg-type]
        page.get_by_role("button", name="Keep").click()
        expect(page.get_by_text(re.compile("Kept: thirds"))).to_be_visible()
        with page.expect_download() as download:
            page.get_by_role("link", name="Save it as a file").click()
        assert "386.313714" in download.value.path().read_text()
