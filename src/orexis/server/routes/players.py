"""Players, their instruments, and what they can put on the Stand."""

from typing import Annotated

from fastapi import APIRouter, Query

from orexis.core.exercises.longtone import (
    HOLD,
    HOLD_S,
    LONGEST_HOLD_S,
    SHORTEST_HOLD_S,
    LongTone,
)
from orexis.core.horn.instruments import INSTRUMENTS
from orexis.core.horn.setup import Horn
from orexis.core.judging.care import STOP
from orexis.core.judging.gate import DEFAULT_LIMITS, GateLevel
from orexis.core.parameter import Parameter
from orexis.practice.fields import LISTENING, PLAYER
from orexis.server.problems import ProblemError
from orexis.server.routes.access import Data, PlayerId, player_or_404
from orexis.server.schemas.exercises import LongTonePlan
from orexis.server.schemas.fields import CareOut, FieldOut, FieldsOut
from orexis.server.schemas.players import GateIn, InstrumentOut, PlayerIn, PlayerOut
from orexis.standin.player import SKILL
from orexis.store.horns import horn_of
from orexis.store.players import (
    PlayerRefusedError,
    add_player,
    all_players,
    change_player,
    notation_of,
)

router = APIRouter(prefix="/api")

HoldSeconds = Annotated[float, Query(ge=SHORTEST_HOLD_S, le=LONGEST_HOLD_S)]


@router.get("/instruments")
def instruments() -> list[InstrumentOut]:
    """The instruments a player can choose."""
    return [InstrumentOut.of(instrument) for instrument in INSTRUMENTS.values()]


@router.get("/fields")
def fields() -> FieldsOut:
    """Everything a player can set, with its bounds and words, and the words of care."""
    return FieldsOut(
        player=by_key(PLAYER),
        stand=by_key((HOLD,)),
        stand_in=[FieldOut.model_validate(one) for one in SKILL.values()],
        listening=by_key(LISTENING),
        care=CareOut.model_validate(STOP),
    )


def by_key(parameters: tuple[Parameter, ...]) -> dict[str, FieldOut]:
    """Fields by the name of what they set."""
    return {one.key: FieldOut.model_validate(one) for one in parameters}


@router.get("/players")
def players(data: Data) -> list[PlayerOut]:
    """All players."""
    with data.session() as session:
        return [PlayerOut.of(player) for player in all_players(session)]


@router.post("/players", status_code=201)
def add(data: Data, player: PlayerIn) -> PlayerOut:
    """Adds a player."""
    with data.session() as session:
        try:
            return PlayerOut.of(add_player(session, player.details()))
        except PlayerRefusedError as error:
            raise _refused(error) from error


@router.put("/players/{player_id}")
def change(data: Data, player_id: PlayerId, player: PlayerIn) -> PlayerOut:
    """Changes a player."""
    with data.session() as session:
        kept = player_or_404(session, player_id)
        try:
            change_player(kept, player.details())
        except PlayerRefusedError as error:
            raise _refused(error) from error
        return PlayerOut.of(kept)


@router.put("/players/{player_id}/gate")
def set_gate(data: Data, player_id: PlayerId, gate: GateIn) -> PlayerOut:
    """Sets how hard the gate is for a player."""
    with data.session() as session:
        kept = player_or_404(session, player_id)
        kept.gate_level = gate.gate_level
        return PlayerOut.of(kept)


@router.get("/players/{player_id}/long-tone")
def long_tone(
    data: Data,
    player_id: PlayerId,
    midi: Annotated[int, Query(ge=0, le=127)] | None = None,
    hold_s: HoldSeconds = HOLD_S,
) -> LongTonePlan:
    """A long tone for this player, on a sounding note or on the one they start from."""
    with data.session() as session:
        player = player_or_404(session, player_id)
        limits = DEFAULT_LIMITS[GateLevel(player.gate_level)]
        exercise = long_tone_for(horn_of(session, player), midi, hold_s)
        return LongTonePlan.of(exercise, notation_of(player), limits.centre_cents)


def long_tone_for(horn: Horn, midi: int | None, hold_s: float) -> LongTone:
    """The exercise on a player's horn. Raises a problem for a note it does not offer."""
    try:
        return LongTone(horn, horn.instrument.start_midi if midi is None else midi, hold_s)
    except ValueError as error:
        raise ProblemError(422, "This note is not on offer", str(error)) from error


def _refused(error: PlayerRefusedError) -> ProblemError:
    return ProblemError(422, "The player could not be kept", str(error))
