"""What the API says of everything a player can set: a field each, with its bounds and words."""

from pydantic import BaseModel

from orexis.core.parameter import Parameter


class ChoiceOut(BaseModel):
    """One of the values a field may have."""

    value: str
    label: str


class FieldOut(BaseModel):
    """A field to set: see `core.parameter.Parameter`."""

    key: str
    label: str
    unit: str
    least: float | None
    most: float | None
    step: float | None
    longest: int | None
    choices: list[ChoiceOut]
    above: str
    below: str
    either_way: bool

    @classmethod
    def of(cls, parameter: Parameter) -> "FieldOut":
        """The parameter as the API gives it."""
        return cls(
            key=parameter.key,
            label=parameter.label,
            unit=parameter.unit,
            least=parameter.least,
            most=parameter.most,
            step=parameter.step,
            longest=parameter.longest,
            choices=[ChoiceOut(value=one.value, label=one.label) for one in parameter.choices],
            above=parameter.above,
            below=parameter.below,
            either_way=parameter.either_way,
        )


class CareOut(BaseModel):
    """What to say when something hurts."""

    title: str
    detail: str


class FieldsOut(BaseModel):
    """All fields there are outside the horn, by where they are set, and the words of care."""

    player: dict[str, FieldOut]
    stand: dict[str, FieldOut]
    stand_in: list[FieldOut]
    listening: dict[str, FieldOut]
    care: CareOut
