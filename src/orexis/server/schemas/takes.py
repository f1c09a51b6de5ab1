"""What the API says of takes: verdicts, marks, tone, measures and ribbons."""

from typing import Annotated, Literal

from pydantic import AwareDatetime, BaseModel, Field

from orexis.core.judging import words
from orexis.core.judging.ear import Rated, Rating
from orexis.core.judging.gate import GateLevel
from orexis.core.judging.marks import Mark
from orexis.core.judging.ribbon import Ribbon
from orexis.core.listening.tracking.frames import HOP_S
from orexis.formats.analysis import rounded
from orexis.practice.takes import JudgedTake, TakePage, ToldTake, ToldTone
from orexis.server.schemas.base import Body, Flag, Number, Numbers, Read, Text
from orexis.server.schemas.exercises import LongTonePlan
from orexis.store.pins import LONGEST_WORDS


class RuleOut(BaseModel):
    """One rule of the gate with its number, in figures and in words; one that cannot be told
    says why in place of its unit."""

    rule: str
    measured: float
    limit: float
    passed: bool
    words: str
    unit: str
    limit_words: str
    told: bool


class VerdictOut(BaseModel):
    """What counts of a take: `passed` is the gate's verdict, or the player's own where it was
    `overruled`; the rules are the gate's."""

    passed: bool
    overruled: bool
    word: str
    headline: str
    change: str
    rules: list[RuleOut]

    @classmethod
    def of(cls, told: ToldTake) -> "VerdictOut":
        """A take's verdict as the API gives it."""
        rules = []
        for result in told.verdict.results:
            number, unit = words.measured_words(result)
            rules.append(
                RuleOut(
                    rule=result.rule.value,
                    measured=round(result.measured, 2),
                    limit=result.limit,
                    passed=result.passed,
                    words=number,
                    unit=unit,
                    limit_words=words.limit_words(result),
                    told=not result.untold,
                )
            )
        return cls(
            passed=told.take.passed,
            overruled=told.take.overruled_passed is not None,
            word=words.passed_word(told.take.passed),
            headline=told.said.headline,
            change=told.said.change,
            rules=rules,
        )


class MarkOut(BaseModel):
    """Something to point at on the ribbon: seconds into the take, cents from the note, words
    for it where there is room and where there is little, and the side it was off to."""

    at_s: float
    cents: float
    words: str
    short: str
    side: Literal["low", "high"] | None

    @classmethod
    def of(cls, mark: Mark) -> "MarkOut":
        """The mark as the API gives it."""
        return cls(
            at_s=round(mark.at_s, 2),
            cents=round(mark.cents, 1),
            words=mark.words,
            short=mark.short,
            side=mark.side,
        )


class PinOut(Read):
    """A spot to come back to, and why."""

    id: int
    at_s: float
    words: str


class PinIn(Body):
    """A new pin."""

    at_s: Annotated[Number, Field(ge=0)]
    words: Annotated[Text, Field(max_length=LONGEST_WORDS)] = ""


class OtherTake(BaseModel):
    """Another take of the same exercise that is worth comparing with, and which it is."""

    id: str
    which: str


class RatingOut(BaseModel):
    """What the player's ear said of a take, and whether the gate said the same."""

    rating: Rating
    word: str
    agrees: bool
    words: str

    @classmethod
    def of(cls, rated: Rated) -> "RatingOut":
        """A take's rating as the API gives it."""
        return cls(
            rating=rated.rating, word=rated.rating.word, agrees=rated.agrees, words=rated.words
        )


class TakeOut(BaseModel):
    """A take in a list, and what a verdict is told with. `setting` says what was asked, `origin`
    where its sound came from."""

    id: str
    started_at: AwareDatetime
    source: str
    origin: str
    exercise: str
    setting: str
    asked_name: str
    played_name: str
    asked_midi: int
    asked_hold_s: float
    gate_level: GateLevel
    duration_s: float
    note_start_s: float
    note_end_s: float
    first_frame: int
    verdict: VerdictOut
    rating: RatingOut | None

    @classmethod
    def of(cls, told: ToldTake) -> "TakeOut":
        """The take as the API gives it, in its player's notation."""
        take, notation = told.take, told.notation
        return cls(
            id=take.id,
            started_at=take.started_at,
            source=take.source,
            origin=words.origin_words(take.source),
            exercise=told.title,
            setting=f"{told.title}, hold {take.asked_hold_s:g} s, gate {take.gate_level}",
            asked_name=notation.name(take.asked_midi),
            played_name=notation.name(take.played_midi),
            asked_midi=take.asked_midi,
            asked_hold_s=take.asked_hold_s,
            gate_level=GateLevel(take.gate_level),
            duration_s=round(take.duration_s, 2),
            note_start_s=round(take.note_start_s, 2),
            note_end_s=round(take.note_end_s, 2),
            first_frame=take.first_frame,
            verdict=VerdictOut.of(told),
            rating=told.rated and RatingOut.of(told.rated),
        )


class ToneOut(BaseModel):
    """A take's tone against the player's own: the word for it, how like the last take that
    passed it is (0 to 100), and a sentence. Without a word too little is known."""

    word: str | None
    match: int | None
    sentence: str

    @classmethod
    def of(cls, tone: ToldTone) -> "ToneOut":
        """A take's tone as the API gives it."""
        return cls(word=tone.word and tone.word.value, match=tone.match, sentence=tone.sentence)


class JudgedTakeOut(TakeOut):
    """A take as it is shown after it was played: with marks and its tone."""

    marks: list[MarkOut]
    tone: ToneOut

    @classmethod
    def judged(cls, judged: JudgedTake) -> "JudgedTakeOut":
        """The take as the API gives it, in its player's notation."""
        return cls(
            **TakeOut.of(judged.told).model_dump(),
            marks=[MarkOut.of(mark) for mark in judged.marks],
            tone=ToneOut.of(judged.tone),
        )


class RibbonFrames(BaseModel):
    """Frames as the ribbon draws them: cents from the note asked for, level, harmonicity."""

    first: int
    hop_s: float
    cents: Numbers
    level_db: Numbers
    harmonicity_db: Numbers

    @classmethod
    def of(cls, ribbon: Ribbon) -> "RibbonFrames":
        """The ribbon as the API gives it."""
        return cls(
            first=ribbon.first,
            hop_s=HOP_S,
            cents=rounded(ribbon.cents, 1),
            level_db=rounded(ribbon.level_db, 1),
            harmonicity_db=rounded(ribbon.harmonicity_db, 1),
        )


class MeasureOut(Read):
    """One measure with its unit and what it means."""

    label: str
    words: str
    unit: str
    meaning: str


class TakeDetail(JudgedTakeOut):
    """A take's page: the plan it was played to, its ribbon and all its measures, and the words
    it can be rated with, worst first."""

    plan: LongTonePlan
    frames: RibbonFrames
    measures: list[MeasureOut]
    rating_words: list[str]
    pins: list[PinOut]
    others: list[OtherTake]

    @classmethod
    def page(cls, page: TakePage) -> "TakeDetail":
        """The take with all that is kept of it."""
        return cls(
            **JudgedTakeOut.judged(page.judged).model_dump(),
            plan=LongTonePlan.of(page.exercise, page.judged.told.notation, page.limit_cents),
            frames=RibbonFrames.of(page.ribbon),
            measures=[MeasureOut.model_validate(line) for line in page.measures],
            rating_words=[rating.word for rating in Rating],
            pins=[PinOut.model_validate(pin) for pin in page.pins],
            others=[OtherTake(id=other.id, which=which) for which, other in page.others],
        )


class Overrule(Body):
    """The player's own verdict; null takes it back."""

    passed: Flag | None


class RatingIn(Body):
    """What the player's ear says of a take, 0 (rough) to 3 (just right)."""

    rating: Rating


class EarOut(Read):
    """How often the player's ear and the gate agree, in numbers and in a sentence."""

    rated: int
    agreed: int
    too_kind: int
    too_harsh: int
    words: str
