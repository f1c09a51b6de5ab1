"""How a player's horn is set up, as the API takes and gives it."""

from typing import Annotated

from pydantic import BaseModel, Field

from orexis.core.horn.notation import Notation
from orexis.core.horn.pitch import hz_from_midi
from orexis.core.horn.setup import (
    LONGEST_PULL_MM,
    LONGEST_REACH,
    SHORTEST_REACH,
    Horn,
    Setup,
)
from orexis.core.horn.slide import SLIDE_REACH
from orexis.core.horn.tube import COLDEST_C, TEMPERATURE_C, WARMEST_C
from orexis.core.horn.tuning import Temperament, Tuning
from orexis.formats.scala import read_scl, write_scl
from orexis.server.schemas.base import Body, Number, Text, Whole
from orexis.server.schemas.fields import FieldOut

LONGEST_SCALE_LETTERS = 32_000

Cents = Annotated[Number, Field(ge=-2000, le=2000)]
Millimetres = Annotated[Number, Field(ge=0, le=LONGEST_PULL_MM)]


class HornSetupIn(Body):
    """How a player's horn is: see `core.horn.setup.Setup`. `scale` is the text of a Scala file,
    `tonic` a sounding pitch class (0 = C)."""

    f1_hz: Annotated[Number, Field(gt=0, le=1000)] | None = None
    main_pull_mm: Millimetres = 0
    valve_cents: Annotated[list[Cents], Field(max_length=5)] = Field(default=[])
    valve_pull_mm: Annotated[list[Millimetres], Field(max_length=5)] = Field(default=[])
    trigger_cents: Annotated[list[Cents], Field(max_length=3)] = Field(default=[])
    slide_reach: Annotated[Number, Field(ge=SHORTEST_REACH, le=LONGEST_REACH)] = SLIDE_REACH
    temperature_c: Annotated[Number, Field(ge=COLDEST_C, le=WARMEST_C)] = TEMPERATURE_C
    temperament: Temperament = Temperament.EQUAL
    tonic: Annotated[Whole, Field(ge=0, le=11)] = 0
    scale: Annotated[Text, Field(max_length=LONGEST_SCALE_LETTERS)] | None = None

    def setup(self) -> Setup:
        """The same for the core, as made where nothing is said of A4 and takes. Raises
        `ScaleUnreadableError`."""
        scale = read_scl(self.scale) if self.scale else None
        return Setup(
            temperature_c=self.temperature_c,
            tuning=Tuning(self.temperament, self.tonic, scale),
            f1_hz=self.f1_hz,
            main_pull_mm=self.main_pull_mm,
            valve_cents=tuple(self.valve_cents),
            valve_pull_mm=tuple(self.valve_pull_mm),
            trigger_cents=tuple(self.trigger_cents),
            slide_reach=self.slide_reach,
        )


class NamedCents(BaseModel):
    """A valve or trigger, and how far it lowers the horn as made."""

    name: str
    cents: float


class HornSetupOut(HornSetupIn):
    """A player's setup, with what the horn has when nothing is set (`made`, as it is sent)."""

    made: HornSetupIn
    usual_f1_hz: float
    parts: list[NamedCents]
    fields: dict[str, FieldOut]
    is_slide: bool
    scale_name: str | None
    tonics: list[str]

    @classmethod
    def of(cls, horn: Horn, notation: Notation) -> "HornSetupOut":
        """A horn's setup as it is kept."""
        setup = horn.setup
        scale = setup.tuning.scale
        return cls(
            made=HornSetupIn(),
            f1_hz=setup.f1_hz,
            main_pull_mm=setup.main_pull_mm,
            valve_cents=list(setup.valve_cents),
            valve_pull_mm=list(setup.valve_pull_mm),
            trigger_cents=list(setup.trigger_cents),
            slide_reach=setup.slide_reach,
            temperature_c=setup.temperature_c,
            temperament=setup.tuning.temperament,
            tonic=setup.tuning.tonic,
            scale=scale and write_scl(scale),
            usual_f1_hz=round(hz_from_midi(horn.instrument.fundamental_midi, setup.a4_hz), 3),
            parts=[
                NamedCents(name=name, cents=round(cents, 1))
                for name, cents in zip(horn.part_names, horn.as_made_cents, strict=True)
            ],
            fields={
                parameter.key: FieldOut.model_validate(parameter) for parameter in horn.parameters
            },
            is_slide=horn.instrument.is_slide,
            scale_name=scale and (scale.description or "a scale without a name"),
            tonics=[notation.tonic_name(tonic) for tonic in range(12)],
        )
