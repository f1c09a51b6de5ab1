"""Makes the pictures in docs/screenshots from the demo data: `make screenshots`."""

import re
import tempfile
from datetime import datetime
from pathlib import Path

import httpx
from playwright.sync_api import Page, Playwright, expect, sync_playwright
from tests.browser.conftest import CHROMIUM, QUIET_FLAGS, Server

from orexis.demo.scenario import fill
from orexis.formats.audio import pcm_from_floats, wav_from_pcm
from orexis.standin.performance import perform
from orexis.standin.room import ROOMS, heard_in
from orexis.standin.score import Change, Faults, Score, ScoreNote, Siren, Touched
from orexis.standin.tone import MIDDLE
from orexis.store.database import Database

_FAKE_EAR = "--use-fake-device-for-media-stream"
_EAR_ALLOWED = "--use-fake-ui-for-media-stream"
_LONGEST_REST_DAYS = 7
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
    expect(page.get_by_role("button", name="Start Enter", exact=True)).to_be_visible()


def coach(page: Page) -> None:
    """Today, the approaches, and where the programmes are."""
    shoot(page, "today-light")
    page.keyboard.press("o")
    expect(page.get_by_role("heading", name="Going up: how loud?")).to_be_visible()
    shoot(page, "approaches-light")
    page.keyboard.press("Escape")
    page.keyboard.press("g")
    expect(page.get_by_text("you are here")).to_be_visible()
    shoot(page, "programmes-light")


def progress(page: Page, url: str) -> None:
    """How far the player comes, what changed, a month, and a report."""
    page.keyboard.press("6")
    note = page.get_by_role("region", name="The note")
    expect(note).to_contain_text("spoke")
    shoot(page, "range-light")
    page.keyboard.press("c")
    expect(page.get_by_role("region", name="Am I more in tune?")).to_be_visible()
    shoot(page, "changes-light")
    page.keyboard.press("y")
    expect(page.get_by_role("button", name="day before")).to_be_visible()
    # Back to the last day with a session.
    session = page.get_by_role("heading", name="Today 17:05")
    for _ in range(_LONGEST_REST_DAYS):
        page.keyboard.press("ArrowLeft")
        page.wait_for_timeout(600)
        if session.is_visible():
            break
    expect(session).to_be_visible()
    shoot(page, "days-light")
    page.goto(f"{url}/#/progress/report")
    expect(page.get_by_role("heading", name="Maren")).to_be_visible()
    words = page.get_by_label("Your own words, on top")
    words.fill("The top will not lock after twenty minutes. Listen to the last one first.")
    words.blur()
    shoot(page, "report-light")


def two_tries(page: Page) -> None:
    """Lets the stand-in play once well and once from below, and looks at it from afar."""
    page.keyboard.press("s")
    expect(page.get_by_role("status").get_by_role("heading")).to_be_visible(timeout=20_000)
    # What it does wrong is set from near.
    page.keyboard.press("f")
    page.get_by_role("slider", name="start", exact=True).focus()
    for _ in range(30):
        page.keyboard.press("ArrowLeft")
    expect(page.get_by_role("button", name="stand-in plays")).to_be_enabled()
    page.keyboard.press("Space")
    expect(page.get_by_role("heading", name=re.compile("^Scooped: started"))).to_be_visible(
        timeout=20_000
    )
    page.evaluate("document.activeElement.blur()")
    page.keyboard.press("f")


def horn(page: Page) -> None:
    """A skip slur on valves."""
    page.keyboard.press("4")
    note = page.get_by_role("region", name="The note")
    expect(note.locator(".name")).to_be_visible()
    for key in ["ArrowUp"] * 4 + ["s"] + ["ArrowUp"] * 7:
        page.keyboard.press(key)
    expect(note).to_contain_text("skip slur")
    shoot(page, "horn-light")


def book(page: Page, url: str) -> None:
    """The list, a page of it, and an exercise of one's own."""
    page.keyboard.press("5")
    expect(page.get_by_role("link", name="Slur pyramid")).to_be_visible()
    shoot(page, "book-light")
    page.goto(f"{url}/#/book/skip-slur")
    expect(page.get_by_role("region", name="Your path")).to_be_visible()
    shoot(page, "exercise-light")


def slur(page: Page, url: str) -> None:
    """A slur over three slots on the Stand, played once."""
    page.goto(f"{url}/#/book/lip-slur")
    page.get_by_label("partials", exact=True).fill("3")
    expect(page.get_by_role("img", name="G4 C5 E5 C5 G4, free, 3 times.")).to_be_visible()
    page.get_by_role("heading", name="Lip slur").click()
    page.keyboard.press("Enter")
    expect(page.get_by_role("region", name="Now")).to_be_visible()
    # The stand-in player is the one that played last.
    page.keyboard.press("Space")
    expect(page.get_by_text("1 of 3")).to_be_visible(timeout=40_000)
    page.evaluate("document.activeElement.blur()")
    shoot(page, "stand-slur-dark")


def play_session(page: Page, url: str, name: str, key: str, place: str) -> None:
    """Lets the stand-in play a whole session quickly, up to a place and a verdict there."""
    page.add_init_script(
        "localStorage.setItem('orexis-clock', '6');"
        "for (const id of [1, 2, 3, 4])"
        " localStorage.setItem(`orexis-stand-${id}`, JSON.stringify({ source: 'stand-in' }));"
    )
    choose(page, url, name)
    page.keyboard.press("2")
    expect(page.get_by_role("heading", name="Long tone")).to_be_visible()
    page.keyboard.press("w")
    expect(page.get_by_role("listitem").filter(has_text="Pedal sets")).to_be_visible()
    page.keyboard.press(key)
    expect(page.get_by_text(place)).to_be_visible(timeout=120_000)
    expect(page.locator(".verdict")).to_be_visible(timeout=60_000)


def free(playwright: Playwright, url: str, wav: Path) -> None:
    """A note that is blown without a task, at a microphone that hears a file."""
    score: Score = (ScoreNote(58, 3.0), ScoreNote(63, 30.0, faults=Faults(scoop_cents=-20)))
    sound = heard_in(ROOMS["quiet"], perform(score, MIDDLE).samples, 48_000)
    wav.write_bytes(wav_from_pcm(pcm_from_floats(sound), 48_000))
    ear = [_FAKE_EAR, _EAR_ALLOWED, f"--use-file-for-fake-audio-capture={wav}%noloop"]
    browser = playwright.chromium.launch(executable_path=CHROMIUM, args=[*QUIET_FLAGS, *ear])
    try:
        page = browser.new_page(viewport={"width": 1280, "height": 800}, color_scheme="light")
        choose(page, url, "Maren")
        page.keyboard.press("7")
        page.keyboard.press("Space")
        note = page.get_by_role("region", name="The note")
        expect(note).to_contain_text("C5", timeout=30_000)
        page.wait_for_timeout(2000)
        shoot(page, "free-light")
        page.keyboard.press("Space")
        expect(page.get_by_role("region", name="What you played")).to_be_visible()
    finally:
        browser.close()


def recorded(url: str) -> str:
    """A recording of Maren's with a bit of everything, and what she meant; returns its id."""
    slur = Change("slur")
    score: Score = (
        ScoreNote(58, 1.2, faults=Faults(scoop_cents=-35)),
        ScoreNote(65, 0.9, reached=Change("slur", touched=(Touched(62, 0.06),))),
        ScoreNote(70, 1.0, reached=slur),
        ScoreNote(65, 0.8, reached=Change("tongued")),
        ScoreNote(58, 2.0, level_change_db=7, faults=Faults(vibrato_cents=18, sag_cents=-22)),
        *(
            ScoreNote(63 + 2 * (turn % 2), 0.085, reached=Change("slur", 0.015) if turn else slur)
            for turn in range(12)
        ),
        Siren(50, 65, 2, 1.5),
    )
    performance = perform(score, MIDDLE)
    response = httpx.post(
        f"{url}/api/players/1/recordings",
        params={"name": "rehearsal.wav"},
        content=wav_from_pcm(pcm_from_floats(performance.samples), 48_000),
        timeout=60,
    )
    recording = str(response.raise_for_status().json()["id"])
    httpx.put(
        f"{url}/api/recordings/{recording}/wanted", json={"wanted": "G4 D5 F#5 G5 D5 G4"}
    ).raise_for_status()
    where = f"{url}/api/recordings/{recording}/bookmarks"
    httpx.post(where, json={"at_s": 2.6, "words": "as clean as this"}).raise_for_status()
    return recording


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
        recording = recorded(server.url)
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=QUIET_FLAGS)
        try:
            page = browser.new_page(viewport={"width": 1280, "height": 800}, color_scheme="light")
            choose(page, server.url, "Jory")
            coach(page)
            page.keyboard.press("p")
            page.get_by_role("button", name="Maren").first.click()
            expect(page.get_by_role("button", name="Start Enter", exact=True)).to_be_visible()
            page.keyboard.press("2")
            two_tries(page)
            shoot(page, "stand-light")
            page.keyboard.press("3")
            expect(page.get_by_role("heading", name="Yesterday")).to_be_visible()
            shoot(page, "takes-light")
            horn(page)
            progress(page, server.url)
            book(page, server.url)
            page.keyboard.press("3")
            page.get_by_role("link", name="Scooped").first.click()
            expect(page.get_by_role("link", name="Save the sound")).to_be_visible()
            page.keyboard.press("w")
            expect(page.get_by_text("You said: uneven.")).to_be_visible()
            shoot(page, "take-light")
            page.goto(f"{server.url}/#/recordings/{recording}")
            expect(page.get_by_role("heading", name="rehearsal.wav")).to_be_visible()
            shoot(page, "recording-light")
            page.close()
            evening = browser.new_page(viewport={"width": 1280, "height": 800}, color_scheme="dark")
            choose(evening, server.url, "Maren")
            evening.keyboard.press("2")
            two_tries(evening)
            slur(evening, server.url)
            evening.close()
            day = browser.new_page(viewport={"width": 1280, "height": 800})
            play_session(day, server.url, "Pia", "a", "length 3 of 7")
            shoot(day, "session-light")
            expect(day.get_by_role("region", name="The end of the session")).to_be_visible(
                timeout=120_000
            )
            shoot(day, "session-end-light")
            free(playwright, server.url, Path(folder) / "blown.wav")
            phone = browser.new_page(viewport={"width": 390, "height": 844})
            play_session(phone, server.url, "Osk", "b", "step 2 of 8")
            shoot(phone, "stand-phone")
        finally:
            browser.close()
            server.stop()


if __name__ == "__main__":
    main()
