"""The log of playing without a task, as it is kept."""

from dataclasses import asdict
from typing import Any

from orexis.core.horn.drone import Drone
from orexis.core.horn.tuning import Temperament
from orexis.core.score.pulse import Pulse
from orexis.core.session.free_log import (
    DroneSounded,
    FreeEntry,
    PieceOpened,
    PulseGiven,
    SpotMarked,
)

Kept = dict[str, Any]

_METRONOME, _DRONE, _MARKED, _PIECE = "metronome", "drone", "marked", "piece"


def free_entry_document(entry: FreeEntry) -> tuple[str, Kept]:
    """An entry's kind, and what it says beside its sample."""
    match entry:
        case PulseGiven(pulse=pulse):
            return _METRONOME, {"pulse": pulse and asdict(pulse)}
        case DroneSounded(drone=drone):
            return _DRONE, {"drone": drone and asdict(drone)}
        case SpotMarked():
            return _MARKED, {}
        case PieceOpened(piece=piece):
            return _PIECE, {"piece": piece}


def free_entry_of(kind: str, sample: int, kept: Kept) -> FreeEntry:
    """The entry of a document. Raises `LookupError`, `TypeError` or `ValueError`."""
    match kind:
        case "metronome":
            return PulseGiven(sample, kept["pulse"] and _pulse(kept["pulse"]))
        case "drone":
            return DroneSounded(sample, kept["drone"] and _drone(kept["drone"]))
        case "marked":
            return SpotMarked(sample)
        case "piece":
            return PieceOpened(sample, None if kept["piece"] is None else str(kept["piece"]))
        case _:
            raise LookupError(kind)


def _pulse(kept: Kept) -> Pulse:
    return Pulse(**{**kept, "bars": tuple(tuple(bar) for bar in kept["bars"])})


def _drone(kept: Kept) -> Drone:
    return Drone(**{**kept, "temperament": Temperament(kept["temperament"])})
