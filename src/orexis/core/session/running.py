"""How a session runs: its state after what has happened, and nothing else.

`begin` gives the state a plan starts in, and `step` the state after one entry of its log. Both are
pure, and the sample count is the clock: a session is taken up by folding its log, and a month of
practice is a loop. What happens by time alone lies in the state's `stretches`, each a phase from
one sample to another, so nothing has to be entered for a rest to end; `due` says when an entry
must be.
"""

from collections.abc import Iterable
from dataclasses import replace

from orexis.core.exercises.family import Group
from orexis.core.judging.standard import Standard
from orexis.core.session.checking import halved
from orexis.core.session.log import (
    AttemptJudged,
    AttemptUnheard,
    ButtonPressed,
    Disturbed,
    Entry,
    ExercisePut,
    HelpAsked,
    Overruled,
    Press,
    SessionResumed,
    SoundLost,
    TimeUp,
    Tired,
    Tuned,
)
from orexis.core.session.plan import AfterFail, AfterFails, Counts, Plan
from orexis.core.session.state import (
    BlockEnd,
    ClosedBlock,
    End,
    Move,
    Phase,
    SessionState,
    Stretch,
    due,
    stretch_at,
)
from orexis.core.session.stretches import before_an_attempt, left_of_rest, listened_from

MOST_PROBES = 3
_WAITS = frozenset({Phase.MOMENT, Phase.REST, Phase.HEAR, Phase.SING, Phase.FINGER})
"""What can be cut short to begin at once."""


def begin(
    plan: Plan, rate: int, level: Standard, drone_hz: float | None = None, at: int = 0
) -> SessionState:
    """The state a session starts in, at a sample; `rate` is in samples a second."""
    state = SessionState(rate, plan.blocks, level, drone_hz)
    return _into(state, at, Move.BEGIN)


def run(state: SessionState, log: Iterable[Entry]) -> SessionState:
    """The state after all of a log."""
    for entry in log:
        state = step(state, entry)
    return state


def step(state: SessionState, entry: Entry) -> SessionState:
    """The state after one entry of the log. An entry after the end of the session changes
    nothing."""
    if state.ended is not None:
        return state
    after = _entered(state, entry)
    if state.paused and not after.paused and after.since == state.since:
        # A pause takes nothing of the time that a block has.
        after = replace(after, since=state.since + entry.sample - state.stretches[-1].start)
    return after


def _entered(state: SessionState, entry: Entry) -> SessionState:
    match entry:
        case AttemptJudged():
            return state if entry.cut or state.paused else _judged(state, entry)
        case TimeUp():
            return state if due(state) is None else _close(state, entry.sample, BlockEnd.DONE)
        case ButtonPressed():
            return _pressed(state, entry)
        case Overruled():
            return _overruled(state, entry)
        case ExercisePut():
            blocks = (*state.blocks[: state.block], entry.block, *state.blocks[state.block + 1 :])
            put = replace(state, blocks=blocks, back_to=None, before=None)
            return _into(put, entry.sample, Move.PUT)
        case HelpAsked():
            return _helped(state, entry)
        case Tuned():
            return _tuned(state, entry)
        case Disturbed():
            broken = state.rests_broken + (not state.disturbed)
            return replace(state, disturbed=True, rests_broken=broken)
        case SoundLost():
            return _paused(state, entry.sample, Move.LOST)
        case AttemptUnheard():
            return _unheard(state, entry)
        case SessionResumed():
            return _resumed(state, entry)
        case Tired():
            return _tired(state, entry)


def _judged(state: SessionState, entry: AttemptJudged) -> SessionState:
    before = replace(state, before=None)
    return replace(_in_time(state, entry), last=entry, before=before)


def _overruled(state: SessionState, entry: Overruled) -> SessionState:
    """The same verdict turned round; where that leads elsewhere, it goes on there from now."""
    last, before = state.last, state.before
    if last is None or before is None or last.take_id != entry.take_id:
        return state
    before = replace(before, level=state.level, drone_hz=state.drone_hz, tired=state.tired)
    told = replace(last, passed=entry.passed)
    after = replace(_in_time(before, told), last=told, before=before)
    if after.turn == state.turn:
        return replace(after, stretches=state.stretches, listen_from=state.listen_from)
    later = _in_time(before, replace(told, sample=entry.sample))
    later = replace(later, last=told, before=before)
    return _paused(later, entry.sample, later.move) if state.paused else later


def _in_time(state: SessionState, entry: AttemptJudged) -> SessionState:
    """Where a verdict leads; out of the block where its time is up."""
    after, within_s = _after(state, entry), state.now.within_s
    here = after.ended is None and after.block == state.block and after.back_to == state.back_to
    if within_s is None or not here or entry.sample - state.since < within_s * state.rate:
        return after
    return _close(after, entry.sample, BlockEnd.TIME)


def _after(state: SessionState, entry: AttemptJudged) -> SessionState:
    """Where a verdict leads."""
    if state.probing is not None:
        return _after_probe(state, entry)
    block, rung = state.now, state.rung
    if block.reaches and rung == len(block.rungs) - 1:
        # It counts neither way.
        return _close(state, entry.sample, BlockEnd.DONE, _rest_s(state, entry))
    good = entry.passed or block.counts is Counts.PLAYED
    state = replace(
        state,
        attempts=state.attempts + 1,
        passes=state.passes + entry.passed,
        fails_in_row=0 if good else state.fails_in_row + 1,
    )
    rest_s = _rest_s(state, entry)
    if good:
        best = rung if state.best is None else max(rung, state.best)
        state = replace(state, counted=state.counted + 1, best=best)
        if state.beyond or state.last_one:
            return _close(state, entry.sample, BlockEnd.ENOUGH, rest_s)
        if state.counted < block.needed:
            return _try(state, entry.sample, Move.ONE_MORE, rest_s)
        if block.open and rung == len(block.rungs) - 1:
            return _try(state, entry.sample, Move.ALL_DONE, rest_s)
        reaches = block.reaches and rung == len(block.rungs) - 2
        return _next_rung(state, entry.sample, Move.REACH if reaches else Move.UP, rest_s)
    fails = tuple(count + (place == rung) for place, count in enumerate(state.fails))
    state = replace(state, fails=fails)
    over = state.beyond or state.last_one
    enough = over or 0 < block.most_fails <= fails[rung]
    sets_left = state.set_number + 1 < block.sets and not block.works
    if enough and not over and rung and sets_left and block.enough is AfterFails.END:
        lower = replace(state, climbs_to=rung - 1)
        return _next_set(lower, entry.sample, rest_s)
    if enough and block.ends_well and rung and not over and not block.open:
        lower = replace(state, rung=rung - 1, counted=0, last_one=True)
        return _try(lower, entry.sample, Move.LAST, rest_s)
    if enough and not block.open:
        if block.enough is AfterFails.END:
            return _close(state, entry.sample, BlockEnd.ENOUGH, rest_s)
        return _next_rung(state, entry.sample, Move.GIVEN_UP, rest_s)
    if block.after_fail is AfterFail.BACK:
        lower = replace(state, rung=max(rung - 1, 0), counted=0)
        return _try(lower, entry.sample, Move.BACK if rung else Move.AGAIN, rest_s)
    if block.after_fail is AfterFail.BEYOND and rung + 1 < len(block.rungs):
        higher = replace(state, rung=rung + 1, counted=0, beyond=True)
        return _try(higher, entry.sample, Move.BEYOND, rest_s)
    return _try(state, entry.sample, Move.AGAIN, rest_s)


def _rest_s(state: SessionState, entry: AttemptJudged) -> float:
    """How long is rested after an attempt."""
    rests = state.now.rests
    return max(rests.attempt_s, entry.seconds if rests.as_played else 0.0)


def _after_probe(state: SessionState, entry: AttemptJudged) -> SessionState:
    """The low note is held against the first one: once it is round the next attempt comes, and when
    it does not come back it is over for today."""
    first = state.reference is None and entry.tone is not None
    if entry.passed or first:
        reference = entry.tone if first else state.reference
        back = replace(state, probing=None, reference=reference)
        return _enter(back, entry.sample, state.move)
    ragged = (state.probing or 0) + 1
    if ragged >= MOST_PROBES:
        return _close(replace(state, probing=None), entry.sample, BlockEnd.RAGGED)
    return _enter(replace(state, probing=ragged), entry.sample, state.move)


def _try(state: SessionState, at: int, move: Move, rest_s: float = 0.0) -> SessionState:
    """The next attempt; the low note comes first where there is one."""
    probing = None if state.now.probe is None else 0
    rest_s = max(rest_s, state.at.rest_s)
    return _enter(replace(state, probing=probing), at, move, rest_s)


def _next_rung(state: SessionState, at: int, move: Move, rest_s: float = 0.0) -> SessionState:
    block = state.now
    last = len(block.rungs) - 1 if state.climbs_to is None else state.climbs_to
    if state.rung < last:
        return _try(replace(state, rung=state.rung + 1, counted=0), at, move, rest_s)
    if state.set_number + 1 < block.sets:
        return _next_set(state, at, rest_s)
    return _close(state, at, BlockEnd.LEFT if move is Move.LEFT else BlockEnd.DONE, rest_s)


def _next_set(state: SessionState, at: int, rest_s: float) -> SessionState:
    fresh = (0,) * len(state.now.rungs)
    next_set = replace(
        state, set_number=state.set_number + 1, rung=0, counted=0, fails=fresh, fails_in_row=0
    )
    return _try(next_set, at, Move.SET, max(rest_s, state.now.rests.set_s))


def _close(state: SessionState, at: int, close: BlockEnd, rest_s: float = 0.0) -> SessionState:
    """Leaves the block for the next one, or for where one was before a help."""
    block = state.now
    if state.back_to is not None:
        home = state.back_to
        since = home.since + at - state.since
        home = replace(home, level=state.level, drone_hz=state.drone_hz, since=since)
        return _try(home, at, Move.RETURNED)
    given_up = sum(0 < block.most_fails <= count for count in state.fails)
    over = ClosedBlock(block, close, state.best, state.attempts, state.passes, given_up)
    state = replace(state, closed=(*state.closed, over))
    following = state.block + 1
    if block.checks and given_up and following < len(state.blocks):
        state, following = _after_check(state, following, given_up == len(block.rungs))
    while following < len(state.blocks) and _is_held_back(state, following):
        if not state.blocks[following].checks:
            state = _held_back(state, following)
        following += 1
    if following == len(state.blocks):
        return _end(state, at, End.DONE)
    rest_s = max(rest_s, block.rests.block_s)
    return _into(replace(state, block=following), at, Move.BLOCK, rest_s)


def _after_check(state: SessionState, following: int, none_good: bool) -> tuple[SessionState, int]:
    """What was checked is left out where no note of the check was good, and else halved; and which
    block comes now."""
    if none_good:
        return _held_back(state, following), following + 1
    blocks = list(state.blocks)
    blocks[following] = halved(blocks[following])
    return replace(state, blocks=tuple(blocks)), following


def _held_back(state: SessionState, place: int) -> SessionState:
    closed = ClosedBlock(state.blocks[place], BlockEnd.HELD_BACK)
    return replace(state, closed=(*state.closed, closed))


def _is_held_back(state: SessionState, place: int) -> bool:
    """Whether a block is left out, since the lips are tired, or the day is over but for what
    loosens at its end. A check is with what it checks."""
    coming, is_last = state.blocks[place], place == len(state.blocks) - 1
    if coming.checks and not is_last:
        return _is_held_back(state, place + 1)
    # When a high note will not lock, more of it teaches the wrong thing: that is it for today.
    high_over = coming.group is Group.HIGH and any(
        block.block.group is Group.HIGH and block.close in (BlockEnd.ENOUGH, BlockEnd.RAGGED)
        for block in state.closed
    )
    too_hard = coming.works and (bool(state.tired) or high_over)
    return too_hard or (state.day_over and not is_last)


def _into(state: SessionState, at: int, move: Move, rest_s: float = 0.0) -> SessionState:
    """Begins the present block."""
    state = replace(
        state,
        set_number=0,
        rung=0,
        counted=0,
        fails=(0,) * len(state.now.rungs),
        fails_in_row=0,
        attempts=0,
        passes=0,
        best=None,
        reference=None,
        beyond=False,
        last_one=False,
        climbs_to=None,
        since=at,
    )
    return _try(state, at, move, rest_s)


def _end(state: SessionState, at: int, end: End) -> SessionState:
    over = (Stretch(Phase.OVER, at, None),)
    return replace(state, ended=end, stretches=over, listen_from=None, probing=None)


def _enter(
    state: SessionState, at: int, move: Move, rest_s: float = 0.0, *, at_once: bool = False
) -> SessionState:
    """Lays out what comes before the next attempt, from a sample on; `at_once` leaves out what can
    be waited for."""
    stretches = before_an_attempt(state, at, rest_s, at_once=at_once)
    return replace(
        state,
        move=move,
        stretches=stretches,
        listen_from=listened_from(state, stretches),
        disturbed=False,
        rests_due=state.rests_due + (rest_s > 0),
    )


def _pressed(state: SessionState, entry: ButtonPressed) -> SessionState:
    at, press = entry.sample, entry.press
    if press is Press.HURTS:
        return _end(_left(state), at, End.HURT)
    if press is Press.END:
        return _end(_left(state), at, End.STOPPED)
    if press is Press.PAUSE:
        return _paused(state, at, state.move)
    state = replace(state, before=None)
    if press is Press.GO_ON:
        return _gone_on(state, at) if state.paused else state
    waits = stretch_at(state, at).phase
    if press is Press.ON:
        if state.paused or waits in _WAITS:
            cut = waits is Phase.REST and not state.disturbed
            state = replace(state, rests_broken=state.rests_broken + cut)
            return _enter(state, at, _told(state.move), at_once=True)
        if state.now.breathing:
            return _close(state, at, BlockEnd.LEFT)
        if state.probing is not None:
            return _enter(replace(state, probing=None), at, state.move)
        return state if state.now.open else _next_rung(state, at, Move.LEFT)
    if press is Press.NEXT:
        return state if state.now.open else _close(state, at, BlockEnd.LEFT)
    if press is Press.BACK:
        return _gone_back(state, at)
    return _enter(state, at, state.move)


def _left(state: SessionState) -> SessionState:
    """The present block counted as one that was left, where anything of it was played."""
    here = state.back_to or state
    if not here.attempts:
        return state
    left = ClosedBlock(here.now, BlockEnd.LEFT, here.best, here.attempts, here.passes)
    return replace(state, closed=(*state.closed, left))


def _gone_back(state: SessionState, at: int) -> SessionState:
    """To the rung before, or the beginning of the block before."""
    if state.back_to is not None:
        return _close(state, at, BlockEnd.LEFT)
    if state.rung:
        return _try(replace(state, rung=state.rung - 1, counted=0), at, Move.GONE_BACK)
    if state.counted or not state.block:
        return _try(replace(state, counted=0), at, Move.GONE_BACK)
    reopened = replace(state, block=state.block - 1, closed=state.closed[:-1])
    return _into(reopened, at, Move.GONE_BACK)


def _paused(state: SessionState, at: int, move: Move) -> SessionState:
    if state.paused:
        return state
    paused = (Stretch(Phase.PAUSED, at, None),)
    left_s = left_of_rest(state, at)
    return replace(state, move=move, stretches=paused, listen_from=None, rest_left_s=left_s)


def _gone_on(state: SessionState, at: int) -> SessionState:
    """From a pause: what was left of a rest is still to be rested."""
    return _rest_on(state, at, _told(state.move), state.rest_left_s)


def _rest_on(state: SessionState, at: int, move: Move, left_s: float) -> SessionState:
    """What was left of a rest, which is no other one."""
    entered = _enter(state, at, move, left_s)
    disturbed = state.disturbed and left_s > 0
    return replace(entered, rests_due=state.rests_due, disturbed=disturbed)


def _unheard(state: SessionState, entry: AttemptUnheard) -> SessionState:
    """The same attempt once more; what was left of a rest is still to be rested."""
    if state.paused:
        return state
    move = Move.UNHEARD_KEPT if entry.kept else Move.UNHEARD
    return _rest_on(state, entry.sample, move, left_of_rest(state, entry.sample))


def _told(move: Move) -> Move:
    return Move.RESUMED if move in (Move.LOST, Move.UNHEARD, Move.UNHEARD_KEPT) else move


def _resumed(state: SessionState, entry: SessionResumed) -> SessionState:
    """Taken up after a gap: time that went by is time rested."""
    if state.paused:
        return state
    left_s = max(left_of_rest(state, entry.sample) - entry.gap_s, 0.0)
    return _rest_on(state, entry.sample, Move.RESUMED, left_s)


def _helped(state: SessionState, entry: HelpAsked) -> SessionState:
    """A short exercise before the present one, which comes back after it."""
    home = replace(state.back_to or state, before=None, last=None, fails_in_row=0)
    blocks = (*state.blocks[: state.block], entry.block, *state.blocks[state.block + 1 :])
    return _into(replace(home, blocks=blocks, back_to=home), entry.sample, Move.HELP)


def _tired(state: SessionState, entry: Tired) -> SessionState:
    """Enough for today: hard work is over, and what comes after it is easy; with more signs the day
    is, but for what loosens at its end."""
    if len(entry.signs) <= len(state.tired):
        return state
    state = replace(state, tired=entry.signs)
    here = state.back_to or state
    over = here.now.works or (state.day_over and here.block < len(here.blocks) - 1)
    if state.paused or not over:
        return state
    here = replace(here, tired=entry.signs, before=None)
    return _close(here, entry.sample, BlockEnd.TIRED)


def _tuned(state: SessionState, entry: Tuned) -> SessionState:
    """Listening begins anew where what sounds in the room has changed."""
    listen_from = state.listen_from
    if entry.drone_hz != state.drone_hz and listen_from is not None:
        listen_from = max(listen_from, entry.sample)
    return replace(state, level=entry.level, drone_hz=entry.drone_hz, listen_from=listen_from)
