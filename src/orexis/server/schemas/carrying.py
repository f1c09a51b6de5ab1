"""What the API says of what comes in from files, and of what takes the room."""

from datetime import datetime

from pydantic import BaseModel

from orexis.practice.incoming import Incoming
from orexis.server.schemas.base import Body, Read, Whole


class IncomingRow(Read):
    """See `practice.incoming.Incoming`."""

    place: str
    said: str
    refused: str


class IncomingOut(BaseModel):
    """The rows of a file, how many of them can be kept, and whether they were."""

    rows: list[IncomingRow]
    good: int
    kept: bool

    @classmethod
    def of(cls, rows: list[Incoming], *, kept: bool) -> "IncomingOut":
        """The rows as the API gives them."""
        return cls(
            rows=[IncomingRow.model_validate(incoming) for incoming in rows],
            good=sum(not incoming.refused for incoming in rows),
            kept=kept,
        )


class PartOut(Read):
    """Something that takes room in the data file."""

    name: str
    size: int


class CopyOut(Read):
    """A copy that Orexis keeps by itself."""

    name: str
    size: int
    at: datetime


class OldSoundOut(Read):
    """The sound of takes older than so many days, without those that have a bookmark."""

    days: int
    words: str
    takes: int
    size: int


class StorageOut(Read):
    """Where everything is kept, what takes the room, and what may be let go of."""

    path: str
    size: int
    parts: list[PartOut]
    copies_folder: str
    copies: list[CopyOut]
    old: list[OldSoundOut]


class LetGoIn(Body):
    """How old (in days) sound must be to be deleted."""

    days: Whole
