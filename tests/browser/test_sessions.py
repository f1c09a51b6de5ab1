"""Whole sessions in the real interface, with no key pressed once they have begun.

The stand-in player plays them, on a clock that runs faster than the room's: it counts the same
samples, and nothing is left out.
"""

import json
import re
import sqlite3
import time
from collections import Counter
from contextlib import closing
from fractions import Fraction
from itertools import pairwise
from typing import Any

import httpx
import numpy as np
import pytest
from playwright.sync_api import Browser, Page, Route, expect

from orexis.core.score.steps import Play, Score
from orexis.core.session.metronome import Metronome, beats_of
from tests.browser.conftest import Launch, Server, page_of
from tests.browser.test_accessibility import check

SPEED = 40
QUICK = """
localStorage.setItem('orexis-clock', '{speed}');
localStorage.setItem('orexis-stand-1', JSON.stringify({{source: 'stand-in'}}));
"""
ENDS_WITHIN_MS = 120_000


def offer(page: Page, title: str, *exercises: dict[str, Any]) -> None:
    """Puts a session of a test's own among those that are offered."""

    def answer(route: Route) -> None:
        offered = {
            "title": title,
            "kind": "plan",
            "why": "A test's own.",
            "exercises": [
                {"title": exercise["family"], "why": "", **exercise} for exercise in exercises
            ],
            "minutes": 1,
            "left_out": [],
        }
        route.fulfill(json=[offered])

    page.route("**/sessions/offered*", answer)


def begin(page: Page, key: str) -> None:
    page.get_by_role("button", name="whole sessions").click()
    whole = page.get_by_role("region", name="Whole sessions")
    expect(whole.get_by_role("listitem").first).to_be_visible()
    page.keyboard.press(key)
    expect(page.get_by_role("region", name="Next")).to_be_visible()


def passing(page: Page, words: str) -> None:
    """Waits for words that stand there for a moment: on the quick clock a breath is gone before
    `expect`, which looks once a second after a while, looks again."""
    place = page.get_by_text(words)
    until = time.monotonic() + ENDS_WITHIN_MS / 1000
    while not place.is_visible():
        assert time.monotonic() < until, f"{words} was never there"
        page.wait_for_timeout(20)


def ended(page: Page) -> str:
    end = page.get_by_role("region", name="The end of the session")
    expect(end).to_be_visible(timeout=ENDS_WITHIN_MS)
    rows = end.get_by_role("group").evaluate_all("all => all.map(one => one.ariaLabel)")
    return "\n".join([*rows, end.inner_text()])


def log(server: Server) -> list[tuple[str, float, dict[str, Any]]]:
    """The log of the one session: kinds, seconds and what they say."""
    with closing(sqlite3.connect(f"file:{server.data}?mode=ro", uri=True)) as data:
        (rate,) = data.execute("SELECT sample_rate FROM sessions").fetchone()
        rows = data.execute("SELECT kind, sample, content FROM session_log ORDER BY number")
        return [(kind, sample / rate, json.loads(content)) for kind, sample, content in rows]


def verdicts(server: Server) -> list[bool]:
    return [said["passed"] for kind, _, said in log(server) if kind == "judged" and not said["cut"]]


def places(server: Server) -> list[str]:
    """Where in the session each take was played, in order."""
    with closing(sqlite3.connect(f"file:{server.data}?mode=ro", uri=True)) as data:
        rows = data.execute("SELECT place FROM takes ORDER BY first_frame").fetchall()
    return [place for (place,) in rows]


def quick(browser: Browser, server: Server, speed: int = SPEED) -> Any:
    return page_of(browser, server, init_script=QUICK.format(speed=speed))


@pytest.mark.deep
def test_a_second_session_begins_on_the_same_ear(server: Server, launch: Launch) -> None:
    with quick(launch(), server) as page:
        # The stand-in plays one exercise by itself; the clock is then far from its beginning.
        page.keyboard.press("Space")
        until = time.monotonic() + ENDS_WITHIN_MS / 1000
        while not server.takes() and time.monotonic() < until:
            page.wait_for_timeout(100)
        assert server.takes()
        offer(page, "Again", {"family": "long-tone", "values": {}, "way": {}})
        begin(page, "a")
        assert "Long tone: 1 of 1 good." in ended(page)


@pytest.mark.deep
def test_a_warm_up_with_the_metronome(server: Server, launch: Launch) -> None:
    with quick(launch(), server) as page:
        begin(page, "a")
        told = ended(page)
    assert "Done for today." in told
    assert "Lip slur: 7 of 7 good." in told
    found = log(server)
    # Breathing ends by its time: two breaths of 12 s, after a moment.
    assert (found[0][0], found[0][1]) == ("time-up", 25.5)
    assert verdicts(server) == [True] * 14
    # In time, every attempt begins where its count-in ends: seven lengths, evenly spaced.
    ends = [at for kind, at, _ in found if kind == "judged"][-7:]
    steps = [after - before for before, after in pairwise(ends)]
    assert max(steps) - min(steps) < 0.1
    # The stand-in begins with the beat, and keeps to it.
    (first, *_) = httpx.get(f"{server.url}/api/players/1/takes").json()
    late = re.fullmatch(r"Against the beat: (\d+) ms (late|early), ± (\d+) ms\.", first["timing"])
    assert late is not None
    assert int(late[1]) < 60
    assert int(late[3]) < 30


def test_a_ladder_climbs_fails_steps_back_and_ends_for_the_day(
    server: Server, launch: Launch
) -> None:
    with quick(launch(), server) as page:
        offer(
            page,
            "Higher",
            {"family": "chromatic-ladder", "values": {"beats": "1"}, "way": {"rungs": "5"}},
            {"family": "next-note", "values": {}, "way": {}},
            {"family": "long-tone", "values": {"hold_s": "1"}, "way": {}},
        )
        reach = page.get_by_role("slider", name="reach")
        reach.press("Home")
        for _ in range(11):
            reach.press("ArrowRight")
        begin(page, "a")
        told = ended(page)
    rungs = [place for place in places(server) if not place.endswith("low note")]
    numbers = [int(place.split("step ")[1][0]) for place in rungs if "step" in place]
    # Two notes before it say whether all of it is played. The last one is a step back, so that it
    # does not end on a miss.
    assert numbers[2:] == [1, 2, 3, 2, 3, 2, 3, 2]
    assert "The top stopped locking, so we stopped there." in told
    # More of it would teach the wrong thing; the easy one is still played.
    assert "Next note: left out" in told
    assert "Long tone: 1 of 1 good." in told
    assert "Leave for tomorrow" in told
    # The low note before every attempt.
    assert Counter(place.endswith("low note") for place in places(server)) == {True: 8, False: 11}


@pytest.mark.deep
def test_a_pedal_set_with_rests(server: Server, launch: Launch) -> None:
    httpx.put(
        f"{server.url}/api/players/1",
        json={
            "name": "Maren",
            "instrument_key": "euphonium-bb-4v",
            "view": "sounding",
            "clef": "bass",
        },
    ).raise_for_status()
    with quick(launch(), server) as page:
        sets = {"sets": "2", "set_rest_s": "40", "rest_s": "5"}
        values = {"starts": "4", "beats": "2"}
        offer(page, "Pedals", {"family": "pedal-sets", "values": values, "way": sets})
        begin(page, "a")
        told = ended(page)
        newest = server.takes()[0]
        page.goto(f"{server.url}/#/takes/{newest['id']}")
        expect(page.get_by_role("heading", name="How was it?")).to_be_visible()
        page.keyboard.press("v")
        held = page.get_by_role("region", name="How long the notes of this set were held")
        expect(held.get_by_role("img")).to_be_visible()
        expect(held).to_contain_text("4 notes of B♭1: mostly")
    # Two notes before it say whether all of it is played.
    assert places(server)[2:] == [
        f"set {number} of 2, start {start} of 4: start {start}"
        for number in (1, 2)
        for start in (1, 2, 3, 4)
    ]
    assert "Every rest kept." in told
    ends = [at for kind, at, _ in log(server) if kind == "judged"][2:]
    assert ends[4] - ends[3] > 40
    assert all(after - before > 5 for before, after in pairwise(ends))


FIVE = {
    "family": "low-long-tones",
    "values": {"notes": "5", "hold_s": "3"},
    "way": {"rest_s": "5"},
}


@pytest.mark.deep
@pytest.mark.kills
def test_a_server_killed_half_way_loses_and_counts_nothing_twice(
    server: Server, launch: Launch
) -> None:
    with quick(launch(), server) as page:
        offer(page, "Five", FIVE)
        begin(page, "a")
        passing(page, "breath 3 of 5")
        server.kill()
        server.start()
        told = ended(page)
    assert "Low long tones: 5 of 5 good." in told
    assert verdicts(server) == [True] * 5
    assert [place.split(":")[0] for place in places(server)] == [
        f"breath {number} of 5" for number in range(1, 6)
    ]


@pytest.mark.deep
def test_a_page_that_is_reloaded_goes_on_where_it_was(server: Server, launch: Launch) -> None:
    with quick(launch(), server) as page:
        offer(page, "Five", FIVE)
        begin(page, "a")
        passing(page, "breath 3 of 5")
        page.reload()
        told = ended(page)
    assert "Low long tones: 5 of 5 good." in told
    assert verdicts(server) == [True] * 5
    assert "resumed" in [kind for kind, _, _ in log(server)]


RENDER = """
async (beats) => {
  const { schedule } = await import('/assets/clicks.js');
  const context = new OfflineAudioContext(1, 48000 * 12, 48000);
  schedule(context, beats, (sample) => sample / 48000);
  const sound = await context.startRendering();
  return Array.from(sound.getChannelData(0));
}
"""


@pytest.mark.deep
def test_every_click_falls_within_a_millisecond_of_its_beat(server: Server, launch: Launch) -> None:
    music = Score(tuple(Play(60, Fraction(1)) for _ in range(12)), 3, 97.0)
    metronome = Metronome(parts=2, ramp_to_bpm=140.0)
    beats = beats_of(metronome, music, 24_000, 48_000)
    with quick(launch(), server) as page:
        told = [{"sample": beat.sample, "click": beat.click.value} for beat in beats]
        sound = np.abs(np.array(page.evaluate(RENDER, told)))
    # A click is where it sounds after silence.
    loud = np.flatnonzero(sound > 0.01)
    starts = loud[np.diff(loud, prepend=-48_000) > 960]
    assert len(starts) == len(beats)
    late_ms = (starts - [beat.sample for beat in beats]) / 48
    assert np.abs(late_ms).max() <= 1.0


def test_a_session_of_ones_own_is_put_together_played_noted_and_listed(
    server: Server, launch: Launch
) -> None:
    # Slow enough to see what is to be heard first.
    with quick(launch(), server, speed=3) as page:
        page.goto(f"{server.url}/#/book/long-tone")
        page.get_by_label("hold, s").fill("1")
        page.get_by_text("In a session").click()
        page.get_by_label("before the first attempt").select_option("hear it first")
        page.get_by_label("rest after an attempt, s").fill("5")
        page.get_by_label("good ones a step").fill("2")
        page.get_by_role("button", name="S Add to my session", exact=True).click()
        expect(page.get_by_text("number 1 of your session")).to_be_visible()
        page.goto(f"{server.url}/#/stand")
        page.get_by_role("button", name="whole sessions").click()
        expect(page.get_by_role("button", name="My session F")).to_be_visible()
        check(page)
        page.get_by_role("button", name="My session F").click()
        expect(page.get_by_text("Hear Long tone.")).to_be_visible()
        check(page)
        page.keyboard.press("f")
        assert "Long tone: 2 of 2 good." in ended(page)
        check(page)
        page.get_by_label("A note to yourself").fill("Slower air at the start.")
        page.get_by_role("button", name="Keep the note").click()
        expect(page.get_by_text("Kept.", exact=True)).to_be_visible()
        page.get_by_role("heading", name="Done for today.").click()
        page.keyboard.press("Escape")
        expect(page.get_by_role("button", name="whole sessions")).to_be_visible()
        page.keyboard.press("3")
        today = page.get_by_role("region", name="Today")
        expect(today.get_by_role("heading", name="My session")).to_be_visible()
        expect(today.get_by_text("“Slower air at the start.”")).to_be_visible()
        expect(today.get_by_text("1 of 2 good")).to_be_visible()


def test_keys_pause_skip_and_end_and_hurt_holds_back(server: Server, launch: Launch) -> None:
    with quick(launch(), server) as page:
        offer(page, "Five", FIVE, FIVE)
        begin(page, "a")
        lead = page.get_by_role("region", name="Next")
        page.keyboard.press("Space")
        expect(lead.get_by_role("heading", name="Paused.")).to_be_visible()
        page.keyboard.press("Space")
        expect(lead.get_by_role("heading", name="Paused.")).to_be_hidden()
        page.keyboard.press("k")
        expect(lead.get_by_text("2 of 2: Low long tones")).to_be_visible()
        page.keyboard.press("h")
        expect(page.get_by_role("heading", name="Put the horn down.")).to_be_visible()
        page.get_by_role("button", name="Back to the Stand").click()
        expect(page.get_by_text("Something hurt, so playing waits.")).to_be_visible()
        page.unroute("**/sessions/offered*")
        page.get_by_role("button", name="whole sessions").click()
        waits = page.get_by_text("Pedal air attacks waits, since something hurt.")
        expect(waits.first).to_be_visible()
        page.keyboard.press("q")
        expect(page.get_by_text("The same note, buzzed")).to_be_hidden()
        expect(page.get_by_role("button", name="quiet hours: mouthpiece alone, on")).to_be_visible()
        page.keyboard.press("Escape")
        page.get_by_role("button", name="Nothing hurts any more").click()
        expect(page.get_by_text("Something hurt, so playing")).to_be_hidden()
    assert httpx.get(f"{server.url}/api/players/1/hurts").json() == []


NO_CAMERA = """() => {
  const devices = navigator.mediaDevices;
  const get = devices.getUserMedia.bind(devices);
  devices.getUserMedia = (what) =>
    what.video ? Promise.reject(new DOMException('', 'NotFoundError')) : get(what);
}"""


@pytest.mark.deep
def test_a_mirror_without_a_camera_and_clicks_nobody_hears_are_said(
    server: Server, launch: Launch
) -> None:
    with page_of(launch(), server) as page:
        page.evaluate(NO_CAMERA)
        page.keyboard.press("i")
        expect(page.get_by_text("There is no camera.")).to_be_visible()
        page.keyboard.press("l")
        page.get_by_role("button", name="Measure", exact=True).click()
        notice = page.get_by_role("heading", name="The round trip could not be measured")
        expect(notice).to_be_visible()
        page.get_by_role("button", name="Back to the Stand").click()
        expect(page.get_by_role("button", name="whole sessions")).to_be_visible()
