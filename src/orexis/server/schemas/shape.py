"""A shape that is only given out."""

from pydantic import BaseModel, ConfigDict


class Shape(BaseModel):
    """Built when it is first used: the command has many of which it needs one."""

    model_config = ConfigDict(defer_build=True)
