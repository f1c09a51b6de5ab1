"""The messages on the live socket, both ways."""

from typing import Annotated, Any, Literal

from pydantic import BaseModel, Field
from pydantic.json_schema import models_json_schema

from orexis.core.exercises.own import LONGEST_LINE
from orexis.core.listening.tracking.drone import HIGHEST_DRONE_HZ, LOWEST_DRONE_HZ
from orexis.formats.audio import HIGHEST_RATE, LOWEST_RATE
from orexis.practice.sessions import SessionSetup
from orexis.server.schemas.base import Number, Text, Time, Whole
from orexis.server.schemas.takes import JudgedTakeOut, MarkOut, RibbonFrames

Source = Literal["microphone", "stand-in"]
_MOST_VALUES = 20
_Key = Annotated[Text, Field(max_length=40)]
_Value = Annotated[Text, Field(max_length=LONGEST_LINE)]


class Hello(BaseModel):
    """The first message from the browser.

    `family` and `values` are the exercise, whole; `sample_rate` in Hz; `drone_hz` is a tone the
    application itself is playing; `started_at` is when the browser's audio clock counted sample 0
    of this session; `oldest_seq` is the oldest chunk the browser still holds.
    """

    type: Literal["hello"]
    session: Annotated[Text, Field(pattern="^[0-9a-f]{32}$")]
    player_id: Annotated[Whole, Field(ge=1, lt=2**63)]
    family: _Key
    values: Annotated[dict[_Key, _Value], Field(max_length=_MOST_VALUES)]
    source: Source
    sample_rate: Annotated[Whole, Field(ge=LOWEST_RATE, le=HIGHEST_RATE)]
    drone_hz: Annotated[Number, Field(ge=LOWEST_DRONE_HZ, le=HIGHEST_DRONE_HZ)] | None = None
    started_at: Time
    oldest_seq: Annotated[Whole, Field(ge=0, lt=2**32)] = 0

    def setup(self) -> SessionSetup:
        """The same for the session."""
        return SessionSetup(
            player_id=self.player_id,
            family=self.family,
            values=dict(self.values),
            source=self.source,
            sample_rate=self.sample_rate,
            drone_hz=self.drone_hz,
            started_at=self.started_at,
        )


class Bye(BaseModel):
    """The last message from the browser: the session is over."""

    type: Literal["bye"]


class Ready(BaseModel):
    """The chunk wanted next."""

    type: Literal["ready"] = "ready"
    next: int


class Acknowledged(BaseModel):
    """Everything before this chunk is safe on disk."""

    type: Literal["ack"] = "ack"
    next: int


class FramesHeard(RibbonFrames):
    """Frames to draw. The last `early` of them may still change; they come again."""

    type: Literal["frames"] = "frames"
    early: int


class TryState(BaseModel):
    """The frame the sounding try began at, or null."""

    type: Literal["state"] = "state"
    playing_since: int | None


class MarksHeard(BaseModel):
    """What has happened in the sounding try, whole from frame `first` on, and the step of the score
    that has been reached."""

    type: Literal["marks"] = "marks"
    first: int
    marks: list[MarkOut]
    step: int | None


class Repeated(BaseModel):
    """How many repetitions have passed, of how many, in words too; told where there are several."""

    type: Literal["repeated"] = "repeated"
    done: int
    times: int
    finished: bool
    words: str


class VerdictGiven(BaseModel):
    """A take that was judged and kept."""

    type: Literal["verdict"] = "verdict"
    take: JudgedTakeOut


class ProblemTold(BaseModel):
    """What went wrong and what to do; the socket closes after it."""

    type: Literal["problem"] = "problem"
    title: str
    status: int
    detail: str


class Closed(BaseModel):
    """The session has ended and everything in it is kept."""

    type: Literal["closed"] = "closed"


FROM_SERVER: tuple[type[BaseModel], ...] = (
    Ready,
    Acknowledged,
    FramesHeard,
    TryState,
    MarksHeard,
    VerdictGiven,
    Repeated,
    ProblemTold,
    Closed,
)
FROM_BROWSER: tuple[type[BaseModel], ...] = (Hello, Bye)


def describe_messages(description: dict[str, Any]) -> dict[str, Any]:
    """An OpenAPI description with the socket's messages among its schemas, so that the front
    end's types are made from them."""
    named: list[tuple[type[BaseModel], Literal["serialization", "validation"]]] = [
        *((one, "serialization") for one in FROM_SERVER),
        *((one, "validation") for one in FROM_BROWSER),
    ]
    _, found = models_json_schema(named, ref_template="#/components/schemas/{model}")
    schemas = description["components"]["schemas"]
    for name, schema in found["$defs"].items():
        schemas.setdefault(name, schema)
    schemas["ServerMessage"] = {
        "oneOf": [{"$ref": f"#/components/schemas/{one.__name__}"} for one in FROM_SERVER]
    }
    return description
