"""Where nothing is played for a while: to be passed over when one listens back."""

from collections.abc import Sequence
from dataclasses import dataclass

from orexis.core.listening.notes.events import Events

_LEAST_S = 3.0
_AFTER_S, _BEFORE_S = 1.0, 0.5
"""So much stays of a pause: a room fades, and a breath belongs to what comes."""


@dataclass(frozen=True, slots=True)
class Pause:
    """What can be passed over, in seconds."""

    start_s: float
    end_s: float


def pauses(events: Events, duration_s: float) -> tuple[Pause, ...]:
    """The stretches of three seconds and more without a note or a glide, but for a moment at either
    end; of the whole sound, whose length is given in seconds."""
    played = sorted(
        [(note.start_s, note.end_s) for note in events.notes]
        + [(glide.start_s, glide.end_s) for glide in events.glides]
    )
    found: list[Pause] = []
    until_s = 0.0
    for start_s, end_s in [*played, (duration_s, duration_s)]:
        if start_s - until_s >= _LEAST_S:
            found.append(
                Pause(
                    until_s + _AFTER_S if until_s else 0.0,
                    start_s - _BEFORE_S if start_s < duration_s else duration_s,
                )
            )
        until_s = max(until_s, end_s)
    return tuple(found)


def pauses_s(found: Sequence[Pause]) -> float:
    """How long they are together, in seconds."""
    return sum(pause.end_s - pause.start_s for pause in found)
