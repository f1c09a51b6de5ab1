"""Prints the plans that docs/coach.md speaks of: ten players, each after some simulated weeks."""

from dataclasses import replace
from datetime import date, timedelta

from orexis.core.coach.about import About, Experience, Lips, Wish
from orexis.core.coach.day import PlanRequest
from orexis.core.coach.following import Following
from orexis.core.coach.history import HurtPeriod
from orexis.core.coach.known import Event, EventKind, PlayerFacts
from orexis.core.coach.planning import plan_day
from orexis.core.exercises.writer import Reach, Writer
from orexis.core.horn.instruments import INSTRUMENTS
from orexis.core.horn.setup import Horn
from orexis.practice.simulation import Habits, SimulatedPlayer, simulate

_START, _SEED = date(2026, 3, 2), 3
_LONG = date(2027, 1, 1)


def after(key: str, about: About, weeks: int, habits: Habits | None = None) -> PlayerFacts:
    """What is known of a player on a horn after some weeks of practice."""
    kind = INSTRUMENTS[key]
    player = SimulatedPlayer(about, Writer(Horn(kind), Reach.usual(kind)))
    return simulate(player, _START, weeks, _SEED, habits=habits).last


def _about(experience: Experience, wish: Wish, minutes: int, days: int) -> About:
    return About(experience, wish, minutes, days)


def players() -> list[tuple[str, PlayerFacts, PlanRequest]]:
    """The ten players, in words, and what they ask for."""
    some, many = Experience.SOME_YEARS, Experience.MANY_YEARS
    cornet = after("cornet-bb", _about(some, Wish.UP, 30, 5), 6)
    braces = Following("braces", cornet.today - timedelta(days=3), cornet.base_midi)
    tenor = after("tenor-horn-eb", _about(some, Wish.FIT, 30, 5), 6)
    trumpet = after("trumpet-bb", _about(many, Wish.ENDURANCE, 75, 6), 8)
    centenary = Event(trumpet.today + timedelta(days=2), EventKind.CONCERT, "The centenary")
    quiet = Habits(quiet_until=_LONG)
    return [
        (
            "Cornet, third week, 20 min",
            after("cornet-bb", _about(Experience.FIRST_WEEKS, Wish.FIT, 20, 6), 2),
            PlanRequest(20),
        ),
        (
            "Cornet, braces since three days, 30 min",
            replace(cornet, about=replace(cornet.about, braces=True), followings=(braces,)),
            PlanRequest(30),
        ),
        (
            "Tenor horn, back after ten weeks, 30 min",
            replace(tenor, today=tenor.today + timedelta(days=70)),
            PlanRequest(30),
        ),
        (
            "Euphonium, amateur, 20 min on four days",
            after("euphonium-bb-comp", _about(some, Wish.CENTRING, 20, 4), 8),
            PlanRequest(20),
        ),
        (
            "Trumpet, professional, 75 min, a concert in two days",
            replace(trumpet, events=(centenary,)),
            PlanRequest(75),
        ),
        (
            "Bass trombone with two triggers, 45 min",
            after("trombone-bass", _about(many, Wish.UP, 45, 5), 8),
            PlanRequest(45),
        ),
        (
            "E♭ tuba, low work, 40 min",
            after("tuba-eb-4v-comp", _about(some, Wish.DOWN, 40, 5), 8),
            PlanRequest(40),
        ),
        (
            "Cornet, quiet hours only, 25 min",
            after("cornet-bb", _about(some, Wish.FIT, 25, 5), 4, quiet),
            PlanRequest(25, Lips.NORMAL, quiet=True),
        ),
        (
            "Cornet, pain now, 30 min",
            replace(cornet, history=replace(cornet.history, hurts=(HurtPeriod(cornet.today),))),
            PlanRequest(30),
        ),
        (
            "Flugelhorn, ten minutes a day",
            after("flugelhorn-bb", _about(some, Wish.FIT, 10, 7), 6),
            PlanRequest(10),
        ),
    ]


def main() -> None:
    """Prints every plan as Markdown."""
    for words, known, asked in players():
        plan = plan_day(known, asked)
        print(f"### {words}\n\n{plan.headline} {plan.summary}".rstrip() + "\n")
        for warning in plan.warnings:
            print(f"> {warning}\n")
        print("| | min | highest | set to |\n|---|---|---|---|")
        for block in plan.blocks:
            highest = "" if block.highest_midi is None else known.bare.name(block.highest_midi)
            print(f"| {block.title} | {block.all_minutes:g} | {highest} | {block.about} |")
        print()


if __name__ == "__main__":
    main()
