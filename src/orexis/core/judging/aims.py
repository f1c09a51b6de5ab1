"""What each aim of an exercise measures of an attempt, and its limits.

Every aim has a rule: a value and a place in the music for every chance there was to meet it.
`EVEN`, `CLEAR` and `SPAN` have no limit that the job names, so theirs are our own. All of them
stand in `docs/measures.md`.
"""

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np

from orexis.core.exercises.family import Aim
from orexis.core.exercises.task import Task
from orexis.core.judging import line_rules
from orexis.core.judging.line_rules import Measured
from orexis.core.judging.matching import MatchedAttempt, Place, tone_of
from orexis.core.judging.standard import Standard
from orexis.core.listening.notes.tone import TOLD_FROM_S, Baseline, Tone, ToneWord
from orexis.core.score.steps import Articulation, Breath, Play, Rest, Role, Score

_LEAST_HELD_S = 1.0
"""How long the last note of a breath is held where the exercise does not say."""

_TOLD_IN_A_LINE_S = 0.4
"""A shorter note of a line says nothing of its tone."""
_BEST_PERCENT, _QUICK_VARY_DB, _ROOM_TAKES_DB = 75, 1.5, 8.0
"""What the clearest quarter of a line's quick notes lack is the room's, and about how much they
vary in it; up to so much in all."""

_NONE_PASSED = "no note was good yet"
_HELD_OF_WRITTEN, _HELD_IN_TIME = 0.8, 0.7
"""How much of a note's written time it is to be held where it lasts as long as it is good, and
where the next comes in time: a breath takes the rest."""


@dataclass(frozen=True, slots=True)
class AimRule:
    """What an aim's rule measures of an attempt: a value and a place for every chance there was to
    meet it, or why it cannot be told. The limit is the most of the value either way, or, where
    `least`, the least; at the three levels strict, normal and kind, none where the exercise says
    it. `never_better` tells that a value within the limit says nothing of how good it was. `word`
    says in a word what was wrong at a place, where the value does not."""

    unit: str
    limits: tuple[float, float, float] | None
    measure: Callable[[MatchedAttempt], list[Measured] | str]
    least: bool = False
    never_better: bool = False
    word: Callable[[MatchedAttempt, Place], str] | None = None


def limit_of(aim: Aim, level: Standard, task: Task) -> float:
    """What is asked of an aim, in its rule's unit."""
    if RULES[aim].limits is None:
        return _asked_to_hold_s(task)
    return limit_at(aim, level)


def _asked_to_hold_s(task: Task) -> float:
    """How long the last note of a breath is to be held: what is set, else most of what is
    written of one that lasts as long as it is good, or where there is a tempo, else a second."""
    if task.hold_s is not None:
        return task.hold_s
    score, ends = task.score, _ends_of_breaths(task.score)
    least_s: list[float] = []
    for place in sorted(ends):
        step = score.steps[place]
        if isinstance(step, Play) and step.role is Role.ASKED:
            written_s = float(step.beats) * 60 / score.bpm
            if step.as_long_as_good:
                least_s.append(_HELD_OF_WRITTEN * written_s)
            elif score.tempo_bpm is not None:
                least_s.append(_HELD_IN_TIME * written_s)
    return min(least_s, default=_LEAST_HELD_S)


def limit_at(aim: Aim, level: Standard) -> float:
    """What is asked of an aim at a level, of whatever exercise. Raises `LookupError` for one whose
    limit the exercise says."""
    limits = RULES[aim].limits
    if limits is None:
        raise LookupError(f"What is asked for {aim} is said by the exercise.")
    return limits[list(Standard).index(level)]


def _centre(seen: MatchedAttempt) -> list[Measured]:
    return [(seen.off_cents(request, note), request.at) for request, note in seen.spoken]


def _steady(seen: MatchedAttempt) -> list[Measured]:
    return [
        (note.measures.spread_cents, request.at)
        for request, note in seen.spoken
        if note.end_s - note.start_s >= TOLD_FROM_S and not request.bent
    ]


def _start(seen: MatchedAttempt) -> list[Measured]:
    return [
        (note.measures.scoop_cents, request.at)
        for request, note in seen.spoken
        if request.note.articulation is not Articulation.SLURRED
    ]


def _end(seen: MatchedAttempt) -> list[Measured]:
    ends = _ends_of_breaths(seen.task.score)
    return [
        (note.measures.sag_cents, request.at)
        for request, note in seen.spoken
        if request.at.step in ends
    ]


def _ends_of_breaths(score: Score) -> set[int]:
    """Steps that are the last note of a breath."""
    steps = score.steps
    last: dict[int, int] = {}
    breath = 0
    for place, step in enumerate(steps):
        if isinstance(step, Breath | Rest):
            breath += 1
        elif isinstance(step, Play):
            last[breath] = place
    return set(last.values())


def _held(seen: MatchedAttempt) -> list[Measured]:
    """How long each last note of a breath was held, in seconds."""
    ends = _ends_of_breaths(seen.task.score)
    return [
        (note.measures.hold_s, request.at)
        for request, note in seen.spoken
        if request.at.step in ends and request.note.role is Role.ASKED
    ]


def _tone(seen: MatchedAttempt) -> list[Measured] | str:
    """How like the last note that passed each is, 0 to 100."""
    if not seen.passed:
        return _NONE_PASSED
    baseline = Baseline(seen.passed)
    found: list[Measured] = []
    for request, note in seen.spoken:
        match = baseline.match(tone_of(note, seen.off_cents(request, note)), seen.passed[0])
        if match is not None:
            found.append((match, request.at))
    return found or "your own tone is not known here yet"


def _same_tone(seen: MatchedAttempt) -> list[Measured] | str:
    """How like the first note of the line each is, 0 to 100, pitch and level allowed for; what is
    within the player's own tone counts as the same."""
    if not seen.passed:
        return _NONE_PASSED
    baseline, found = Baseline(seen.passed), list[Measured]()
    tones = _tones_in_line(seen, baseline)
    for tone, at in tones[1:]:
        verdict, match = baseline.judge(tone), baseline.match(tone, tones[0][0])
        if verdict is not None and match is not None:
            found.append((100.0 if verdict.word is ToneWord.CLEAR else match, at))
    return found or "your own tone is not known here yet"


def _tones_in_line(seen: MatchedAttempt, baseline: Baseline) -> list[tuple[Tone, Place]]:
    """The tones of a line's notes, each with its place. What all of its quick notes lose to the
    room, in which the one before still sounds, is given back to them."""
    notes = [
        (request, note)
        for request, note in seen.spoken
        if note.end_s - note.start_s >= _TOLD_IN_A_LINE_S
    ]
    tones = [(tone_of(note, seen.off_cents(request, note)), request.at) for request, note in notes]
    quick = [note.end_s - note.start_s < TOLD_FROM_S for _, note in notes]
    verdicts = [
        baseline.judge(tone)
        for (tone, _), is_quick in zip(tones[1:], quick[1:], strict=True)
        if is_quick
    ]
    clearer_db = [verdict.clearer_db for verdict in verdicts if verdict is not None]
    if not clearer_db:
        return tones
    lost_db = -float(np.percentile(clearer_db, _BEST_PERCENT))
    if lost_db <= 0:
        return tones
    lost_db = min(lost_db + _QUICK_VARY_DB, _ROOM_TAKES_DB)
    return [
        (replace(tone, harmonicity_db=tone.harmonicity_db + lost_db), at)
        if is_quick and number
        else (tone, at)
        for number, ((tone, at), is_quick) in enumerate(zip(tones, quick, strict=True))
    ]


def _tone_word(seen: MatchedAttempt, at: Place) -> str:
    """What a note's tone turned to."""
    baseline = Baseline(seen.passed)
    for tone, place in _tones_in_line(seen, baseline):
        if place == at:
            verdict = baseline.judge(tone)
            return "" if verdict is None else verdict.word.value
    return ""


def _level(seen: MatchedAttempt) -> list[Measured] | str:
    """How much louder than the last note that passed each is, in dB."""
    if not seen.passed:
        return _NONE_PASSED
    last_db = seen.passed[0].level_db
    return [(note.measures.level_db - last_db, request.at) for request, note in seen.spoken]


def _speaks(seen: MatchedAttempt) -> list[Measured]:
    return [
        (float(note.cracked_from_midi is not None), request.at) for request, note in seen.spoken
    ]


def _spoke(seen: MatchedAttempt) -> list[Measured]:
    return [(float(note.heard is None), note.at) for note in seen.asked]


_NONE = (0.0, 0.0, 0.0)
_BETWEEN_MS = (30.0, 45.0, 60.0)
_CENTRE_CENTS, _LEVEL_DB = (10.0, 15.0, 20.0), (3.0, 4.0, 6.0)
RULES: dict[Aim, AimRule] = {
    Aim.CENTRE: AimRule("cents", _CENTRE_CENTS, _centre),
    Aim.STEADY: AimRule("cents", (6.0, 9.0, 13.0), _steady),
    Aim.START: AimRule("cents", (20.0, 30.0, 45.0), _start),
    Aim.END: AimRule("cents", (15.0, 20.0, 30.0), _end),
    Aim.HELD: AimRule("s", None, _held, least=True, never_better=True),
    Aim.SPEAKS: AimRule("cracks", _NONE, _speaks),
    Aim.TONE: AimRule("of 100", (80.0, 70.0, 60.0), _tone, least=True, never_better=True),
    Aim.LEVEL: AimRule("dB", _LEVEL_DB, _level, never_better=True),
    Aim.GAP: AimRule("ms", (40.0, 60.0, 90.0), line_rules.gap),
    Aim.TOUCHED: AimRule("ms", _BETWEEN_MS, line_rules.touched),
    Aim.FLIPPED: AimRule("ms", _BETWEEN_MS, line_rules.flipped),
    Aim.WANING: AimRule("dB", (3.0, 3.0, 3.0), line_rules.waning),
    Aim.SPOKE: AimRule("missed", _NONE, _spoke),
    Aim.EXTRA: AimRule("extra", _NONE, line_rules.extra),
    Aim.SMEARED: AimRule("ms", (120.0, 150.0, 200.0), line_rules.smeared),
    Aim.TEMPO: AimRule("%", (10.0, 15.0, 25.0), line_rules.tempo),
    Aim.FLOW: AimRule("s", (0.5, 0.8, 1.2), line_rules.flow),
    Aim.ONE_BREATH: AimRule("breaths more", _NONE, line_rules.one_breath),
    Aim.SAME_SOUND: AimRule("dB", _LEVEL_DB, line_rules.same_sound),
    Aim.SAME_TONE: AimRule(
        "of 100", (80.0, 70.0, 60.0), _same_tone, least=True, never_better=True, word=_tone_word
    ),
    Aim.EVEN: AimRule("%", (10.0, 15.0, 25.0), line_rules.even),
    Aim.CLEAR: AimRule("%", (90.0, 80.0, 70.0), line_rules.clear, least=True, never_better=True),
    Aim.BREAKS: AimRule("breaks", _NONE, line_rules.breaks),
    Aim.SPAN: AimRule("half steps short", (0.5, 1.0, 2.0), line_rules.span),
    Aim.GLIDED: AimRule("not glided", _NONE, line_rules.glided),
    Aim.NO_CATCH: AimRule("slots", _NONE, line_rules.no_catch),
    Aim.ENDS_ALIKE: AimRule("dB", _LEVEL_DB, line_rules.ends_alike),
    Aim.BENT: AimRule("%", (70.0, 50.0, 40.0), line_rules.bent, least=True, never_better=True),
    Aim.CAME_BACK: AimRule("cents", _CENTRE_CENTS, line_rules.came_back),
    Aim.SHAPE: AimRule("against it", _NONE, line_rules.shape),
}
"""The rule of every aim."""
