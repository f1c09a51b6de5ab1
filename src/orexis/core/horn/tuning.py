"""Tuning: where a note should be. Equal temperament, just against a drone, or any scale.

Targets are offsets in cents from equal temperament at the player's A4. The tonic itself keeps
its equal-tempered pitch. Just offsets are those of the 5-limit intervals 16/15, 9/8, 6/5, 5/4,
4/3, 45/32, 3/2, 8/5, 5/3, 9/5 and 15/8.
"""

from dataclasses import dataclass
from enum import StrEnum
from math import log2

JUST_RATIOS = (
    *((1, 1), (16, 15), (9, 8), (6, 5), (5, 4), (4, 3)),
    *((45, 32), (3, 2), (8, 5), (5, 3), (9, 5), (15, 8)),
)
_MIDDLE_C = 60
_NEAREST_DEGREE_CENTS = 50.0


class Temperament(StrEnum):
    """The kinds of tuning a player can choose."""

    EQUAL = "equal"
    JUST = "just"
    SCALE = "scale"


@dataclass(frozen=True, slots=True)
class Scale:
    """A scale as Scala files give it: cents of each degree above the tonic, which is left out;
    the last degree is the interval at which the scale repeats."""

    description: str
    degrees_cents: tuple[float, ...]

    @property
    def period_cents(self) -> float:
        """The interval at which the scale repeats."""
        return self.degrees_cents[-1]


JUST_SCALE = Scale(
    "just intervals over a drone",
    (*(1200 * log2(over / under) for over, under in JUST_RATIOS[1:]), 1200.0),
)


@dataclass(frozen=True, slots=True)
class Tuning:
    """A temperament on a tonic. `tonic` is a pitch class (0 = C, sounding); `scale` is only for
    `Temperament.SCALE`."""

    temperament: Temperament = Temperament.EQUAL
    tonic: int = 0
    scale: Scale | None = None

    def offset_cents(self, midi: int) -> float:
        """Where a sounding note should be, in cents from equal temperament.

        A scale of twelve degrees gives each of the twelve notes its own; another one gives a
        note its nearest degree, and leaves it equal when that is more than half a semitone off.
        """
        if self.temperament is Temperament.EQUAL:
            return 0.0
        if self.temperament is Temperament.JUST or self.scale is None:
            return _offset(JUST_SCALE, midi - self.tonic - _MIDDLE_C)
        return _offset(self.scale, midi - self.tonic - _MIDDLE_C)


EQUAL = Tuning()


def _offset(scale: Scale, semitones: int) -> float:
    degrees = (0.0, *scale.degrees_cents[:-1])
    period = scale.period_cents
    if len(degrees) == 12:
        repeats, degree = divmod(semitones, 12)
        return repeats * (period - 1200) + degrees[degree] - 100 * degree
    equal = 100.0 * semitones
    base = equal // period
    candidates = [(base + k) * period + degree for k in (-1, 0, 1) for degree in degrees]
    nearest = min(candidates, key=lambda cents: abs(cents - equal))
    off = nearest - equal
    return off if abs(off) <= _NEAREST_DEGREE_CENTS else 0.0
