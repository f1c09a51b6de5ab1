"""A phone beside the laptop, over real TLS: paired, shown what the laptop hears, and listening
in its place."""

import os
import re
import sqlite3
import subprocess
from collections.abc import Iterator
from contextlib import closing, contextmanager
from pathlib import Path

import httpx
import pytest
from playwright.sync_api import Browser, BrowserType, Page, ViewportSize, expect

from tests.browser.conftest import CHROMIUM, QUIET_FLAGS, Server, page_of
from tests.browser.test_accessibility import check
from tests.browser.test_sessions import QUICK, begin, offer

HOUSE = "127.0.0.2"
PHONE: ViewportSize = {"width": 390, "height": 844}
LONG_TONE = {"family": "long-tone", "values": {"from_midi": "58", "hold_s": "4"}}


@pytest.fixture
def server(own_process: bool, players_file: Path, tmp_path: Path) -> Iterator[Server]:
    data = tmp_path / "orexis.db"
    data.write_bytes(players_file.read_bytes())
    server = Server(data, at_home=HOUSE, own_process=own_process)
    yield server
    server.stop()


@pytest.fixture
def devices(browser_type: BrowserType, server: Server, tmp_path: Path) -> Iterator[Browser]:
    """Chromium on a machine that trusts the computer's certificate; its microphone beeps."""
    store = tmp_path / "trusting" / ".pki" / "nssdb"
    store.mkdir(parents=True)
    certificate = f"{server.data}-home/authority.pem"
    for asked in (
        ("-N", "--empty-password"),
        ("-A", "-t", "C,,", "-n", "orexis", "-i", certificate),
    ):
        subprocess.run(["certutil", "-d", f"sql:{store}", *asked], check=True)
    ears = ["--use-fake-device-for-media-stream", "--use-fake-ui-for-media-stream"]
    browser = browser_type.launch(
        executable_path=CHROMIUM,
        args=[*QUIET_FLAGS, *ears],
        env={**os.environ, "HOME": str(store.parents[1])},
    )
    yield browser
    browser.close()


@contextmanager
def phone_of(devices: Browser, server: Server) -> Iterator[Page]:
    """A phone that opens the house's address for the first time."""
    context = devices.new_context(viewport=PHONE, has_touch=True, is_mobile=True)
    page = context.new_page()
    errors: list[str] = []
    asked: list[str] = []
    page.on("pageerror", lambda error: errors.append(str(error)))
    page.on("request", lambda request: asked.append(request.url))
    page.on("websocket", lambda socket: asked.append(socket.url))
    page.goto(f"https://{HOUSE}:{server.port}/")
    yield page
    assert errors == []
    # Nothing is asked for in the clear, nor of anybody else.
    here = f"{HOUSE}:{server.port}/"
    ours = (f"https://{here}", f"wss://{here}", f"blob:https://{here}", "data:")
    assert [url for url in asked if not url.startswith(ours)] == []
    context.close()


def pair(phone: Page, server: Server) -> None:
    code = httpx.post(f"{server.url}/api/home/code", json={"may_play": True}).json()["digits"]
    phone.get_by_label("Code").fill(code)
    phone.get_by_label("What this device is called").fill("Phone")
    phone.get_by_role("button", name="Pair").tap()
    phone.get_by_role("button", name="Maren").first.tap()


def to_the_stand(phone: Page) -> None:
    phone.get_by_role("link", name="Stand", exact=True).tap()


def test_a_phone_is_paired_with_the_code_on_the_screen(devices: Browser, server: Server) -> None:
    with page_of(devices, server) as laptop, phone_of(devices, server) as phone:
        expect(phone.get_by_role("heading", name="Pair this device")).to_be_visible()
        check(phone)
        laptop.keyboard.press("p")
        laptop.get_by_role("button", name="phones and tablets").click()
        expect(laptop.get_by_role("img", name=f"QR code of https://{HOUSE}")).to_be_visible()
        check(laptop)
        laptop.keyboard.press("c")
        expect(laptop.get_by_text("Its fingerprint (SHA-256)")).to_be_visible()
        laptop.keyboard.press("Escape")
        expect(laptop.get_by_role("dialog")).to_be_hidden()
        laptop.get_by_role("button", name="pair a device").first.click()
        shown = laptop.get_by_label("The code:")
        digits = (shown.get_attribute("aria-label") or "").removeprefix("The code: ")
        wrong = f"{(int(digits.replace(' ', '')) + 1) % 1_000_000:06d}"
        phone.get_by_label("Code").fill(wrong)
        phone.get_by_role("button", name="Pair").tap()
        expect(phone.get_by_role("alert")).to_contain_text("That is not the code")
        # With its spaces, as one may type it.
        phone.get_by_label("Code").fill(digits)
        phone.get_by_label("What this device is called").fill("Music stand")
        phone.get_by_role("button", name="Pair").tap()
        expect(phone.get_by_role("heading", name="Who plays?")).to_be_visible()
        row = laptop.get_by_role("listitem").filter(has_text="Music stand")
        expect(row).to_contain_text(re.compile(r"last seen .*\d{4}"))
        expect(shown).to_be_hidden()
        laptop.get_by_role("button", name="Change Music stand").click()
        laptop.get_by_label("What it is called").fill("On the stand")
        laptop.get_by_label("What it may do").select_option("only look")
        laptop.get_by_role("button", name="Keep").click()
        row = laptop.get_by_role("listitem").filter(has_text="On the stand")
        expect(row).to_contain_text("may only look")
        # It is forgotten while its page is open, and is asked for a code again.
        laptop.get_by_role("button", name="Forget On the stand").click()
        laptop.get_by_role("button", name="Forget it").click()
        expect(phone.get_by_role("heading", name="Pair this device")).to_be_visible()
        expect(laptop.get_by_text("None is paired yet.")).to_be_visible()
        laptop.keyboard.press("x")
        expect(laptop.get_by_text("Now only this computer can use Orexis.")).to_be_visible()


@pytest.mark.deep
def test_the_phone_shows_what_the_laptop_hears_and_has_its_buttons(
    devices: Browser, server: Server
) -> None:
    with (
        page_of(devices, server, QUICK.format(speed=4)) as laptop,
        phone_of(devices, server) as phone,
    ):
        pair(phone, server)
        to_the_stand(phone)
        expect(phone.get_by_role("button", name="Listen").first).to_be_visible()
        offer(laptop, "Notes", *6 * [LONG_TONE])
        begin(laptop, "a")
        # Nothing was chosen on the phone: what is listened to is there.
        expect(phone.get_by_text("The computer listens.")).to_be_visible()
        expect(phone.get_by_role("heading", name="Notes")).to_be_visible()
        expect(phone.get_by_role("region", name="Next")).to_be_visible()
        hand = phone.get_by_role("group", name="At hand")
        hand.get_by_role("button", name="pause").tap()
        for page in (laptop, phone):
            expect(page.get_by_role("button", name="go on").first).to_be_visible()
        hand.get_by_role("button", name="go on").tap()
        expect(laptop.get_by_role("button", name="pause")).to_be_visible()
        for page in (laptop, phone):
            expect(page.get_by_text("Good.").first).to_be_visible()
        phone.get_by_role("button", name="Something hurts").tap()
        for page in (laptop, phone):
            expect(page.get_by_text("Play nothing until you say")).to_be_visible()
    assert httpx.get(f"{server.url}/api/players/1/hurts").json()


@pytest.mark.deep
def test_the_phone_listens_in_place_of_the_laptop_and_is_sent_off(
    devices: Browser, server: Server
) -> None:
    with page_of(devices, server) as laptop, phone_of(devices, server) as phone:
        pair(phone, server)
        laptop.keyboard.press(" ")
        for page in (laptop, phone):
            words = "this device" if page is laptop else "the computer"
            expect(page.get_by_text(f"Microphone on: {words}").first).to_be_attached()
        expect(phone.get_by_text("Microphone on: the computer").last).to_be_visible()
        to_the_stand(phone)
        expect(phone.get_by_text("The computer listens.")).to_be_visible()
        phone.get_by_role("button", name="listen here instead").tap()
        phone.get_by_role("button", name="Listen here", exact=True).tap()
        # The laptop gives way, says so, and shows what the phone hears.
        expect(laptop.get_by_text("Phone listens.")).to_be_visible()
        expect(laptop.get_by_text("Microphone on: Phone").first).to_be_visible()
        expect(phone.get_by_role("meter")).to_be_visible()
        with closing(sqlite3.connect(f"file:{server.data}?mode=ro", uri=True)) as data:
            assert data.execute("SELECT COUNT(*) FROM sessions").fetchone() == (1,)
        (device,) = httpx.get(f"{server.url}/api/home").json()["devices"]
        httpx.delete(f"{server.url}/api/home/devices/{device['id']}").raise_for_status()
        expect(phone.get_by_role("heading", name="Pair this device")).to_be_visible()
        expect(laptop.get_by_text("Phone has stopped listening.")).to_be_visible()
        expect(laptop.get_by_text("Microphone on").first).to_be_hidden()


def test_a_device_says_what_to_do_while_the_computer_does_not_answer(
    devices: Browser, server: Server
) -> None:
    with phone_of(devices, server) as phone:
        pair(phone, server)
        expect(phone.get_by_role("link", name="Stand", exact=True)).to_be_visible()
        phone.evaluate("() => navigator.serviceWorker.ready.then(() => undefined)")
        server.stop()
        phone.reload()
        expect(phone.get_by_role("heading", name="Orexis does not answer.")).to_be_visible()
        background = phone.evaluate("() => getComputedStyle(document.body).backgroundColor")
        # Its own style is there as well, and nothing else is kept on the device.
        assert background == "rgb(238, 241, 236)"
        kept = phone.evaluate(
            "async () => (await (await caches.open((await caches.keys())[0])).keys())"
            ".map(({ url }) => new URL(url).pathname)"
        )
        assert sorted(kept) == ["/offline.css", "/offline.html"]
        server.start()
        phone.get_by_role("link", name="Try again").tap()
        expect(phone.get_by_role("link", name="Stand", exact=True)).to_be_visible()


@pytest.mark.deep
def test_two_players_practise_at_once_each_on_a_device(devices: Browser, server: Server) -> None:
    with (
        page_of(devices, server, QUICK.format(speed=8)) as laptop,
        phone_of(devices, server) as phone,
    ):
        code = httpx.post(f"{server.url}/api/home/code", json={"may_play": True}).json()["digits"]
        phone.get_by_label("Code").fill(code)
        phone.get_by_role("button", name="Pair").tap()
        phone.get_by_role("button", name="Osk").first.tap()
        to_the_stand(phone)
        laptop.keyboard.press(" ")
        phone.get_by_role("button", name="stand-in player").tap()
        for page in (laptop, phone):
            expect(page.get_by_text("Good.").first).to_be_visible()
        # Who plays is remembered on each device.
        phone.reload()
        expect(phone.get_by_text("Osk, ")).to_be_visible()
    for player in (1, 2):
        (take,) = httpx.get(f"{server.url}/api/players/{player}/takes").json()
        assert take["verdict"]["passed"]


@pytest.mark.deep
@pytest.mark.kills
def test_a_killed_server_loses_nothing_and_both_devices_come_back(
    devices: Browser, server: Server
) -> None:
    with page_of(devices, server) as laptop, phone_of(devices, server) as phone:
        pair(phone, server)
        to_the_stand(phone)
        laptop.get_by_role("button", name="stand-in player").click()
        expect(phone.get_by_text("The computer listens.")).to_be_visible()
        expect(laptop.get_by_text("Hold it.")).to_be_visible()
        server.kill()
        server.start()
        for page in (laptop, phone):
            expect(page.get_by_text("Good.").first).to_be_visible()
        assert len(server.takes()) == 1
