"""What a simulation came to, as the document `orexis.simulation/1`."""

from typing import Any

from orexis.core.coach.known import PlayerFacts
from orexis.core.coach.standing import Standing
from orexis.formats.day_plan import plan_document
from orexis.practice.simulation import SimulatedDay, Simulation, reached

SCHEMA = "orexis.simulation/1"
_HELD = (Standing.HELD, Standing.SECURE)
_TOUCHED = (Standing.TOUCHED, *_HELD)


def simulation_document(simulation: Simulation) -> dict[str, Any]:
    """All days of a simulation, and the range at its first and its last."""
    return {
        "schema": SCHEMA,
        "days": [_day(day) for day in simulation.days],
        "range": {"first": _range(simulation.first), "last": _range(simulation.last)},
    }


def _day(day: SimulatedDay) -> dict[str, Any]:
    load = day.load
    return {
        "date": day.day.isoformat(),
        "plan": None if day.plan is None else plan_document(day.plan),
        "missed": day.played is None,
        "stopped": day.stopped,
        "load": {
            "day": round(load.today, 2),
            "week": round(load.week, 2),
            "month": round(load.month, 2),
        },
        "reached_ceiling": day.at_ceiling,
        "decided": list(day.decided),
    }


def _range(known: PlayerFacts) -> dict[str, Any]:
    touched, held = reached(known, _TOUCHED), reached(known, _HELD)
    secure = reached(known, (Standing.SECURE,))
    return {
        "comfortable_high_midi": known.range.comfortable,
        "lowest_touched_midi": touched[0],
        "highest_touched_midi": touched[1],
        "lowest_held_midi": held[0],
        "highest_held_midi": held[1],
        "lowest_secure_midi": secure[0],
        "highest_secure_midi": secure[1],
    }
