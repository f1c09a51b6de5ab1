"""What the API says and accepts, as Pydantic models, and how they are made from the core."""

from typing import Annotated, Literal

import numpy as np
from pydantic import AwareDatetime, BaseModel, Field

from orexis.core.coaching import words
from orexis.core.coaching.ear import Agreement, Heard, Rating
from orexis.core.coaching.gate import GateLevel, Rule, Verdict
from orexis.core.exercises.longtone import (
    HOLD_S,
    LONGEST_HOLD_S,
    SHORTEST_HOLD_S,
    LongTone,
)
from orexis.core.horn.instruments import INSTRUMENTS, Instrument
from orexis.core.horn.notation import Clef, Notation, NoteView
from orexis.core.horn.pitch import A4_HZ, cents_between
from orexis.core.horn.setup import Horn, Setup
from orexis.core.listening.drone import HIGHEST_DRONE_HZ, LOWEST_DRONE_HZ
from orexis.core.listening.frames import HOP_S, Frames
from orexis.formats.analysis import rounded
from orexis.store.models import Player, Take
from orexis.store.players import PlayerDetails, instrument_of, notation_of
from orexis.store.takes import measures_of, verdict_of

Source = Literal["microphone", "stand-in"]
HoldSeconds = Annotated[float, Field(ge=SHORTEST_HOLD_S, le=LONGEST_HOLD_S)]
SessionId = Annotated[str, Field(pattern="^[0-9a-f]{32}$")]
Numbers = list[float | None]


class InstrumentOut(BaseModel):
    """An instrument to choose."""

    key: str
    name: str
    family: str
    clefs: list[Clef]

    @classmethod
    def of(cls, instrument: Instrument) -> "InstrumentOut":
        """The instrument as the API gives it."""
        return cls(
            key=instrument.key,
            name=instrument.name,
            family=instrument.family,
            clefs=[reading.clef for reading in instrument.readings],
        )


class PlayerIn(BaseModel):
    """What a player says of themselves."""

    name: str
    instrument_key: str
    view: NoteView = NoteView.WRITTEN
    clef: Clef = Clef.TREBLE
    a4_hz: float = A4_HZ
    gate_level: GateLevel = GateLevel.NORMAL

    def details(self) -> PlayerDetails:
        """The same for the store."""
        return PlayerDetails(
            self.name, self.instrument_key, self.view, self.clef, self.a4_hz, self.gate_level
        )


class PlayerOut(PlayerIn):
    """A player, with what the views need to show them."""

    id: int
    instrument_name: str
    start_midi: int

    @classmethod
    def of(cls, player: Player) -> "PlayerOut":
        """The player as the API gives them."""
        return cls(
            id=player.id,
            name=player.name,
            instrument_key=player.instrument_key,
            view=NoteView(player.view),
            clef=Clef(player.clef),
            a4_hz=player.a4_hz,
            gate_level=GateLevel(player.gate_level),
            instrument_name=instrument_of(player).name,
            start_midi=instrument_of(player).start_midi,
        )


class NearbySlotOut(BaseModel):
    """A slot of the length in hand: its note, and where it sounds from the note asked for."""

    name: str
    cents: float
    asked: bool


class LongTonePlan(BaseModel):
    """A long tone, ready to be played and drawn."""

    midi: int
    name: str
    sounding_name: str
    target_hz: float
    hold_s: float
    hand: str
    cue: str
    valves: list[int]
    valve_count: int
    thumb: bool
    position: int | None
    triggers: list[str]
    slide_share: float | None
    slide_marks: list[float]
    slots: list[NearbySlotOut]
    limit_cents: float
    lowest_midi: int
    highest_midi: int

    @classmethod
    def of(cls, exercise: LongTone, notation: Notation, limit_cents: float) -> "LongTonePlan":
        """The exercise for a player who names notes in `notation`; the gate's centre limit."""
        way = exercise.way
        length = way and way.length
        return cls(
            midi=exercise.midi,
            name=notation.name(exercise.midi),
            sounding_name=Notation(notation.reading, NoteView.SOUNDING).name(exercise.midi),
            target_hz=round(exercise.target_hz, 3),
            hold_s=exercise.hold_s,
            hand=exercise.hand,
            cue=exercise.cue,
            valves=list(length.valves) if length else [],
            valve_count=length.valve_count if length else 0,
            thumb=length.thumb if length else False,
            position=length.position if length else None,
            triggers=list(length.triggers) if length else [],
            slide_share=exercise.slide_share,
            slide_marks=list(exercise.slide_marks),
            slots=[
                NearbySlotOut(
                    name=notation.name(slot.midi),
                    cents=round(slot.cents, 1),
                    asked=slot.midi == exercise.midi,
                )
                for slot in exercise.nearby_slots
            ],
            limit_cents=limit_cents,
            lowest_midi=exercise.instrument.lowest_midi,
            highest_midi=exercise.instrument.highest_midi,
        )


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
    marks: list[MarkOut]

    @classmethod
    def of(cls, take: Take) -> "TakeOut":
        """The take as the API gives it, in its player's notation."""
        notation = _notation_for(take)
        verdict = verdict_of(take)
        said = words.say(verdict, take.played_midi, take.asked_midi, notation)
        cracked = take.cracked_from_midi
        marks = words.marks(
            measures_of(take),
            take.note_end_s - take.note_start_s,
            None if cracked is None else notation.name(cracked),
        )
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
            marks=[
                MarkOut(
                    at_s=round(take.note_start_s + mark.at_s, 2),
                    cents=round(mark.cents, 1),
                    words=mark.words,
                )
                for mark in marks
            ],
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


class MeasureOut(BaseModel):
    """One measure with its unit and what it means."""

    label: str
    words: str
    unit: str
    meaning: str


class TakeDetail(TakeOut):
    """A take's page: the plan it was played to, its ribbon and all its measures, and the words
    it can be rated with, worst first."""

    plan: LongTonePlan
    frames: RibbonFrames
    measures: list[MeasureOut]
    rating_words: list[str]

    @classmethod
    def with_frames(cls, take: Take, kept: dict[str, Numbers]) -> "TakeDetail":
        """The take with its kept frames (the analysis document's `frames`)."""
        exercise = exercise_of(take)
        f0_hz = np.array(kept["f0_hz"], dtype=np.float64)
        lines = words.measure_lines(measures_of(take), take.harmonicity_db)
        centre = next(r for r in verdict_of(take).results if r.rule is Rule.CENTRE)
        return cls(
            **TakeOut.of(take).model_dump(),
            plan=LongTonePlan.of(exercise, _notation_for(take), centre.limit),
            frames=RibbonFrames(
                first=0,
                hop_s=HOP_S,
                cents=rounded(cents_between(f0_hz, exercise.target_hz), 1),
                level_db=kept["level_db"],
                harmonicity_db=kept["harmonicity_db"],
            ),
            measures=[
                MeasureOut(label=line.label, words=line.words, unit=line.unit, meaning=line.meaning)
                for line in lines
            ],
            rating_words=[rating.word for rating in Rating],
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


class Hello(BaseModel):
    """The first message on the live socket.

    `sample_rate` in Hz; `drone_hz` is a tone the application itself is playing; `started_at` is
    when the browser's audio clock counted sample 0 of this session; `oldest_seq` is the oldest
    chunk the browser still holds.
    """

    type: Literal["hello"]
    session: SessionId
    player_id: int
    midi: int
    hold_s: HoldSeconds = HOLD_S
    source: Source
    sample_rate: Annotated[int, Field(ge=8000, le=192_000)]
    drone_hz: Annotated[float, Field(ge=LOWEST_DRONE_HZ, le=HIGHEST_DRONE_HZ)] | None = None
    started_at: AwareDatetime
    oldest_seq: Annotated[int, Field(ge=0)] = 0


def exercise_of(take: Take) -> LongTone:
    """The exercise a take was played to, at the pitch that was asked for then."""
    horn = Horn(INSTRUMENTS[take.instrument_key], Setup(a4_hz=take.a4_hz))
    return LongTone(horn, take.asked_midi, take.asked_hold_s, take.target_cents)


def _notation_for(take: Take) -> Notation:
    """The player's notation, or the usual one of a horn they have since changed from."""
    if take.player.instrument_key == take.instrument_key:
        return notation_of(take.player)
    instrument = INSTRUMENTS[take.instrument_key]
    return instrument.notation(NoteView(take.player.view), instrument.readings[0].clef)
