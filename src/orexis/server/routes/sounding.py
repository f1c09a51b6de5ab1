"""A metronome and a drone by themselves: when beats fall, and which pitches sound."""

from itertools import takewhile

from fastapi import APIRouter

from orexis.core.horn.notation import CONCERT, Notation
from orexis.core.horn.pitch import A4_HZ
from orexis.core.score.pulse import beats_from
from orexis.server.problems import ProblemError
from orexis.server.routes.access import Data, PlayerId, player_or_404
from orexis.server.schemas.sounding import BeatsIn, DroneIn, DroneOut, PulseBeatOut
from orexis.store.players import notation_of

router = APIRouter(prefix="/api")


@router.post("/metronome/beats")
def beats(asked: BeatsIn) -> list[PulseBeatOut]:
    """The beats of some bars of a metronome, and their parts, in order."""
    until = asked.first_bar + asked.bars
    given = beats_from(asked.pulse.pulse, asked.first_bar)
    return [PulseBeatOut.of(beat) for beat in takewhile(lambda beat: beat.bar < until, given)]


@router.post("/drone")
def drone_of_nobody(asked: DroneIn) -> DroneOut:
    """What sounds of a drone for somebody who has not said who they are."""
    return _drone(asked, CONCERT, A4_HZ)


@router.post("/players/{player_id}/drone")
def drone(data: Data, player_id: PlayerId, asked: DroneIn) -> DroneOut:
    """What sounds of a drone for a player: at their A4, its note as they name it."""
    with data.session() as session:
        player = player_or_404(session, player_id)
        return _drone(asked, notation_of(player), player.a4_hz)


def _drone(asked: DroneIn, notation: Notation, a4_hz: float) -> DroneOut:
    try:
        return DroneOut.of(asked.drone, notation, a4_hz)
    except ValueError as error:
        raise ProblemError(422, "This drone cannot sound", str(error)) from error
