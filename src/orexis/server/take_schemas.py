"""What the API says of takes: verdicts, marks, tone, measures and ribbons."""

from typing import Any

import numpy as np
from pydantic import AwareDatetime, BaseModel
from sqlalchemy.orm import Session

from orexis.core.coaching import words
from orexis.core.coaching.comparison import worth_comparing
from orexis.core.coaching.ear import Agreement, Heard, Rating
from orexis.core.coaching.gate import GateLevel, Rule, Verdict
from orexis.core.coaching.marks import Mark, marks
from orexis.core.coaching.words import measure_lines, tone_sentence
from orexis.core.exercises.longtone import LongTone
from orexis.core.horn.instruments import INSTRUMENTS
from orexis.core.horn.notation import Notation, NoteView
from orexis.core.horn.pitch import cents_between
from orexis.core.horn.setup import Horn, Setup
from orexis.core.listening.events import Events
from orexis.core.listening.frames import HOP_S, Frames
from orexis.core.listening.tone import Baseline
from orexis.formats.analysis import rounded
from orexis.formats.analysis_reading import events_of
from orexis.server.schemas import LongTonePlan, Numbers, Source
from orexis.store import takes as kept_takes
from orexis.store.models import Pin, Recording, Take
from orexis.store.pins import pins_of
from orexis.store.players import notation_of
from orexis.store.takes import measures_of, verdict_of


class RuleOut(BaseModel):
    """One rule of the gate with its number, in figures and in words."""

    rule: str
    measured: float
    limit: float
    passed: bool
    words: str
    unit: str
    limit_words: str


class VerdictOut(BaseModel):
    """The gate's verdict, and the player's own where it was overruled."""

    passed: bool
    headline: str
    change: str
    rules: list[RuleOut]
    overruled_passed: bool | None
    stands: bool

    @classmethod
    def of(cls, verdict: Verdict, said: words.Said, overruled: bool | None) -> "VerdictOut":
        """The verdict as the API gives it; `stands` is what counts in the end."""
        rules = []
        for result in verdict.results:
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
                )
            )
        return cls(
            passed=verdict.passed,
            headline=said.headline,
            change=said.change,
            rules=rules,
            overruled_passed=overruled,
            stands=verdict.passed if overruled is None else overruled,
        )


class MarkOut(BaseModel):
    """Something to point at on the ribbon: seconds into the take, cents from the note."""

    at_s: float
    cents: float
    words: str

    @classmethod
    def of(cls, mark: Mark) -> "MarkOut":
        """The mark as the API gives it."""
        return cls(at_s=round(mark.at_s, 2), cents=round(mark.cents, 1), words=mark.words)


class PinOut(BaseModel):
    """A spot to come back to, and why."""

    id: int
    at_s: float
    words: str

    @classmethod
    def of(cls, pin: Pin) -> "PinOut":
        """The pin as the API gives it."""
        return cls(id=pin.id, at_s=pin.at_s, words=pin.words)


class PinIn(BaseModel):
    """A new pin."""

    at_s: float
    words: str = ""


class OtherTake(BaseModel):
    """Another take of the same exercise that is worth comparing with, and which it is."""

    id: str
    which: str


class RatingOut(BaseModel):
    """What the player's ear said of a take, and whether the gate said the same."""

    rating: Rating
    word: str
    agrees: bool

    @classmethod
    def of(cls, take: Take) -> "RatingOut | None":
        """A take's rating, if it has one."""
        if take.rating is None:
            return None
        heard = Heard(Rating(take.rating), take.passed)
        return cls(rating=heard.rating, word=heard.rating.word, agrees=heard.agrees)


class TakeOut(BaseModel):
    """A take in a list, and what a verdict is told with."""

    id: str
    started_at: AwareDatetime
    source: Source
    exercise: str
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
    def of(cls, take: Take) -> "TakeOut":
        """The take as the API gives it, in its player's notation."""
        notation = notation_for(take)
        verdict = verdict_of(take)
        said = words.say(verdict, take.played_midi, take.asked_midi, notation)
        return cls(
            id=take.id,
            started_at=take.started_at,
            source="microphone" if take.source == "microphone" else "stand-in",
            exercise="Long tone",
            asked_name=notation.name(take.asked_midi),
            played_name=notation.name(take.played_midi),
            asked_midi=take.asked_midi,
            asked_hold_s=take.asked_hold_s,
            gate_level=GateLevel(take.gate_level),
            duration_s=round(take.duration_s, 2),
            note_start_s=round(take.note_start_s, 2),
            note_end_s=round(take.note_end_s, 2),
            first_frame=take.first_frame,
            verdict=VerdictOut.of(verdict, said, take.overruled_passed),
            rating=RatingOut.of(take),
        )


class ToneOut(BaseModel):
    """A take's tone against the player's own: the word for it, how like the last take that
    passed it is (0 to 100), and a sentence. Without a word too little is known."""

    word: str | None
    match: int | None
    sentence: str

    @classmethod
    def of(cls, session: Session, take: Take) -> "ToneOut":
        """A take's tone, against what the takes that passed before it taught."""
        passed = kept_takes.passed_before(session, take)
        baseline = Baseline([kept_takes.tone_of(one) for one in passed])
        tone = kept_takes.tone_of(take)
        verdict = baseline.judge(tone)
        match = baseline.match(tone, kept_takes.tone_of(passed[0])) if passed else None
        return cls(
            word=verdict and verdict.word.value,
            match=None if match is None else round(match),
            sentence=tone_sentence(verdict, match, baseline.count),
        )


class JudgedTake(TakeOut):
    """A take as it is shown after it was played: with marks and its tone."""

    marks: list[MarkOut]
    tone: ToneOut

    @classmethod
    def judged(cls, session: Session, take: Take) -> "JudgedTake":
        """The take as the API gives it, in its player's notation."""
        reference = take.asked_midi + take.target_cents / 100
        found = marks(heard_in(session, take), reference, notation_for(take).name, take.a4_hz)
        return cls(
            **TakeOut.of(take).model_dump(),
            marks=[MarkOut.of(mark) for mark in found],
            tone=ToneOut.of(session, take),
        )


class RibbonFrames(BaseModel):
    """Frames as the ribbon draws them: cents from the note asked for, level, harmonicity."""

    first: int
    hop_s: float
    cents: Numbers
    level_db: Numbers
    harmonicity_db: Numbers

    @classmethod
    def of(cls, frames: Frames, target_hz: float) -> "RibbonFrames":
        """Live frames against a target."""
        return cls(
            first=frames.first,
            hop_s=HOP_S,
            cents=rounded(cents_between(frames.f0_hz, target_hz), 1),
            level_db=rounded(frames.level_db, 1),
            harmonicity_db=rounded(frames.harmonicity_db, 1),
        )

    @classmethod
    def kept(cls, frames: dict[str, Any], target_hz: float) -> "RibbonFrames":
        """Frames of an analysis document against a target."""
        f0_hz = np.array(frames["f0_hz"], dtype=np.float64)
        return cls(
            first=0,
            hop_s=HOP_S,
            cents=rounded(cents_between(f0_hz, target_hz), 1),
            level_db=frames["level_db"],
            harmonicity_db=frames["harmonicity_db"],
        )


class MeasureOut(BaseModel):
    """One measure with its unit and what it means."""

    label: str
    words: str
    unit: str
    meaning: str


class TakeDetail(JudgedTake):
    """A take's page: the plan it was played to, its ribbon and all its measures, and the words
    it can be rated with, worst first."""

    plan: LongTonePlan
    frames: RibbonFrames
    measures: list[MeasureOut]
    rating_words: list[str]
    pins: list[PinOut]
    others: list[OtherTake]

    @classmethod
    def with_frames(cls, session: Session, take: Take) -> "TakeDetail":
        """The take with all that is kept of it."""
        exercise = exercise_of(take)
        frames = RibbonFrames.kept(kept_takes.frames_of(session, take.id), exercise.target_hz)
        cents = np.array(frames.cents, dtype=np.float64)
        note = slice(round(take.note_start_s / HOP_S), round(take.note_end_s / HOP_S))
        lines = measure_lines(measures_of(take), take.harmonicity_db, cents[note])
        centre = next(r for r in verdict_of(take).results if r.rule is Rule.CENTRE)
        return cls(
            **JudgedTake.judged(session, take).model_dump(),
            plan=LongTonePlan.of(exercise, notation_for(take), centre.limit),
            frames=frames,
            measures=[
                MeasureOut(label=line.label, words=line.words, unit=line.unit, meaning=line.meaning)
                for line in lines
            ],
            rating_words=[rating.word for rating in Rating],
            pins=[PinOut.of(pin) for pin in pins_of(session, take)],
            others=[
                OtherTake(id=other.id, which=which)
                for which, other in worth_comparing(
                    take,
                    kept_takes.alike(session, take),
                    day=lambda one: one.started_at.astimezone().date(),
                    verdict=verdict_of,
                )
            ],
        )


class Overrule(BaseModel):
    """The player's own verdict; null takes it back."""

    passed: bool | None


class RatingIn(BaseModel):
    """What the player's ear says of a take, 0 (rough) to 3 (just right)."""

    rating: Rating


class EarOut(BaseModel):
    """How often the player's ear and the gate agree, in numbers and in a sentence."""

    rated: int
    agreed: int
    too_kind: int
    too_harsh: int
    words: str

    @classmethod
    def of(cls, agreement: Agreement) -> "EarOut":
        """The agreement as the API gives it."""
        return cls(
            rated=agreement.rated,
            agreed=agreement.agreed,
            too_kind=agreement.too_kind,
            too_harsh=agreement.too_harsh,
            words=agreement.words,
        )


def exercise_of(take: Take) -> LongTone:
    """The exercise a take was played to, at the pitch that was asked for then."""
    horn = Horn(INSTRUMENTS[take.instrument_key], Setup(a4_hz=take.a4_hz))
    return LongTone(horn, take.asked_midi, take.asked_hold_s, take.target_cents)


def heard_in(session: Session, take: Take) -> Events:
    """All that was heard in a take; of an old one only its note is known."""
    document = kept_takes.events_of(session, take.id)
    return Events((kept_takes.note_of(take),)) if document is None else events_of(document)


def notation_for(take: Take | Recording) -> Notation:
    """The player's notation, or the usual one of a horn they have since changed from."""
    if take.player.instrument_key == take.instrument_key:
        return notation_of(take.player)
    instrument = INSTRUMENTS[take.instrument_key]
    return instrument.notation(NoteView(take.player.view), instrument.readings[0].clef)
