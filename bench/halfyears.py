"""Half a year of twelve players, watched with a teacher's eye: limits, growth, turns, rest and
minutes. The body is a model; what is counted are the coach's own rules."""

from collections import Counter, defaultdict
from dataclasses import dataclass, field
from datetime import date, timedelta

from bench.facts import START, players
from bench.goals import at_least, at_most
from orexis.core.coach.day import DayPlan, PlanRequest
from orexis.core.coach.known import PlayerFacts
from orexis.core.coach.limits import limits_for
from orexis.core.coach.planning import plan_day
from orexis.core.exercises.book import FAMILIES, planned_in, task_of
from orexis.core.exercises.family import ExerciseRefusedError, Family, Group
from orexis.core.exercises.paths import path_of
from orexis.core.exercises.writer import Writer
from orexis.core.session.building import block_of
from orexis.core.session.state import End
from orexis.practice.practising import RATE
from orexis.practice.simulation import Habits, SimulatedPlayer, simulate

_WEEKS, _SEEDS = 26, (1, 2, 3)
_WINDOW = timedelta(weeks=6)
_FREQUENT = 12
"""Plans of six weeks that an exercise is in to be a frequent one: two a week."""
_OFTEN = 4
"""How often a kind of work has to be in plans, for each exercise of it, for all to come round."""
_ROOM_DAYS = 40
"""On so many days the player's notes must have room for an exercise for it to be missed."""
_NO_PATH = frozenset({Group.BREATH, Group.WARM_DOWN})
"""What changes by the day, or comes down again, and goes along no path."""


@dataclass
class _Year:
    """What was counted of one player."""

    plans: int = 0
    past: int = 0
    same: set[str] = field(default_factory=set)
    frequent: set[str] = field(default_factory=set)
    missing: set[str] = field(default_factory=set)
    over: int = 0
    stopped: int = 0
    hurt: int = 0
    seven_running: int = 0
    close: int = 0
    whole: int = 0
    short_of_music: int = 0


class _Watched:
    """Plans days as the coach does and counts blocks that ask for a note past the day's limits, and
    the days whose notes have room for an exercise."""

    def __init__(self, writer: Writer) -> None:
        self.past = 0
        self.has_room: Counter[str] = Counter()
        self._spans = {key: _span(family, writer) for key, family in FAMILIES.items()}

    def __call__(self, known: PlayerFacts, asked: PlanRequest) -> DayPlan:
        plan = plan_day(known, asked)
        limits = limits_for(known, asked.lips)
        for key, span in self._spans.items():
            family = FAMILIES[key]
            room = limits.highest_of(family.practised) - limits.lowest_of(family)
            self.has_room[key] += span is not None and span <= room
        for one in plan.blocks:
            setting, family = one.setting, FAMILIES[one.setting.family]
            block = block_of(setting.family, known.writer, setting.values, setting.way)
            pitches = [midi for rung in block.rungs for midi in rung.task.score.pitches]
            if pitches and not family.practised.recovers:
                highest = limits.highest_of(family.practised)
                self.past += not limits.lowest_of(family) <= min(pitches) <= max(pitches) <= highest
        return plan


def _watch(player: SimulatedPlayer, habits: Habits, seed: int, weeks: int) -> _Year:
    policy = _Watched(player.bare)
    days = [day for day in simulate(player, START, weeks, seed, policy, habits).days if day.played]
    found = _Year(plans=len(days), past=policy.past)
    set_to: dict[str, list[tuple[date, str]]] = defaultdict(list)
    kinds: Counter[Group] = Counter()
    played = {day.day for day in days if day.plan and _sounds(day.plan)}
    for day in days:
        assert day.plan is not None
        assert day.played is not None
        found.over += bool(day.over)
        found.stopped += day.stopped is not None
        found.hurt += day.played.state.ended is End.HURT
        found.seven_running += {day.day + timedelta(days=n) for n in range(7)} <= played
        if day.stopped is None and day.plan.blocks:
            share = day.played.log[-1].sample / RATE / 60 / day.plan.minutes
            found.whole += 1
            found.close += 0.9 <= share <= 1.1
        music = sum(b.all_minutes for b in day.plan.blocks if b.kind is Group.MUSIC)
        if music and day.plan.minutes >= 10:
            found.short_of_music += music < 0.25 * day.plan.minutes - 0.5
        for block in day.plan.blocks:
            kinds[block.kind] += 1
            if block.kind not in _NO_PATH:
                values = repr(sorted(block.setting.values.items()))
                set_to[block.setting.family].append((day.day, values))
    for family, rows in set_to.items():
        windows = _windows(rows)
        if windows:
            found.frequent.add(family)
        if any(len(set(window)) == 1 for window in windows):
            found.same.add(family)
    there = {
        key
        for key, family in FAMILIES.items()
        if family.practised.turn
        and kinds[family.group] >= _OFTEN * len(planned_in(family.group))
        and family.group not in _NO_PATH
        and not family.practised.from_silence
        and policy.has_room[key] >= _ROOM_DAYS
    }
    found.missing = there - set(set_to)
    return found


def _windows(rows: list[tuple[date, str]]) -> list[list[str]]:
    """What an exercise was set to in every six weeks in which it was a frequent one."""
    windows = (
        [values for day, values in rows[begin:] if day < first + _WINDOW]
        for begin, (first, _) in enumerate(rows)
    )
    return [window for window in windows if len(window) >= _FREQUENT]


def _span(family: Family, writer: Writer) -> int | None:
    """How many half steps the easiest form of an exercise covers, `None` where the horn has not
    what it needs, a slide, a trigger, so much range."""
    path = path_of(family.key, writer)
    try:
        pitches = task_of(family, writer, path[0].values if path else {}).score.pitches
    except ExerciseRefusedError:
        return None
    return max(pitches, default=0) - min(pitches, default=0)


def _sounds(plan: DayPlan) -> bool:
    return any(block.kind is not Group.BREATH for block in plan.blocks)


def main(weeks: int = _WEEKS, seeds: tuple[int, ...] = _SEEDS) -> None:
    """Prints the table, a row for each player."""
    print(f"{weeks} weeks, {len(seeds)} seeds each")
    years: list[_Year] = []
    for player, habits in players():
        about, horn = player.about, player.bare.instrument.key
        for seed in seeds:
            year = _watch(player, habits, seed, weeks)
            years.append(year)
            print(
                f"{horn:<20}{about.experience:<12}{about.minutes:>3} min: {year.plans:>4} plans, "
                f"{year.past} past, {len(year.frequent)} "
                f"({' '.join(sorted(year.same)) or 'none'}), "
                f"{' '.join(sorted(year.missing)) or 'none'}; {year.over} over, "
                f"{year.stopped} stopped, {year.hurt} hurt, {year.seven_running} without rest, "
                f"{year.close} of {year.whole}, {year.short_of_music} short of music",
                flush=True,
            )
    at_most("blocks past a limit", sum(year.past for year in years), 0)
    at_most("frequent exercises that stay the same for six weeks",
            sum(len(year.same) for year in years), 0)  # fmt: skip
    at_most("exercises that never come round", sum(len(year.missing) for year in years), 0)
    at_most("days over a limit of load", sum(year.over for year in years), 0)
    at_most("weeks without a day of rest", sum(year.seven_running for year in years), 0)
    at_most("plans short of music", sum(year.short_of_music for year in years), 0)
    whole = sum(year.whole for year in years)
    close = 100 * sum(year.close for year in years) / whole
    at_least("days within 10 % of their minutes, %", close, 90)


if __name__ == "__main__":
    main()
