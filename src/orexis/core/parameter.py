"""A parameter: something a player sets, with its name, unit and bounds, described once.

The screen draws a field from it and the API checks a value by it, so no limit is typed twice.
"""

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Choice:
    """One of the values a parameter may have, how it is said, and what to be careful of when it is
    chosen ("" for nothing). One that is `unsaid` goes without saying where an exercise is told."""

    value: str
    label: str
    caution: str = ""
    unsaid: bool = False


@dataclass(frozen=True, slots=True)
class Parameter:
    """`least` and `most` bound a number, `longest` a text; `choices` are all there are, where
    they are few. `above` and `below` say which way a signed number goes, in place of its sign;
    `either_way` tells that a number stands for both directions. `usual` is what it is at first,
    where the player has not set it. `is_note` tells that a number is a sounding MIDI note, and
    `is_line` that a text is a line of notes.
    """

    key: str
    label: str
    unit: str = ""
    least: float | None = None
    most: float | None = None
    step: float | None = None
    longest: int | None = None
    choices: tuple[Choice, ...] = ()
    above: str = ""
    below: str = ""
    either_way: bool = False
    usual: float | str | None = None
    is_note: bool = False
    is_line: bool = False
