"""Things counted and listed, in words."""

from collections.abc import Sequence

_IN_SECONDS_TO_S = 120.0


def counted(count: int, thing: str) -> str:
    """A number of things: "1 break", "2 breaks"."""
    return f"{count} {thing}{'' if count == 1 else 's'}"


def in_unit(number: float, unit: str) -> str:
    """A number with its unit, which is written in the plural: "1 half step", "1.5 half steps",
    "1 s"."""
    is_word = len(unit) > 2 and unit.endswith("s")
    said = unit[:-1] if is_word and abs(number) == 1 else unit
    return f"{number:g} {said}".rstrip()


def listed(words: Sequence[str]) -> str:
    """Things one after the other: "C5", "C5 and G4", "C5, A4 and G4"."""
    *first, last = words
    return f"{', '.join(first)} and {last}" if first else last


def days_ago_words(days: int) -> str:
    """When something was: "today", "yesterday", "5 days ago"."""
    return ("today", "yesterday")[days] if days <= 1 else f"{days} days ago"


def length_words(seconds: float) -> str:
    """How long a sound is: "29.6 s", "59 min 42 s"."""
    if seconds < _IN_SECONDS_TO_S:
        return f"{seconds:.1f} s"
    minutes, rest = divmod(round(seconds), 60)
    return f"{minutes} min {rest} s"


def time_words(seconds: float) -> str:
    """So much time: "40 s", "12 min", "3 h 10 min"."""
    if seconds < 60:
        return f"{seconds:.0f} s"
    minutes = round(seconds / 60)
    if minutes < 60:
        return f"{minutes} min"
    return f"{minutes // 60} h {minutes % 60} min" if minutes % 60 else f"{minutes // 60} h"
