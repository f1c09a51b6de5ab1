"""A task: an exercise on a horn. What to play, what ends an attempt at it, and what counts.

A plain value, so that whatever was played keeps the task it was played to.
"""

from dataclasses import dataclass, replace
from itertools import groupby

from orexis.core.exercises.family import Aim, ParameterValues
from orexis.core.exercises.writer import AS_THE_HORN, EQUAL_STEPS, TUNED_KEY
from orexis.core.horn.setup import Horn
from orexis.core.horn.tuning import EQUAL, Temperament, Tuning
from orexis.core.score.steps import Rest, Score, in_one_breath

_DONE_S, _SILENCE_S = 0.2, 0.5
_BREATH_S = 3.0
_LONGEST_SILENCE_S = 20.0


@dataclass(frozen=True, slots=True)
class Ending:
    """What ends an attempt: silence for some time, a shorter one once the last note that was
    asked for has been heard."""

    silence_s: float
    done_s: float = _DONE_S


@dataclass(frozen=True, slots=True)
class Task:
    """An exercise (a family, its version and its values) on a horn; `setting` says in words what
    is set beside its notes."""

    family_key: str
    version: int
    given: ParameterValues
    title: str
    setting: str
    score: Score
    aims: tuple[Aim, ...]
    ending: Ending

    def tuning(self, horn: Horn) -> Tuning:
        """What its notes are in tune with: the horn's own tuning, or, where the exercise says so,
        equal temperament or pure intervals on its tonic (its first note, where it has none)."""
        asked = self.given.values.get(TUNED_KEY, AS_THE_HORN)
        if asked == AS_THE_HORN or not self.score.pitches:
            return horn.setup.tuning
        if asked == EQUAL_STEPS:
            return EQUAL
        tonic = self.score.tonic
        return Tuning(Temperament.JUST, self.score.pitches[0] % 12 if tonic is None else tonic)

    @property
    def once(self) -> "Task":
        """One repetition of the score."""
        return replace(self, score=replace(self.score, times=1))

    @property
    def hold_s(self) -> float | None:
        """How long the last note of a breath is to be held, where that is set."""
        asked = self.given.values.get("hold_s")
        return None if asked is None else float(asked)


def ending_of(score: Score) -> Ending:
    """What ends an attempt at a score. One on a single breath is over with its sound; where one
    breathes and rests on the way, silence has to last longer than that takes."""
    if len(in_one_breath(score.steps)) < 2:
        return Ending(_SILENCE_S)
    rests = [
        score.seconds_of(tuple(steps))
        for is_rest, steps in groupby(score.steps, key=lambda step: isinstance(step, Rest))
        if is_rest
    ]
    return Ending(min(max(rests, default=0.0) + _BREATH_S, _LONGEST_SILENCE_S))
