"""JSON from elsewhere, of which everything can be kept and shown: numbers that are some, of a size
that computes, and whole letters."""

import json
import math
from typing import Any, NoReturn

_MOST_DIGITS = 18


class JsonUnreadableError(ValueError):
    """What is no JSON, or says what JSON cannot; the message says what."""


def read_json(content: bytes) -> Any:
    """The value of a JSON text in UTF-8. Raises `JsonUnreadableError`."""
    try:
        value = json.loads(content, parse_constant=_refuse, parse_float=_float, parse_int=_int)
        # A half of a letter can be neither kept nor shown.
        json.dumps(value, ensure_ascii=False).encode()
    except (ValueError, RecursionError) as error:
        raise JsonUnreadableError("This is no JSON that can be read.") from error
    return value


def _refuse(said: str) -> NoReturn:
    raise ValueError(f"{said} is no number.")


def _float(said: str) -> float:
    value = float(said)
    if not math.isfinite(value):
        _refuse(said)
    return value


def _int(said: str) -> int:
    if len(said) > _MOST_DIGITS:
        _refuse(said)
    return int(said)
