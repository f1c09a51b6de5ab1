"""Things counted and listed, in words."""

from collections.abc import Sequence


def counted(count: int, thing: str) -> str:
    """A number of things: "1 break", "2 breaks"."""
    return f"{count} {thing}{'' if count == 1 else 's'}"


def listed(words: Sequence[str]) -> str:
    """Things one after the other: "C5", "C5 and G4", "C5, A4 and G4"."""
    *first, last = words
    return f"{', '.join(first)} and {last}" if first else last
