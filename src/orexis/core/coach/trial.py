"""Measuring both: two answers to a question in alternation, and what that says of which works
better for this player.

Each answer's passes are taken as draws from an unknown share, all shares being as likely before
(a Beta distribution, as in any text on Bayesian inference of a proportion). Attempts of one day are
alike, so they count for less than as many on different days. Only what was played both ways is
compared, exercise by exercise.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date

import numpy as np

from orexis.core.coach.approaches import BY_KEY, Approaches, Option
from orexis.core.coach.history import History

WEEKS = 2
_LEAST_DAYS, _LEAST_ATTEMPTS = 4, 20
_ALIKE = 0.2
"""How alike the attempts of one day are: 0 not at all, 1 all the same."""
_SURE, _LEANING = 0.95, 0.8
_POINTS = 2001


@dataclass(frozen=True, slots=True)
class Trial:
    """A question that is measured: its two options, and from which day to which."""

    question: str
    first: str
    second: str
    begins: date
    ends: date

    def option_on(self, day: date) -> str | None:
        """The option of a day, `None` outside the trial. They take turns day by day, so that in
        two weeks no weekday belongs to one."""
        if not self.begins <= day < self.ends:
            return None
        return self.second if (day - self.begins).days % 2 else self.first


def approaches_on(approaches: Approaches, trials: Sequence[Trial], day: date) -> dict[str, str]:
    """The approaches as they are on a day, with what is being measured then."""
    found = dict(approaches)
    for trial in trials:
        option = trial.option_on(day)
        if option is not None:
            found[trial.question] = option
    return found


@dataclass(frozen=True, slots=True)
class Arm:
    """What one option came to: days, attempts and how many were good, the share that was good with
    every exercise weighing the same under both options, and the attempts it counts for, since those
    of a day are alike."""

    days: int
    attempts: int
    passes: int
    share: float
    worth: float


Counts = dict[date, tuple[int, int]]
"""Attempts and good ones by day."""
Task = tuple[str, int | None, int | None]
"""What is held against itself: an exercise with its lowest and highest note on the horn."""


def arms_of(first: Mapping[Task, Counts], second: Mapping[Task, Counts]) -> tuple[Arm, Arm]:
    """Both options' attempts at what was played under both. An exercise at a step weighs the same
    in both shares: by how much the two have to compare there, with the weights of Mantel and
    Haenszel, so that harder exercises on one option's days do not speak against it."""
    shared = [(first[task], second[task]) for task in first if task in second]
    weights = [1 / (1 / _worth(one) + 1 / _worth(other)) for one, other in shared]
    return (
        _arm([one for one, _ in shared], weights),
        _arm([other for _, other in shared], weights),
    )


def _arm(parts: Sequence[Counts], weights: Sequence[float]) -> Arm:
    days = {day for counts in parts for day in counts}
    attempts = [sum(count for count, _ in counts.values()) for counts in parts]
    passes = [sum(good for _, good in counts.values()) for counts in parts]
    whole = sum(weights)
    if not whole:
        return Arm(0, 0, 0, 0.0, 0.0)
    shares = [good / count for good, count in zip(passes, attempts, strict=True)]
    share = sum(weight * one for weight, one in zip(weights, shares, strict=True)) / whole
    spread = sum(w * w / _worth(counts) for w, counts in zip(weights, parts, strict=True))
    return Arm(len(days), sum(attempts), sum(passes), share, whole * whole / spread)


def _worth(counts: Counts) -> float:
    """How many attempts those of some days count for."""
    return sum(count / (1 + (count - 1) * _ALIKE) for count, _ in counts.values())


@dataclass(frozen=True, slots=True)
class Outcome:
    """How a trial stands: both arms, how likely it is that the first is the better one (`None`
    while too little is known), and that in words. `better` is the winner's key, "" for none."""

    first: Arm
    second: Arm
    first_better: float | None
    words: str
    better: str = ""


def outcome_of(trial: Trial, history: History, today: date) -> Outcome:
    """What a trial says so far."""
    question = BY_KEY[trial.question]
    found: dict[str, dict[Task, Counts]] = {trial.first: {}, trial.second: {}}
    for attempt in history.attempts:
        option = trial.option_on(attempt.day)
        if option is None or attempt.group not in question.measured_by or not attempt.count:
            continue
        counts = found[option].setdefault((attempt.family, attempt.bottom, attempt.top), {})
        attempts, passes = counts.get(attempt.day, (0, 0))
        counts[attempt.day] = attempts + attempt.count, passes + attempt.count * attempt.passed
    first, second = arms_of(found[trial.first], found[trial.second])
    names = {option.key: option for option in question.options}
    return compared(names[trial.first], first, names[trial.second], second, today >= trial.ends)


def compared(first: Option, arm: Arm, second: Option, other: Arm, over: bool) -> Outcome:
    """Two arms held against each other."""
    known = (
        min(arm.days, other.days) >= _LEAST_DAYS
        and min(arm.attempts, other.attempts) >= _LEAST_ATTEMPTS
    )
    if not known:
        more = "It ended with" if over else "So far there are"
        words = (
            f"{more} {arm.days} and {other.days} days, {arm.attempts} and {other.attempts} "
            "attempts at what you played both ways: too little to tell."
        )
        return Outcome(arm, other, None, words)
    sure = first_better(arm, other)
    shares = f"{100 * arm.share:.0f} % against {100 * other.share:.0f} % good at the same exercises"
    winner, likely = (first, sure) if sure >= 0.5 else (second, 1 - sure)
    if likely < _LEANING:
        return Outcome(arm, other, sure, f"No difference that can be told: {shares}.")
    much = "very likely" if likely >= _SURE else "perhaps"
    words = (
        f"“{winner.label}” works {much} better for you: {shares}, "
        f"{100 * likely:.0f} of 100 that it is no chance."
    )
    return Outcome(arm, other, sure, words, winner.key if likely >= _SURE else "")


def first_better(arm: Arm, other: Arm) -> float:
    """How likely it is that the first arm's true share is the larger, from 0 to 1."""
    shares = np.linspace(0.0, 1.0, _POINTS)[1:-1]
    mine, theirs = _density(arm, shares), _density(other, shares)
    below = np.cumsum(theirs) - theirs / 2
    return float(np.sum(mine * below))


def _density(
    arm: Arm, shares: np.ndarray[tuple[int], np.dtype[np.float64]]
) -> np.ndarray[tuple[int], np.dtype[np.float64]]:
    passes = arm.share * arm.worth
    log = passes * np.log(shares) + (arm.worth - passes) * np.log(1 - shares)
    found = np.exp(log - log.max())
    return np.asarray(found / found.sum())
