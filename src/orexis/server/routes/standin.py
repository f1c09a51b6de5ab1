"""The stand-in player's sound, for the Stand to play into its own ear."""

from typing import Annotated, Any

from fastapi import APIRouter, Query, Response

from orexis.core.exercises.longtone import HOLD_S
from orexis.formats.audio import pcm_from_floats, wav_from_pcm
from orexis.server.routes.access import Data, PlayerId, player_or_404
from orexis.server.routes.players import long_tone_for
from orexis.standin.player import SKILL, Skill, play_long_tone
from orexis.store.horns import horn_of

router = APIRouter(prefix="/api")

_RATE = 48_000
_CLEAN = Skill()


def _within(key: str) -> Any:
    """The bounds of one of the stand-in's skills."""
    return Query(ge=SKILL[key].least, le=SKILL[key].most)


@router.get("/players/{player_id}/stand-in", response_class=Response)
def stand_in(
    data: Data,
    player_id: PlayerId,
    midi: Annotated[int, Query(ge=0, le=127)],
    hold_s: Annotated[float, _within("hold_s")] = HOLD_S,
    centre_cents: Annotated[float, _within("centre_cents")] = _CLEAN.centre_cents,
    scoop_cents: Annotated[float, _within("scoop_cents")] = _CLEAN.scoop_cents,
    sag_cents: Annotated[float, _within("sag_cents")] = _CLEAN.sag_cents,
    wobble_cents: Annotated[float, _within("wobble_cents")] = _CLEAN.wobble_cents,
    vibrato_cents: Annotated[float, _within("vibrato_cents")] = _CLEAN.vibrato_cents,
    breath_db: Annotated[float, _within("breath_db")] = _CLEAN.breath_db,
) -> Response:
    """One long tone as a WAV file, with faults of the sizes given."""
    with data.session() as session:
        horn = horn_of(session, player_or_404(session, player_id))
        exercise = long_tone_for(horn, midi, HOLD_S)
    skill = Skill(
        centre_cents, scoop_cents, sag_cents, wobble_cents, vibrato_cents, breath_db, hold_s
    )
    played = play_long_tone(
        exercise.midi + exercise.target_cents / 100,
        skill,
        exercise.instrument.fundamental_midi,
        _RATE,
        a4_hz=exercise.a4_hz,
    )
    return Response(wav_from_pcm(pcm_from_floats(played.samples), _RATE), media_type="audio/wav")
