"""A breath done in its time, part by part."""

from dataclasses import dataclass

from orexis.core.score.steps import Breath, Rest
from orexis.core.session.state import SessionState


@dataclass(frozen=True, slots=True)
class BreathPart:
    """A part of a paced breath: how long (s), what to do, and whether the air goes in."""

    seconds: float
    words: str
    inward: bool


def breath_parts(state: SessionState) -> list[BreathPart]:
    """The parts of what is done by breathing alone, repetitions and all; none elsewhere."""
    if not state.now.breathing:
        return []
    score = state.at.task.score
    steps = score.steps * score.times
    return [
        BreathPart(score.seconds_of((step,)), step.words, isinstance(after, Breath))
        for step, after in zip(steps, (*steps[1:], None), strict=True)
        if isinstance(step, Rest)
    ]
