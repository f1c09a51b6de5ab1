"""A whole attempt at an exercise against what was asked: which aims were met, and where not."""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

from orexis.core.exercises.family import Aim
from orexis.core.exercises.task import Task
from orexis.core.horn.setup import Horn
from orexis.core.judging.aims import RULES, limit_of
from orexis.core.judging.line_rules import NOTHING
from orexis.core.judging.matching import MatchedAttempt, Place, asked_of, lay_beside
from orexis.core.judging.mismatch import Mismatch, mismatch_of
from orexis.core.judging.standard import Standard
from orexis.core.listening.notes.events import Events
from orexis.core.listening.notes.tone import Tone
from orexis.core.score.steps import Glide


@dataclass(frozen=True, slots=True)
class AimResult:
    """How one aim was met. `measured` is the worst there was and `limit` what is allowed, in the
    rule's unit; `at` where it was, `missed` every place where it was not met, `right` of `chances`
    how often it was. `word` says in a word what was wrong there, where the number does not. An aim
    that cannot be told says why in `untold`, and fails nothing."""

    aim: Aim
    measured: float
    limit: float
    passed: bool
    at: Place | None = None
    missed: tuple[Place, ...] = ()
    right: int = 0
    chances: int = 0
    untold: str = ""
    word: str = ""

    @property
    def badness(self) -> float:
        """How far the aim was missed, as a multiple of its limit (1 = just at it)."""
        if RULES[self.aim].least:
            return self.limit / max(self.measured, 0.1)
        measured = abs(self.measured)
        return measured / self.limit if self.limit else 2 * measured


_FOREMOST = 3


def foremost(results: Sequence[AimResult]) -> tuple[AimResult, ...]:
    """The outcomes that are read from afar, at most three, in the order of `results`: those that
    were not met come first, the farthest from its limit before others, then those with a limit in
    the order of `results`."""
    told = [result for result in results if not result.untold]
    missed = sorted(
        (result for result in told if not result.passed), key=lambda result: -result.badness
    )
    met = [result for result in told if result.passed and result.limit]
    chosen = (missed + met)[:_FOREMOST]
    return tuple(result for result in results if result in chosen)


@dataclass(frozen=True, slots=True)
class SilentNote:
    """A note that did not speak: where, and what was heard in its place (MIDI), if anything."""

    at: Place
    heard_midi: int | None = None


@dataclass(frozen=True, slots=True)
class Verdict:
    """The outcome of every aim of the task, in their order; the notes that did not speak (which
    counts in every task that has notes); and what is wrong with the attempt as a whole, if
    anything."""

    results: tuple[AimResult, ...]
    silent: tuple[SilentNote, ...] = ()
    mismatch: Mismatch | None = None

    @property
    def passed(self) -> bool:
        """Whether every aim was met, and what was played is what was asked for."""
        return self.mismatch is None and all(result.passed for result in self.results)

    @property
    def badness(self) -> float:
        """How far the aim that was met least well was missed, or how near it came. A note that
        was held long enough is none the worse for not having been held longer."""
        return max(
            (
                result.badness
                for result in self.results
                if not result.passed or not (result.untold or RULES[result.aim].never_better)
            ),
            default=0.0,
        )

    @property
    def worst(self) -> AimResult | None:
        """The aim that was missed by most; `None` when all were met. What did not sound at all
        comes before how it sounded."""
        failed = [result for result in self.results if not result.passed]
        for first in (Aim.SPOKE, Aim.SPAN, Aim.EXTRA):
            for result in failed:
                if result.aim is first:
                    return result
        return max(failed, key=lambda result: result.badness, default=None)

    @property
    def missed(self) -> tuple[Place, ...]:
        """Every place where an aim was not met."""
        places = {place for result in self.results for place in result.missed}
        return tuple(sorted(places, key=lambda place: (place.time, place.step)))


class StepOutcome(StrEnum):
    """How a note that was asked for went."""

    MET = "met"
    MISSED = "missed"
    SILENT = "silent"


def outcomes(task: Task, verdict: Verdict) -> dict[int, StepOutcome]:
    """How every note that was asked for went, by its step; the worst of its repetitions."""
    silent = {note.at.step for note in verdict.silent}
    missed = {place.step for place in verdict.missed}
    found: dict[int, StepOutcome] = {}
    for asked in asked_of(task.once.score):
        step = asked.at.step
        found[step] = StepOutcome.MET
        if step in silent:
            found[step] = StepOutcome.SILENT
        elif step in missed:
            found[step] = StepOutcome.MISSED
    return found


def judge_attempt(
    task: Task,
    heard: Events,
    horn: Horn,
    level: Standard = Standard.NORMAL,
    passed: Sequence[Tone] = (),
) -> Verdict:
    """The verdict on what was heard of a task; `heard` is against the horn's A4, `passed` are the
    tones of notes that passed before, newest first."""
    return judge(lay_beside(task, heard, horn, passed), level)


def judge(seen: MatchedAttempt, level: Standard) -> Verdict:
    """The verdict on an attempt that was laid beside its task."""
    notes = seen.heard.notes
    return Verdict(
        tuple(_result(aim, seen, level) for aim in _all_aims(seen)),
        tuple(
            SilentNote(note.at, None if note.instead is None else notes[note.instead].midi)
            for note in seen.asked
            if note.heard is None
        ),
        mismatch_of(seen),
    )


def _all_aims(seen: MatchedAttempt) -> tuple[Aim, ...]:
    """The aims of a task, and what counts whatever else does: that what was asked for was played,
    nothing between, in its time, and slurred where it is a slur."""
    aims, score = seen.task.aims, seen.task.score
    silent = any(note.heard is None for note in seen.asked)
    along = tuple(
        aim
        for aim, counts in (
            (Aim.SPOKE, silent or len(seen.asked) > 1),
            (Aim.EXTRA, any(pair.is_plain for pair in seen.pairs)),
            (Aim.SAME_TONE, Aim.SAME_SOUND in aims and len(seen.spoken) > 1),
            (Aim.SMEARED, Aim.GAP in aims and bool(seen.slurs)),
            (Aim.GLIDED, any(isinstance(step, Glide) for step in score.steps) and bool(seen.asked)),
            (Aim.TEMPO, score.tempo_bpm is not None and bool(seen.in_time)),
            (Aim.FLOW, score.tempo_bpm is not None and bool(seen.in_time)),
        )
        if counts and aim not in aims
    )
    return aims + along


def _result(aim: Aim, seen: MatchedAttempt, level: Standard) -> AimResult:
    rule, limit = RULES[aim], limit_of(aim, level, seen.task)
    found = rule.measure(seen)
    if isinstance(found, str):
        return AimResult(aim, 0.0, limit, True, untold=found)
    if not found:
        return AimResult(aim, 0.0, limit, True, untold=NOTHING)
    met = [value >= limit if rule.least else abs(value) <= limit for value, _ in found]
    pick = min if rule.least else max
    measured, at = pick(found, key=lambda one: one[0] if rule.least else abs(one[0]))
    missed = tuple(place for (_, place), good in zip(found, met, strict=True) if place and not good)
    word = "" if all(met) or at is None or rule.word is None else rule.word(seen, at)
    return AimResult(aim, measured, limit, all(met), at, missed, sum(met), len(met), word=word)
