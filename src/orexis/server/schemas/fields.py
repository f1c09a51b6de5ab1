"""What the API says of everything a player can set: a field each, with its bounds and words."""

from pydantic import BaseModel

from orexis.server.schemas.base import Read


class ChoiceOut(Read):
    """One of the values a field may have."""

    value: str
    label: str
    caution: str


class FieldOut(Read):
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
    usual: float | str | None
    is_line: bool


class CareOut(Read):
    """What to say when something hurts."""

    title: str
    detail: str


class OneNoteOut(BaseModel):
    """What a single note is practised by: a family, and the value that is the note."""

    family: str
    key: str


class FieldsOut(BaseModel):
    """All fields there are outside the horn, by where they are set, what a single note is practised
    by, the family of lines of one's own and what its pen can write, and the words of care."""

    player: dict[str, FieldOut]
    one_note: OneNoteOut
    own_line: str
    pen: dict[str, FieldOut]
    own: dict[str, FieldOut]
    stand_in: list[FieldOut]
    listening: dict[str, FieldOut]
    about: dict[str, FieldOut]
    today: dict[str, FieldOut]
    coming: dict[str, FieldOut]
    metronome: dict[str, FieldOut]
    drone: dict[str, FieldOut]
    care: CareOut
