"""What happened while somebody played without a task: a metronome and a drone begun and stopped,
spots marked, a piece put before them."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from orexis.core.horn.drone import Drone
from orexis.core.listening.onsets import Beats
from orexis.core.score.pulse import Click, Pulse, PulseBeat, beats_from


@dataclass(frozen=True, slots=True)
class PulseGiven:
    """A metronome was begun, its first bar on a sample, or stopped there (`None`)."""

    sample: int
    pulse: Pulse | None


@dataclass(frozen=True, slots=True)
class DroneSounded:
    """A drone was begun or stopped (`None`)."""

    sample: int
    drone: Drone | None


@dataclass(frozen=True, slots=True)
class SpotMarked:
    """The player marked a spot."""

    sample: int


@dataclass(frozen=True, slots=True)
class PieceOpened:
    """A piece of the player's own was put before them, or taken away (`None`), by its key."""

    sample: int
    piece: str | None


FreeEntry = PulseGiven | DroneSounded | SpotMarked | PieceOpened


def piece_at_end(log: Sequence[FreeEntry]) -> str | None:
    """The piece that is before the player after what is in a log."""
    opened = [entry for entry in log if isinstance(entry, PieceOpened)]
    return opened[-1].piece if opened else None


def pieces_opened(
    log: Sequence[FreeEntry], rate: int, until_s: float
) -> list[tuple[str, float, float]]:
    """Which pieces were before the player, from when to when in a sound of so many seconds, in
    order."""
    opened = [entry for entry in log if isinstance(entry, PieceOpened)]
    ends_s = [*(entry.sample / rate for entry in opened), until_s][1:]
    return [
        (entry.piece, entry.sample / rate, end_s)
        for entry, end_s in zip(opened, ends_s, strict=True)
        if entry.piece is not None and end_s > entry.sample / rate
    ]


def drone_at_end(log: Sequence[FreeEntry]) -> Drone | None:
    """The drone that sounds after what is in a log."""
    sounded = [entry for entry in log if isinstance(entry, DroneSounded)]
    return sounded[-1].drone if sounded else None


def beats_given(log: Sequence[FreeEntry], rate: int, until_s: float) -> Beats | None:
    """The beats that a metronome gave in a sound of so many seconds, `None` where none did. What
    was begun before another was stopped ends with its stop."""
    given = sorted(
        (entry for entry in log if isinstance(entry, PulseGiven)), key=lambda entry: entry.sample
    )
    if not given:
        return None
    at_s: list[float] = []
    silent: list[bool] = []
    ends_s = [entry.sample / rate for entry in given[1:]] + [until_s]
    for entry, end_s in zip(given, ends_s, strict=True):
        start_s = entry.sample / rate
        for beat in _beats_for(entry.pulse, min(end_s, until_s) - start_s):
            at_s.append(start_s + beat.at_s)
            silent.append(beat.silent)
    return Beats(np.array(at_s), np.array(silent, dtype=bool)) if at_s else None


def _beats_for(pulse: Pulse | None, seconds: float) -> Iterator[PulseBeat]:
    """The whole beats of a pulse in its first seconds."""
    if pulse is None:
        return
    for beat in beats_from(pulse, 0):
        if beat.at_s >= seconds:
            return
        if beat.click is not Click.PART:
            yield beat
