"""What a session says: what is next and why, and where in the whole one is."""

from dataclasses import dataclass

from orexis.core.counting import time_words
from orexis.core.exercises.practised import AttemptOrder
from orexis.core.session.plan import Block, Counts
from orexis.core.session.state import (
    AT_CEILING,
    BlockEnd,
    End,
    ExerciseResult,
    Move,
    Phase,
    SessionState,
    stretch_at,
)

_UNITS = {
    AttemptOrder.LADDER: "step",
    AttemptOrder.LENGTHS: "length",
    AttemptOrder.GROW: "step",
    AttemptOrder.BREATHS: "breath",
    AttemptOrder.SETS: "start",
}


@dataclass(frozen=True, slots=True)
class SessionWording:
    """A session in words: what is next, why it is that, and where in the whole it is."""

    headline: str
    why: str
    place: str
    whole: str


def told(state: SessionState, sample: int) -> SessionWording:
    """What is said at a sample."""
    return SessionWording(
        _headline(state, sample), _why(state), place_words(state), whole_words(state)
    )


def place_words(state: SessionState) -> str:
    """Where in the block one is: "set 1 of 2, start 7 of 20"."""
    block, parts = state.now, []
    if block.sets > 1:
        parts.append(f"set {state.set_number + 1} of {block.sets}")
    if len(block.rungs) > 1:
        unit = _UNITS.get(block.follow, "step")
        parts.append(f"{unit} {state.rung + 1} of {len(block.rungs)}")
    if block.needed > 1:
        done = min(state.counted, block.needed)
        parts.append(f"all {block.needed} done" if done == block.needed else _so_far(block, done))
    return ", ".join(parts)


def _so_far(block: Block, done: int) -> str:
    good = "good" if block.counts is Counts.PASSED else "played"
    return f"{done} of {block.needed} {good}"


def whole_words(state: SessionState) -> str:
    """Which exercise of the session it is."""
    if len(state.blocks) == 1:
        return ""
    return f"{state.block + 1} of {len(state.blocks)}: {state.now.title}"


def _headline(state: SessionState, sample: int) -> str:
    if state.ended is not None:
        return _END[state.ended]
    name = state.at.name or state.now.title
    if state.probing is not None:
        name = "the low note"
    match stretch_at(state, sample).phase:
        case Phase.PAUSED:
            return "The microphone went away." if state.move is Move.LOST else "Paused."
        case Phase.REST:
            if state.disturbed:
                return f"Still resting. Then {name}."
            return (
                f"Rest. {state.at.words.capitalize()}" if state.at.words else f"Rest. Then {name}."
            )
        case Phase.BREATHE:
            return "Breathe along."
        case Phase.HEAR:
            return f"Hear {name}."
        case Phase.SING:
            return f"Sing {name}."
        case Phase.FINGER:
            return f"Finger {name}, without a sound."
        case Phase.COUNT_IN:
            return f"Next: {name}. Count-in."
        case _:
            return _next(state, name)


def _next(state: SessionState, name: str) -> str:
    if state.probing is not None:
        return (
            "The easy low note, with an air attack."
            if not state.probing
            else "The low note again, until it is round."
        )
    match state.move:
        case Move.UP:
            return f"Next step: {name}."
        case Move.BACK:
            return f"One step back: {name}."
        case Move.BEYOND:
            return f"One step beyond, once: {name}."
        case Move.LAST:
            return f"One step back, and that is the last one: {name}."
        case Move.REACH:
            return f"One step beyond your highest, once: {name}."
        case Move.AGAIN | Move.ONE_MORE | Move.RETURNED:
            return f"Again: {name}." if state.at.name else "Again."
        case Move.SET:
            return f"Set {state.set_number + 1}: {name}."
        case Move.ALL_DONE:
            return "That was all of it. Play it again, or move on."
        case Move.BLOCK | Move.HELP:
            return f"Next: {state.now.title}."
        case _:
            return f"{name}: play when you are ready."


def _why(state: SessionState) -> str:
    """Why it is that which comes next."""
    if state.ended is not None:
        return ""
    if state.probing is not None and state.probing:
        return "It is compared with your first one. After three ragged ones, stop for today."
    match state.move:
        case Move.BLOCK if state.tired and _ended_by_tiring(state):
            left = "Something easy, and then that is all" if state.day_over else "No more hard work"
            return f"Your lips are tiring: {state.tired[0]}. {left} for today."
        case Move.BLOCK if _checked_words(state):
            return _checked_words(state)
        case Move.BEGIN | Move.BLOCK | Move.HELP | Move.PUT:
            return state.now.why
        case Move.BACK:
            return "Not yet, so we go one step back."
        case Move.BEYOND:
            return "Reach one step beyond, once; then that is all for today."
        case Move.LAST:
            return "That one is enough for today. End with the step below it."
        case Move.REACH:
            return "Your highest was good. This one counts neither way."
        case Move.SET if state.climbs_to is not None:
            return (
                f"This time up to {state.now.rungs[state.climbs_to].name}, as far as it was good."
            )
        case Move.GIVEN_UP:
            return "Enough attempts at that one for today. Here is the next."
        case Move.RESUMED:
            return "You go on where you were."
        case Move.RETURNED:
            return "Back to where you were."
        case Move.LOST:
            return "Plug it in again. What you had played is kept."
        case Move.UNHEARD | Move.UNHEARD_KEPT:
            return unheard_words(state)
        case Move.LEFT:
            return "Left out for today."
        case _:
            return ""


def unheard_words(state: SessionState) -> str:
    """That listening to the last attempt failed, and what to do; "" where it did not."""
    if state.move not in (Move.UNHEARD, Move.UNHEARD_KEPT):
        return ""
    kept = " Its sound is under Takes." if state.move is Move.UNHEARD_KEPT else ""
    return f"Orexis failed to judge that attempt. Play it again.{kept}"


_END = {
    End.DONE: "Done for today.",
    End.STOPPED: "Ended.",
    End.HURT: "Put the horn down.",
}


def _ended_by_tiring(state: SessionState) -> bool:
    """Whether the last exercise that was played ended because the lips were tiring."""
    played = [block.close for block in state.closed if block.close is not BlockEnd.HELD_BACK]
    return played[-1:] == [BlockEnd.TIRED]


def _checked_words(state: SessionState) -> str:
    """What came of the check before hard work, "" where all of it is played or nothing was
    checked."""
    closed = state.closed
    if closed and closed[-1].block.checks and closed[-1].given_up:
        return "One of the two notes was not clean, so we play half of it today."
    if len(closed) > 1 and closed[-2].block.checks and closed[-1].close is BlockEnd.HELD_BACK:
        return f"Neither note was clean, so {closed[-1].block.title} waits for another day."
    return ""


def exercise_result_words(result: ExerciseResult) -> str:
    """How an exercise went, in a sentence."""
    words = result_words(result)
    return f"{result.title}: {words}" if words else f"{result.title}."


def result_words(result: ExerciseResult) -> str:
    """How an exercise went, without its title; "" where it was done by breathing alone."""
    if not result.judged:
        return ""
    if result.close is BlockEnd.HELD_BACK:
        return "left out, because your lips had had enough."
    played = f"{result.passes} of {result.attempts} good"
    if result.reached:
        played = f"up to {result.reached}, {played}"
    match result.close:
        case BlockEnd.ENOUGH:
            return f"{played}. The top stopped locking, so we stopped there."
        case BlockEnd.RAGGED:
            return f"{played}. The easy low note stayed ragged, so we stopped there."
        case BlockEnd.TIRED:
            return f"{played}. Your lips were tiring, so we stopped there."
        case BlockEnd.LEFT:
            return f"{played}; left before its end."
        case _:
            return f"{played}."


def tomorrow_words(result: ExerciseResult) -> str:
    """What to leave for tomorrow, "" where there is nothing."""
    if result.close is BlockEnd.HELD_BACK:
        return result.title
    if result.close not in AT_CEILING:
        return ""
    return f"{result.beyond} in {result.title}" if result.beyond else result.title


def rests_words(state: SessionState) -> str:
    """How many rests were kept, "" where there were none."""
    due, kept = state.rests_due, state.rests_due - state.rests_broken
    if not due:
        return ""
    return "Every rest kept." if kept >= due else f"{max(kept, 0)} of {due} rests kept."


def playing_words(played_s: float, usual_s: float | None) -> str:
    """How long a session sounded, beside those of the last weeks where there are enough."""
    played = f"You played for {time_words(played_s)}."
    if usual_s is None:
        return played
    return f"{played} In the last weeks it was mostly {time_words(usual_s)} a session."
