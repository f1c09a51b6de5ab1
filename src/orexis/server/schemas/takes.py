"""What the API says of takes: verdicts, marks, tone, measures and ribbons."""

from collections.abc import Sequence
from typing import Annotated, Literal

from pydantic import AwareDatetime, BaseModel, Field

from orexis.core.exercises.task import Task
from orexis.core.exercises.words import described
from orexis.core.horn.notation import Notation
from orexis.core.judging import words
from orexis.core.judging.aim_words import WORDS, limit_words, number_words
from orexis.core.judging.attempts import AimResult, StepOutcome, Verdict, foremost, outcomes
from orexis.core.judging.ear import Rated, Rating
from orexis.core.judging.holds import SetOfHolds, set_words
from orexis.core.judging.marks import Mark
from orexis.core.judging.ribbon import Ribbon
from orexis.core.judging.standard import Standard
from orexis.core.listening.tracking.frames import HOP_S
from orexis.core.session.timing import Timing, timing_words
from orexis.formats.analysis import rounded
from orexis.practice.takes import JudgedTake, ListedTake, TakePage, TakeTone
from orexis.server.schemas.base import Body, Flag, Number, Numbers, Read, Text, once_called
from orexis.server.schemas.exercises import SheetOut
from orexis.store.bookmarks import LONGEST_WORDS


class RuleOut(BaseModel):
    """How one aim was met, in figures and in words; one that cannot be told says why in place of
    its unit. The `foremost` are read from afar."""

    rule: str
    measured: float
    limit: float
    passed: bool
    words: str
    unit: str
    limit_words: str
    told: bool
    foremost: bool

    @classmethod
    def all_of(cls, results: Sequence[AimResult]) -> "list[RuleOut]":
        """The outcomes of a verdict as the API gives them."""
        large = foremost(results)
        return [cls.of(result, foremost=result in large) for result in results]

    @classmethod
    def of(cls, result: AimResult, *, foremost: bool) -> "RuleOut":
        """The outcome of an aim as the API gives it."""
        number, unit = number_words(result)
        return cls(
            rule=WORDS[result.aim].name,
            measured=round(result.measured, 2),
            limit=result.limit,
            passed=result.passed,
            words=number,
            unit=unit,
            limit_words=limit_words(result),
            told=not result.untold,
            foremost=foremost,
        )


class StepOut(BaseModel):
    """How a step of the score went."""

    step: int
    outcome: StepOutcome

    @classmethod
    def all_of(cls, task: Task, verdict: Verdict) -> "list[StepOut]":
        """How every note that was asked for went."""
        return [
            cls(step=step, outcome=outcome) for step, outcome in outcomes(task, verdict).items()
        ]


class VerdictOut(BaseModel):
    """What counts of a take: `passed` is Orexis's verdict, or the player's own where it was
    `overruled`; the rules are those Orexis judged."""

    passed: bool
    overruled: bool
    word: str
    headline: str
    change: str
    rules: list[RuleOut]
    steps: list[StepOut]

    @classmethod
    def of(cls, told: ListedTake) -> "VerdictOut":
        """A take's verdict as the API gives it."""
        return cls(
            passed=told.take.passed,
            overruled=told.take.overruled_passed is not None,
            word=words.passed_word(told.take.passed),
            headline=told.said.headline,
            change=told.said.change,
            rules=RuleOut.all_of(told.verdict.results),
            steps=StepOut.all_of(told.task, told.verdict),
        )


class MarkOut(BaseModel):
    """Something to point at on the ribbon: seconds into the take, its pitch in cents (100 a MIDI
    number), words for it where there is room and where there is little, the side it was off
    to, and how much it weighs among others."""

    at_s: float
    pitch_cents: float
    words: str
    short: str
    side: Literal["low", "high"] | None
    weight: float

    @classmethod
    def of(cls, mark: Mark) -> "MarkOut":
        """The mark as the API gives it."""
        return cls(
            at_s=round(mark.at_s, 2),
            pitch_cents=round(mark.pitch_cents, 1),
            words=mark.words,
            short=mark.short,
            side=mark.side,
            weight=mark.weight,
        )


class BookmarkOut(Read):
    """A spot to come back to, and why; who said it ("" for the player), and whether they have been
    back."""

    id: int
    at_s: float
    words: str
    said_by: str
    gone_back: bool


class BookmarkIn(Body):
    """A new bookmark."""

    at_s: Annotated[Number, Field(ge=0)]
    words: Annotated[Text, Field(max_length=LONGEST_WORDS)] = ""


class GoneBackIn(Body):
    """Whether a player has been back to a bookmark."""

    gone_back: Flag


class OtherTake(BaseModel):
    """Another sound that is worth comparing with, and which it is."""

    id: str
    which: str


class RatingOut(BaseModel):
    """What the player's ear said of a take, and whether the meter said the same."""

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
    """A take in a list, and what a verdict is told with. `setting` says what was asked, `span`
    names its lowest and highest note (one where they are the same), `origin` says where its sound
    came from, and `sounds_from_s` when in it. `session_id` and `place` say in which session, and
    where in it; `timing` how it lay against the metronome, "" without one."""

    id: str
    session_id: str
    place: str
    timing: str
    started_at: AwareDatetime
    source: str
    origin: str
    exercise: str
    setting: str
    span: list[str]
    standard: Standard = Field(validation_alias=once_called("standard", "gate_level"))
    duration_s: float
    sounds_from_s: float
    first_frame: int
    verdict: VerdictOut
    rating: RatingOut | None

    @classmethod
    def of(cls, told: ListedTake) -> "TakeOut":
        """The take as the API gives it, in its player's notation."""
        take, task = told.take, told.task
        setting = [task.title, task.setting, f"standard {take.standard}"]
        return cls(
            id=take.id,
            session_id=take.session_id,
            place=take.place,
            timing="" if take.timing is None else timing_words(Timing(**take.timing)),
            started_at=take.started_at,
            source=take.source,
            origin=words.origin_words(take.source),
            exercise=task.title,
            setting=", ".join(part for part in setting if part),
            span=[told.notation.name(midi) for midi in told.span_midi],
            standard=Standard(take.standard),
            duration_s=round(take.duration_s, 2),
            sounds_from_s=round(told.sounds_from_s, 2),
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
    def of(cls, tone: TakeTone) -> "ToneOut":
        """A take's tone as the API gives it."""
        return cls(word=tone.word and tone.word.value, match=tone.match, sentence=tone.sentence)


class HoldsOut(BaseModel):
    """How long the notes of a set were held up to a take, in order (s; 0 where one did not speak);
    what the line through them says of the first and of the last, what is usual with this player
    (s), and what it comes to in sentences."""

    held_s: list[float]
    line_from_s: float | None
    line_to_s: float | None
    usual_s: float | None
    words: list[str]

    @classmethod
    def of(cls, holds: SetOfHolds, notation: Notation) -> "HoldsOut":
        """The holds as the API gives them."""
        from_s, to_s = holds.line_s or (None, None)
        return cls(
            held_s=[round(hold.seconds, 2) for hold in holds.holds],
            line_from_s=from_s and round(from_s, 2),
            line_to_s=to_s and round(to_s, 2),
            usual_s=holds.usual_s and round(holds.usual_s, 2),
            words=list(set_words(holds, notation.name)),
        )


class JudgedTakeOut(TakeOut):
    """A take as it is shown after it was played: with marks, its tone, and the holds of the set it
    is of, where there are several."""

    marks: list[MarkOut]
    tone: ToneOut
    holds: HoldsOut | None = None

    @classmethod
    def judged(cls, judged: JudgedTake) -> "JudgedTakeOut":
        """The take as the API gives it, in its player's notation."""
        return cls(
            **TakeOut.of(judged.told).model_dump(),
            marks=[MarkOut.of(mark) for mark in judged.marks],
            tone=ToneOut.of(judged.tone),
            holds=judged.holds and HoldsOut.of(judged.holds, judged.told.notation),
        )


class RibbonFrames(BaseModel):
    """Frames as the ribbon draws them: pitch in cents (100 a MIDI number), level, harmonicity."""

    first: int
    hop_s: float
    pitch_cents: Numbers
    level_db: Numbers
    harmonicity_db: Numbers

    @classmethod
    def of(cls, ribbon: Ribbon) -> "RibbonFrames":
        """The ribbon as the API gives it."""
        return cls(
            first=ribbon.first,
            hop_s=HOP_S,
            pitch_cents=rounded(ribbon.pitch_cents, 1),
            level_db=rounded(ribbon.level_db, 1),
            harmonicity_db=rounded(ribbon.harmonicity_db, 1),
        )


class MeasureOut(Read):
    """One measure with its unit and what it means."""

    label: str
    words: str
    unit: str
    meaning: str


class MeasuredNoteOut(BaseModel):
    """A note that was asked for, when it sounded, and its measures; none where nothing did."""

    step: int
    start_s: float | None
    name: str
    spoke: bool
    measures: list[MeasureOut]


class TakeDetail(JudgedTakeOut):
    """A take's page: the exercise it was played to as it was, its ribbon, its notes with all their
    measures, and the words it can be rated with, worst first."""

    sheet: SheetOut
    frames: RibbonFrames
    notes: list[MeasuredNoteOut]
    rating_words: list[str]
    bookmarks: list[BookmarkOut] = Field(validation_alias=once_called("bookmarks", "pins"))
    has_sound: bool
    others: list[OtherTake]

    @classmethod
    def page(cls, page: TakePage) -> "TakeDetail":
        """The take with all that is kept of it."""
        told = page.judged.told
        return cls(
            **JudgedTakeOut.judged(page.judged).model_dump(),
            sheet=SheetOut.of(
                told.task,
                page.sheet,
                page.horn,
                told.notation,
                page.limit_cents,
                page.svg,
                described(told.task.score, told.notation),
            ),
            frames=RibbonFrames.of(page.ribbon),
            notes=[
                MeasuredNoteOut(
                    step=note.row.step,
                    start_s=note.row.start_s,
                    name=told.notation.name(note.row.asked_midi),
                    spoke=note.row.spoke,
                    measures=[MeasureOut.model_validate(line) for line in note.lines],
                )
                for note in page.notes
            ],
            rating_words=[rating.word for rating in Rating],
            bookmarks=[BookmarkOut.model_validate(bookmark) for bookmark in page.bookmarks],
            has_sound=page.has_sound,
            others=[OtherTake(id=other.id, which=which) for which, other in page.others],
        )


class Overrule(Body):
    """The player's own verdict; null takes it back."""

    passed: Flag | None


class RatingIn(Body):
    """What the player's ear says of a take, 0 (rough) to 3 (just right)."""

    rating: Rating


class EarOut(Read):
    """How many takes the player has rated, and how often their ear and the meter agree."""

    rated: int
    words: str
