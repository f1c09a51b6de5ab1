"""The gate: may I go on? How hard it is; what it asks of each aim stands in `aims.py`."""

from enum import StrEnum


class GateLevel(StrEnum):
    """How hard the gate is."""

    STRICT = "strict"
    NORMAL = "normal"
    KIND = "kind"
