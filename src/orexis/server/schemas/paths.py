"""What the API says of the path of an exercise."""

from typing import Annotated

from pydantic import BaseModel, Field

from orexis.core.coach.paths import OnPath
from orexis.core.exercises.family import Family
from orexis.core.exercises.typed import as_typed
from orexis.server.schemas.base import Body, Whole


class PathStepOut(BaseModel):
    """A step of a path: what changes with it, and the values that are set there."""

    words: str
    values: dict[str, str]


class PathOut(BaseModel):
    """The path of an exercise on the player's horn: its steps (none where it has no path), the
    place of the one they are at (from 0), that in words, and what earns the next one ("" at the
    last)."""

    steps: list[PathStepOut]
    at: int
    words: str
    earns: str

    @classmethod
    def of(cls, family: Family, on_path: OnPath | None) -> "PathOut":
        """A path as the API gives it."""
        if on_path is None:
            return cls(steps=[], at=0, words="", earns="")
        return cls(
            steps=[
                PathStepOut(words=path_step.words, values=as_typed(path_step.values))
                for path_step in on_path.steps
            ],
            at=on_path.at,
            words=on_path.words(),
            earns=on_path.earns(family),
        )


class StepIn(Body):
    """The place of a step, from 0."""

    step: Annotated[Whole, Field(ge=0, le=1000)]
