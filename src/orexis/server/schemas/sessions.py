"""What the API says of a session: what it is made of, where it is, and how it ended."""

from datetime import datetime
from typing import Annotated

from pydantic import BaseModel, Field

from orexis.core.counting import time_words
from orexis.core.exercises.book import FAMILIES
from orexis.core.exercises.own import LONGEST_LINE
from orexis.core.exercises.practised import MOST_VALUES
from orexis.core.exercises.typed import as_typed
from orexis.core.score.pulse import Click
from orexis.core.session.breathing import breath_parts
from orexis.core.session.building import Setting
from orexis.core.session.metronome import Beat
from orexis.core.session.plan import SessionKind
from orexis.core.session.questions import question_of
from orexis.core.session.state import Phase, SessionState, beats_in
from orexis.core.session.telling import exercise_result_words, told, unheard_words
from orexis.practice.plans import OfferedSession
from orexis.practice.summary import ListedSession, Summary
from orexis.server.schemas.base import Body, Read, Text
from orexis.store.models import PracticeSession

LONGEST_NOTE = 2000
_Key = Annotated[Text, Field(max_length=40)]
_Value = Annotated[Text, Field(max_length=LONGEST_LINE)]
Values = Annotated[dict[_Key, _Value], Field(max_length=MOST_VALUES)]


class ExerciseIn(Body):
    """An exercise of a session: a family, its values, and how its attempts follow each other."""

    family: _Key
    values: Values
    way: Values = Field(default_factory=dict)
    why: Annotated[Text, Field(max_length=300)] = ""

    @property
    def setting(self) -> Setting:
        """The same for a plan."""
        return Setting(self.family, dict(self.values), dict(self.way), self.why)


class StretchOut(BaseModel):
    """What goes on from one sample up to another (null: until something happens), and what is said
    in it."""

    phase: Phase
    start: int
    end: int | None
    headline: str


class BeatOut(Read):
    """See `core.session.metronome.Beat`."""

    sample: int
    click: Click
    number: int
    counted_in: bool
    words: str

    @classmethod
    def of(cls, beat: Beat) -> "BeatOut":
        """A beat as the API gives it."""
        return cls.model_validate(beat)


class BlockLine(BaseModel):
    """An exercise of a session: its title, how it went where it is over, and whether it is the
    present one."""

    title: str
    result: str
    now: bool


class QuestionOut(BaseModel):
    """What to ask oneself when it does not work, and where a no leads."""

    key: str
    words: str
    leads_to: str


class RegisterOut(BaseModel):
    """How long one register sounded, in seconds and in words."""

    name: str
    seconds: float
    words: str


class TimelineAttemptOut(Read):
    """An attempt of a session that is over, in seconds from its start."""

    start_s: float
    end_s: float
    good: bool
    take_id: str


class TimelineBlockOut(Read):
    """An exercise of a session that is over, in seconds from its start; whether it is hard on the
    lips, its attempts, and how it went."""

    title: str
    start_s: float
    end_s: float
    works: bool
    attempts: list[TimelineAttemptOut]
    words: str


class SummaryOut(BaseModel):
    """The end of a session: its timeline, what was left out and what waits, in words, and how long
    it sounded, in words and by register."""

    timeline: list[TimelineBlockOut]
    playing: str
    left_out: list[str]
    tomorrow: list[str]
    registers: list[RegisterOut]
    rests: str
    takes: int

    @classmethod
    def of(cls, summary: Summary) -> "SummaryOut":
        """A summary as the API gives it."""
        return cls(
            timeline=[TimelineBlockOut.model_validate(block) for block in summary.timeline],
            playing=summary.playing,
            left_out=list(summary.left_out),
            tomorrow=list(summary.tomorrow),
            registers=[
                RegisterOut(name=register.value, seconds=seconds, words=time_words(seconds))
                for register, seconds in summary.registers
            ],
            rests=summary.rests,
            takes=summary.takes,
        )


class SessionPart(BaseModel):
    """Where a session is. `stretches` are what goes on and what is said in it, `beats` every click
    of the present turn; `hear_hz` is what sounds while it is to be heard. `done` tells that an
    exercise without an end has been played as often as it says. `unheard` says that listening to
    the last attempt failed, "" where it did not. `breathing` are the steps of a breath, in beats
    and words, to be paced by."""

    stretches: list[StretchOut]
    beats: list[BeatOut]
    hear_hz: float | None
    why: str
    unheard: str
    place: str
    whole: str
    name: str
    blocks: list[BlockLine]
    question: QuestionOut | None
    breathing: list["BreathStep"]
    open: bool
    done: bool
    paused: bool
    level: str
    drone_hz: float | None
    ended: str | None

    @classmethod
    def of(cls, state: SessionState, sample: int, hear_hz: float | None) -> "SessionPart":
        """Where a session is at a sample."""
        said = told(state, sample)
        question = question_of(state)
        return cls(
            stretches=[
                StretchOut(
                    phase=stretch.phase,
                    start=stretch.start,
                    end=stretch.end,
                    headline=told(state, max(stretch.start, 0)).headline,
                )
                for stretch in state.stretches
            ],
            beats=[BeatOut.of(beat) for beat in beats_in(state)],
            hear_hz=hear_hz,
            why=said.why,
            unheard=unheard_words(state),
            place=said.place,
            whole=said.whole,
            name=state.at.name,
            blocks=_lines(state),
            question=question
            and QuestionOut(key=question.key, words=question.words, leads_to=question.leads_to),
            breathing=[
                BreathStep.model_validate(breath_part) for breath_part in breath_parts(state)
            ],
            open=state.now.open,
            done=state.done,
            paused=state.paused,
            level=state.level.value,
            drone_hz=state.drone_hz,
            ended=state.ended and state.ended.value,
        )


class BreathStep(Read):
    """A part of a paced breath: how long, what to do, and whether the air goes in."""

    seconds: float
    words: str
    inward: bool


def _lines(state: SessionState) -> list[BlockLine]:
    """Every exercise of the session in order; those that are over say how they went."""
    results = [exercise_result_words(block.result) for block in state.closed]
    return [
        BlockLine(
            title=block.title,
            result=results[place] if place < len(results) else "",
            now=place == state.block and state.ended is None,
        )
        for place, block in enumerate(state.blocks)
    ]


class OfferedOut(BaseModel):
    """A session that is ready: what it is made of in words, about how long it takes, and what is
    left out of it and why."""

    title: str
    kind: SessionKind
    why: str
    exercises: list["ExerciseOut"]
    minutes: int
    left_out: list[str]

    @classmethod
    def of(cls, session: OfferedSession) -> "OfferedOut":
        """A session as the API offers it."""
        return cls(
            title=session.title,
            kind=SessionKind.PLAN,
            why=session.why,
            exercises=[ExerciseOut.of(setting) for setting in session.settings],
            minutes=max(1, round(session.seconds / 60)),
            left_out=list(session.left_out),
        )


class ExerciseOut(BaseModel):
    """An exercise of a session, as `ExerciseIn` takes it, with its title."""

    title: str
    family: str
    values: dict[str, str]
    way: dict[str, str]
    why: str

    @classmethod
    def of(cls, setting: Setting) -> "ExerciseOut":
        """An exercise as the API gives it."""
        return cls(
            title=FAMILIES[setting.family].title,
            family=setting.family,
            values=as_typed(setting.values),
            way=as_typed(setting.way),
            why=setting.why,
        )


class OpenOut(BaseModel):
    """A session that can be gone on with."""

    id: str
    title: str
    kind: SessionKind
    started_at: datetime
    source: str
    sample_rate: int

    @classmethod
    def of(cls, kept: PracticeSession) -> "OpenOut":
        """A session as the API gives it."""
        return cls(
            id=kept.id,
            title=kept.title,
            kind=SessionKind(kept.kind),
            started_at=kept.started_at,
            source=kept.source,
            sample_rate=kept.sample_rate,
        )


class NoteIn(Body):
    """What a player writes to themselves."""

    note: Annotated[Text, Field(max_length=LONGEST_NOTE)]


class HurtOut(BaseModel):
    """When something hurt."""

    at: datetime


class LatencyOut(BaseModel):
    """How long a sound takes out of the loudspeaker and back, how many of its clicks were heard,
    and what that means."""

    seconds: float
    clicks: int
    words: str


class SessionLine(BaseModel):
    """A session in a list: how it ended ("" while it can be gone on with), how each of its
    exercises went, and the notes of the player to themselves."""

    id: str
    title: str
    started_at: datetime
    ended: str
    results: list[str]
    note: str
    has_memo: bool

    @classmethod
    def of(cls, told: ListedSession) -> "SessionLine":
        """A session as the API gives it."""
        return cls(
            id=told.kept.id,
            title=told.kept.title,
            started_at=told.kept.started_at,
            ended=told.kept.ended or "",
            results=list(told.results),
            note=told.kept.note,
            has_memo=told.has_memo,
        )
