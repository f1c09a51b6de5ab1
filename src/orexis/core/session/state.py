"""Where a session is: the phases it goes through by time, and what has come of it so far."""

from dataclasses import dataclass
from enum import StrEnum

from orexis.core.exercises.family import Group
from orexis.core.exercises.practised import AttemptOrder
from orexis.core.exercises.task import Task
from orexis.core.judging.standard import Standard
from orexis.core.listening.notes.tone import Tone
from orexis.core.session.log import AttemptJudged
from orexis.core.session.metronome import Beat, Metronome, beats_of
from orexis.core.session.plan import Block, Rung


class Phase(StrEnum):
    """What is going on."""

    MOMENT = "moment"
    REST = "rest"
    HEAR = "hear"
    SING = "sing"
    FINGER = "finger"
    COUNT_IN = "count-in"
    READY = "ready"
    BREATHE = "breathe"
    PAUSED = "paused"
    OVER = "over"


@dataclass(frozen=True, slots=True)
class Stretch:
    """A phase from one sample up to another (`None`: until something happens)."""

    phase: Phase
    start: int
    end: int | None


class Move(StrEnum):
    """How one came to what is next."""

    BEGIN = "begin"
    AGAIN = "again"
    ONE_MORE = "one more"
    UP = "up"
    GIVEN_UP = "given up"
    BACK = "back"
    BEYOND = "beyond"
    LAST = "last"
    REACH = "reach"
    SET = "set"
    BLOCK = "block"
    LEFT = "left"
    GONE_BACK = "gone back"
    PUT = "put"
    ALL_DONE = "all done"
    HELP = "help"
    RETURNED = "returned"
    RESUMED = "resumed"
    LOST = "lost"
    UNHEARD = "unheard"
    UNHEARD_KEPT = "unheard, kept"


class BlockEnd(StrEnum):
    """How a block came to its end."""

    DONE = "done"
    ENOUGH = "enough"
    RAGGED = "ragged"
    TIRED = "tired"
    TIME = "time"
    LEFT = "left"
    HELD_BACK = "held back"


SIGNS_THAT_END_THE_DAY = 3
AT_CEILING = frozenset({BlockEnd.ENOUGH, BlockEnd.RAGGED, BlockEnd.TIRED})
"""How high work ends where the lips would not go on."""


class End(StrEnum):
    """How a session came to its end."""

    DONE = "done"
    STOPPED = "stopped"
    HURT = "hurt"


@dataclass(frozen=True, slots=True)
class ExerciseResult:
    """How an exercise of a session went, without the exercise: its title and what it trains, how it
    ended, how far a climb came and what comes after that ("" where there is no such), and its
    attempts. `judged` is false of what is done by breathing alone."""

    title: str
    group: Group
    close: BlockEnd
    judged: bool
    reached: str
    beyond: str
    attempts: int
    passes: int


@dataclass(frozen=True, slots=True)
class ClosedBlock:
    """A block that is over: how, its highest rung that counted, how many attempts at it were good,
    and at how many of its rungs there had been enough of misses. One that was held back was never
    begun."""

    block: Block
    close: BlockEnd
    best: int | None = None
    attempts: int = 0
    passes: int = 0
    given_up: int = 0

    @property
    def result(self) -> ExerciseResult:
        """The outcome of the block, in the form that is kept and told."""
        block, best = self.block, self.best
        climbed = block.follow in (AttemptOrder.LADDER, AttemptOrder.GROW) and best is not None
        missed = 0 if best is None else min(best + 1, len(block.rungs) - 1)
        return ExerciseResult(
            block.title,
            block.group,
            self.close,
            not block.breathing,
            block.rungs[best or 0].name if climbed else "",
            block.rungs[missed].name,
            self.attempts,
            self.passes,
        )


@dataclass(frozen=True, slots=True)
class SessionState:
    """Where a session is.

    `probing` is how many attempts at the low note have been ragged, `None` where it is not its
    turn; `reference` is how it was at first. `since` is the sample the block began at, pauses taken
    out, and `tired` are the signs that it was enough for today. `last_one` tells that this is the
    step back that ends a ladder, and `climbs_to` is the rung that later sets go up to, after one
    could go no higher. `listen_from` is the sample from which a sound starts an attempt, and
    `rest_left_s` what was left of a rest when it was paused. `before` is the state before the last
    verdict, for when the player overrules it."""

    rate: int
    blocks: tuple[Block, ...]
    level: Standard
    drone_hz: float | None = None
    block: int = 0
    set_number: int = 0
    rung: int = 0
    counted: int = 0
    fails: tuple[int, ...] = ()
    fails_in_row: int = 0
    attempts: int = 0
    passes: int = 0
    best: int | None = None
    probing: int | None = None
    reference: Tone | None = None
    beyond: bool = False
    last_one: bool = False
    climbs_to: int | None = None
    move: Move = Move.BEGIN
    stretches: tuple[Stretch, ...] = ()
    listen_from: int | None = None
    disturbed: bool = False
    rest_left_s: float = 0.0
    since: int = 0
    tired: tuple[str, ...] = ()
    rests_due: int = 0
    rests_broken: int = 0
    closed: tuple[ClosedBlock, ...] = ()
    ended: End | None = None
    back_to: "SessionState | None" = None
    last: AttemptJudged | None = None
    before: "SessionState | None" = None

    @property
    def now(self) -> Block:
        """The present block."""
        return self.blocks[self.block]

    @property
    def at(self) -> Rung:
        """The present rung."""
        return self.now.rungs[self.rung]

    @property
    def task(self) -> Task:
        """What is to be played."""
        probe = self.now.probe
        return probe if probe is not None and self.probing is not None else self.at.task

    @property
    def set_of_session(self) -> int:
        """Which set of the session it is, counted from 0 over all its blocks."""
        return sum(block.sets for block in self.blocks[: self.block]) + self.set_number

    @property
    def day_over(self) -> bool:
        """Whether there are so many signs of tiring that only easing exercises are left."""
        return len(self.tired) >= SIGNS_THAT_END_THE_DAY

    @property
    def paused(self) -> bool:
        """Whether the player has paused it, or the sound was lost."""
        return self.stretches[-1].phase is Phase.PAUSED

    @property
    def turn(self) -> tuple[int, int, int, bool, bool, End | None]:
        """What tells one turn from another."""
        helping = self.back_to is not None
        probing = self.probing is not None
        return self.block, self.set_number, self.rung, probing, helping, self.ended

    @property
    def done(self) -> bool:
        """Whether an exercise without an end has been played as often as it says."""
        return self.now.open and self.counted >= self.now.needed

    @property
    def heard_first(self) -> int | None:
        """The note (sounding MIDI) that is to be heard before the attempt: the first that is
        asked."""
        pitches = self.task.score.pitches
        hears = any(stretch.phase is Phase.HEAR for stretch in self.stretches)
        return pitches[0] if hears and pitches else None

    @property
    def metronome(self) -> Metronome | None:
        """What gives the time of the present turn, if anything does."""
        return None if self.probing is not None else self.now.metronome


def due(state: SessionState) -> int | None:
    """The sample at which a `TimeUp` is to be entered, if nothing happens before."""
    last = state.stretches[-1]
    return last.end if last.phase is Phase.BREATHE else None


def stretch_at(state: SessionState, sample: int) -> Stretch:
    """The stretch that a sample lies in; the last one from its end on."""
    for stretch in state.stretches:
        if stretch.end is None or sample < stretch.end:
            return stretch
    return state.stretches[-1]


def beats_in(state: SessionState) -> tuple[Beat, ...]:
    """Every click of the present turn."""
    metronome = state.metronome
    if metronome is None or state.paused or state.ended is not None:
        return ()
    found: list[Beat] = []
    for stretch, after in zip(state.stretches, state.stretches[1:], strict=False):
        if stretch.phase is Phase.COUNT_IN:
            beats = beats_of(metronome, state.task.score, stretch.start, state.rate)
            end = after.end
            found += [beat for beat in beats if end is None or beat.sample < end]
    return tuple(found)
