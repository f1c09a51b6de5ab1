"""The book: what there is to practise, each exercise's page, and it as sound and files."""

from datetime import datetime

from fastapi import APIRouter, Response

from orexis.core.coach.book_today import book_of
from orexis.core.exercises.book import FAMILIES, check_heard
from orexis.core.exercises.family import Aim, ExerciseRefusedError
from orexis.core.exercises.opening import opening_of
from orexis.core.exercises.words import described
from orexis.core.judging.aims import limit_of
from orexis.core.session.building import ways_of
from orexis.formats.midi import midi_of
from orexis.practice.coaching import known_of
from orexis.practice.exercises import (
    attempt_at,
    engraved_task,
    fields_of,
    musicxml_of_task,
    on_one_line,
    sheet_music,
    standings_of,
)
from orexis.server.problems import ProblemError
from orexis.server.routes.access import Data, KeptId, PlayerId, player_or_404, recording_or_404
from orexis.server.routes.asked_exercise import AskedExercise, ExerciseAsked
from orexis.server.routes.standin import AskedSkill, wav_of
from orexis.server.schemas.book import (
    AttemptOut,
    ExercisePage,
    GroupOut,
    OpeningOut,
    StandPlan,
)
from orexis.standin.player import Skill

router = APIRouter(prefix="/api/players/{player_id}/book")


@router.get("")
def book(data: Data, player_id: PlayerId) -> list[GroupOut]:
    """Every family, by what it trains; in each group what there is for this player today first."""
    today = datetime.now().astimezone().date()
    with data.session() as session:
        known = known_of(session, player_or_404(session, player_id), today)
    return [GroupOut.of(group, found) for group, found in book_of(known)]


@router.get("/{family}")
def page(data: Data, player_id: PlayerId, asked: ExerciseAsked) -> ExercisePage:
    """An exercise's page: its music engraved, what can be set, its words, and how its notes stand
    with the player."""
    task, writer = asked.task, asked.writer
    with data.session() as session:
        player = player_or_404(session, player_id)
        today = datetime.now().astimezone().date()
        standings = standings_of(session, player, task, writer, today)
    return ExercisePage.of(
        task,
        fields_of(FAMILIES[task.family_key], writer),
        ways_of(FAMILIES[task.family_key], writer),
        engraved_task(task, writer.horn, asked.notation),
        asked.notation,
        standings,
    )


@router.get("/{family}/opening")
def opening(asked: ExerciseAsked) -> OpeningOut:
    """The first notes of an exercise, by which it is recognised in a list."""
    first = opening_of(asked.task)
    svg = on_one_line(first, asked.writer.horn, asked.notation)
    return OpeningOut(svg=svg, described=described(first.score, asked.notation))


@router.get("/{family}/stand")
def stand(asked: ExerciseAsked) -> StandPlan:
    """An exercise as it is put on the Stand."""
    task, writer = asked.task, asked.writer
    try:
        check_heard(task)
    except ExerciseRefusedError as error:
        raise ProblemError(422, "There is nothing to listen to", str(error)) from error
    svg = sheet_music(task, writer.horn, asked.notation)
    limit_cents = limit_of(Aim.CENTRE, asked.level, task)
    return StandPlan.of(task, writer, asked.notation, limit_cents, svg)


@router.get("/{family}/sound", response_class=Response)
def sound(asked: ExerciseAsked) -> Response:
    """An exercise well played by the stand-in player, as WAV."""
    return _wav(asked, None)


@router.get("/{family}/stand-in", response_class=Response)
def stand_in(asked: ExerciseAsked, skill: AskedSkill) -> Response:
    """One repetition of an exercise as the stand-in player plays it into the Stand, with faults of
    the sizes given, as WAV."""
    return _wav(asked, skill)


def _wav(asked: AskedExercise, skill: Skill | None) -> Response:
    task = asked.task if skill is None else asked.task.once
    return wav_of(task, asked.writer.horn, skill)


@router.get("/{family}/musicxml", response_class=Response)
def musicxml(asked: ExerciseAsked) -> Response:
    """An exercise as MusicXML."""
    text = musicxml_of_task(asked.task, asked.writer.horn, asked.notation)
    return _file(text.encode(), "application/vnd.recordare.musicxml+xml", asked, "musicxml")


@router.get("/{family}/midi", response_class=Response)
def midi(asked: ExerciseAsked) -> Response:
    """An exercise as MIDI."""
    return _file(midi_of(asked.task.score, asked.task.title), "audio/midi", asked, "mid")


@router.get("/{family}/attempts/{kept_id}")
def attempt(data: Data, player_id: PlayerId, asked: ExerciseAsked, kept_id: KeptId) -> AttemptOut:
    """A kept recording of the player's, judged as an attempt at an exercise."""
    with data.session() as session:
        player = player_or_404(session, player_id)
        recording = recording_or_404(session, player_id, kept_id)
        verdict = attempt_at(session, player, asked.task, asked.writer.horn, recording)
    return AttemptOut.of(kept_id, asked.task, verdict, asked.notation, asked.writer.horn)


def _file(content: bytes, media_type: str, asked: AskedExercise, ending: str) -> Response:
    name = f"{asked.task.family_key}.{ending}"
    headers = {"Content-Disposition": f'attachment; filename="{name}"'}
    return Response(content, media_type=media_type, headers=headers)
