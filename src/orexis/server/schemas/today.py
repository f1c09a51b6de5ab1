"""What the API says of the day: its plan, the days about it, and how it is changed."""

from datetime import date
from enum import StrEnum
from typing import Annotated

from pydantic import BaseModel, Field

from orexis.core.coach.about import LONGEST_MIN, SHORTEST_MIN, Lips
from orexis.core.coach.day import TITLE, DayBlock, DayPlan, span_words
from orexis.core.coach.known import PlayerFacts
from orexis.core.coach.load import load_words
from orexis.core.coach.week import DayKind, days_about, kind_of_plan
from orexis.core.exercises.family import Group
from orexis.core.session.plan import SessionKind
from orexis.server.schemas.base import Body, Flag, Number, Whole
from orexis.server.schemas.sessions import ExerciseOut

_MOST_BLOCKS = 20
_LONGEST_STEP_MIN = 60


class DayBlockOut(BaseModel):
    """A block of the day: see `core.coach.day.DayBlock`."""

    kind: Group
    title: str
    about: str
    minutes: float
    rest_minutes: float
    all_minutes: float
    weight: float
    span: str
    reason: str
    facts: list[str]
    exercise: ExerciseOut

    @classmethod
    def of(cls, block: DayBlock, known: PlayerFacts) -> "DayBlockOut":
        """A block as the API gives it."""
        return cls(
            kind=block.kind,
            title=block.title,
            about=block.about,
            minutes=block.minutes,
            rest_minutes=block.rest_minutes,
            all_minutes=block.all_minutes,
            weight=round(block.weight, 3),
            span=span_words(block, known.bare.name),
            reason=block.reason,
            facts=list(block.facts),
            exercise=ExerciseOut.of(block.setting),
        )


class WeekDayOut(BaseModel):
    """A day of the weeks about today, and what it was, is or will be."""

    day: date
    kind: DayKind
    words: str


class PlaceLine(BaseModel):
    """Where a programme is, in a line."""

    key: str
    title: str
    words: str


class TodayOut(BaseModel):
    """The plan of the day, and what a session that plays it is called. `said` is false while the
    player has said nothing of themselves; `load` is how the load stands, `hurts` whether something
    does, and `days` the days about today."""

    title: str
    kind: SessionKind
    day: date
    headline: str
    summary: str
    minutes: int
    lips: Lips
    quiet: bool
    takes_minutes: float
    blocks: list[DayBlockOut]
    warnings: list[str]
    load: str
    programmes: list[PlaceLine]
    hurts: bool
    said: bool
    days: list[WeekDayOut]

    @classmethod
    def of(cls, plan: DayPlan, known: PlayerFacts, said: bool) -> "TodayOut":
        """The day as the API gives it."""
        return cls(
            title=TITLE,
            kind=SessionKind.PLAN,
            day=plan.day,
            headline=plan.headline,
            summary=plan.summary,
            minutes=plan.asked.minutes,
            lips=plan.asked.lips,
            quiet=plan.asked.quiet,
            takes_minutes=plan.minutes,
            blocks=[DayBlockOut.of(block, known) for block in plan.blocks],
            warnings=list(plan.warnings),
            load=load_words(known.load),
            programmes=[
                PlaceLine(key=place.programme.key, title=place.programme.title, words=place.words)
                for place in known.places
            ],
            hurts=known.history.hurting() is not None,
            said=said,
            days=[
                WeekDayOut(day=day.day, kind=day.kind, words=day.kind.words)
                for day in days_about(known, kind_of_plan(block.kind for block in plan.blocks))
            ],
        )


class PlanRequestIn(Body):
    """What the plan of the day is asked for."""

    minutes: Annotated[Whole, Field(ge=SHORTEST_MIN, le=LONGEST_MIN)]
    lips: Lips
    quiet: Flag


class ChangeKind(StrEnum):
    """What a player may do to a block of the day."""

    MOVE = "move"
    SWAP = "swap"
    DROP = "drop"
    LENGTHEN = "lengthen"


class ChangeIn(Body):
    """A change of the day's plan: of which block, where it goes to (`move`), and by how many
    minutes it gets longer (`lengthen`)."""

    change: ChangeKind
    block: Annotated[Whole, Field(ge=0, lt=_MOST_BLOCKS)]
    to: Annotated[Whole, Field(ge=0, lt=_MOST_BLOCKS)] = 0
    by_min: Annotated[Number, Field(ge=-_LONGEST_STEP_MIN, le=_LONGEST_STEP_MIN)] = 0
