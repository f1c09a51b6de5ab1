"""The coach: its players against two plain ways to practise, in the same simulation with the same
bodies; and how long a plan and the views take with three years of history. The body is a model."""

import statistics
import tempfile
import time
from collections.abc import Callable
from dataclasses import replace
from datetime import date, datetime, timedelta
from pathlib import Path

from fastapi.testclient import TestClient
from sqlalchemy import text

from bench.goals import at_most
from orexis.core.coach.about import About, Experience, Wish
from orexis.core.coach.day import Asked, DayBlock, DayPlan, Part
from orexis.core.coach.known import Known
from orexis.core.coach.planning import plan_day
from orexis.core.exercises.writer import Reach, Writer
from orexis.core.horn.instruments import INSTRUMENTS
from orexis.core.horn.notation import Clef, NoteView
from orexis.core.horn.setup import Horn
from orexis.demo.band import Member
from orexis.demo.history import keep, practised
from orexis.practice.coaching import known_of
from orexis.practice.simulation import Habits, Policy, Practiser, simulate
from orexis.server.app import Settings, create_app
from orexis.standin.profiles import Skilled
from orexis.store.coaching import keep_about
from orexis.store.database import Database
from orexis.store.models import Player
from orexis.store.players import PlayerDetails, add_player

_WEEKS, _SEEDS = 16, (1, 2, 3)
_PLAYERS = (
    ("cornet-bb", Experience.SOME_YEARS, Wish.UP, 30),
    ("trombone-bass", Experience.MANY_YEARS, Wish.UP, 45),
    ("tuba-eb-4v-comp", Experience.SOME_YEARS, Wish.UP, 30),
)
_START = date(2026, 1, 5)
_AWAY = frozenset(_START + timedelta(days=day) for day in range(54, 66))
"""Twelve days in bed, in the middle of it."""
_YEARS = 3
_TIMES = 15
_BASE = "http://127.0.0.1:8420"


class SameList:
    """Every day the same list: the first day's, whatever came of it."""

    def __init__(self) -> None:
        self._first: DayPlan | None = None

    def __call__(self, known: Known, asked: Asked) -> DayPlan:
        if self._first is None:
            self._first = plan_day(_with_high_work(known), asked)
        return replace(self._first, day=known.today, asked=asked)


class OneFurther:
    """Always one step further than yesterday: the same list, and its ladder every day from the
    highest note that passed so far, with five misses allowed on each rung."""

    def __init__(self) -> None:
        self._first: DayPlan | None = None

    def __call__(self, known: Known, asked: Asked) -> DayPlan:
        if self._first is None:
            self._first = plan_day(_with_high_work(known), asked)
        blocks = [
            self._further(one, known) if one.kind is Part.HIGH else one
            for one in self._first.blocks
        ]
        return replace(self._first, day=known.today, asked=asked, blocks=tuple(blocks))

    def _further(self, block: DayBlock, known: Known) -> DayBlock:
        setting = block.setting
        start = min(known.ceiling, known.instrument.highest_midi - 2)
        way = {**setting.way, "rungs": 2.0, "fails": 5.0, "after_fail": "again", "probe": "off"}
        way |= {"as_played": "off", "block_rest_s": 0.0}
        values = {**setting.values, "from_midi": float(start)}
        return replace(block, setting=replace(setting, values=values, way=way))


def _with_high_work(known: Known) -> Known:
    """The same player on a day on which a ladder is due."""
    return replace(known, about=replace(known.about, wish=Wish.UP))


def _row(policy: Callable[[], Policy]) -> list[float]:
    """Over all players and seeds: half steps gained by the body, half steps gained in what is at
    ease, days over a limit, days with sore lips or a stop, and days played."""
    found: list[list[float]] = []
    for key, experience, wish, minutes in _PLAYERS:
        horn = Horn(INSTRUMENTS[key])
        about = About(experience, wish, minutes, 5)
        player = Practiser(about, Writer(horn, Reach.usual(horn.instrument)))
        for seed in _SEEDS:
            first = simulate(player, _START, 0, seed, policy())
            habits = Habits(away=_AWAY)
            result = simulate(player, _START, _WEEKS, seed, policy(), habits)
            found.append(
                [
                    result.body.top - first.body.top,
                    float(result.last.comfortable - result.first.comfortable),
                    float(sum(bool(one.over) for one in result.days)),
                    float(sum(one.plan is not None and one.plan.asked.lips == "sore"
                              for one in result.days)),
                    float(sum(one.played is not None for one in result.days)),
                ]
            )  # fmt: skip
    return [statistics.fmean(column) for column in zip(*found, strict=True)]


def main() -> None:
    """Prints both tables."""
    print(f"{_WEEKS} weeks, {len(_PLAYERS)} players, {len(_SEEDS)} seeds; the body is a model\n")
    print(f"{'':<24}{'body':>7}{'at ease':>9}{'over limit':>12}{'sore':>7}{'days':>7}")
    policies: dict[str, Callable[[], Policy]] = {
        "the coach": lambda: plan_day,
        "the same list every day": SameList,
        "always one further": OneFurther,
    }
    rows = {name: _row(policy) for name, policy in policies.items()}
    for name, (body, ease, over, sore, days) in rows.items():
        print(f"{name:<24}{body:>+7.1f}{ease:>+9.1f}{over:>12.1f}{sore:>7.1f}{days:>7.0f}")
    print("half steps gained by the body and in what is at ease; days over a limit, sore, played")
    coach, *others = rows.values()
    at_most("coach: days over the load limit, against the better of the others", coach[2],
            min(one[2] for one in others))  # fmt: skip
    at_most(
        "coach: half steps at ease that the best of the others gains more",
        max(one[1] for one in others) - coach[1],
        0.0,
    )
    _speed()


def _speed() -> None:
    """How long the coach takes with years of history."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "years.db"
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
                rows = practised(member, now - timedelta(weeks=back))
                keep(session, player.id, rows)
        takes = _count(database, "takes"), _count(database, "take_notes")
        size_mb = path.stat().st_size / 1e6
        print(f"\n{_YEARS} years: {takes[0]} takes, {takes[1]} notes, {size_mb:.0f} MB")
        with database.session() as session:
            maren = session.get_one(Player, 1)
            plan_ms = _time("a plan, from the file", lambda: plan_day(
                known_of(session, maren, now.date()), Asked(30)))  # fmt: skip
            at_most("coach: a plan, ms", plan_ms, 100)
        database.close()
        with TestClient(create_app(Settings(path)), base_url=_BASE) as client:
            views = (
                "today",
                "schools",
                "programmes",
                "sessions",
                "takes",
                "range",
                "range/58",
                "changes",
                "diary/2026/1",
            )
            for view in views:
                view_ms = _time(f"GET {view}", lambda view=view: client.get(  # type: ignore[misc]
                    f"/api/players/1/{view}").raise_for_status())  # fmt: skip
                at_most(f"coach: GET {view}, ms", view_ms, 300)


def _count(database: Database, table: str) -> int:
    with database.session() as session:
        return int(session.execute(text(f"SELECT count(*) FROM {table}")).scalar_one())


def _time(name: str, work: Callable[[], object]) -> float:
    """The median of how long something takes (ms), printed with the first time, when nothing is
    remembered yet."""
    start = time.perf_counter()
    work()
    first_ms = 1000 * (time.perf_counter() - start)
    found = []
    for _ in range(_TIMES):
        start = time.perf_counter()
        work()
        found.append(1000 * (time.perf_counter() - start))
    print(
        f"{name:<24} median {statistics.median(found):>6.0f} ms, worst {max(found):>6.0f} ms, "
        f"first {first_ms:>6.0f} ms"
    )
    return statistics.median(found)
