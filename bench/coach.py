"""The coach: its players against two plain ways to practise, in the same simulation with the same
bodies. The body is a model."""

import statistics
from collections.abc import Callable
from dataclasses import replace
from datetime import date, timedelta

from bench.goals import at_most
from orexis.core.coach.about import About, Experience, Wish
from orexis.core.coach.day import DayBlock, DayPlan, PlanRequest
from orexis.core.coach.known import PlayerFacts
from orexis.core.coach.planning import plan_day
from orexis.core.exercises.family import Group
from orexis.core.exercises.writer import Reach, Writer
from orexis.core.horn.instruments import INSTRUMENTS
from orexis.core.horn.setup import Horn
from orexis.practice.simulation import Habits, Policy, SimulatedPlayer, simulate

_WEEKS, _SEEDS = 16, (1, 2, 3)
_PLAYERS = (
    ("cornet-bb", Experience.SOME_YEARS, Wish.UP, 30),
    ("trombone-bass", Experience.MANY_YEARS, Wish.UP, 45),
    ("tuba-eb-4v-comp", Experience.SOME_YEARS, Wish.UP, 30),
)
_START = date(2026, 1, 5)
_AWAY = frozenset(_START + timedelta(days=day) for day in range(54, 66))
"""Twelve days in bed, in the middle of it."""


class SameList:
    """Every day the same list: the first day's, whatever came of it."""

    def __init__(self) -> None:
        self._first: DayPlan | None = None

    def __call__(self, known: PlayerFacts, asked: PlanRequest) -> DayPlan:
        if self._first is None:
            self._first = plan_day(_with_high_work(known), asked)
        return replace(self._first, day=known.today, asked=asked)


class OneFurther:
    """Always one step further than yesterday: the same list, and its ladder every day from the
    highest note that passed so far, with five misses allowed on each rung."""

    def __init__(self) -> None:
        self._first: DayPlan | None = None

    def __call__(self, known: PlayerFacts, asked: PlanRequest) -> DayPlan:
        if self._first is None:
            self._first = plan_day(_with_high_work(known), asked)
        blocks = [
            self._further(block, known) if block.kind is Group.HIGH else block
            for block in self._first.blocks
        ]
        return replace(self._first, day=known.today, asked=asked, blocks=tuple(blocks))

    def _further(self, block: DayBlock, known: PlayerFacts) -> DayBlock:
        setting = block.setting
        start = min(known.ceiling, known.instrument.highest_midi - 2)
        way = {**setting.way, "rungs": 2.0, "fails": 5.0, "after_fail": "again", "probe": "off"}
        way |= {"as_played": "off", "block_rest_s": 0.0}
        values = {**setting.values, "from_midi": float(start)}
        return replace(block, setting=replace(setting, values=values, way=way))


def _with_high_work(known: PlayerFacts) -> PlayerFacts:
    """The same player on a day on which a ladder is due."""
    return replace(known, about=replace(known.about, wish=Wish.UP))


def _row(policy: Callable[[], Policy], *, alone: bool) -> list[float]:
    """Over all players and seeds: half steps gained by the body, half steps gained in what is at
    ease, days over a limit, days with sore lips or a stop, and days played."""
    found: list[list[float]] = []
    for key, experience, wish, minutes in _PLAYERS:
        horn = Horn(INSTRUMENTS[key])
        about = About(experience, wish, minutes, 5)
        player = SimulatedPlayer(about, Writer(horn, Reach.usual(horn.instrument)))
        for seed in _SEEDS:
            first = simulate(player, _START, 0, seed, policy())
            habits = Habits(away=_AWAY, alone=alone)
            result = simulate(player, _START, _WEEKS, seed, policy(), habits)
            found.append(
                [
                    result.body.top - first.body.top,
                    float(result.last.range.comfortable - result.first.range.comfortable),
                    float(sum(bool(day.over) for day in result.days)),
                    float(sum(day.plan is not None and day.plan.asked.lips == "sore"
                              for day in result.days)),
                    float(sum(day.played is not None for day in result.days)),
                ]
            )  # fmt: skip
    return [statistics.fmean(column) for column in zip(*found, strict=True)]


def main() -> None:
    """Prints the table."""
    print(f"{_WEEKS} weeks, {len(_PLAYERS)} players, {len(_SEEDS)} seeds; the body is a model\n")
    print(f"{'':<24}{'body':>7}{'at ease':>9}{'over limit':>12}{'sore':>7}{'days':>7}")
    policies: dict[str, Callable[[], Policy]] = {
        "the coach": lambda: plan_day,
        "the same list every day": SameList,
        "always one further": OneFurther,
    }
    rows = {name: _row(policy, alone=policy() is not plan_day) for name, policy in policies.items()}
    for name, (body, ease, over, sore, days) in rows.items():
        print(f"{name:<24}{body:>+7.1f}{ease:>+9.1f}{over:>12.1f}{sore:>7.1f}{days:>7.0f}")
    print("half steps gained by the body and in what is at ease; days over a limit, sore, played")
    coach, *others = rows.values()
    at_most("coach: days over the load limit, against the better of the others", coach[2],
            min(other[2] for other in others))  # fmt: skip
    at_most(
        "coach: half steps at ease that the best of the others gains more",
        max(other[1] for other in others) - coach[1],
        0.0,
    )
