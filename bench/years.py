"""Three years of daily practice: how large the file is, how long a plan and every view take at the
server, and how soon Chromium paints a view. The body that practised is a model.

A view is asked for as the server finds it after it has read the weeks ahead (`server/warming.py`):
the first time anything is asked for and the median of many are told.
"""

import statistics
import tempfile
import time
from collections.abc import Callable
from datetime import date, datetime, timedelta
from pathlib import Path

import httpx
from fastapi.testclient import TestClient
from playwright.sync_api import sync_playwright
from sqlalchemy import text
from tests.browser.conftest import CHROMIUM, QUIET_FLAGS
from tests.running import Running

from bench.goals import at_most
from orexis.core.coach.about import About, Experience, Wish
from orexis.core.coach.day import PlanRequest
from orexis.core.coach.planning import plan_day
from orexis.core.horn.notation import Clef, NoteView
from orexis.demo.band import Member
from orexis.demo.history import keep, practised
from orexis.practice.coaching import known_of
from orexis.server.app import Settings, create_app
from orexis.server.warming import look_back
from orexis.standin.profiles import Skilled
from orexis.store.coaching import keep_about
from orexis.store.database import Database
from orexis.store.models import Player
from orexis.store.players import PlayerDetails, add_player

_YEARS, _TIMES, _PAINTS = 3, 15, 5
_VIEW_MS, _PAINT_MS = 300, 500
_BASE = "http://127.0.0.1:8420"
_VIEWS = (
    *("today", "approaches", "programmes", "book", "sessions", "takes"),
    *("range", "range/58", "changes", "diary/{year}/{month}", "diary/{year}/{month}/20"),
    *("diary/bookmarks", "words-back"),
)
_PAGES = (
    *("today", "stand", "takes", "horn", "book", "players"),
    *("progress", "progress/changes", "progress/days", "progress/away", "progress/storage"),
)


def main() -> None:
    """Prints what is measured beside what is wanted."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "years.db"
        _practise(path)
        _at_the_server(path)
        _painted(path)


def _practise(path: Path) -> None:
    database = Database(path)
    now = datetime.now().astimezone()
    member = Member(
        PlayerDetails("Maren", "tenor-horn-eb", NoteView.WRITTEN, Clef.TREBLE),
        About(Experience.SOME_YEARS, Wish.UP, 30, 7),
        (), 0.0, Skilled.EXPERIENCED, (), None,  # type: ignore[arg-type]
    )  # fmt: skip
    with database.session() as session:
        player = add_player(session, member.details)
        keep_about(session, player.id, member.about)
        for back in range(0, 52 * _YEARS, 10):
            keep(session, player.id, practised(member, now - timedelta(weeks=back)))
    takes, notes = _count(database, "takes"), _count(database, "take_notes")
    size_mb = path.stat().st_size / 1e6
    print(f"{_YEARS} years: {takes} takes, {notes} notes, {size_mb:.0f} MB")
    with database.session() as session:
        maren = session.get_one(Player, 1)
        plan_ms = _time("a plan, from the file", lambda: plan_day(
            known_of(session, maren, now.date()), PlanRequest(30)))  # fmt: skip
        at_most("years: a plan, ms", plan_ms, 100)
    database.close()


def _at_the_server(path: Path) -> None:
    today = date.today()
    app = create_app(Settings(path))
    with TestClient(app, base_url=_BASE) as client:
        begun = time.perf_counter()
        look_back(app.state.database, today)
        print(f"reading the weeks ahead, once after a start: {time.perf_counter() - begun:.1f} s")
        paths = [
            f"/api/players/1/{view}".format(year=today.year, month=today.month) for view in _VIEWS
        ]
        for view in (*paths, "/api/storage"):
            view_ms = _time(f"GET {view}", lambda view=view: client.get(view).raise_for_status())  # type: ignore[misc]
            at_most(f"years: GET {view}, ms", view_ms, _VIEW_MS)
        asked = {"first": str(today - timedelta(weeks=8)), "last": str(today)}
        _time(
            "a report", lambda: client.post("/api/players/1/report", json=asked).raise_for_status()
        )
        _time("the calendar, a file", lambda: client.get("/api/players/1/calendar.ics"))


def _painted(path: Path) -> None:
    """When Chromium first paints anything, and when a view's heading stands there."""
    server = Running(path, own_process=True)
    try:
        with sync_playwright() as playwright:
            browser = playwright.chromium.launch(executable_path=CHROMIUM, args=QUIET_FLAGS)
            context = browser.new_context(viewport={"width": 1280, "height": 800})
            context.add_init_script("localStorage.setItem('orexis-player', '1')")
            httpx.get(f"{server.url}/api/players/1/changes", timeout=60)
            for page_path in _PAGES:
                paints: list[float] = []
                headings: list[float] = []
                for _ in range(_PAINTS):
                    page = context.new_page()
                    page.goto(f"{server.url}/#/{page_path}")
                    page.wait_for_selector("main h1, main h2, main strong")
                    headings.append(page.evaluate("performance.now()"))
                    paints.append(page.evaluate(_FIRST_PAINT))
                    page.close()
                first_ms = statistics.median(paints)
                print(
                    f"{page_path:<20} first paint {first_ms:>5.0f} ms, "
                    f"its words {statistics.median(headings):>5.0f} ms"
                )
                at_most(f"years: first paint of {page_path}, ms", first_ms, _PAINT_MS)
            browser.close()
    finally:
        server.stop()


_FIRST_PAINT = "performance.getEntriesByName('first-contentful-paint')[0].startTime"


def _count(database: Database, table: str) -> int:
    with database.session() as session:
        return int(session.execute(text(f"SELECT count(*) FROM {table}")).scalar_one())


def _time(name: str, work: Callable[[], object]) -> float:
    """The median of how long something takes (ms), printed with the first time."""
    start = time.perf_counter()
    work()
    first_ms = 1000 * (time.perf_counter() - start)
    found = []
    for _ in range(_TIMES):
        start = time.perf_counter()
        work()
        found.append(1000 * (time.perf_counter() - start))
    print(
        f"{name:<42} median {statistics.median(found):>6.0f} ms, worst {max(found):>6.0f} ms, "
        f"first {first_ms:>6.0f} ms"
    )
    return statistics.median(found)
