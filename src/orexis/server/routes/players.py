"""Players and their instruments, and all that can be set."""

from fastapi import APIRouter

from orexis.core.coach.about import ABOUT
from orexis.core.exercises.book import ONE_NOTE, ONE_NOTE_KEY
from orexis.core.exercises.own import LINE, PEN
from orexis.core.horn.drone import DRONE
from orexis.core.horn.instruments import INSTRUMENTS
from orexis.core.judging.care import STOP
from orexis.core.parameter import Parameter
from orexis.core.score.pulse import PULSE
from orexis.practice.fields import COMING, LISTENING, OWN, PLAYER, TODAY
from orexis.practice.leaving import holding_words
from orexis.server.problems import ProblemError, not_found
from orexis.server.routes.access import Data, PlayerId, player_or_404
from orexis.server.schemas.fields import CareOut, FieldOut, FieldsOut, OneNoteOut
from orexis.server.schemas.players import (
    DeletedPlayerOut,
    HoldingOut,
    InstrumentOut,
    PlayerIn,
    PlayerOut,
    StandardIn,
)
from orexis.standin.player import SKILL
from orexis.store.kept import KEPT_AFTER_DELETION
from orexis.store.leaving import delete_player, deleted_players, holding_of, restore_player
from orexis.store.players import (
    PlayerRefusedError,
    add_player,
    all_players,
    change_player,
)

router = APIRouter(prefix="/api")


@router.get("/instruments")
def instruments() -> list[InstrumentOut]:
    """The instruments a player can choose."""
    return [InstrumentOut.of(instrument) for instrument in INSTRUMENTS.values()]


@router.get("/fields")
def fields() -> FieldsOut:
    """Everything a player can set, with its bounds and words, and the words of care."""
    return FieldsOut(
        player=by_key(PLAYER),
        one_note=OneNoteOut(family=ONE_NOTE, key=ONE_NOTE_KEY),
        own_line=LINE,
        pen=by_key(PEN),
        own=by_key(OWN),
        stand_in=[FieldOut.model_validate(parameter) for parameter in SKILL.values()],
        listening=by_key(LISTENING),
        about=by_key(ABOUT),
        today=by_key(TODAY),
        coming=by_key(COMING),
        metronome=by_key(PULSE),
        drone=by_key(DRONE),
        care=CareOut.model_validate(STOP),
    )


def by_key(parameters: tuple[Parameter, ...]) -> dict[str, FieldOut]:
    """Fields by the name of what they set."""
    return {parameter.key: FieldOut.model_validate(parameter) for parameter in parameters}


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


@router.get("/players/deleted")
def deleted(data: Data) -> list[DeletedPlayerOut]:
    """The players that can be brought back."""
    with data.session() as session:
        found = map(DeletedPlayerOut.of, deleted_players(session))
        return [player for player in found if player is not None]


@router.get("/players/{player_id}/holding")
def holding(data: Data, player_id: PlayerId) -> HoldingOut:
    """What would be deleted together with a player."""
    with data.session() as session:
        kept = holding_of(session, player_or_404(session, player_id))
        return HoldingOut(words=holding_words(kept), days=KEPT_AFTER_DELETION.days)


@router.delete("/players/{player_id}", status_code=204)
def remove(data: Data, player_id: PlayerId) -> None:
    """Deletes a player; they can be brought back for seven days."""
    with data.session() as session:
        delete_player(player_or_404(session, player_id))


@router.post("/players/{player_id}/restore")
def restore(data: Data, player_id: PlayerId) -> PlayerOut:
    """Brings a player back with all that is theirs."""
    with data.session() as session:
        player = restore_player(session, player_id)
        if player is None:
            raise not_found("player")
        return PlayerOut.of(player)


@router.put("/players/{player_id}/standard")
def set_standard(data: Data, player_id: PlayerId, body: StandardIn) -> PlayerOut:
    """Sets the standard a player is held to."""
    with data.session() as session:
        kept = player_or_404(session, player_id)
        kept.standard = body.standard
        return PlayerOut.of(kept)


def _refused(error: PlayerRefusedError) -> ProblemError:
    return ProblemError(422, "The player could not be kept", str(error))
