"""The whole path of a note, driven in the real interface."""

import io
import re
import time
from pathlib import Path

import httpx
import numpy as np
import pytest
import soundfile
from playwright.sync_api import Page, Route, WebSocketRoute, expect

from tests.browser.conftest import Launch, Server, page_of
from tests.sounds import RATE, silence, softened, steady

# Maren's first note is written G4, sounding B♭3: 440·2^((58 − 69)/12) = 233.0819 Hz.
B_FLAT_3_HZ = 233.0819


# The file plays from when the microphone is opened; on a busy machine it is a while from there to
# the first sound that is taken in.
LEAD_S = 3.0


def wav(path: Path, cents: float, hold_s: float, lead_s: float = LEAD_S) -> Path:
    tone = softened(steady(B_FLAT_3_HZ * 2 ** (cents / 1200), hold_s))
    soundfile.write(path, np.concatenate((silence(lead_s), tone, silence(3))), RATE)
    return path


def shown(page: Page, rule: str) -> str:
    line = page.locator("dl div", has=page.locator("dt", has_text=re.compile(f"^{rule}$")))
    return line.locator("strong").inner_text()


def unit(page: Page, rule: str) -> str:
    """A rule's unit, with which way its number lies."""
    line = page.locator("dl div", has=page.locator("dt", has_text=re.compile(f"^{rule}$")))
    return line.locator(".dim").inner_text()


def until(page: Page, condition: str) -> None:
    """Waits for something to be true in the page (its policy forbids polling from inside)."""
    for _ in range(200):
        if page.evaluate(condition):
            return
        page.wait_for_timeout(50)
    raise TimeoutError(condition)


def listen(page: Page) -> None:
    page.get_by_role("button", name="Listen Space").click()


@pytest.mark.one_in(2)
@pytest.mark.parametrize(("cents", "direction"), [(-11, "flat"), (9, "sharp")])
@pytest.mark.microphone
def test_a_tone_at_the_microphone_is_read_within_2_cents_judged_and_kept(
    server: Server, launch: Launch, tmp_path: Path, cents: int, direction: str
) -> None:
    browser = launch(microphone=wav(tmp_path / "tone.wav", cents, 4.5))
    with page_of(browser, server) as page:
        listen(page)
        expect(page.get_by_text("Listening. Silence ends it.")).to_be_visible()
        expect(page.get_by_role("heading", name="Good.")).to_be_visible()
        assert unit(page, "centre") == f"cents {direction}"
        assert abs(int(shown(page, "centre")) - abs(cents)) <= 2
        assert 4.3 <= float(shown(page, "held")) <= 4.7
        page.keyboard.press("3")
        expect(page.get_by_role("heading", name="Today")).to_be_visible()
        page.get_by_role("link", name=re.compile("Good.")).click()
        expect(page.get_by_role("img", name="The whole take")).to_be_visible()
        # The meter waits until the ear has spoken.
        expect(page.get_by_role("heading", name="How was it?")).to_be_visible()
        assert page.locator("dl.measures").count() == 0
        page.keyboard.press("e")
        expect(page.get_by_text("You said: good. The meter agrees.")).to_be_visible()
        assert unit(page, "centre") == f"cents {direction}"
        page.keyboard.press("3")
        expect(page.get_by_text("rate 4 more takes")).to_be_visible()
    (kept,) = server.takes()
    assert kept["source"] == "microphone"


@pytest.mark.deep
@pytest.mark.microphone
def test_a_note_too_short_says_so_and_can_be_overruled(
    server: Server, launch: Launch, tmp_path: Path
) -> None:
    with page_of(launch(microphone=wav(tmp_path / "a.wav", 0, 2.0)), server) as page:
        listen(page)
        expect(
            page.get_by_role("heading", name=re.compile(r"Held [12]\.\d s of 4 s"))
        ).to_be_visible()
        page.keyboard.press("o")
        expect(page.get_by_role("heading", name="You say: good.")).to_be_visible()
        page.reload()
        expect(page.get_by_role("heading", name="Long tone")).to_be_visible()
        page.keyboard.press("3")
        expect(page.get_by_text("You say: good.")).to_be_visible()


def test_the_stand_in_plays_without_a_microphone(server: Server, launch: Launch) -> None:
    with page_of(launch(), server) as page:
        page.keyboard.press("s")
        expect(page.get_by_role("region", name="The stand-in player")).to_be_visible()
        # It is set to play 6 cents low.
        expect(page.get_by_role("heading", name="Good.")).to_be_visible()
        assert unit(page, "centre") == "cents flat"
        assert abs(int(shown(page, "centre")) - 6) <= 2
    (kept,) = server.takes()
    assert kept["source"] == "stand-in"


@pytest.mark.deep
def test_a_key_pressed_before_the_note_is_there_is_not_lost(server: Server, launch: Launch) -> None:
    browser = launch()

    def late(route: Route) -> None:
        time.sleep(1)
        route.continue_()

    with page_of(browser, server) as page:
        # The plan comes late; the key comes at once.
        page.route("**/book/long-tone/stand*", late)
        page.reload()
        page.get_by_role("heading", name="Long tone").wait_for()
        page.keyboard.press("s")
        expect(page.get_by_role("heading", name="Good.")).to_be_visible()


def test_the_whole_path_by_keyboard_alone(server: Server, launch: Launch) -> None:
    with page_of(launch(), server) as page:
        page.keyboard.press("p")
        expect(page.get_by_role("heading", name="Who plays?")).to_be_visible()
        page.keyboard.press("F1")
        expect(page.get_by_role("button", name="Start Enter", exact=True)).to_be_visible()
        page.keyboard.press("2")
        expect(page.get_by_role("img", name="G4", exact=True)).to_be_visible()
        page.keyboard.press("ArrowUp")
        expect(page.get_by_role("img", name="A♭4", exact=True)).to_be_visible()
        for _ in range(2):
            page.keyboard.press("-")
        expect(page.get_by_text("air attack, hold 2 s")).to_be_visible()
        page.keyboard.press("g")
        expect(page.get_by_role("button", name="standard kind")).to_be_visible()
        page.keyboard.press("s")
        expect(page.get_by_role("heading", name="Good.")).to_be_visible()
        page.keyboard.press("o")
        expect(page.get_by_role("heading", name="You say: not yet.")).to_be_visible()
        page.keyboard.press("3")
        # The Stand says so too: the list has to be there before a key opens what is in it.
        listed = page.get_by_role("region", name="Takes")
        expect(listed.get_by_text("You say: not yet.")).to_be_visible()
        page.keyboard.press("Enter")
        expect(page.get_by_role("link", name="Save the sound")).to_be_visible()
        page.keyboard.press("Space")
        expect(page.get_by_role("button", name="pause")).to_be_visible()
        page.keyboard.press("Delete")
        expect(page.get_by_role("heading", name="Nothing played yet")).to_be_visible()
        page.keyboard.press("z")
        expect(page.get_by_role("link", name="Save the sound")).to_be_visible()
        page.keyboard.press("?")
        expect(page.get_by_role("dialog", name="All keys")).to_be_visible()


REMEMBER_SENT = """
window.sent = {};
const send = WebSocket.prototype.send;
WebSocket.prototype.send = function (message) {
  if (message instanceof Uint8Array) {
    const seq = new DataView(message.buffer).getUint32(0, true);
    window.sent[seq] = Array.from(new Int16Array(message.slice(4).buffer));
  }
  return send.call(this, message);
};
"""


def assert_kept_as_captured(page: Page, server: Server) -> None:
    """The one take holds the very samples the browser captured, none missing or moved."""
    (kept,) = server.takes()
    sound = httpx.get(f"{server.url}/api/takes/{kept['id']}/sound").content
    samples, rate = soundfile.read(io.BytesIO(sound), dtype="int16")
    captured = np.concatenate(page.evaluate("Object.values(window.sent)"))
    start = int(str(kept["first_frame"])) * rate // 100
    assert np.array_equal(samples, captured[start : start + len(samples)])


@pytest.mark.kills
@pytest.mark.microphone
def test_a_server_killed_in_the_middle_of_a_note_loses_nothing(
    server: Server, launch: Launch, tmp_path: Path
) -> None:
    with page_of(launch(microphone=wav(tmp_path / "a.wav", 5, 6.0)), server) as page:
        page.add_init_script(REMEMBER_SENT)
        page.reload()
        listen(page)
        expect(page.get_by_role("heading", name="Hold it.")).to_be_visible()
        time.sleep(1.0)
        server.kill()
        expect(page.get_by_role("heading", name="Orexis has stopped answering")).to_be_visible()
        server.start()
        expect(page.get_by_role("heading", name="Good.")).to_be_visible()
        assert float(shown(page, "held")) >= 5.8
        assert_kept_as_captured(page, server)


def test_a_refused_microphone_says_what_to_do_and_offers_the_stand_in(
    server: Server, launch: Launch
) -> None:
    with page_of(launch(allowed=False), server, permissions=[]) as page:
        listen(page)
        notice = page.get_by_role("alert")
        expect(notice.get_by_role("heading", name="The microphone is not allowed")).to_be_visible()
        notice.get_by_role("button", name="stand-in player").click()
        expect(page.get_by_role("heading", name="Good.")).to_be_visible()


NO_DEVICE = """() => {
navigator.mediaDevices.getUserMedia = () =>
  Promise.reject(new DOMException('none', 'NotFoundError'));
}"""


def test_no_microphone_has_its_own_screen(server: Server, launch: Launch) -> None:
    with page_of(launch(), server) as page:
        page.evaluate(NO_DEVICE)
        listen(page)
        expect(page.get_by_role("heading", name="No microphone found")).to_be_visible()
        expect(page.get_by_role("button", name="stand-in player").first).to_be_visible()


REMEMBER_TRACK = """() => {
const open = navigator.mediaDevices.getUserMedia.bind(navigator.mediaDevices);
navigator.mediaDevices.getUserMedia = async (wanted) => {
  const stream = await open(wanted);
  window.track = stream.getAudioTracks()[0];
  return stream;
};
}"""


@pytest.mark.deep
@pytest.mark.microphone
def test_an_unplugged_microphone_keeps_what_was_played(
    server: Server, launch: Launch, tmp_path: Path
) -> None:
    with page_of(launch(microphone=wav(tmp_path / "a.wav", 0, 6.0)), server) as page:
        page.evaluate(REMEMBER_TRACK)
        listen(page)
        expect(page.get_by_role("heading", name="Hold it.")).to_be_visible()
        time.sleep(1.0)
        # What the browser says when the plug is pulled.
        page.evaluate("track.dispatchEvent(new Event('ended'))")
        expect(page.get_by_role("heading", name="The microphone went away")).to_be_visible()
        page.keyboard.press("3")
        expect(page.get_by_text(re.compile(r"Held \d"))).to_be_visible()


def test_a_server_that_is_gone_has_its_own_screen(server: Server, launch: Launch) -> None:
    with page_of(launch(), server) as page:
        server.stop()
        page.keyboard.press("3")
        expect(page.get_by_role("heading", name="Orexis has stopped answering")).to_be_visible()
        server.start()
        page.get_by_role("button", name="Try again").click()
        expect(page.get_by_role("heading", name="Nothing played yet")).to_be_visible()


def test_something_hurts_stops_and_gives_the_caution(server: Server, launch: Launch) -> None:
    with page_of(launch(), server) as page:
        listen(page)
        expect(page.get_by_text("Play to begin.")).to_be_visible()
        page.keyboard.press("h")
        expect(page.get_by_text("no doctor, dentist or teacher")).to_be_visible()
        expect(page.get_by_text("not listening")).to_be_visible()


def test_a_first_player_is_made_and_sees_notes_their_way(server: Server, launch: Launch) -> None:
    with page_of(launch(), server) as page:
        page.keyboard.press("p")
        expect(page.get_by_role("heading", name="Who plays?")).to_be_visible()
        page.keyboard.press("n")
        page.get_by_label("Name", exact=True).fill("Tam")
        page.get_by_label("Instrument").select_option(label="Bass trombone in B♭, F and G♭")
        page.get_by_label("Clef").select_option("bass")
        page.keyboard.press("Tab")
        page.get_by_role("button", name="Keep").click()
        # Whom the coach does not know yet, it asks.
        expect(page.get_by_role("heading", name="About you, Tam")).to_be_visible()
        page.get_by_role("link", name="Stand").click()
        expect(page.get_by_role("img", name="B♭2", exact=True)).to_be_visible()
        expect(page.get_by_text("position 1, second partial")).to_be_visible()


@pytest.mark.deep
@pytest.mark.microphone
def test_a_dropped_socket_in_the_middle_of_a_note_loses_nothing(
    server: Server, launch: Launch, tmp_path: Path
) -> None:
    browser = launch(microphone=wav(tmp_path / "a.wav", 0, 5.0))
    sockets: list[WebSocketRoute] = []

    def pass_on(socket: WebSocketRoute) -> None:
        sockets.append(socket)
        socket.connect_to_server()

    with page_of(browser, server) as page:
        page.route_web_socket("**/api/live", pass_on)
        page.reload()
        listen(page)
        expect(page.get_by_text("Listening. Silence ends it.")).to_be_visible()
        page.wait_for_timeout(1000)
        sockets[0].close(code=4000)
        expect(page.get_by_role("heading", name="Good.")).to_be_visible()
        assert 4.8 <= float(shown(page, "held")) <= 5.2
        assert len(sockets) == 2
    assert len(server.takes()) == 1


@pytest.mark.deep
@pytest.mark.microphone
def test_the_next_try_begins_by_itself(server: Server, launch: Launch, tmp_path: Path) -> None:
    tone = softened(steady(B_FLAT_3_HZ, 4.3))
    path = tmp_path / "twice.wav"
    soundfile.write(
        path, np.concatenate((silence(LEAD_S), tone, silence(4), tone, silence(3))), RATE
    )
    with page_of(launch(microphone=path), server) as page:
        listen(page)
        expect(page.get_by_role("heading", name="Good.")).to_be_visible()
        expect(page.get_by_role("heading", name="Hold it.")).to_be_visible()
        expect(page.get_by_role("heading", name="Good.")).to_be_visible()
    assert len(server.takes()) == 2


@pytest.mark.deep
def test_notes_are_shown_in_the_players_own_notation_everywhere(
    server: Server, launch: Launch
) -> None:
    with page_of(launch(), server) as page:
        # Written for the tenor horn G4; Osk reads concert pitch in bass clef.
        expect(page.get_by_text("sounds B♭3")).to_be_visible()
        page.keyboard.press("p")
        expect(page.get_by_role("heading", name="Who plays?")).to_be_visible()
        page.keyboard.press("F2")
        expect(page.get_by_role("button", name="Start Enter", exact=True)).to_be_visible()
        page.keyboard.press("2")
        expect(page.get_by_role("img", name="B♭2", exact=True)).to_be_visible()
        expect(page.get_by_text("sounds ")).to_have_count(0)
        page.keyboard.press("s")
        expect(page.get_by_role("status").get_by_role("heading")).to_be_visible()
        page.keyboard.press("3")
        expect(page.get_by_role("link").get_by_role("img", name="B♭2", exact=True)).to_be_visible()


@pytest.mark.deep
def test_a_take_is_heard_at_half_speed_and_a_stretch_again_and_again(
    server: Server, launch: Launch
) -> None:
    with page_of(launch(), server) as page:
        page.keyboard.press("s")
        expect(page.get_by_role("status").get_by_role("heading")).to_be_visible()
        page.keyboard.press("3")
        expect(page.get_by_role("heading", name="Today")).to_be_visible()
        page.keyboard.press("Enter")
        expect(page.locator("audio")).to_be_attached()
        sound = "document.querySelector('audio')"
        page.keyboard.press("v")
        expect(page.get_by_role("status").get_by_role("heading")).to_be_visible()
        page.keyboard.press("s")
        expect(page.get_by_role("button", name="full speed")).to_be_visible()
        assert page.evaluate(f"[{sound}.playbackRate, {sound}.preservesPitch]") == [0.5, True]
        for _ in range(2):
            page.keyboard.press("ArrowRight")
        page.keyboard.press("l")
        page.keyboard.press("ArrowRight")
        page.keyboard.press("l")
        expect(page.get_by_role("button", name="no loop")).to_be_visible()
        page.keyboard.press("Space")
        # From its end at 1.5 s it goes back to 1 s, and on.
        until(page, f"{sound}.currentTime < 1.2 && !{sound}.paused")
        until(page, f"{sound}.currentTime > 1.3")
        until(page, f"{sound}.currentTime < 1.2")


def test_a_form_is_left_with_esc_and_kept_with_enter(server: Server, launch: Launch) -> None:
    with page_of(launch(), server) as page:
        page.keyboard.press("p")
        expect(page.get_by_role("heading", name="Who plays?")).to_be_visible()
        for _ in range(2):
            page.keyboard.press("n")
            expect(page.get_by_label("Name", exact=True)).to_be_focused()
            page.keyboard.type("Nobody")
            page.keyboard.press("Escape")
            expect(page.get_by_label("Name", exact=True)).to_have_count(0)
        page.keyboard.press("n")
        page.keyboard.press("Enter")
        expect(page.get_by_role("alert")).to_contain_text("Name is empty; fill it in.")
        page.keyboard.type("Pia")
        expect(page.get_by_label("Name", exact=True)).to_have_value("Pia")
        page.get_by_label("Instrument").focus()
        expect(page.get_by_label("Instrument")).to_be_focused()
        page.keyboard.press("Enter")
        expect(page.get_by_role("link", name="Pia")).to_be_visible()
    assert [one["name"] for one in httpx.get(f"{server.url}/api/players").json()] == [
        "Maren",
        "Osk",
        "Pia",
    ]
