"""A plan: what a session is made of, and how one attempt leads to the next.

A block is one exercise as a row of rungs, each a task: the same one several times, a step higher
with each, every length in turn, every breath of it by itself. Kinds of blocks differ in nothing but
what is set here.
"""

from dataclasses import dataclass
from enum import StrEnum

from orexis.core.exercises.book import FAMILIES
from orexis.core.exercises.family import WORKS, Group
from orexis.core.exercises.practised import AttemptOrder
from orexis.core.exercises.task import Task
from orexis.core.session.metronome import Metronome
from orexis.core.session.metronome import count_in_s as bars_s

_BETWEEN_S = 1.5
"""What an attempt takes beside its music: a breath before it, and the silence that ends it."""


class Counts(StrEnum):
    """Which attempts count."""

    PASSED = "passed"
    PLAYED = "played"


class AfterFail(StrEnum):
    """What follows an attempt that did not pass: the same again, one rung back and earn it again,
    or once the rung beyond."""

    AGAIN = "again"
    BACK = "back"
    BEYOND = "beyond"


class AfterFails(StrEnum):
    """What follows too many fails on one rung: the block is over for today, or its next rung."""

    END = "end"
    ON = "on"


class BeforeAttempt(StrEnum):
    """What the player does before the first attempt at a rung."""

    NOTHING = "nothing"
    HEAR = "hear"
    SING = "sing"
    FINGER = "finger"


@dataclass(frozen=True, slots=True)
class Rung:
    """One task of a block, how it is named among the others, and a rest that the music has before
    it, with what to do in it."""

    name: str
    task: Task
    rest_s: float = 0.0
    words: str = ""


@dataclass(frozen=True, slots=True)
class Rests:
    """Seconds of rest: after an attempt (`as_played`: at least as long as it lasted), after a set,
    and after the block."""

    attempt_s: float = 0.0
    as_played: bool = False
    set_s: float = 0.0
    block_s: float = 0.0


@dataclass(frozen=True, slots=True)
class Block:
    """An exercise in a session, and why it is there.

    A rung is done when `needed` attempts at it count; after `most_fails` (0: however many) that did
    not, there has been enough of it. All rungs make a set. `probe` is the easy low note between
    attempts. `open` tells that it goes on for as long as the player likes, and `within_s` after how
    many seconds no other attempt at it is begun. `ends_well`: when there has been enough of a step,
    the one below it is played once more, so that it does not end on a miss. `reaches`: the last
    rung is one beyond the top, played once as it comes, which counts neither way. `checks`: how
    many of its rungs are good says whether the next exercise is played, halved or left out."""

    title: str
    why: str
    group: Group
    follow: AttemptOrder
    rungs: tuple[Rung, ...]
    needed: int = 1
    counts: Counts = Counts.PASSED
    after_fail: AfterFail = AfterFail.AGAIN
    most_fails: int = 0
    enough: AfterFails = AfterFails.ON
    sets: int = 1
    rests: Rests = Rests()
    probe: Task | None = None
    metronome: Metronome | None = None
    before: BeforeAttempt = BeforeAttempt.NOTHING
    open: bool = False
    within_s: float | None = None
    ends_well: bool = False
    reaches: bool = False
    checks: bool = False

    @property
    def works(self) -> bool:
        """Whether it is hard on the lips: high and pedal work that is not played to recover."""
        family = FAMILIES.get(self.rungs[0].task.family_key)
        return self.group in WORKS and not (family and family.practised.recovers)

    @property
    def breathing(self) -> bool:
        """Whether it is done by breathing alone, in its time."""
        return not self.rungs[0].task.score.pitches

    @property
    def seconds(self) -> float:
        """About how long it takes when all goes well."""
        rests, score = self.rests, self.rungs[0].task.score
        if self.breathing:
            return score.seconds * score.times + rests.block_s
        one_set = self.needed * sum(self.attempt_s(rung) for rung in self.rungs)
        whole_s = self.sets * one_set + (self.sets - 1) * rests.set_s
        return min(whole_s, self.within_s or whole_s) + rests.block_s

    def attempt_s(self, rung: Rung) -> float:
        """One attempt: its count-in, its music, the silence after it and its rest."""
        played_s, rests = rung.task.score.seconds, self.rests
        probe_s = self.probe.score.seconds + _BETWEEN_S if self.probe else 0.0
        count_in_s = _BETWEEN_S if self.metronome is None else 2 * _BETWEEN_S
        if self.metronome is not None:
            count_in_s += bars_s(self.metronome, rung.task.score)
        rest_s = max(rests.attempt_s, played_s if rests.as_played else 0.0, rung.rest_s)
        return count_in_s + played_s + probe_s + rest_s


class SessionKind(StrEnum):
    """What kind of session it is: one exercise that goes on for as long as the player likes, a plan
    of several, the one that finds a player's range, or playing without a task."""

    TASK = "task"
    PLAN = "plan"
    RANGE = "range"
    FREE = "free"


LONGEST_TITLE = 60
"""How long a session's title may be, in letters."""


@dataclass(frozen=True, slots=True)
class Plan:
    """What a session is to be: its name, its blocks and its kind."""

    title: str
    blocks: tuple[Block, ...]
    kind: SessionKind = SessionKind.PLAN
