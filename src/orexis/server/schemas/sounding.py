"""What the API says and accepts of a metronome and a drone by themselves."""

from typing import Annotated

from pydantic import BaseModel, Field, field_validator

from orexis.core.horn.drone import HIGHEST_DRONE_MIDI, LOWEST_DRONE_MIDI, Drone
from orexis.core.horn.notation import Notation
from orexis.core.horn.tuning import Temperament
from orexis.core.parameter import Parameter
from orexis.core.score.pulse import (
    BARS,
    GROWS_EVERY,
    GROWTH,
    HIGHEST,
    PARTS,
    SILENT,
    SOUNDING,
    TEMPO,
    USUAL,
    Click,
    Pulse,
    PulseBeat,
    read_bars,
)
from orexis.server.schemas.base import Body, Flag, Number, Read, Text, Whole

MOST_BARS_AT_ONCE = 64
_LATEST_BAR = 10_000


def _within(parameter: Parameter) -> object:
    """The bounds of a number that a player sets."""
    return Field(ge=parameter.least, le=parameter.most)


class PulseIn(Body):
    """What a metronome is set to; the beats of its bars as text: "4", "3 + 2", "3, 4"."""

    bpm: Annotated[Number, _within(TEMPO)]
    bars: Annotated[Text, Field(max_length=BARS.longest)] = str(BARS.usual)
    parts: Annotated[Whole, Field(ge=1, le=len(PARTS.choices))] = USUAL.parts
    sounding_bars: Annotated[Whole, _within(SOUNDING)] = USUAL.sounding_bars
    silent_bars: Annotated[Whole, _within(SILENT)] = USUAL.silent_bars
    growth_bpm: Annotated[Number, _within(GROWTH)] = USUAL.growth_bpm
    growth_bars: Annotated[Whole, _within(GROWS_EVERY)] = USUAL.growth_bars
    highest_bpm: Annotated[Number, _within(HIGHEST)] = USUAL.highest_bpm

    @field_validator("bars")
    @classmethod
    def _are_bars(cls, bars: str) -> str:
        read_bars(bars)
        return bars

    @property
    def pulse(self) -> Pulse:
        """The same for the rules."""
        return Pulse(**{**self.model_dump(), "bars": read_bars(self.bars)})


class BeatsIn(Body):
    """Some bars of a metronome; the one that is counted in is -1."""

    pulse: PulseIn
    first_bar: Annotated[Whole, Field(ge=-1, le=_LATEST_BAR)]
    bars: Annotated[Whole, Field(ge=1, le=MOST_BARS_AT_ONCE)]


class PulseBeatOut(Read):
    """A beat or a part of one: when (s from the first bar), how it sounds, which of its bar it is,
    in which bar and what groups of beats that has, whether it is silent, and what is said with
    it."""

    at_s: float
    click: Click
    number: int
    bar: int
    groups: list[int]
    silent: bool
    words: str

    @classmethod
    def of(cls, beat: PulseBeat) -> "PulseBeatOut":
        """The beat as the API gives it."""
        return cls.model_validate(beat)


class DroneIn(Body):
    """A drone: its sounding note, whether its fifth sounds too, and how notes against it are
    tuned."""

    midi: Annotated[Whole, Field(ge=LOWEST_DRONE_MIDI, le=HIGHEST_DRONE_MIDI)]
    fifth: Flag = False
    temperament: Annotated[Temperament, Field(strict=False)] = Temperament.JUST

    @property
    def drone(self) -> Drone:
        """The same for the rules. Raises `ValueError` for one that cannot be heard apart."""
        return Drone(self.midi, self.fifth, self.temperament)


class DroneOut(BaseModel):
    """A drone as it sounds: its note as the player names it and as it sounds, and the pitches (Hz)
    that are to be heard."""

    name: str
    sounding_name: str
    hz: list[float]

    @classmethod
    def of(cls, drone: Drone, notation: Notation, a4_hz: float) -> "DroneOut":
        """The drone for a player who names notes in `notation`, at their A4."""
        return cls(
            name=notation.name(drone.midi),
            sounding_name=notation.sounding_name(drone.midi),
            hz=list(drone.hz(a4_hz)),
        )
