"""The messages on the live socket, both ways."""

from typing import Annotated, Any, Literal

from pydantic import BaseModel, Field, TypeAdapter, model_validator
from pydantic.json_schema import models_json_schema

from orexis.core.judging.standard import Standard
from orexis.core.listening.microphone.check import Processing
from orexis.core.listening.tracking.drone import HIGHEST_DRONE_HZ, LOWEST_DRONE_HZ
from orexis.core.session.log import Press
from orexis.core.session.plan import LONGEST_TITLE, SessionKind
from orexis.formats.audio import HIGHEST_RATE, LOWEST_RATE
from orexis.practice.plans import SessionSetup
from orexis.server.schemas.base import Flag, Number, Text, Time, Whole
from orexis.server.schemas.book import StandPlan
from orexis.server.schemas.free import FreeOutcomeOut, NoteNowOut
from orexis.server.schemas.microphone import MicrophoneOut
from orexis.server.schemas.sessions import ExerciseIn, SessionPart, SummaryOut
from orexis.server.schemas.sounding import DroneIn, PulseIn
from orexis.server.schemas.takes import JudgedTakeOut, MarkOut, RibbonFrames, StepOut

Source = Literal["microphone", "stand-in"]
MOST_EXERCISES = 40
_LONGEST_LATENCY_S = 2.0
_Drone = Annotated[Number, Field(ge=LOWEST_DRONE_HZ, le=HIGHEST_DRONE_HZ)]


class Hello(BaseModel):
    """The first message from the browser.

    `exercises` are what the session is made of (none where one plays without a task, who may be
    nobody yet), and `kind` what kind of session it is. A session
    that is there already goes on as it began, whatever is said of it here. `sample_rate` in Hz;
    `drone_hz` is a tone the application itself is playing, and `latency_s` how long its sounds take
    back to the microphone, where that was measured; `processing` is what the browser
    does to the microphone's sound though it was asked not to; `started_at` is when its audio clock
    counted sample 0 of this session, or, where it `resumes` with a new clock, the first sample it
    will send; `oldest_seq` is the oldest chunk the browser still holds.
    """

    type: Literal["hello"]
    session: Annotated[Text, Field(pattern="^[0-9a-f]{32}$")]
    player_id: Annotated[Whole, Field(ge=1, lt=2**63)] | None
    title: Annotated[Text, Field(max_length=LONGEST_TITLE)] = ""
    kind: SessionKind
    exercises: Annotated[list[ExerciseIn], Field(max_length=MOST_EXERCISES)]
    source: Source
    sample_rate: Annotated[Whole, Field(ge=LOWEST_RATE, le=HIGHEST_RATE)]
    drone_hz: _Drone | None = None
    latency_s: Annotated[Number, Field(ge=0, le=_LONGEST_LATENCY_S)] | None = None
    started_at: Time
    oldest_seq: Annotated[Whole, Field(ge=0, lt=2**32)] = 0
    resumes: Flag = False
    processing: Annotated[list[Processing], Field(max_length=len(Processing))] = []

    @model_validator(mode="after")
    def _has_something_to_play(self) -> "Hello":
        if not self.exercises and self.kind is not SessionKind.FREE:
            raise ValueError("A session needs an exercise.")
        if self.player_id is None and self.kind is not SessionKind.FREE:
            raise ValueError("Choose who plays first.")
        return self

    def setup(self) -> SessionSetup:
        """The same for the session."""
        return SessionSetup(
            player_id=self.player_id,
            title=self.title,
            exercises=tuple(exercise_in.setting for exercise_in in self.exercises),
            source=self.source,
            sample_rate=self.sample_rate,
            drone_hz=self.drone_hz,
            latency_s=self.latency_s,
            started_at=self.started_at,
            kind=self.kind,
        )


class Pressing(BaseModel):
    """The player said something."""

    type: Literal["press"]
    press: Press


class Putting(BaseModel):
    """Another exercise in place of the present one."""

    type: Literal["put"]
    exercise: ExerciseIn


class Tuning(BaseModel):
    """The standard from now on, and the drone that sounds in the room."""

    type: Literal["tune"]
    level: Standard
    drone_hz: _Drone | None


class Overruling(BaseModel):
    """The player says whether a take passed; null: as Orexis judged."""

    type: Literal["overrule"]
    take_id: Annotated[Text, Field(max_length=64)]
    passed: Flag | None


class Helping(BaseModel):
    """A question that was answered with no."""

    type: Literal["help"]
    question: Annotated[Text, Field(max_length=20)]


class LosingSound(BaseModel):
    """The microphone went away."""

    type: Literal["lost"]


class GivingTime(BaseModel):
    """A metronome gives time, its first bar from a sample on, or none does any more; where one
    plays without a task."""

    type: Literal["metronome"]
    pulse: PulseIn | None
    sample: Annotated[Whole, Field(ge=0, lt=2**40)]


class SoundingDrone(BaseModel):
    """A drone sounds from now on, or none does any more; where one plays without a task."""

    type: Literal["drone"]
    drone: DroneIn | None


class Marking(BaseModel):
    """The player marks the spot that is played now; where one plays without a task."""

    type: Literal["mark"]


class OpeningPiece(BaseModel):
    """One of the player's own exercises is put before them, to be followed while they play, or
    taken away (null)."""

    type: Literal["piece"]
    own_id: Annotated[Text, Field(pattern="^[0-9a-f]{32}$")] | None


class Bye(BaseModel):
    """The last message from the browser: the player leaves the Stand."""

    type: Literal["bye"]


class Watching(BaseModel):
    """A window watches a session, wherever it is listened to, or none."""

    type: Literal["watch"]
    session: Annotated[Text, Field(pattern="^[0-9a-f]{32}$")] | None


BrowserMessage = Annotated[
    Pressing
    | Putting
    | Tuning
    | Overruling
    | Helping
    | LosingSound
    | GivingTime
    | SoundingDrone
    | Marking
    | OpeningPiece
    | Bye,
    Field(discriminator="type"),
]
BROWSER_MESSAGE: TypeAdapter[BrowserMessage] = TypeAdapter(BrowserMessage)
"""What the browser says after its hello."""

SaidInTheHouse = Annotated[
    Watching | Pressing | Overruling | Helping | Marking, Field(discriminator="type")
]
SAID_IN_THE_HOUSE: TypeAdapter[SaidInTheHouse] = TypeAdapter(SaidInTheHouse)
"""What a window says that watches."""


class GettingReady(BaseModel):
    """Listening is not ready yet; about how many seconds that still takes, where it is known. Sound
    is to be held until it is."""

    type: Literal["getting-ready"] = "getting-ready"
    left_s: float | None


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


class AttemptState(BaseModel):
    """The frame the sounding attempt began at, or null."""

    type: Literal["state"] = "state"
    playing_since: int | None


class MarksHeard(BaseModel):
    """What has happened in the sounding attempt, whole from frame `first` on, and the step of the
    score that has been reached."""

    type: Literal["marks"] = "marks"
    first: int
    marks: list[MarkOut]
    step: int | None


class SessionTold(BaseModel):
    """Where the session is, at a sample. `plan` is what is on the Stand where that has changed,
    else null; `summary` is there at the end."""

    type: Literal["session"] = "session"
    title: str
    sample: int
    plan: StandPlan | None
    now: SessionPart
    summary: SummaryOut | None


class Refused(BaseModel):
    """What was asked for cannot be, and why; the session goes on as it was."""

    type: Literal["refused"] = "refused"
    detail: str


class VerdictGiven(BaseModel):
    """A take that was judged and kept."""

    type: Literal["verdict"] = "verdict"
    take: JudgedTakeOut


class NoteSounds(BaseModel):
    """The note that sounds where there is no task, or null."""

    type: Literal["note"] = "note"
    note: NoteNowOut | None


class BarWrong(BaseModel):
    """What was wrong in a bar, in words."""

    bar: int
    wrong: str


class PlaceTold(BaseModel):
    """Where in the piece the player is: the step and the bar they have reached (null where nothing
    of the piece is heard), and how its notes and bars went since they last began somewhere."""

    type: Literal["place"] = "place"
    step: int | None
    bar: int | None
    steps: list[StepOut]
    wrong: list[BarWrong]


class MicrophoneTold(MicrophoneOut):
    """How well the microphone hears, whenever more is known."""

    type: Literal["microphone"] = "microphone"


class FreeEnded(FreeOutcomeOut):
    """What came of playing without a task."""

    type: Literal["over"] = "over"


class MovedTold(BaseModel):
    """Another device listens from now on; this one has given way."""

    type: Literal["moved"] = "moved"
    device: str


class OpenEarOut(BaseModel):
    """An ear that is open: its session, who plays (null: nobody yet) and what, on which device it
    listens and to which `source`, and at which rate its samples are counted (Hz)."""

    session: str
    player_id: int | None
    player: str
    title: str
    kind: SessionKind
    device: str
    source: Source
    sample_rate: int


class EarsTold(BaseModel):
    """Every ear that is open in the house, whenever that changes, and what the device that is told
    is called."""

    type: Literal["ears"] = "ears"
    device: str
    ears: list[OpenEarOut]


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
    GettingReady,
    Ready,
    Acknowledged,
    FramesHeard,
    AttemptState,
    MarksHeard,
    VerdictGiven,
    SessionTold,
    Refused,
    NoteSounds,
    PlaceTold,
    MicrophoneTold,
    FreeEnded,
    MovedTold,
    EarsTold,
    ProblemTold,
    Closed,
)
FROM_BROWSER: tuple[type[BaseModel], ...] = (
    Hello,
    Pressing,
    Putting,
    Tuning,
    Overruling,
    Helping,
    LosingSound,
    GivingTime,
    SoundingDrone,
    Marking,
    OpeningPiece,
    Bye,
)


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
