"""A horn's setup as JSON and back: kept with a session, so that it is judged as it began."""

from dataclasses import asdict, fields
from typing import Any

from orexis.core.horn.setup import Setup, Tendency
from orexis.core.horn.tuning import Scale, Temperament, Tuning

_TUPLES = ("valve_cents", "valve_pull_mm", "trigger_cents")
_APART = ("tuning", "tendencies", *_TUPLES)


def setup_document(setup: Setup) -> dict[str, Any]:
    """A setup, whole."""
    tuning, scale = setup.tuning, setup.tuning.scale
    return {
        **{
            field.name: getattr(setup, field.name)
            for field in fields(setup)
            if field.name not in _APART
        },
        **{name: list(getattr(setup, name)) for name in _TUPLES},
        "tuning": {
            "temperament": tuning.temperament.value,
            "tonic": tuning.tonic,
            "scale": scale and asdict(scale),
        },
        "tendencies": [
            [length, midi, tendency.cents, tendency.takes]
            for (length, midi), tendency in setup.tendencies.items()
        ],
    }


def setup_of(kept: dict[str, Any]) -> Setup:
    """The setup of a document. Raises `LookupError`, `TypeError` or `ValueError`."""
    tuning, scale = kept["tuning"], kept["tuning"]["scale"]
    plain = {key: value for key, value in kept.items() if key not in _APART}
    return Setup(
        **plain,
        valve_cents=tuple(kept["valve_cents"]),
        valve_pull_mm=tuple(kept["valve_pull_mm"]),
        trigger_cents=tuple(kept["trigger_cents"]),
        tuning=Tuning(
            Temperament(tuning["temperament"]),
            tuning["tonic"],
            None if scale is None else Scale(scale["description"], tuple(scale["degrees_cents"])),
        ),
        tendencies={
            (length, midi): Tendency(cents, takes)
            for length, midi, cents, takes in kept["tendencies"]
        },
    )
