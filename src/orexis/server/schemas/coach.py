"""What the API says of the coach: what a player says of themselves, approaches, programmes,
dates."""

from datetime import date, time
from enum import StrEnum
from typing import Annotated

from pydantic import BaseModel, Field

from orexis.core.coach import finding
from orexis.core.coach.about import (
    LONGEST_MIN,
    MOST_DAYS_A_WEEK,
    MOST_WEEKS_OFF,
    SHORTEST_MIN,
    About,
    Experience,
    Wish,
)
from orexis.core.coach.approaches import Option, Question
from orexis.core.coach.following import Following, Place
from orexis.core.coach.known import Event, EventKind, PlayerFacts
from orexis.core.coach.programmes import Programme
from orexis.core.coach.trial import Outcome, Trial
from orexis.core.session.plan import SessionKind
from orexis.server.schemas.base import Body, Flag, Read, Text, Whole
from orexis.server.schemas.sessions import ExerciseOut
from orexis.store.coaching import LONGEST_EVENT
from orexis.store.models import ComingDate

Midi = Annotated[Whole, Field(ge=0, le=127)]


class AboutIn(Body):
    """What a player says of themselves: see `core.coach.about.About`."""

    experience: Experience
    wish: Wish
    minutes: Annotated[Whole, Field(ge=SHORTEST_MIN, le=LONGEST_MIN)]
    days_a_week: Annotated[Whole, Field(ge=1, le=MOST_DAYS_A_WEEK)]
    low_midi: Midi | None = None
    high_midi: Midi | None = None
    braces: Flag = False
    weeks_off: Annotated[Whole, Field(ge=0, le=MOST_WEEKS_OFF)] = 0
    quiet_from: time | None = None
    quiet_until: time | None = None
    hurts: Flag = False

    def about(self) -> About:
        """The same for the core."""
        return About(
            self.experience,
            self.wish,
            self.minutes,
            self.days_a_week,
            self.low_midi,
            self.high_midi,
            self.braces,
            self.weeks_off,
            self.quiet_from,
            self.quiet_until,
        )


class NoteChoice(BaseModel):
    """A note to choose: sounding, and as the player names it."""

    midi: int
    name: str


class FindingOut(BaseModel):
    """The session that finds a player's range."""

    title: str
    kind: SessionKind
    exercises: list[ExerciseOut]


class AboutOut(BaseModel):
    """What a player has said of themselves and whether they have, the notes there are to choose
    from, and the session that finds their range."""

    experience: Experience
    wish: Wish
    minutes: int
    days_a_week: int
    low_midi: int | None
    high_midi: int | None
    braces: bool
    weeks_off: int
    quiet_from: time | None
    quiet_until: time | None
    said: bool
    notes: list[NoteChoice]
    finding: FindingOut

    @classmethod
    def of(cls, known: PlayerFacts, said: bool) -> "AboutOut":
        """What was said, as the API gives it."""
        about = known.about
        return cls(
            experience=about.experience,
            wish=about.wish,
            minutes=about.minutes,
            days_a_week=about.days_a_week,
            low_midi=about.low_midi,
            high_midi=about.high_midi,
            braces=about.braces,
            weeks_off=about.weeks_off,
            quiet_from=about.quiet_from,
            quiet_until=about.quiet_until,
            said=said,
            notes=[NoteChoice(midi=midi, name=name) for midi, name in known.names],
            finding=FindingOut(
                title=finding.TITLE,
                kind=SessionKind.RANGE,
                exercises=[
                    ExerciseOut.of(setting) for setting in finding.finding_range(known.bare)
                ],
            ),
        )


class OptionOut(Read):
    """One answer to a question of the approaches."""

    key: str
    label: str
    reason: str
    change: str


class TrialOut(BaseModel):
    """What is measured of a question: its two answers, until when, which one is played today, and
    how it stands in words. `better` is the key of the one that works better, "" while none does."""

    first: str
    second: str
    ends: date
    today: str
    words: str
    better: str


class ApproachOut(BaseModel):
    """A question of the approaches, its answers, the one that is chosen, whether a measure can
    decide it, and what is measured."""

    key: str
    words: str
    options: list[OptionOut]
    chosen: str
    measurable: bool
    trial: TrialOut | None

    @classmethod
    def of(
        cls,
        question: Question,
        chosen: str,
        trial: Trial | None,
        outcome: Outcome | None,
        today: date,
    ) -> "ApproachOut":
        """A question as the API gives it."""
        told = None
        if trial is not None and outcome is not None:
            told = TrialOut(
                first=_label(question, trial.first),
                second=_label(question, trial.second),
                ends=trial.ends,
                today=_label(question, trial.option_on(today) or ""),
                words=outcome.words,
                better=outcome.better,
            )
        return cls(
            key=question.key,
            words=question.words,
            options=[OptionOut.model_validate(option) for option in question.options],
            chosen=chosen,
            measurable=bool(question.measured_by),
            trial=told,
        )


def _label(question: Question, key: str) -> str:
    options: list[Option] = [option for option in question.options if option.key == key]
    return options[0].label if options else ""


class OptionIn(Body):
    """One of a question's answers."""

    option: Annotated[Text, Field(max_length=40)]


class StageOut(BaseModel):
    """A stage of a programme."""

    name: str
    words: str


class ProgrammeOut(BaseModel):
    """A programme: its stages, what earns the next one, and where the player is in it (`stage` is
    null where they do not follow it)."""

    key: str
    title: str
    why: str
    earns: str
    rests: str
    caution: str
    stages: list[StageOut]
    stage: int | None
    words: str
    due: bool
    done: bool
    since: date | None
    paused: bool

    @classmethod
    def of(
        cls, programme: Programme, following: Following | None, place: Place | None, base_midi: int
    ) -> "ProgrammeOut":
        """A programme as the API gives it."""
        stages = programme.stages(base_midi) if place is None else place.stages
        return cls(
            key=programme.key,
            title=programme.title,
            why=programme.why,
            earns=programme.earns(),
            rests=programme.rests(),
            caution=programme.caution,
            stages=[StageOut(name=stage.name, words=stage.words) for stage in stages],
            stage=None if place is None else place.stage,
            words="" if place is None else place.words,
            due=place is not None and place.due,
            done=place is not None and place.done,
            since=None if following is None else following.since,
            paused=following is not None and following.paused is not None,
        )


class ProgrammeStep(StrEnum):
    """What a player may do with a programme."""

    BEGIN = "begin"
    PAUSE = "pause"
    GO_ON = "go-on"


class ProgrammeIn(Body):
    """What is done with a programme."""

    step: ProgrammeStep


class DateIn(Body):
    """A date to look ahead to."""

    day: date
    kind: EventKind = EventKind.CONCERT
    words: Annotated[Text, Field(max_length=LONGEST_EVENT)] = ""

    def event(self) -> Event:
        """The same for the core."""
        return Event(self.day, self.kind, " ".join(self.words.split()))


class DateOut(BaseModel):
    """A date that is kept."""

    id: int
    day: date
    kind: EventKind
    words: str

    @classmethod
    def of(cls, row: ComingDate) -> "DateOut":
        """A date as the API gives it."""
        return cls(id=row.id, day=row.day, kind=EventKind(row.kind), words=row.words)
