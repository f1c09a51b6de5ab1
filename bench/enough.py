"""Enough, before the pain: bodies that tire so fast that playing on hurts, and steady ones, through
a day with hard work. The body is a model; what hurts it is a level of tiredness."""

from dataclasses import dataclass, replace
from datetime import date, timedelta

import numpy as np

from bench.goals import at_least, at_most
from orexis.core.coach.about import About, Experience, Wish
from orexis.core.coach.day import DayPlan, PlanRequest
from orexis.core.coach.fatigue import usual_notes
from orexis.core.coach.history import NoteRow
from orexis.core.coach.known import PlayerFacts
from orexis.core.coach.load import Weights
from orexis.core.coach.planning import plan_day
from orexis.core.exercises.book import FAMILIES
from orexis.core.exercises.family import WORKS, Group
from orexis.core.exercises.writer import Reach, Writer
from orexis.core.horn.instruments import INSTRUMENTS
from orexis.core.horn.setup import Horn
from orexis.core.judging.standard import Standard
from orexis.core.session.building import block_of
from orexis.core.session.checking import with_checks
from orexis.core.session.log import Tired
from orexis.core.session.plan import Block, Plan
from orexis.core.session.running import begin, step
from orexis.core.session.state import BlockEnd
from orexis.practice.practising import HURTS_AT, RATE, PlayedSession, practise
from orexis.practice.simulation import SimulatedPlayer, simulate
from orexis.standin.body import Body

_SESSIONS = 200
_START, _WEEKS = date(2026, 1, 5), 3
_HORNS = ("cornet-bb", "trombone-bass", "tuba-eb-4v-comp", "horn-f")
_TIRES = (0.1, 1.0, 3.0, 6.0)
"""How many times as fast as usual a body tires."""
_MOST_LOOKED_FOR = 14
_HALF = 0.5
_RECOVERS = {key for key, family in FAMILIES.items() if family.practised.recovers}


@dataclass(frozen=True, slots=True)
class _Day:
    """A day with hard work: who plays, what is known, its plan, and what the
    player's notes are mostly like."""

    horn: str
    known: PlayerFacts
    plan: DayPlan
    usual: tuple[NoteRow, ...]


def main() -> None:
    """Prints, for each speed of tiring, what came of the sessions."""
    days = [day for horn in _HORNS for day in _hard_days(horn)]
    print(f"{len(days)} days with hard work on {len(_HORNS)} horns, {_SESSIONS} sessions each")
    for tires in _TIRES:
        stopped = harmful = before_harm = before_half = 0
        for number in range(_SESSIONS):
            day = days[number % len(days)]
            alone = _harm_at(_session(day, number, tires, watched=False))
            watched = _session(day, number, tires, watched=True)
            stop_s = _stopped_s(watched)
            stopped += stop_s is not None
            if alone is not None:
                harmful += 1
                before_harm += stop_s is not None and stop_s < alone
                before_half += _hard_share(day, watched) < _HALF
        print(
            f"tiring {tires:g} times as fast: stopped {stopped} of {_SESSIONS}; playing on would "
            f"hurt in {harmful}, stopped before that in {before_harm}, before half of the hard "
            f"work in {before_half}"
        )
        if tires == min(_TIRES):
            at_most("steady bodies that are stopped", 100 * stopped / _SESSIONS, 1)
        elif tires == max(_TIRES):
            at_least("stopped before what hurts, %", 100 * before_harm / harmful, 95)
            at_least("before half of the hard work, %", 100 * before_half / harmful, 80)


def _hard_days(horn: str) -> list[_Day]:
    """Days with hard work in the fourth week of somebody's practice and after."""
    kind = INSTRUMENTS[horn]
    about = About(Experience.SOME_YEARS, Wish.UP, 45)
    player = SimulatedPlayer(about, Writer(Horn(kind), Reach.usual(kind)))
    found: list[_Day] = []
    for seed in (1, 2):
        known = simulate(player, _START, _WEEKS, seed).last
        usual = usual_notes(note for attempt in known.history.attempts for note in attempt.notes)
        for later in range(_MOST_LOOKED_FOR):
            today = known.today + timedelta(days=later)
            plan = plan_day(replace(known, today=today), PlanRequest(45))
            if any(block.kind in (Group.HIGH, Group.PEDALS) for block in plan.blocks):
                found.append(_Day(horn, known, plan, usual))
                break
    return found


def _session(day: _Day, seed: int, tires: float, *, watched: bool) -> PlayedSession:
    """The day's plan as a body plays it that tires so many times as fast."""
    known, instrument = day.known, day.known.instrument
    low = instrument.normal_low - (2.0 if instrument.true_pedals else 0.0) - 4.0
    body = Body(known.range.comfortable + 2.5, low, 0.85, 20.0, seed, tires=tires)
    weights = Weights(instrument, known.range.comfortable)
    random = np.random.default_rng([seed, 7])
    plan = Plan("Today", _blocks(day))
    return practise(
        plan,
        body,
        weights,
        Standard.NORMAL,
        known.today,
        random,
        watched=watched,
        usual=day.usual,
    )


def _blocks(day: _Day) -> tuple[Block, ...]:
    blocks = (
        block_of(block.setting.family, day.known.writer, block.setting.values, block.setting.way)
        for block in day.plan.blocks
    )
    return with_checks(tuple(blocks), day.known.writer)


def _harm_at(played: PlayedSession) -> float | None:
    """When the body was past what hurts, in seconds from the beginning."""
    for attempt, tired in zip(played.attempts, played.tiredness, strict=True):
        if tired > HURTS_AT:
            return attempt.entry.sample / RATE
    return None


def _stopped_s(played: PlayedSession) -> float | None:
    """When hard work was over for the day, in seconds from the beginning: by signs of tiring, or
    since the check before it found the lips unready."""
    told = [tired.sample for tired in played.log if isinstance(tired, Tired)][:1]
    state = begin(Plan("A day", played.state.blocks), RATE, played.state.level)
    for entry in played.log:
        before, state = state, step(state, entry)
        left_out = [block.close for block in state.closed[len(before.closed) :]][1:2]
        if before.now.checks and left_out == [BlockEnd.HELD_BACK]:
            told.append(entry.sample)
            break
    return min(told) / RATE if told else None


def _hard_share(day: _Day, played: PlayedSession) -> float:
    """What part of the hard work that was planned was played, in attempts' time."""
    planned_s = sum(block.within_s or block.seconds for block in _blocks(day) if block.works)
    spent_s, before = 0.0, 0
    for attempt in played.attempts:
        tried, judged = attempt.past, attempt.entry
        if tried.group in WORKS and tried.family not in _RECOVERS:
            spent_s += (judged.sample - before) / RATE
        before = judged.sample
    return spent_s / planned_s if planned_s else 0.0


if __name__ == "__main__":
    main()
