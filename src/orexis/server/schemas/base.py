"""What all shapes of the API share: strict values, and how the unwanted is refused."""

from typing import Annotated

from pydantic import AliasChoices, AwareDatetime, BaseModel, ConfigDict, Field

from orexis.core.times import EARLIEST, LATEST


class Body(BaseModel):
    """What the API accepts: only what it knows, and each value as what it is."""

    model_config = ConfigDict(extra="forbid")


class Read(BaseModel):
    """What the API gives of something that has the same names: `model_validate` reads it."""

    model_config = ConfigDict(from_attributes=True)


Text = Annotated[str, Field(strict=True)]
"""With a `max_length` beside it, half a character is refused as well."""
Number = Annotated[float, Field(strict=True, allow_inf_nan=False)]
Whole = Annotated[int, Field(strict=True)]
Flag = Annotated[bool, Field(strict=True)]
Time = Annotated[AwareDatetime, Field(ge=EARLIEST, lt=LATEST)]
Numbers = list[float | None]


def once_called(name: str, before: str) -> AliasChoices:
    """The validation alias of a field of reports that had another name in their first version."""
    return AliasChoices(name, before)
