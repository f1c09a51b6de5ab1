"""Weeks of practice with the stand-in player as a body that grows, tires and recovers, so that the
coach's rules can be watched over months in seconds."""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field, replace
from datetime import date, timedelta
from hashlib import sha256

import numpy as np

from orexis.core.coach.about import About, Experience, Lips
from orexis.core.coach.approaches import Approaches
from orexis.core.coach.day import TITLE, DayPlan, PlanRequest
from orexis.core.coach.fatigue import usual_notes
from orexis.core.coach.following import Following, exercises_of
from orexis.core.coach.history import DayAttempts, History, HurtPeriod, PastAttempt, Sitting
from orexis.core.coach.known import Event, PlayerFacts, usual_high
from orexis.core.coach.load import LOOKS_BACK, Load, Weights, load_of, load_on, over
from orexis.core.coach.planning import plan_day
from orexis.core.coach.standing import Standing
from orexis.core.exercises.book import FROM_SILENCE
from orexis.core.exercises.writer import Writer
from orexis.core.judging.standard import Standard
from orexis.core.session.building import block_of
from orexis.core.session.checking import with_checks
from orexis.core.session.plan import Plan
from orexis.core.session.state import BlockEnd, End
from orexis.practice.practising import PlayedSession, practise
from orexis.standin.body import Body

Policy = Callable[[PlayerFacts, PlanRequest], DayPlan]
"""What decides what is played on a day."""
_SKILL = {
    Experience.FIRST_WEEKS: 0.55,
    Experience.FIRST_YEAR: 0.68,
    Experience.SOME_YEARS: 0.8,
    Experience.MANY_YEARS: 0.9,
}
_USED_TO = {
    Experience.FIRST_WEEKS: 5.0,
    Experience.FIRST_YEAR: 10.0,
    Experience.SOME_YEARS: 16.0,
    Experience.MANY_YEARS: 26.0,
}
_CLEARED_AFTER_DAYS = 3
_HURTS_AFTER = 40
"""Attempts on a day on which something hurts."""


@dataclass(frozen=True, slots=True)
class Habits:
    """How a player keeps to it, and what befalls them: which days are missed for sure, and how
    often another is. On `tired_days` the lips are tired from elsewhere, and on `hurt_days`
    something hurts; up to `quiet_until` only the mouthpiece is played, and `room_semitones` is how
    far the range can still grow. Who plays `alone` has nobody to check them before hard work, or to
    say when they tire."""

    away: frozenset[date] = frozenset()
    tired_days: frozenset[date] = frozenset()
    hurt_days: frozenset[date] = frozenset()
    misses: float = 0.0
    quiet_until: date | None = None
    room_semitones: float = 12.0
    alone: bool = False


@dataclass(frozen=True, slots=True)
class SimulatedPlayer:
    """A player to simulate: what they say of themselves, their horn, standard, approaches,
    programmes and dates, and what they have played before."""

    about: About
    bare: Writer
    level: Standard = Standard.NORMAL
    approaches: Approaches = field(default_factory=dict)
    followings: tuple[Following, ...] = ()
    events: tuple[Event, ...] = ()
    history: History = field(default_factory=History)


@dataclass(frozen=True, slots=True)
class SimulatedDay:
    """A day of it: what was planned (`None` where nothing was played), what stopped it, the load
    after it, whether it ended at the ceiling, what was decided and why, the session itself, and
    whether the load was over a limit."""

    day: date
    plan: DayPlan | None
    played: PlayedSession | None
    stopped: str | None
    load: Load
    at_ceiling: bool
    decided: tuple[str, ...]
    over: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Simulation:
    """Weeks that were practised: every day, and what was known before and after."""

    days: tuple[SimulatedDay, ...]
    first: PlayerFacts
    last: PlayerFacts
    body: Body


def simulate(
    player: SimulatedPlayer,
    start: date,
    weeks: int,
    seed: int = 1,
    policy: Policy = plan_day,
    habits: Habits | None = None,
) -> Simulation:
    """Practises for some weeks."""
    walk = _Walk(player, seed, policy, habits or Habits())
    first = walk.known(start)
    days = tuple(walk.day(start + timedelta(days=number)) for number in range(7 * weeks))
    return Simulation(days, first, walk.known(start + timedelta(weeks=weeks)), walk.body)


class _Walk:
    """One day after the other."""

    def __init__(self, player: SimulatedPlayer, seed: int, policy: Policy, habits: Habits) -> None:
        self._player, self._policy, self._habits = player, policy, habits
        self._random, self._seed = np.random.default_rng(seed), seed
        about, instrument = player.about, player.bare.instrument
        top = usual_high(instrument, about) + 2.5
        used_to = _USED_TO[about.experience] * about.minutes / 30
        if about.weeks_off:
            used_to *= 0.4
        bottom = instrument.normal_low - 2.0 if instrument.true_pedals else instrument.normal_low
        self.body = Body(
            top, bottom - 4.0, _SKILL[about.experience], used_to, seed, habits.room_semitones
        )
        self._attempts: list[PastAttempt] = list(player.history.attempts)
        self._worked: list[DayAttempts] = list(player.history.worked)
        self._follows = exercises_of(player.followings)
        self._sittings: list[Sitting] = list(player.history.sittings)
        self._hurts: list[HurtPeriod] = list(player.history.hurts)
        self._cold = set(player.history.cold)

    def known(self, today: date) -> PlayerFacts:
        """What is known on a day."""
        since = today - LOOKS_BACK
        history = History(
            tuple(
                attempt
                for attempt in self._attempts
                if attempt.day >= since or attempt.family in self._follows
            ),
            tuple(sitting for sitting in self._sittings if sitting.day >= since),
            tuple(self._hurts),
            frozenset(self._cold),
            max((attempt.day for attempt in self._attempts if attempt.day < since), default=None),
            tuple(self._worked),
        )
        player = self._player
        return PlayerFacts(
            today,
            player.about,
            player.approaches,
            history,
            player.bare,
            player.events,
            player.followings,
        )

    def day(self, today: date) -> SimulatedDay:
        """A day, and the night after it."""
        self._clear(today)
        known = self.known(today)
        misses = self._misses(today)
        plan, played, stopped = None, None, None
        if not misses:
            plan = self._policy(known, self._asked(today))
            played = self._play(plan, known, today)
            stopped = self._stopped(played, today)
        self.body.sleep()
        rows = [] if played is None else played.notes
        load = load_on({**known.loads, today: load_of(rows, known.weights)}, today)
        return SimulatedDay(
            today,
            plan,
            played,
            stopped,
            load,
            played is not None and _sitting(played, today).at_ceiling,
            tuple(_decided(plan)),
            over(load) if played else (),
        )

    def _misses(self, today: date) -> bool:
        wants = self._player.about.days_a_week / 7
        chance = float(self._random.random())
        return today in self._habits.away or chance > wants * (1 - self._habits.misses)

    def _asked(self, today: date) -> PlanRequest:
        lips = Lips.NORMAL
        if self.body.tired or today in self._habits.tired_days:
            lips = Lips.TIRED
        if self.body.sore:
            lips = Lips.SORE
        until = self._habits.quiet_until
        quiet = until is not None and today < until
        return PlanRequest(self._player.about.minutes, lips, quiet)

    def _play(self, plan: DayPlan, known: PlayerFacts, today: date) -> PlayedSession | None:
        if not plan.blocks:
            return None
        writer = known.writer
        blocks = tuple(
            replace(
                block_of(block.setting.family, writer, block.setting.values, block.setting.way),
                why=block.reason,
            )
            for block in plan.blocks
        )
        weights = Weights(known.instrument, known.range.comfortable)
        alone = self._habits.alone
        played = practise(
            Plan(TITLE, blocks if alone else with_checks(blocks, writer)),
            self.body,
            weights,
            self._player.level,
            today,
            self._random,
            lambda number: self._name(today, number),
            _HURTS_AFTER if today in self._habits.hurt_days else None,
            watched=not alone,
            usual=usual_notes(note for attempt in known.history.attempts for note in attempt.notes),
        )
        self._keep(played, today)
        return played

    def _name(self, today: date, number: int) -> str:
        """What an attempt is called: the same in every run."""
        said = f"{self._seed} {self._player.bare.instrument.key} {today} {number}"
        return sha256(said.encode()).hexdigest()[:32]

    def _keep(self, played: PlayedSession, today: date) -> None:
        self._attempts += [attempt.past for attempt in played.attempts]
        self._worked += worked_on(played)
        self._sittings.append(_sitting(played, today))
        for tried in (attempt.past for attempt in played.attempts):
            if tried.family in FROM_SILENCE and tried.passed and tried.level is not Standard.KIND:
                self._cold |= {row.asked_midi for row in tried.notes}
        if played.state.ended is End.HURT:
            self._hurts.append(HurtPeriod(today))

    def _clear(self, today: date) -> None:
        """Some days later nothing hurts any more, and the player says so."""
        self._hurts = [
            replace(hurt, cleared=today)
            if hurt.cleared is None and (today - hurt.day).days >= _CLEARED_AFTER_DAYS
            else hurt
            for hurt in self._hurts
        ]

    def _stopped(self, played: PlayedSession | None, today: date) -> str | None:
        if played is None:
            return None
        if self._hurts and self._hurts[-1].cleared is None and played.state.ended is End.HURT:
            return "something hurt"
        if played.state.tired:
            return f"tiring: {'; '.join(played.state.tired)}"
        if any(block.close is BlockEnd.RAGGED for block in played.state.closed):
            return "the low note did not come back round"
        if _sitting(played, today).at_ceiling:
            return "a high note would not lock"
        return None


def worked_on(played: PlayedSession) -> list[DayAttempts]:
    """What a session that was played worked on."""
    found: dict[tuple[str, str], DayAttempts] = {}
    for attempt in played.attempts:
        tried, values = attempt.past, attempt.task.given.values
        key = tried.family, repr(sorted(values.items()))
        day = found.get(key) or DayAttempts(tried.day, tried.family, values, 0, 0)
        found[key] = replace(day, attempts=day.attempts + 1, good=day.good + tried.passed)
    return list(found.values())


def _sitting(played: PlayedSession, today: date) -> Sitting:
    return Sitting(today, tuple((block.block.group, block.close) for block in played.state.closed))


def _decided(plan: DayPlan | None) -> Iterator[str]:
    if plan is None:
        return
    if plan.summary:
        yield plan.summary
    yield from plan.warnings
    for block in plan.blocks:
        yield f"{block.kind.value}: {block.reason} {' '.join(block.facts)}".strip()


def reached(known: PlayerFacts, least: Sequence[Standing]) -> tuple[int | None, int | None]:
    """The lowest and highest note that stand so with a player."""
    notes = [midi for midi, standing in known.range.standings.items() if standing in least]
    return min(notes, default=None), max(notes, default=None)
