"""Ear against meter: what a player says of a take before seeing what was measured.

Four plain words. The upper two mean "I would go on", the lower two "again"; the ear agrees with
the meter when both say the same.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import IntEnum

from orexis.core.counting import counted

_ENOUGH = 5


class Rating(IntEnum):
    """What a player says of a take, worst first."""

    ROUGH = 0
    UNEVEN = 1
    GOOD = 2
    JUST_RIGHT = 3

    @property
    def word(self) -> str:
        """As it is said."""
        return self.name.lower().replace("_", " ")

    @property
    def goes_on(self) -> bool:
        """Whether the player would go on."""
        return self >= Rating.GOOD


@dataclass(frozen=True, slots=True)
class Rated:
    """One take: the player's word, and whether it passed."""

    rating: Rating
    passed: bool

    @property
    def agrees(self) -> bool:
        """Whether ear and meter say the same."""
        return self.rating.goes_on == self.passed

    @property
    def words(self) -> str:
        """What the ear said, and whether the meter says so too."""
        meter = "agrees" if self.agrees else "does not agree"
        return f"You said: {self.rating.word}. The meter {meter}."


@dataclass(frozen=True, slots=True)
class Agreement:
    """How often ear and meter agreed, and which way they differed."""

    rated: int
    agreed: int
    too_kind: int
    too_harsh: int

    @property
    def words(self) -> str:
        """The agreement in a sentence; too few takes are said to be too few."""
        if self.rated < _ENOUGH:
            left = counted(_ENOUGH - self.rated, "more take")
            return f"Ear against meter: rate {left} to see it."
        said = f"Your ear and the meter agree on {self.agreed} of {self.rated} takes."
        if self.too_kind > self.too_harsh:
            said += f" When not, you are mostly too kind ({self.too_kind})."
        elif self.too_harsh > self.too_kind:
            said += f" When not, you are mostly too harsh ({self.too_harsh})."
        return said


def agreement(rated: Sequence[Rated]) -> Agreement:
    """Ear against meter over some takes."""
    return Agreement(
        rated=len(rated),
        agreed=sum(rating.agrees for rating in rated),
        too_kind=sum(not rating.agrees and rating.rating.goes_on for rating in rated),
        too_harsh=sum(not rating.agrees and rating.passed for rating in rated),
    )
