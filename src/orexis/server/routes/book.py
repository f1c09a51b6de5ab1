"""The book: what there is to practise, each exercise's page, and it as sound and files."""

from dataclasses import dataclass
from typing import Annotated

from fastapi import APIRouter, Depends, Path, Query, Response
from pydantic import StringConstraints

from orexis.core.exercises.book import FAMILIES, find_family, task_of
from orexis.core.exercises.family import ExerciseRefusedError, Task, Value
from orexis.core.exercises.words import described
from orexis.core.exercises.writer import Writer
from orexis.core.horn.notation import Notation
from orexis.formats.midi import midi_of
from orexis.practice.exercises import (
    NothingToHearError,
    attempt_at,
    engraved_task,
    fields_of,
    musicxml_of_task,
    offered,
    on_stand,
    played,
    writer_for,
)
from orexis.server.problems import ProblemError, not_found
from orexis.server.routes.access import Data, KeptId, PlayerId, kept_or_404, player_or_404
from orexis.server.schemas.book import AttemptOut, ExercisePage, GroupOut, OnStandOut
from orexis.store.models import Recording
from orexis.store.players import notation_of

router = APIRouter(prefix="/api/players/{player_id}/book")

_MOST_VALUES = 20
FamilyKey = Annotated[str, Path(max_length=40)]
Setting = Annotated[str, StringConstraints(max_length=100)]
Set = Annotated[
    list[Setting] | None,
    Query(alias="set", max_length=_MOST_VALUES, description="What is set, as key=value."),
]


@dataclass(frozen=True, slots=True)
class _Asked:
    """An exercise somebody asked for, with whom it is for."""

    task: Task
    writer: Writer
    notation: Notation


def _asked(data: Data, player_id: PlayerId, family: FamilyKey, given: Set = None) -> _Asked:
    """The exercise of an address. Raises the problem that says why it cannot be."""
    with data.session() as session:
        player = player_or_404(session, player_id)
        writer, notation = writer_for(session, player), notation_of(player)
    if family not in FAMILIES:
        raise not_found("exercise")
    values: dict[str, Value] = {}
    for one in given or []:
        key, _, value = one.partition("=")
        values[key] = value
    try:
        return _Asked(task_of(find_family(family), writer, values), writer, notation)
    except ExerciseRefusedError as error:
        raise ProblemError(422, "This cannot be practised so", str(error)) from error


Asked = Annotated[_Asked, Depends(_asked)]


@router.get("")
def book(data: Data, player_id: PlayerId) -> list[GroupOut]:
    """Every family, by what it trains; in each group what there is for this player first."""
    with data.session() as session:
        writer = writer_for(session, player_or_404(session, player_id))
    return [GroupOut.of(group, found) for group, found in offered(writer)]


@router.get("/{family}")
def page(asked: Asked) -> ExercisePage:
    """An exercise's page: its music engraved, what can be set, and its words."""
    task, writer = asked.task, asked.writer
    stand = on_stand(task)
    return ExercisePage.of(
        task,
        fields_of(task.family, writer),
        engraved_task(task, writer.horn, asked.notation),
        described(task.score, asked.notation),
        stand and OnStandOut(midi=stand[0], hold_s=stand[1]),
    )


@router.get("/{family}/sound", response_class=Response)
def sound(asked: Asked) -> Response:
    """An exercise played by the stand-in player, as WAV."""
    try:
        wav = played(asked.task.score, asked.writer.horn)
    except NothingToHearError as error:
        raise ProblemError(422, "There is nothing to hear", str(error)) from error
    return Response(wav, media_type="audio/wav")


@router.get("/{family}/musicxml", response_class=Response)
def musicxml(asked: Asked) -> Response:
    """An exercise as MusicXML."""
    text = musicxml_of_task(asked.task, asked.writer.horn, asked.notation)
    return _file(text.encode(), "application/vnd.recordare.musicxml+xml", asked, "musicxml")


@router.get("/{family}/midi", response_class=Response)
def midi(asked: Asked) -> Response:
    """An exercise as MIDI."""
    return _file(midi_of(asked.task.score, asked.task.title), "audio/midi", asked, "mid")


@router.get("/{family}/attempts/{kept_id}")
def attempt(data: Data, player_id: PlayerId, asked: Asked, kept_id: KeptId) -> AttemptOut:
    """A kept recording of the player's, judged as an attempt at an exercise."""
    with data.session() as session:
        player = player_or_404(session, player_id)
        recording = kept_or_404(session, Recording, kept_id)
        if recording.player_id != player_id:
            raise not_found("recording")
        verdict = attempt_at(session, player, asked.task, asked.writer.horn, recording)
    return AttemptOut.of(kept_id, asked.task, verdict, asked.notation)


def _file(content: bytes, media_type: str, asked: _Asked, ending: str) -> Response:
    name = f"{asked.task.family.key}.{ending}"
    headers = {"Content-Disposition": f'attachment; filename="{name}"'}
    return Response(content, media_type=media_type, headers=headers)
