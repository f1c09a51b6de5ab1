"""Practice that was written down elsewhere: what of it can stand in a player's days."""

import re
from dataclasses import dataclass
from datetime import date

LONGEST_MIN = 720.0
LONGEST_WORDS = 200
_ISO = re.compile(r"(\d{4})-(\d{1,2})-(\d{1,2})")
_DOTTED = re.compile(r"(\d{1,2})\.\s?(\d{1,2})\.\s?(\d{4})")
_MINUTES = re.compile(r"(\d+(?:[.,]\d+)?)\s*(?:min|minutes?|m|')?", re.IGNORECASE)
_HOURS = re.compile(r"(\d+)\s*(?::|h|hours?)\s*(?:(\d{1,2})\s*(?:min|minutes?|m)?)?", re.IGNORECASE)


@dataclass(frozen=True, slots=True)
class WrittenEntry:
    """So many minutes on a day, and of what."""

    on: date
    minutes: float
    words: str = ""


class TypedRefusedError(ValueError):
    """What was typed makes no practice; the message says why and what to write."""


def typed(day: str, minutes: str, words: str, today: date) -> WrittenEntry:
    """What was typed, read. Raises `TypedRefusedError`."""
    on, lasted = _day(day.strip()), _minutes(minutes.strip())
    if on > today:
        raise TypedRefusedError(f"{on} is still to come.")
    if on.year < _FIRST_YEAR:
        raise TypedRefusedError(f"{on} is too long ago; the first year is {_FIRST_YEAR}.")
    if not 0 < lasted <= LONGEST_MIN:
        raise TypedRefusedError(f"Practice lasts up to {LONGEST_MIN:.0f} min, not {minutes}.")
    said = " ".join(words.split())
    if len(said) > LONGEST_WORDS:
        raise TypedRefusedError(f"There is room for {LONGEST_WORDS} letters of words.")
    return WrittenEntry(on, lasted, said)


_FIRST_YEAR = 2000


def _day(said: str) -> date:
    iso, dotted = _ISO.fullmatch(said), _DOTTED.fullmatch(said)
    if iso is not None:
        year, month, day = map(int, iso.groups())
    elif dotted is not None:
        day, month, year = map(int, dotted.groups())
    else:
        # 3/4/2026 is one day here and another there.
        raise TypedRefusedError(f"“{said[:40]}” is no day. Write it as 2026-11-27.")
    try:
        return date(year, month, day)
    except ValueError as error:
        raise TypedRefusedError(f"There is no such day as {said}.") from error


def _minutes(said: str) -> float:
    if not said:
        raise TypedRefusedError("It does not say how long. Write minutes, such as 45.")
    plain = _MINUTES.fullmatch(said)
    if plain is not None:
        return float(plain[1].replace(",", "."))
    hours = _HOURS.fullmatch(said)
    if hours is not None:
        return 60.0 * int(hours[1]) + int(hours[2] or 0)
    raise TypedRefusedError(f"“{said[:40]}” is not a time. Write minutes, such as 45.")
