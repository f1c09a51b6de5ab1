"""What the API says of the book: families, and an exercise's page."""

from typing import Annotated

from pydantic import BaseModel, Field

from orexis.core.coach.book_today import BookLine
from orexis.core.coach.standing import Standing
from orexis.core.counting import counted
from orexis.core.exercises.book import FAMILIES
from orexis.core.exercises.family import Group
from orexis.core.exercises.own import LINE, LONGEST_LINE
from orexis.core.exercises.sheet import cue, drone_hz, sheet_of, turned_by_keys
from orexis.core.exercises.task import Task
from orexis.core.exercises.typed import as_typed, typed_line
from orexis.core.exercises.words import described
from orexis.core.exercises.writer import Writer
from orexis.core.horn.notation import Notation
from orexis.core.horn.registers import Register
from orexis.core.horn.setup import Horn
from orexis.core.judging.aim_words import WORDS
from orexis.core.judging.attempt_words import said_of
from orexis.core.judging.attempts import Verdict
from orexis.core.parameter import Parameter
from orexis.practice.own import OfferedPart
from orexis.server.schemas.base import Body, Read, Text
from orexis.server.schemas.exercises import SheetOut
from orexis.server.schemas.fields import FieldOut
from orexis.server.schemas.takes import RuleOut, StepOut
from orexis.store.models import OwnExercise
from orexis.store.own_exercises import LONGEST_NAME


class FamilyLine(BaseModel):
    """A family in the list, as it is set where the player is on its path: which step, when it was
    last played, what it needs, the register of its highest note, and how many minutes once takes.
    `not_today` says why today has no room for it, and `refused` why it cannot be here, "" where it
    can."""

    key: str
    title: str
    why: str
    values: dict[str, str]
    place: str
    played: str
    needs: str
    register_name: Register | None
    minutes: float
    not_today: str
    refused: str

    @classmethod
    def of(cls, line: BookLine) -> "FamilyLine":
        """A line of the book as the API gives it."""
        return cls(
            key=line.family.key,
            title=line.family.title,
            why=line.family.words.why,
            values=as_typed(line.values),
            place=line.place,
            played=line.played,
            needs=line.needs,
            register_name=line.register,
            minutes=line.minutes,
            not_today=line.not_today,
            refused=line.refused,
        )


class GroupOut(BaseModel):
    """What trains one thing, what there is for this player first."""

    name: str
    families: list[FamilyLine]

    @classmethod
    def of(cls, group: Group, found: list[BookLine]) -> "GroupOut":
        """A group as the API gives it."""
        return cls(name=group.value, families=[FamilyLine.of(line) for line in found])


class OpeningOut(BaseModel):
    """The first notes of an exercise, engraved and in words; an empty drawing where it has none."""

    svg: str
    described: str


class OwnLine(BaseModel):
    """An exercise that the player keeps under a name; `refused` says why it cannot be here."""

    id: str
    name: str
    family: str
    title: str
    values: dict[str, str]
    refused: str

    @classmethod
    def of(cls, kept: OwnExercise, refused: str = "") -> "OwnLine":
        """An own exercise as the API gives it."""
        return cls(
            id=kept.id,
            name=kept.name,
            family=kept.family_key,
            title=FAMILIES[kept.family_key].title,
            values=as_typed(kept.parameters),
            refused=refused,
        )


class OwnIn(Body):
    """An exercise to keep under a name: its family and its values."""

    name: Annotated[Text, Field(max_length=4 * LONGEST_NAME)]
    family: Annotated[Text, Field(max_length=40)]
    values: Annotated[
        dict[
            Annotated[Text, Field(max_length=40)],
            Annotated[Text, Field(max_length=LONGEST_LINE)],
        ],
        Field(max_length=20),
    ]


class MelodyPartOut(BaseModel):
    """A part of a file: what it is called, how many notes it has and which are its lowest and
    highest, and the exercise it makes, `moved` so as to lie on the horn ("" where it does);
    `refused` says why it cannot be."""

    name: str
    notes: str
    lowest: str
    highest: str
    moved: str
    family: str
    values: dict[str, str]
    refused: str

    @classmethod
    def of(cls, part: OfferedPart, notation: Notation) -> "MelodyPartOut":
        """A part for a player who names notes in `notation`."""
        return cls(
            name=part.part.name,
            notes=counted(len(part.part.midis), "note"),
            lowest=notation.name(min(part.part.midis)),
            highest=notation.name(max(part.part.midis)),
            moved=part.on_horn.moved,
            family=LINE,
            values=part.on_horn.values,
            refused=part.on_horn.refused,
        )


class StandingOut(BaseModel):
    """A note of an exercise and how it stands with this player."""

    name: str
    standing: str


class WordsOut(Read):
    """See `core.exercises.family.FamilyWords`."""

    why: str
    listen: str
    wrong: str
    remedy: str
    caution: str


class LinkOut(BaseModel):
    """Another family."""

    key: str
    title: str


class StandPlan(BaseModel):
    """An exercise as it is put on the Stand: `values` are what it is set to, whole; `higher` and
    `more` are what its keys turn, where there is such a thing. `listen` says what to listen for;
    `seconds` is how long it takes once; `drone_hz` is a tone to play to; `leads_to` is where it
    goes on from here."""

    family: str
    values: dict[str, str]
    sheet: SheetOut
    cue: str
    listen: str
    seconds: float
    drone_hz: float | None
    higher: FieldOut | None
    more: FieldOut | None
    leads_to: list[LinkOut]

    @classmethod
    def of(
        cls, task: Task, writer: Writer, notation: Notation, limit_cents: float, svg: str
    ) -> "StandPlan":
        """A task for a player who names notes in `notation`; the standard's centre limit."""
        horn = writer.horn
        family = FAMILIES[task.family_key]
        higher, more = turned_by_keys(family.parameters(writer))
        drone = drone_hz(task, horn)
        return cls(
            family=task.family_key,
            values=as_typed(task.given.values),
            sheet=SheetOut.of(
                task,
                sheet_of(task, horn),
                horn,
                notation,
                limit_cents,
                svg,
                described(task.once.score, notation),
            ),
            cue=cue(task),
            listen=family.words.listen,
            seconds=round(task.score.seconds, 2),
            drone_hz=None if drone is None else round(drone, 3),
            higher=higher and FieldOut.model_validate(higher),
            more=more and FieldOut.model_validate(more),
            leads_to=_links(family.leads_to),
        )


class ExercisePage(BaseModel):
    """An exercise as it is read and adjusted: `values` are what its fields are set to, `svg` the
    music. `sounds` tells that there is something to hear, and for the Stand to listen to, and
    `is_music` that a recording of it is told bar by bar. `ways` are what can be set of it in a
    session: how its attempts follow each other. `typed_line` is its line of notes as the player
    names notes, "" where it has none."""

    key: str
    title: str
    group: str
    words: WordsOut
    aims: list[str]
    fields: list[FieldOut]
    ways: list[FieldOut]
    values: dict[str, str]
    svg: str
    described: str
    sounds: bool
    is_music: bool
    typed_line: str
    standings: list[StandingOut]
    leads_to: list[LinkOut]
    falls_back_to: list[LinkOut]

    @classmethod
    def of(
        cls,
        task: Task,
        fields: tuple[Parameter, ...],
        ways: tuple[Parameter, ...],
        svg: str,
        notation: Notation,
        standings: list[tuple[int, Standing]],
    ) -> "ExercisePage":
        """The page of a task, engraved and described."""
        family = FAMILIES[task.family_key]
        return cls(
            key=family.key,
            title=family.title,
            group=family.group.value,
            words=WordsOut.model_validate(family.words),
            aims=[WORDS[aim].counts for aim in task.aims],
            fields=[FieldOut.model_validate(parameter) for parameter in fields],
            ways=[FieldOut.model_validate(parameter) for parameter in ways],
            values=as_typed(task.given.values),
            svg=svg,
            described=described(task.score, notation),
            sounds=bool(task.score.pitches),
            is_music=family.group is Group.MUSIC,
            typed_line=typed_line(fields, task.given.values, notation.naming),
            standings=[
                StandingOut(name=notation.name(midi), standing=standing.value)
                for midi, standing in standings
            ],
            leads_to=_links(family.leads_to),
            falls_back_to=_links(family.falls_back_to),
        )


class AttemptOut(BaseModel):
    """The verdict on a recording as an attempt at an exercise: words, every aim with its number,
    and how each step of the score went."""

    recording_id: str
    passed: bool
    headline: str
    change: str
    rules: list[RuleOut]
    steps: list[StepOut]

    @classmethod
    def of(
        cls, recording_id: str, task: Task, verdict: Verdict, notation: Notation, horn: Horn
    ) -> "AttemptOut":
        """The verdict for a player who names notes in `notation`."""
        said = said_of(task, verdict, notation.name, horn=horn)
        return cls(
            recording_id=recording_id,
            passed=verdict.passed,
            headline=said.headline,
            change=said.change,
            rules=RuleOut.all_of(verdict.results),
            steps=StepOut.all_of(task, verdict),
        )


def _links(keys: tuple[str, ...]) -> list[LinkOut]:
    return [LinkOut(key=key, title=FAMILIES[key].title) for key in keys]
