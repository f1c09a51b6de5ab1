"""How long the notes of a set were held, in the order they were played, and against the player's
own.

A set is what is played of one exercise one after another, in one attempt or in one each, where its
notes last as long as they are good. How it fades is told by the line of P. Sen (J. Am. Stat.
Assoc. 63, 1968), the median of the slopes between all pairs, which one lucky note does not bend.
"""

from collections.abc import Callable, Collection, Iterable, Sequence
from dataclasses import dataclass
from itertools import combinations
from statistics import median

from orexis.core.counting import counted
from orexis.core.exercises.task import Task
from orexis.core.judging.matching import Answer
from orexis.core.score.steps import Play, Role

FEWEST_TO_FADE = 6
"""Of fewer notes neither halves nor a line are told."""
FEWEST_SETS = 2
"""What is usual is told from so many sets on."""
_AS_LONG_PERCENT = 5.0
_MUCH_SHORTER = 0.7


@dataclass(frozen=True, slots=True)
class Hold:
    """A note that was to last as long as it is good, and how long it was held: 0 s where it did not
    speak."""

    midi: int
    seconds: float


@dataclass(frozen=True, slots=True)
class SetOfHolds:
    """The holds of a set so far, in order; `usual_s` is what is usual with this player on its
    notes, `None` where too little is known."""

    holds: tuple[Hold, ...]
    usual_s: float | None = None

    @property
    def held_s(self) -> tuple[float, ...]:
        """How long those were held that spoke."""
        return tuple(hold.seconds for hold in self.holds if hold.seconds > 0)

    @property
    def typical_s(self) -> float:
        """The median of those that spoke; 0 where none did."""
        return median(self.held_s or (0.0,))

    @property
    def longest_s(self) -> float:
        """The longest; 0 where none spoke."""
        return max(self.held_s, default=0.0)

    @property
    def halves_s(self) -> tuple[float, float] | None:
        """The medians of the first and of the second half, the middle one of an odd number in
        neither; `None` of a few notes, and of several pitches, which differ by themselves."""
        half = len(self.holds) // 2
        first, second = _held(self.holds[:half]), _held(self.holds[-half:] if half else ())
        if not self._on_one_note or len(self.held_s) < FEWEST_TO_FADE or not first or not second:
            return None
        return median(first), median(second)

    @property
    def line_s(self) -> tuple[float, float] | None:
        """How long the first and the last note are held by the line through all of them; `None`
        where its halves are not told either."""
        if self.halves_s is None:
            return None
        points = [(at, hold.seconds) for at, hold in enumerate(self.holds) if hold.seconds > 0]
        slope = median((b - a) / (later - at) for (at, a), (later, b) in combinations(points, 2))
        start_s = median(seconds - slope * at for at, seconds in points)
        return max(start_s, 0.0), max(start_s + slope * (len(self.holds) - 1), 0.0)

    @property
    def second_of_first_percent(self) -> float | None:
        """How long the second half was held, in % of the first."""
        halves_s = self.halves_s
        return None if halves_s is None else 100 * halves_s[1] / halves_s[0]

    @property
    def much_shorter(self) -> bool:
        """Whether its notes were held much shorter than is usual with this player."""
        known = self.usual_s is not None and bool(self.held_s)
        return known and self.typical_s < _MUCH_SHORTER * (self.usual_s or 0.0)

    @property
    def _on_one_note(self) -> bool:
        return len({hold.midi for hold in self.holds}) == 1


def _held(holds: Iterable[Hold]) -> list[float]:
    return [hold.seconds for hold in holds if hold.seconds > 0]


def held_steps(task: Task) -> Collection[int]:
    """The steps of a task whose notes last as long as they are good."""
    return frozenset(
        number
        for number, step in enumerate(task.score.steps)
        if isinstance(step, Play) and step.role is Role.ASKED and step.as_long_as_good
    )


def held_in(task: Task, answers: Sequence[Answer]) -> SetOfHolds | None:
    """The holds of one attempt; `None` where fewer than two notes last as long as they are good."""
    steps = held_steps(task)
    holds = [
        Hold(answer.note.midi, _held_s(answer)) for answer in answers if answer.at.step in steps
    ]
    return SetOfHolds(tuple(holds)) if len(holds) > 1 else None


def _held_s(answer: Answer) -> float:
    return answer.heard.measures.hold_s if answer.heard and answer.spoke else 0.0


def usual_hold_s(sets: Iterable[Sequence[float]]) -> float | None:
    """What is usual with a player by the holds (s) of some sets: the median of their medians, those
    that did not speak left out; `None` of too few sets."""
    typical = [median(held) for held_s in sets if (held := [held for held in held_s if held > 0])]
    return median(typical) if len(typical) >= FEWEST_SETS else None


def set_words(found: SetOfHolds, name: Callable[[int], str]) -> tuple[str, ...]:
    """What a set comes to, in sentences, what matters most first: how long, whether to rest, the
    first half against the second, and what is usual. `name` is what the player calls a note."""
    notes = {hold.midi for hold in found.holds}
    of = f" of {name(next(iter(notes)))}" if len(notes) == 1 else ""
    spoke, asked = len(found.held_s), len(found.holds)
    count = f"{counted(asked, 'note')}{of}" + ("" if spoke == asked else f", {spoke} spoke")
    if not spoke:
        return (f"{counted(asked, 'note')}{of}, none spoke.",)
    typical, longest = f"{found.typical_s:.1f} s", f"{found.longest_s:.1f} s"
    most = f", the longest {longest}" if longest != typical else ""
    said = [f"{count}: mostly {typical}{most}."]
    usual = "" if found.usual_s is None else f"{found.usual_s:.1f} s"
    if found.much_shorter:
        said.append(
            f"That is much shorter than your usual {usual}. Rest longer before the next set, or "
            "stop for today."
        )
    if found.halves_s is not None:
        said.append(_halves_words(*found.halves_s))
    if usual and not found.much_shorter:
        said.append(f"Your usual here is {usual}.")
    return tuple(said)


def _halves_words(first_s: float, second_s: float) -> str:
    percent = 100 * (second_s / first_s - 1)
    if abs(percent) < _AS_LONG_PERCENT:
        return f"The second half was as long as the first: {second_s:.1f} s."
    way = "shorter" if percent < 0 else "longer"
    return f"First half {first_s:.1f} s, second half {second_s:.1f} s: {abs(percent):.0f} % {way}."
