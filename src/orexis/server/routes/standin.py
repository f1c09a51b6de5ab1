"""The stand-in player's sound, for who asks: well played, or at a skill set in the address."""

from typing import Annotated, Any

from fastapi import Depends, Query, Response

from orexis.core.exercises.task import Task
from orexis.core.horn.setup import Horn
from orexis.practice.exercises import LEAD_S, NothingToHearError, played
from orexis.server.problems import ProblemError
from orexis.standin.player import SKILL, Skill

_CLEAN = Skill()


def _within(key: str) -> Any:
    """The bounds of one of the stand-in's skills."""
    return Query(ge=SKILL[key].least, le=SKILL[key].most)


def _skill(
    centre_cents: Annotated[float, _within("centre_cents")] = _CLEAN.centre_cents,
    scoop_cents: Annotated[float, _within("scoop_cents")] = _CLEAN.scoop_cents,
    sag_cents: Annotated[float, _within("sag_cents")] = _CLEAN.sag_cents,
    wobble_cents: Annotated[float, _within("wobble_cents")] = _CLEAN.wobble_cents,
    vibrato_cents: Annotated[float, _within("vibrato_cents")] = _CLEAN.vibrato_cents,
    breath_db: Annotated[float, _within("breath_db")] = _CLEAN.breath_db,
    holds_percent: Annotated[float, _within("holds_percent")] = _CLEAN.holds_percent,
    reach_semitones: Annotated[float, _within("reach_semitones")] = _CLEAN.reach_semitones,
) -> Skill:
    return Skill(
        centre_cents,
        scoop_cents,
        sag_cents,
        wobble_cents,
        vibrato_cents,
        breath_db,
        holds_percent,
        reach_semitones,
    )


AskedSkill = Annotated[Skill, Depends(_skill)]


def wav_of(task: Task, horn: Horn, skill: Skill | None, lead_s: float = LEAD_S) -> Response:
    """A task as WAV. Raises the problem of one without a sound."""
    try:
        wav = played(task, horn, skill, lead_s)
    except NothingToHearError as error:
        raise ProblemError(422, "There is nothing to hear", str(error)) from error
    return Response(wav, media_type="audio/wav")
