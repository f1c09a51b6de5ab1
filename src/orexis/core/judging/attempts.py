"""A whole attempt at an exercise against what was asked: which aims were met, and where not."""

from dataclasses import dataclass, replace

from orexis.core.exercises.family import Aim, Task
from orexis.core.horn.setup import Horn
from orexis.core.judging.aims import RULES, Asked, Place, Seen
from orexis.core.judging.gate import GateLevel
from orexis.core.listening.notes.events import Events
from orexis.core.listening.notes.patterns import Wanted, match_pattern
from orexis.core.score.steps import Articulation, Bend, Breath, Glide, Play, Rest, Role, Score

_LEAVES_CENTS = 80.0
"""A note bent this far away is heard anew when it comes back."""


@dataclass(frozen=True, slots=True)
class AimResult:
    """How one aim was met. `measured` is the worst there was and `limit` what is allowed, in the
    rule's unit; `at` where it was, `right` of `chances` how often it went well. An aim that cannot
    be told says why in `untold`, and fails nothing."""

    aim: Aim
    measured: float
    limit: float
    passed: bool
    at: Place | None = None
    right: int = 0
    chances: int = 0
    untold: str = ""


@dataclass(frozen=True, slots=True)
class AttemptVerdict:
    """The outcome of every aim of the task, in their order, and where a note did not speak (which
    counts in every task that has notes)."""

    results: tuple[AimResult, ...]
    silent: tuple[Place, ...] = ()

    @property
    def passed(self) -> bool:
        """Whether every aim was met."""
        return all(result.passed for result in self.results)

    @property
    def worst(self) -> AimResult | None:
        """The aim that was missed by most; `None` when all were met. What did not sound at all
        comes before how it sounded."""
        failed = [result for result in self.results if not result.passed]
        for first in (Aim.SPOKE, Aim.SPAN):
            for result in failed:
                if result.aim is first:
                    return result
        return max(failed, key=_missed_by, default=None)


def _missed_by(result: AimResult) -> float:
    rule = RULES[result.aim]
    if rule.least:
        return result.limit / max(result.measured, 0.1)
    return abs(result.measured) / result.limit if result.limit else 2 + abs(result.measured)


def judge_attempt(
    task: Task, heard: Events, horn: Horn, level: GateLevel = GateLevel.NORMAL
) -> AttemptVerdict:
    """The verdict on what was heard of a task; `heard` is against the horn's A4."""
    asked = _asked_of(task.score)
    match = None
    if asked:
        offset = horn.setup.tuning.offset_cents
        wanted = [Wanted(one.note.midi + offset(one.note.midi) / 100) for one in asked]
        match = match_pattern(wanted, heard)
        asked = [
            replace(one, heard=answer.note if answer else None)
            for one, answer in zip(asked, match.spoken, strict=True)
        ]
    seen = Seen(task, horn, heard, tuple(asked), match)
    # Whatever else counts, what was asked for must have been played.
    aims = task.aims if Aim.SPOKE in task.aims or not asked else (*task.aims, Aim.SPOKE)
    return AttemptVerdict(
        tuple(_result(aim, seen, level) for aim in aims),
        tuple(one.at for one in asked if one.heard is None),
    )


def _result(aim: Aim, seen: Seen, level: GateLevel) -> AimResult:
    rule = RULES[aim]
    limit = rule.limits[list(GateLevel).index(level)]
    found = rule.measure(seen)
    if not found:
        return AimResult(aim, 0.0, limit, True, untold="there was nothing to tell it by")
    good = [value >= limit if rule.least else abs(value) <= limit for value, _ in found]
    pick = min if rule.least else max
    measured, at = pick(found, key=lambda one: one[0] if rule.least else abs(one[0]))
    return AimResult(aim, measured, limit, all(good), at, sum(good), len(good))


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
