"""The standards an attempt can be judged by; what each asks of an aim stands in `aims.py`."""

from enum import StrEnum


class Standard(StrEnum):
    """How strictly an attempt is judged."""

    STRICT = "strict"
    NORMAL = "normal"
    KIND = "kind"
