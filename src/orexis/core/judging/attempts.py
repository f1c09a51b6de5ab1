"""A whole attempt at an exercise against what was asked: which aims were met, and where not."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

from orexis.core.exercises.family import Aim
from orexis.core.exercises.task import Task
from orexis.core.horn.setup import Horn
from orexis.core.judging.aims import NOTHING, RULES, Asked, Place, Seen, limit_of
from orexis.core.judging.gate import GateLevel
from orexis.core.listening.notes.events import Events, Note
from orexis.core.listening.notes.patterns import SPOKE_WITHIN_CENTS, Wanted, match_pattern
from orexis.core.listening.notes.tone import Tone
from orexis.core.score.steps import Articulation, Bend, Breath, Glide, Play, Rest, Role, Score

_LEAVES_CENTS = 80.0
"""A note bent this far away is heard anew when it comes back."""

_MOST_SKIPPED = 2


@dataclass(frozen=True, slots=True)
class AimResult:
    """How one aim was met. `measured` is the worst there was and `limit` what is allowed, in the
    rule's unit; `at` where it was, `missed` every place where it was not met, `right` of `chances`
    how often it was. An aim that cannot be told says why in `untold`, and fails nothing."""

    aim: Aim
    measured: float
    limit: float
    passed: bool
    at: Place | None = None
    missed: tuple[Place, ...] = ()
    right: int = 0
    chances: int = 0
    untold: str = ""

    @property
    def badness(self) -> float:
        """How far the aim was missed, as a multiple of its limit (1 = just at it)."""
        if RULES[self.aim].least:
            return self.limit / max(self.measured, 0.1)
        measured = abs(self.measured)
        return measured / self.limit if self.limit else 2 * measured


@dataclass(frozen=True, slots=True)
class Silent:
    """A note that did not speak: where, and what was heard in its place (MIDI), if anything."""

    at: Place
    heard_midi: int | None = None


@dataclass(frozen=True, slots=True)
class Verdict:
    """The outcome of every aim of the task, in their order, and the notes that did not speak
    (which counts in every task that has notes)."""

    results: tuple[AimResult, ...]
    silent: tuple[Silent, ...] = ()

    @property
    def passed(self) -> bool:
        """Whether every aim was met."""
        return all(result.passed for result in self.results)

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
        for first in (Aim.SPOKE, Aim.SPAN):
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
    silent = {one.at.step for one in verdict.silent}
    missed = {place.step for place in verdict.missed}
    found: dict[int, StepOutcome] = {}
    for asked in _asked_of(task.once.score):
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
    level: GateLevel = GateLevel.NORMAL,
    passed: Sequence[Tone] = (),
) -> Verdict:
    """The verdict on what was heard of a task; `heard` is against the horn's A4, `passed` are the
    tones of notes that passed before, newest first."""
    return judge(lay_beside(task, heard, horn, passed), level)


def lay_beside(task: Task, heard: Events, horn: Horn, passed: Sequence[Tone] = ()) -> Seen:
    """What was heard beside what was asked: which note answers which."""
    asked = _asked_of(task.score)
    match = None
    if asked:
        match = match_pattern(_wanted(asked, horn), heard)
        asked = [
            replace(one, heard=answer.note if answer else None)
            for one, answer in zip(asked, match.spoken, strict=True)
        ]
    seen = Seen(task, horn, heard, tuple(asked), match, passed)
    return replace(seen, asked=tuple(_settled(seen, place) for place in range(len(asked))))


def last_reached(task: Task, notes: Sequence[Note], horn: Horn) -> Place | None:
    """Where in the score a player is whose notes so far are these: the note that the last of them
    answers, of those that come next; `None` where it answers none."""
    asked, count = _asked_of(task.score), len(notes)
    for skipped in range(_MOST_SKIPPED + 1):
        begun = asked[: count + skipped]
        if not begun or not count:
            return None
        spoken = match_pattern(_wanted(begun, horn), Events(tuple(notes))).spoken
        for one, answer in zip(reversed(begun), reversed(spoken), strict=True):
            if answer is not None and answer.note == count - 1:
                return one.at
    return None


def _wanted(asked: Sequence[Asked], horn: Horn) -> list[Wanted]:
    offset = horn.setup.tuning.offset_cents
    return [Wanted(one.note.midi + offset(one.note.midi) / 100) for one in asked]


def _settled(seen: Seen, place: int) -> Asked:
    """An asked note with the longest of the heard notes that can be meant: where it stands alone
    on its breath, of all that answer it; where nothing answers it, what was played instead."""
    one = seen.asked[place]
    before = [other.heard for other in seen.asked[:place] if other.heard is not None]
    after = [other.heard for other in seen.asked[place + 1 :] if other.heard is not None]
    first = before[-1] + 1 if before else 0
    last = after[0] if after else len(seen.heard.notes)
    notes = seen.heard.notes

    def length(number: int) -> int:
        return notes[number].last - notes[number].first

    if one.heard is None:
        return replace(one, instead=max(range(first, last), key=length, default=None))
    if not _is_alone(seen.task.score, one.at.step):
        return one
    answers = [
        number
        for number in range(first, last)
        if abs(seen.off_cents(one, notes[number])) <= SPOKE_WITHIN_CENTS
    ]
    return replace(one, heard=max(answers, key=length, default=one.heard))


def _is_alone(score: Score, step: int) -> bool:
    """Whether a note is the only one of its breath."""
    beside = (score.steps[step - 1] if step else None, *score.steps[step + 1 : step + 2])
    return all(isinstance(other, Breath | Rest | None) for other in beside)


def judge(seen: Seen, level: GateLevel) -> Verdict:
    """The verdict on an attempt that was laid beside its task."""
    aims = seen.task.aims
    silent = any(one.heard is None for one in seen.asked)
    if Aim.SPOKE not in aims and (silent or len(seen.asked) > 1):
        # Whatever else counts, what was asked for must have been played.
        aims = (*aims, Aim.SPOKE)
    notes = seen.heard.notes
    return Verdict(
        tuple(_result(aim, seen, level) for aim in aims),
        tuple(
            Silent(one.at, None if one.instead is None else notes[one.instead].midi)
            for one in seen.asked
            if one.heard is None
        ),
    )


def _result(aim: Aim, seen: Seen, level: GateLevel) -> AimResult:
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
    return AimResult(aim, measured, limit, all(met), at, missed, sum(met), len(met))


def _asked_of(score: Score) -> list[Asked]:
    """The notes one is asked to sound, with repetitions. What is slurred to on its own pitch is
    the note before, going on, unless it was bent so far away that it is heard anew. Notes that
    only begin or end a siren are no notes."""
    found: list[Asked] = []
    for time in range(score.times):
        for place, step in enumerate(score.steps):
            if not isinstance(step, Play) or step.role is Role.REFERENCE:
                continue
            if _leads_nowhere(score, place):
                continue
            before = score.steps[place - 1] if place else None
            bent = isinstance(before, Bend)
            goes_on = (
                bool(found)
                and step.articulation is Articulation.SLURRED
                and found[-1].note.midi == step.midi
                and not isinstance(before, Breath | Rest)
                and not (isinstance(before, Bend) and abs(before.cents) >= _LEAVES_CENTS)
            )
            if goes_on:
                found[-1] = replace(found[-1], bent=True)
            else:
                found.append(Asked(step, Place(place, time), bent=bent))
    return found


def _leads_nowhere(score: Score, place: int) -> bool:
    """Whether a note is only where a line begins that no note ends."""
    after = score.steps[place + 1 : place + 3]
    return (
        len(after) > 0
        and isinstance(after[0], Glide)
        and not (len(after) > 1 and isinstance(after[1], Play))
    )
