"""The stand-in player as a body that practises: a whole session, attempt by attempt, without
sound."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from datetime import date

import numpy as np

from orexis.core.coach.fatigue import signs_of_tiring
from orexis.core.coach.history import NoteRow, PastAttempt, with_between
from orexis.core.coach.load import Weights
from orexis.core.exercises.task import Task
from orexis.core.judging.standard import Standard
from orexis.core.listening.notes.tone import Tone
from orexis.core.score.steps import Glide, Play, PlayedOn, Role, beats_of
from orexis.core.session.log import AttemptJudged, ButtonPressed, Entry, Press, TimeUp, Tired
from orexis.core.session.plan import Plan
from orexis.core.session.running import begin, step
from orexis.core.session.state import Phase, SessionState, due
from orexis.standin.body import Body

RATE = 48_000
"""Samples a second, as a microphone's; nothing is sampled, but time is kept by them."""
_SETTLES_S = 0.9
_ENDS_S = 0.3
_MOST_ENTRIES = 3000
HURTS_AT = 1.6
"""The tiredness from which on playing may hurt."""
_HURT_CHANCE = 0.03


class EndlessSessionError(Exception):
    """A session that does not end."""


@dataclass(frozen=True, slots=True)
class PlayedAttempt:
    """An attempt as it is remembered, its entry in the log, the task it was played to, and which
    set of the session it was of."""

    past: PastAttempt
    entry: AttemptJudged
    task: Task
    set_number: int


@dataclass(slots=True)
class PlayedSession:
    """A session that was played: its log, its attempts in order and how tired the body was before
    each, and the state it ended in."""

    state: SessionState
    log: list[Entry] = field(default_factory=list)
    attempts: list[PlayedAttempt] = field(default_factory=list)
    tiredness: list[float] = field(default_factory=list)

    @property
    def notes(self) -> list[NoteRow]:
        """Every note that was asked for, in order."""
        return [row for attempt in self.attempts for row in attempt.past.notes]


def practise(
    plan: Plan,
    body: Body,
    weights: Weights,
    level: Standard,
    day: date,
    random: np.random.Generator,
    name: Callable[[int], str] = str,
    hurts_after: int | None = None,
    *,
    watched: bool = True,
    usual: Sequence[NoteRow] = (),
) -> PlayedSession:
    """Plays a plan to its end, or until something hurts: after so many attempts where that is
    given, and else perhaps when the body is very tired. `watched` tells whether signs of tiring end
    hard work, held against what is `usual`. Raises `EndlessSessionError` for a plan that has no
    end."""
    found = PlayedSession(begin(plan, RATE, level))
    now = 0
    for _ in range(_MOST_ENTRIES):
        state = found.state
        if state.ended is not None:
            return found
        up = due(state)
        if up is not None:
            body.rest((up - now) / RATE)
            now = up
            _enter(found, TimeUp(up))
            continue
        starts = _ready_at(state, now)
        body.rest((starts - now) / RATE)
        too_much = body.tiredness > HURTS_AT and random.random() < _HURT_CHANCE
        if too_much or len(found.attempts) == hurts_after:
            now = starts
            _enter(found, ButtonPressed(now, Press.HURTS))
            continue
        found.tiredness.append(body.tiredness)
        tried, seconds, tone = _try(state.task, body, weights, level, day)
        now = starts + round((seconds + _ENDS_S) * RATE)
        entry = AttemptJudged(now, tried.passed, name(len(found.attempts)), round(seconds, 2), tone)
        task, set_number = state.task, state.set_of_session
        _enter(found, entry)
        found.attempts.append(PlayedAttempt(tried, entry, task, set_number))
        if watched and found.state.ended is None:
            signs = signs_of_tiring(found.notes, usual)
            if len(signs) > len(found.state.tired):
                _enter(found, Tired(now, signs))
    raise EndlessSessionError(plan.title)


def _enter(found: PlayedSession, entry: Entry) -> None:
    found.log.append(entry)
    found.state = step(found.state, entry)


def _ready_at(state: SessionState, now: int) -> int:
    """When the attempt begins: once it is ready, and the player has settled."""
    ready = next((stretch for stretch in state.stretches if stretch.phase is Phase.READY), None)
    start = now if ready is None else max(ready.start, now)
    return start + round(_SETTLES_S * RATE)


def _try(
    task: Task, body: Body, weights: Weights, level: Standard, day: date
) -> tuple[PastAttempt, float, Tone | None]:
    """One attempt at a task, as the body plays it."""
    score = task.once.score
    beat_s = 60 / score.bpm
    rows: list[NoteRow] = []
    good, played_s, sounded_s = [], 0.0, 0.0
    midi, on_horn = 60, True
    for each in score.steps:
        seconds = float(beats_of(each)) * beat_s
        played_s += seconds
        if isinstance(each, Play) and each.role is not Role.REFERENCE:
            midi, on_horn = each.midi, each.on is PlayedOn.HORN
        elif isinstance(each, Glide):
            midi = each.to_midi
        else:
            body.rest(seconds)
            continue
        felt = body.play(midi, seconds, weights.of_register(midi, on_horn), on_horn)
        good.append(felt.good)
        sounded_s += felt.seconds
        if isinstance(each, Play):
            rows.append(
                NoteRow(
                    asked_midi=midi,
                    on_horn=on_horn,
                    spoke=felt.spoke,
                    sounded_midi=midi if felt.spoke else None,
                    sounded_s=felt.seconds,
                    held_s=felt.held_s,
                    level_db=-20.0,
                    spread_cents=felt.spread_cents if felt.spoke else None,
                    rise_s=felt.rise_s if felt.spoke else None,
                    asked_s=seconds,
                )
            )
    passed = _passes(good, body.skill)
    longest = max(rows, key=lambda row: row.sounded_s, default=None)
    tone = None
    if longest is not None and longest.spoke:
        tone = Tone(longest.midi, -20.0, 22.0, 3.0, 0.0, longest.spread_cents or 5.0)
    notes = with_between(tuple(rows), sounded_s)
    return PastAttempt(day, task.family_key, passed, level, notes), played_s, tone


def _passes(good: Sequence[bool], skill: float) -> bool:
    """An attempt passes when all its notes are good; of many, a slip or two is let go."""
    slips = sum(not one for one in good)
    return slips <= len(good) * (1 - skill) * 0.5
