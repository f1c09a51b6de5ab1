"""What the API says and accepts, as Pydantic models, and how they are made from the core."""

from typing import Annotated, Literal

from pydantic import AwareDatetime, BaseModel, Field

from orexis.core.coaching.gate import GateLevel
from orexis.core.exercises.longtone import (
    HOLD_S,
    LONGEST_HOLD_S,
    SHORTEST_HOLD_S,
    LongTone,
)
from orexis.core.horn.instruments import Instrument
from orexis.core.horn.notation import Clef, Notation, NoteView
from orexis.core.horn.pitch import A4_HZ
from orexis.core.listening.drone import HIGHEST_DRONE_HZ, LOWEST_DRONE_HZ
from orexis.store.models import Player
from orexis.store.players import PlayerDetails, instrument_of

Source = Literal["microphone", "stand-in"]
HoldSeconds = Annotated[float, Field(ge=SHORTEST_HOLD_S, le=LONGEST_HOLD_S)]
SessionId = Annotated[str, Field(pattern="^[0-9a-f]{32}$")]
Numbers = list[float | None]


class InstrumentOut(BaseModel):
    """An instrument to choose."""

    key: str
    name: str
    family: str
    clefs: list[Clef]

    @classmethod
    def of(cls, instrument: Instrument) -> "InstrumentOut":
        """The instrument as the API gives it."""
        return cls(
            key=instrument.key,
            name=instrument.name,
            family=instrument.family,
            clefs=[reading.clef for reading in instrument.readings],
        )


class PlayerIn(BaseModel):
    """What a player says of themselves."""

    name: str
    instrument_key: str
    view: NoteView = NoteView.WRITTEN
    clef: Clef = Clef.TREBLE
    a4_hz: float = A4_HZ
    gate_level: GateLevel = GateLevel.NORMAL

    def details(self) -> PlayerDetails:
        """The same for the store."""
        return PlayerDetails(
            self.name, self.instrument_key, self.view, self.clef, self.a4_hz, self.gate_level
        )


class PlayerOut(PlayerIn):
    """A player, with what the views need to show them."""

    id: int
    instrument_name: str
    start_midi: int

    @classmethod
    def of(cls, player: Player) -> "PlayerOut":
        """The player as the API gives them."""
        return cls(
            id=player.id,
            name=player.name,
            instrument_key=player.instrument_key,
            view=NoteView(player.view),
            clef=Clef(player.clef),
            a4_hz=player.a4_hz,
            gate_level=GateLevel(player.gate_level),
            instrument_name=instrument_of(player).name,
            start_midi=instrument_of(player).start_midi,
        )


class NearbySlotOut(BaseModel):
    """A slot of the length in hand: its note, and where it sounds from the note asked for."""

    name: str
    cents: float
    asked: bool


class LongTonePlan(BaseModel):
    """A long tone, ready to be played and drawn."""

    midi: int
    name: str
    sounding_name: str
    target_hz: float
    drone_hz: float
    hold_s: float
    hand: str
    cue: str
    valves: list[int]
    valve_count: int
    thumb: bool
    position: int | None
    triggers: list[str]
    slide_share: float | None
    slide_marks: list[float]
    slots: list[NearbySlotOut]
    limit_cents: float
    lowest_midi: int
    highest_midi: int
    shortest_hold_s: float
    longest_hold_s: float

    @classmethod
    def of(cls, exercise: LongTone, notation: Notation, limit_cents: float) -> "LongTonePlan":
        """The exercise for a player who names notes in `notation`; the gate's centre limit."""
        way = exercise.way
        length = way and way.length
        return cls(
            midi=exercise.midi,
            name=notation.name(exercise.midi),
            sounding_name=Notation(notation.reading, NoteView.SOUNDING).name(exercise.midi),
            target_hz=round(exercise.target_hz, 3),
            drone_hz=round(exercise.drone_hz, 3),
            hold_s=exercise.hold_s,
            hand=exercise.hand,
            cue=exercise.cue,
            valves=list(length.valves) if length else [],
            valve_count=length.valve_count if length else 0,
            thumb=length.thumb if length else False,
            position=length.position if length else None,
            triggers=list(length.triggers) if length else [],
            slide_share=exercise.slide_share,
            slide_marks=list(exercise.slide_marks),
            slots=[
                NearbySlotOut(
                    name=notation.name(slot.midi),
                    cents=round(slot.cents, 1),
                    asked=slot.midi == exercise.midi,
                )
                for slot in exercise.nearby_slots
            ],
            limit_cents=limit_cents,
            lowest_midi=exercise.instrument.lowest_midi,
            highest_midi=exercise.instrument.highest_midi,
            shortest_hold_s=SHORTEST_HOLD_S,
            longest_hold_s=LONGEST_HOLD_S,
        )


class Hello(BaseModel):
    """The first message on the live socket.

    `sample_rate` in Hz; `drone_hz` is a tone the application itself is playing; `started_at` is
    when the browser's audio clock counted sample 0 of this session; `oldest_seq` is the oldest
    chunk the browser still holds.
    """

    type: Literal["hello"]
    session: SessionId
    player_id: int
    midi: int
    hold_s: HoldSeconds = HOLD_S
    source: Source
    sample_rate: Annotated[int, Field(ge=8000, le=192_000)]
    drone_hz: Annotated[float, Field(ge=LOWEST_DRONE_HZ, le=HIGHEST_DRONE_HZ)] | None = None
    started_at: AwareDatetime
    oldest_seq: Annotated[int, Field(ge=0)] = 0
