"""A day's plan: blocks in order, each with its minutes, its rest, and why it is there."""

from collections.abc import Callable
from dataclasses import dataclass
from datetime import date

from orexis.core.coach.about import Lips
from orexis.core.exercises.family import Group
from orexis.core.horn.words import from_to_words
from orexis.core.session.building import Setting

TITLE = "Today"
"""What a session that plays the plan of a day is called."""


ORDER = tuple(Group)
WARM_UP = frozenset({Group.LONG, Group.SLURS})
HIGH_SHARE = 0.25


@dataclass(frozen=True, slots=True)
class PlanRequest:
    """What a plan is asked for: minutes in all, how the lips feel, and whether it is to be on the
    mouthpiece alone."""

    minutes: int
    lips: Lips = Lips.NORMAL
    quiet: bool = False


@dataclass(frozen=True, slots=True)
class DayBlock:
    """A block of a day: minutes of playing and of rest, its exercise, the lowest and highest note
    it can come to (sounding; `None` where nothing sounds), about how much load it is, why it is
    there, and the facts that stand behind that."""

    kind: Group
    minutes: float
    rest_minutes: float
    setting: Setting
    title: str
    about: str
    lowest_midi: int | None
    highest_midi: int | None
    load: float
    reason: str
    facts: tuple[str, ...] = ()

    @property
    def all_minutes(self) -> float:
        """Playing and rest."""
        return self.minutes + self.rest_minutes

    @property
    def weight(self) -> float:
        """How hard it is: its load a minute of playing."""
        return self.load / self.minutes if self.minutes else 0.0


def span_words(block: DayBlock, name: Callable[[int], str]) -> str:
    """From which note to which an exercise goes, "" where nothing sounds or that was not kept."""
    lowest, highest = block.lowest_midi, block.highest_midi
    if lowest is None or highest is None:
        return ""
    return from_to_words(lowest, highest, name)


@dataclass(frozen=True, slots=True)
class DayPlan:
    """The plan of a day: what it comes to in a sentence, its blocks, and what to look out for."""

    day: date
    asked: PlanRequest
    headline: str
    summary: str
    blocks: tuple[DayBlock, ...]
    warnings: tuple[str, ...]

    @property
    def minutes(self) -> float:
        """How long it takes."""
        return sum(block.all_minutes for block in self.blocks)

    @property
    def load(self) -> float:
        """About how much load it is."""
        return sum(block.load for block in self.blocks)
