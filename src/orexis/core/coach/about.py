"""What a player says of themselves: how long they have played, how much time there is, what they
want, and what to be careful of."""

from dataclasses import dataclass, replace
from datetime import time
from enum import StrEnum

from orexis.core.parameter import Choice, Parameter

SHORTEST_MIN, LONGEST_MIN = 5, 120
MOST_DAYS_A_WEEK, MOST_WEEKS_OFF = 7, 520


class AboutRefusedError(ValueError):
    """What a player says of themselves that cannot be; the message says what to change."""


class Experience(StrEnum):
    """How long somebody has played."""

    FIRST_WEEKS = "first-weeks"
    FIRST_YEAR = "first-year"
    SOME_YEARS = "some-years"
    MANY_YEARS = "many-years"


class Wish(StrEnum):
    """What a player wants most."""

    UP = "up"
    DOWN = "down"
    FLEXIBILITY = "flexibility"
    CENTRING = "centring"
    ENDURANCE = "endurance"
    FIT = "fit"


class Lips(StrEnum):
    """How the lips feel today."""

    FRESH = "fresh"
    NORMAL = "normal"
    TIRED = "tired"
    SORE = "sore"


@dataclass(frozen=True, slots=True)
class About:
    """A player, as far as they have said.

    `low_midi` and `high_midi` are the lowest and highest note they find comfortable (sounding),
    where that was found or said, and `range_on` is the key of the horn that holds for. `weeks_off`
    is how long they had not played when they said so.
    """

    experience: Experience = Experience.SOME_YEARS
    wish: Wish = Wish.FIT
    minutes: int = 30
    days_a_week: int = 5
    low_midi: int | None = None
    high_midi: int | None = None
    braces: bool = False
    weeks_off: int = 0
    quiet_from: time | None = None
    quiet_until: time | None = None
    range_on: str = ""

    def of_horn(self, instrument_key: str) -> "About":
        """What a player says of themselves, without what was said on another horn: how far they
        reach there tells nothing here."""
        if self.range_on in ("", instrument_key):
            return self
        return replace(self, low_midi=None, high_midi=None)

    def check(self) -> None:
        """Raises `AboutRefusedError`."""
        low, high = self.low_midi, self.high_midi
        if low is not None and high is not None and low >= high:
            raise AboutRefusedError("The highest note must lie above the lowest; change one.")

    def is_quiet(self, at: time) -> bool:
        """Whether a time of day lies in the quiet hours, which may go over midnight."""
        start, end = self.quiet_from, self.quiet_until
        if start is None or end is None or start == end:
            return False
        return start <= at < end if start < end else at >= start or at < end


ABOUT = (
    Parameter(
        "experience",
        "You have played for",
        choices=(
            Choice(
                Experience.FIRST_WEEKS,
                "a few weeks",
                "Full breaths can make you dizzy at first: sit down and pause. A loud horn in a "
                "small room harms hearing; keep your distance, and rest your ears.",
            ),
            Choice(Experience.FIRST_YEAR, "up to a year or two"),
            Choice(Experience.SOME_YEARS, "some years"),
            Choice(Experience.MANY_YEARS, "many years"),
        ),
        usual=Experience.SOME_YEARS,
    ),
    Parameter(
        "wish",
        "What you want most",
        choices=(
            Choice(Wish.UP, "higher"),
            Choice(Wish.DOWN, "lower"),
            Choice(Wish.FLEXIBILITY, "flexibility"),
            Choice(Wish.CENTRING, "centred notes"),
            Choice(Wish.ENDURANCE, "endurance"),
            Choice(Wish.FIT, "just to stay fit"),
        ),
        usual=Wish.FIT,
    ),
    Parameter("minutes", "Time a day", "min", SHORTEST_MIN, LONGEST_MIN, 5, usual=30.0),
    Parameter("days_a_week", "Days a week", "", 1, MOST_DAYS_A_WEEK, 1, usual=5.0),
    Parameter("low_midi", "Lowest comfortable note", is_note=True),
    Parameter("high_midi", "Highest comfortable note", is_note=True),
    Parameter(
        "braces",
        "Braces, or teeth just changed",
        choices=(
            Choice("no", "no"),
            Choice(
                "yes",
                "yes",
                "Pressing hard can hurt the lips and move teeth, with braces more so. Ask your "
                "dentist what is allowed; what they say comes first.",
            ),
        ),
        usual="no",
    ),
    Parameter("weeks_off", "Time off just now", "weeks", 0, MOST_WEEKS_OFF, 1, usual=0.0),
    Parameter("quiet_from", "Quiet hours from"),
    Parameter("quiet_until", "until"),
)
"""What is asked of a player, in the order it is asked."""

LIPS = Parameter(
    "lips",
    "Lips",
    choices=tuple(Choice(lips, lips.value) for lips in Lips),
    usual=Lips.NORMAL,
)
MINUTES = Parameter("minutes", "Minutes", "min", SHORTEST_MIN, LONGEST_MIN, 5)
