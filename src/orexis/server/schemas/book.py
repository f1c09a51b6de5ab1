"""What the API says of the book: families, and an exercise's page."""

from pydantic import BaseModel

from orexis.core.exercises.book import FAMILIES
from orexis.core.exercises.family import Group, Task
from orexis.core.horn.notation import Notation
from orexis.core.judging.attempt_words import limit_words, number_words, said_of
from orexis.core.judging.attempts import AimResult, AttemptVerdict
from orexis.core.parameter import Parameter
from orexis.practice.exercises import Offered
from orexis.server.schemas.base import Read
from orexis.server.schemas.fields import FieldOut
from orexis.server.schemas.takes import RuleOut


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


class OnStandOut(BaseModel):
    """What the Stand is set to for this exercise."""

    midi: int
    hold_s: float


class ExercisePage(BaseModel):
    """An exercise as it is read and adjusted: `values` are what its fields are set to, `svg` the
    music. `on_stand` is there where the Stand can already listen to it."""

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
    on_stand: OnStandOut | None

    @classmethod
    def of(
        cls,
        task: Task,
        fields: tuple[Parameter, ...],
        svg: str,
        described: str,
        on_stand: OnStandOut | None,
    ) -> "ExercisePage":
        """The page of a task, engraved and described."""
        family = task.family
        return cls(
            key=family.key,
            title=family.title,
            group=family.group.value,
            words=WordsOut.model_validate(family.words),
            aims=[aim.value for aim in task.aims],
            fields=[FieldOut.model_validate(one) for one in fields],
            values={key: _typed(value) for key, value in task.given.values.items()},
            svg=svg,
            described=described,
            sounds=bool(task.score.notes),
            leads_to=_links(family.leads_to),
            falls_back_to=_links(family.falls_back_to),
            on_stand=on_stand,
        )


class AttemptOut(BaseModel):
    """The verdict on a recording as an attempt at an exercise: words, every aim with its number,
    and the steps of the score that were missed by most or did not speak."""

    recording_id: str
    passed: bool
    headline: str
    change: str
    rules: list[RuleOut]
    missed_steps: list[int]

    @classmethod
    def of(
        cls, recording_id: str, task: Task, verdict: AttemptVerdict, notation: Notation
    ) -> "AttemptOut":
        """The verdict for a player who names notes in `notation`."""
        said = said_of(task, verdict, notation.name)
        failed = [result.at for result in verdict.results if result.at and not result.passed]
        return cls(
            recording_id=recording_id,
            passed=verdict.passed,
            headline=said.headline,
            change=said.change,
            rules=[_rule(result) for result in verdict.results],
            missed_steps=sorted({place.step for place in (*failed, *verdict.silent)}),
        )


def _rule(result: AimResult) -> RuleOut:
    number, unit = number_words(result)
    return RuleOut(
        rule=result.aim.value,
        measured=round(result.measured, 3),
        limit=result.limit,
        passed=result.passed,
        words=number,
        unit=unit,
        limit_words=limit_words(result),
        told=not result.untold,
    )


def _typed(value: float | str) -> str:
    return value if isinstance(value, str) else f"{value:g}"


def _links(keys: tuple[str, ...]) -> list[LinkOut]:
    return [LinkOut(key=key, title=FAMILIES[key].title) for key in keys]
