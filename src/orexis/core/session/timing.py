"""Onsets against the metronome: how late notes begin, and how unevenly.

A note's beat is where the score has it after the count-in before the attempt; what the sound takes
there and back is taken off where it was measured. Without that only the spread can be told, which
the delay does not touch.
"""

from dataclasses import dataclass
from statistics import fmean, pstdev

from orexis.core.judging.matching import Answer
from orexis.core.session.metronome import seconds_at
from orexis.core.session.state import Phase, SessionState


@dataclass(frozen=True, slots=True)
class Timing:
    """How far notes begin from their beats (ms, late is positive; `None` where the round trip is
    not known), how unevenly (one standard deviation, ms), and how many notes tell it."""

    mean_ms: float | None
    spread_ms: float
    notes: int


def timing_of(
    state: SessionState, answers: tuple[Answer, ...], first_s: float, latency_s: float | None
) -> Timing | None:
    """The timing of an attempt whose frames begin at `first_s` of the session; `None` without a
    metronome, or where nothing spoke."""
    metronome = state.metronome
    spoken = [answer for answer in answers if answer.spoke and answer.heard is not None]
    if metronome is None or not spoken:
        return None
    score = state.task.score
    begins_s = [
        after.start / state.rate
        for before, after in zip(state.stretches, state.stretches[1:], strict=False)
        if before.phase is Phase.COUNT_IN
    ]
    at_s = [first_s + (answer.heard.start_s if answer.heard else 0.0) for answer in spoken]
    begins = score.begins
    meant_s = [seconds_at(metronome, score, float(begins[answer.at.step])) for answer in spoken]
    # An attempt that was waited for is held against the count-in it followed.
    begin_s = min(begins_s, key=lambda begin: abs(begin + meant_s[0] - at_s[0]))
    late_ms = [1000 * (at - begin_s - meant) for at, meant in zip(at_s, meant_s, strict=True)]
    spread_ms = pstdev(late_ms) if len(late_ms) > 1 else 0.0
    mean_ms = None if latency_s is None else fmean(late_ms) - 1000 * latency_s
    return Timing(mean_ms, spread_ms, len(spoken))


def timing_words(timing: Timing) -> str:
    """The timing of an attempt, in a sentence."""
    spread = f"± {timing.spread_ms:.0f} ms" if timing.notes > 1 else ""
    if timing.mean_ms is None:
        uneven = f"Against the beat {spread}. " if spread else ""
        return f"{uneven}How late is not told until this device is measured."
    late = round(timing.mean_ms)
    said = "on the beat" if late == 0 else f"{abs(late)} ms {'late' if late > 0 else 'early'}"
    return f"Against the beat: {said}{', ' if spread else ''}{spread}."
