"""What the API says of the book: families, and an exercise's page."""

from pydantic import BaseModel

from orexis.core.exercises.book import FAMILIES
from orexis.core.exercises.family import Group
from orexis.core.exercises.sheet import cue, drone_hz, sheet_of
from orexis.core.exercises.task import Task
from orexis.core.exercises.words import described
from orexis.core.exercises.writer import Writer
from orexis.core.horn.notation import Notation
from orexis.core.judging.aim_words import WORDS
from orexis.core.judging.attempt_words import said_of
from orexis.core.judging.attempts import Verdict
from orexis.core.parameter import Parameter
from orexis.practice.exercises import Offered
from orexis.server.schemas.base import Read
from orexis.server.schemas.exercises import SheetOut
from orexis.server.schemas.fields import FieldOut
from orexis.server.schemas.takes import RuleOut, StepOut


class FamilyLine(BaseModel):
    """A family in the list; `refused` says why it cannot be here, "" where it can."""

    key: str
    title: str
    why: str
    refused: str


class GroupOut(BaseModel):
    """What trains one thing, what there is for this player first."""

    name: str
    families: list[FamilyLine]

    @classmethod
    def of(cls, group: Group, found: list[Offered]) -> "GroupOut":
        """A group as the API gives it."""
        return cls(
            name=group.value,
            families=[
                FamilyLine(
                    key=one.family.key,
                    title=one.family.title,
                    why=one.family.words.why,
                    refused=one.refused,
                )
                for one in found
            ],
        )


class WordsOut(Read):
    """See `core.exercises.family.Words`."""

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
    `more` are what its keys turn, where there is such a thing. `seconds` is how long it takes
    once; `drone_hz` is a tone to play to."""

    family: str
    values: dict[str, str]
    sheet: SheetOut
    cue: str
    seconds: float
    drone_hz: float | None
    higher: FieldOut | None
    more: FieldOut | None

    @classmethod
    def of(
        cls, task: Task, writer: Writer, notation: Notation, limit_cents: float, svg: str
    ) -> "StandPlan":
        """A task for a player who names notes in `notation`; the gate's centre limit."""
        horn = writer.horn
        fields = FAMILIES[task.family_key].parameters(writer)
        higher = next((one for one in fields if one.is_note or one.choices), None)
        more = next((one for one in fields if one.step and not one.is_note), None)
        drone = drone_hz(task, horn)
        return cls(
            family=task.family_key,
            values=typed_values(task),
            sheet=SheetOut.of(
                task,
                sheet_of(task, horn),
                horn,
                notation,
                limit_cents,
                svg,
                described(task.score, notation),
            ),
            cue=cue(task),
            seconds=round(task.score.seconds, 2),
            drone_hz=None if drone is None else round(drone, 3),
            higher=higher and FieldOut.model_validate(higher),
            more=more and FieldOut.model_validate(more),
        )


class ExercisePage(BaseModel):
    """An exercise as it is read and adjusted: `values` are what its fields are set to, `svg` the
    music. `sounds` tells that there is something to hear, and for the Stand to listen to."""

    key: str
    title: str
    group: str
    words: WordsOut
    aims: list[str]
    fields: list[FieldOut]
    values: dict[str, str]
    svg: str
    described: str
    sounds: bool
    leads_to: list[LinkOut]
    falls_back_to: list[LinkOut]

    @classmethod
    def of(
        cls,
        task: Task,
        fields: tuple[Parameter, ...],
        svg: str,
        notation: Notation,
    ) -> "ExercisePage":
        """The page of a task, engraved and described."""
        family = FAMILIES[task.family_key]
        return cls(
            key=family.key,
            title=family.title,
            group=family.group.value,
            words=WordsOut.model_validate(family.words),
            aims=[WORDS[aim].counts for aim in task.aims],
            fields=[FieldOut.model_validate(one) for one in fields],
            values=typed_values(task),
            svg=svg,
            described=described(task.score, notation),
            sounds=bool(task.score.pitches),
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
        cls, recording_id: str, task: Task, verdict: Verdict, notation: Notation
    ) -> "AttemptOut":
        """The verdict for a player who names notes in `notation`."""
        said = said_of(task, verdict, notation.name)
        return cls(
            recording_id=recording_id,
            passed=verdict.passed,
            headline=said.headline,
            change=said.change,
            rules=[RuleOut.of(result) for result in verdict.results],
            steps=StepOut.all_of(task, verdict),
        )


def typed_values(task: Task) -> dict[str, str]:
    """What a task is set to, as it is typed."""
    return {
        key: value if isinstance(value, str) else f"{value:g}"
        for key, value in task.given.values.items()
    }


def _links(keys: tuple[str, ...]) -> list[LinkOut]:
    return [LinkOut(key=key, title=FAMILIES[key].title) for key in keys]
