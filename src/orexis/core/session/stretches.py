"""What comes before an attempt, by time: rest, a note to hear or sing, the count-in, and
readiness."""

from orexis.core.exercises.task import Task
from orexis.core.session.metronome import Metronome, count_in_s, seconds_at
from orexis.core.session.plan import BeforeAttempt
from orexis.core.session.state import Phase, SessionState, Stretch, stretch_at

_MOMENT_S = 1.5
"""A moment to read the verdict, before something sounds by itself."""
_EARLY_S = 0.3
"""An attempt may begin so much before its rest is over."""
_COUNT_INS = 3
_WAITING_BARS = 2
"""How long an attempt is waited for after its music would be over, before it is counted in anew."""
_BEFORE = {
    BeforeAttempt.HEAR: (Phase.HEAR, 2.5),
    BeforeAttempt.SING: (Phase.SING, 5.0),
    BeforeAttempt.FINGER: (Phase.FINGER, 4.0),
}


def before_an_attempt(
    state: SessionState, at: int, rest_s: float = 0.0, *, at_once: bool = False
) -> tuple[Stretch, ...]:
    """The stretches from a sample up to the next attempt; `at_once` leaves out what can be waited
    for."""
    block, metronome = state.now, state.metronome
    fresh = not state.counted and not state.fails[state.rung] and state.probing is None
    before = block.before if fresh and not at_once else BeforeAttempt.NOTHING
    sounds = metronome is not None or before is not BeforeAttempt.NOTHING
    parts: list[tuple[Phase, float | None]] = []
    if rest_s > 0:
        parts.append((Phase.REST, rest_s))
    elif metronome is not None or (not at_once and (sounds or block.breathing)):
        parts.append((Phase.MOMENT, _MOMENT_S))
    if block.breathing:
        score = state.at.task.score
        parts.append((Phase.BREATHE, score.seconds * score.times))
    else:
        if before in _BEFORE:
            parts.append(_BEFORE[before])
        if metronome is not None:
            parts += _COUNT_INS * _counted_in(state.task, metronome)
        parts.append((Phase.READY, None))
    return _laid_out(parts, at, state.rate)


def listened_from(state: SessionState, stretches: tuple[Stretch, ...]) -> int | None:
    """The sample from which a sound starts an attempt: half a beat before the first of the music,
    or a little before the end of a rest."""
    for place, stretch in enumerate(stretches):
        if stretch.phase is not Phase.READY:
            continue
        before = stretches[place - 1].phase if place else None
        early_s = _EARLY_S if before is Phase.REST else 0.0
        if before is Phase.COUNT_IN and state.metronome is not None:
            early_s = _beat_s(state.task, state.metronome) / 2
        return max(stretch.start - round(early_s * state.rate), stretches[0].start)
    return None


def left_of_rest(state: SessionState, at: int) -> float:
    """Seconds of rest that are still to come at a sample."""
    rest = stretch_at(state, at)
    if rest.phase is not Phase.REST or rest.end is None:
        return 0.0
    return max(rest.end - at, 0) / state.rate


def _counted_in(task: Task, metronome: Metronome) -> list[tuple[Phase, float | None]]:
    """A count-in, and the time its music takes to wait for an attempt."""
    score = task.score
    music_s = seconds_at(metronome, score, float(score.beats))
    waiting_s = _WAITING_BARS * score.beats_in_bar * _beat_s(task, metronome)
    return [(Phase.COUNT_IN, count_in_s(metronome, score)), (Phase.READY, music_s + waiting_s)]


def _beat_s(task: Task, metronome: Metronome) -> float:
    return 60 / metronome.tempo(task.score)


def _laid_out(parts: list[tuple[Phase, float | None]], at: int, rate: int) -> tuple[Stretch, ...]:
    found: list[Stretch] = []
    for phase, seconds in parts:
        end = None if seconds is None else at + round(seconds * rate)
        found.append(Stretch(phase, at, end))
        at = end or at
    return tuple(found)
