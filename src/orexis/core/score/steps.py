"""Steps: what a player does in order, each with its length in beats (a quarter note is one).

Notes are sounding, in whole MIDI numbers. A score with a tempo is played in time; one without is
free, and its beats only say how long one thing is beside another (a beat is taken as a second
where a machine plays it).
"""

from dataclasses import dataclass
from enum import StrEnum
from fractions import Fraction
from itertools import accumulate
from math import fsum

FREE_BEATS_A_MINUTE = 60.0
"""How fast a machine plays what is free."""


class Articulation(StrEnum):
    """How a note begins."""

    TONGUED = "tongued"
    SLURRED = "slurred"
    TENUTO = "tenuto"
    BREATH = "breath"


class Role(StrEnum):
    """What a note is there for."""

    ASKED = "asked"
    REFERENCE = "reference"
    RE_CENTRE = "re-centre"


class PlayedOn(StrEnum):
    """What is played on: the whole horn, the mouthpiece alone, or the mouthpiece in the leadpipe
    with the slide out."""

    HORN = "horn"
    MOUTHPIECE = "mouthpiece"
    LEADPIPE = "leadpipe"


class Dynamic(StrEnum):
    """How loud."""

    PP = "pp"
    P = "p"
    MP = "mp"
    MF = "mf"
    F = "f"
    FF = "ff"

    @property
    def rank(self) -> int:
        """0 for the softest, up by one with each louder one."""
        return list(Dynamic).index(self)


class BreathKind(StrEnum):
    """How a breath is taken."""

    MOUTH = "mouth"
    NOSE = "nose"
    TWO_STAGE = "two-stage"


@dataclass(frozen=True, slots=True)
class Play:
    """A note. `length_name` and `partial` are the slot it is played in, none where the lips find
    it by themselves. `dynamic` is how it starts, and `grows_to` how it ends where that is
    otherwise. `as_long_as_good` is held beyond its beats for as long as it stays steady."""

    midi: int
    beats: Fraction
    articulation: Articulation = Articulation.TONGUED
    length_name: str | None = None
    partial: int | None = None
    dynamic: Dynamic = Dynamic.MF
    grows_to: Dynamic | None = None
    on: PlayedOn = PlayedOn.HORN
    role: Role = Role.ASKED
    as_long_as_good: bool = False


@dataclass(frozen=True, slots=True)
class Glide:
    """From the note before to another without a break: along the slide, or with the lips. What
    comes next begins on `to_midi`."""

    to_midi: int
    beats: Fraction
    on: PlayedOn = PlayedOn.HORN


@dataclass(frozen=True, slots=True)
class Bend:
    """The note before, lipped by some cents (negative: down) and brought back."""

    cents: float
    beats: Fraction


@dataclass(frozen=True, slots=True)
class Rest:
    """Silence; `words` say what to do in it."""

    beats: Fraction
    words: str = ""


@dataclass(frozen=True, slots=True)
class Breath:
    """A breath, taken in the time of what stands before it."""

    kind: BreathKind = BreathKind.MOUTH


Step = Play | Glide | Bend | Rest | Breath


@dataclass(frozen=True, slots=True)
class Score:
    """Steps in bars of `beats_in_bar` quarters; `tempo_bpm` is `None` where it is free.

    `times` is how often all of it is played, with a breath between. `tonic` is the sounding
    pitch class (0 is C) of the major key it is written in, where it has one.
    """

    steps: tuple[Step, ...]
    beats_in_bar: int = 4
    tempo_bpm: float | None = None
    times: int = 1
    tonic: int | None = None

    @property
    def beats(self) -> Fraction:
        """How many beats it takes once."""
        return self.begins[-1]

    @property
    def begins(self) -> tuple[Fraction, ...]:
        """When each step begins, in beats from the first, and at last when all of it is over."""
        return tuple(accumulate((beats_of(step) for step in self.steps), initial=Fraction(0)))

    @property
    def bpm(self) -> float:
        """How fast a machine plays it."""
        return self.tempo_bpm or FREE_BEATS_A_MINUTE

    @property
    def seconds(self) -> float:
        """How long it takes once, breaths left out."""
        return self.seconds_of(self.steps)

    def seconds_of(self, steps: tuple[Step, ...]) -> float:
        """How long some of its steps take."""
        return fsum(float(beats_of(step)) for step in steps) * 60 / self.bpm

    @property
    def notes(self) -> tuple[Play, ...]:
        """The notes of the score, in order."""
        return tuple(step for step in self.steps if isinstance(step, Play))

    @property
    def pitches(self) -> tuple[int, ...]:
        """Every note that is reached, by playing or by gliding, in order."""
        found: list[int] = []
        for step in self.steps:
            if isinstance(step, Play):
                found.append(step.midi)
            elif isinstance(step, Glide):
                found.append(step.to_midi)
        return tuple(found)


def beats_of(step: Step) -> Fraction:
    """How long a step takes, in beats."""
    return Fraction(0) if isinstance(step, Breath) else step.beats


def in_one_breath(steps: tuple[Step, ...]) -> list[tuple[Step, ...]]:
    """The steps parted where the player breathes: at breaths and rests."""
    parts: list[tuple[Step, ...]] = []
    now: list[Step] = []
    for step in steps:
        if isinstance(step, Breath | Rest):
            if now:
                parts.append(tuple(now))
            now = []
        else:
            now.append(step)
    if now:
        parts.append(tuple(now))
    return parts
