"""The timeline of a session: its exercises in time, and every attempt at them."""

from collections.abc import Iterable
from dataclasses import dataclass, field, replace

from orexis.core.session.log import AttemptJudged, Entry, Overruled
from orexis.core.session.running import step
from orexis.core.session.state import SessionState
from orexis.core.session.telling import result_words


@dataclass(frozen=True, slots=True)
class TimelineAttempt:
    """An attempt: from when to when it sounded, in seconds from the session's start, whether it was
    good as far as anybody says, and its take."""

    start_s: float
    end_s: float
    good: bool
    take_id: str


@dataclass(frozen=True, slots=True)
class TimelineBlock:
    """An exercise as it was played: from when to when, whether it is hard on the lips, its
    attempts, and how it went ("" where it was not ended)."""

    title: str
    start_s: float
    end_s: float
    works: bool
    attempts: tuple[TimelineAttempt, ...]
    words: str


@dataclass(slots=True)
class _Open:
    """A block that is being played."""

    state: SessionState
    start_s: float
    attempts: list[TimelineAttempt] = field(default_factory=list)


def timeline_of(first: SessionState, log: Iterable[Entry]) -> tuple[TimelineBlock, ...]:
    """The timeline of a session that began in a state, without what was left out."""
    state = first
    now = _Open(first, 0.0)
    found: list[TimelineBlock] = []
    for entry in log:
        at_s = entry.sample / state.rate
        if isinstance(entry, AttemptJudged) and not entry.cut:
            start_s = max(at_s - entry.seconds, 0.0)
            now.attempts.append(TimelineAttempt(start_s, at_s, entry.passed, entry.take_id))
        if isinstance(entry, Overruled):
            _overrule(found, now, entry)
        after = step(state, entry)
        if _block_of(after) != _block_of(state) or (after.ended and not state.ended):
            _close(found, now, after, at_s)
            now = _Open(after, at_s)
        state = after
    return tuple(found)


def _block_of(state: SessionState) -> tuple[int, int]:
    """Which block is played, and which of those that were put in its place."""
    return state.block, id(state.now)


def _close(found: list[TimelineBlock], now: _Open, after: SessionState, at_s: float) -> None:
    block = now.state.now
    since = after.closed[len(now.state.closed) :]
    words = [result_words(one.result) for one in since if one.block.title == block.title]
    if now.attempts or block.breathing:
        found.append(
            TimelineBlock(
                title=block.title,
                start_s=now.start_s,
                end_s=at_s,
                works=block.works,
                attempts=tuple(now.attempts),
                words=words[-1] if words else "",
            )
        )


def _overrule(found: list[TimelineBlock], now: _Open, entry: Overruled) -> None:
    """Takes the player's word for an attempt."""

    def said(attempts: Iterable[TimelineAttempt]) -> list[TimelineAttempt]:
        return [
            replace(attempt, good=entry.passed) if attempt.take_id == entry.take_id else attempt
            for attempt in attempts
        ]

    now.attempts = said(now.attempts)
    found[:] = [replace(block, attempts=tuple(said(block.attempts))) for block in found]
