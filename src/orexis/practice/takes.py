"""Takes: kept as they are played, and put together again for who wants to read them."""

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy.orm import Session

from orexis.core.exercises.longtone import TITLE, LongTone
from orexis.core.horn.instruments import INSTRUMENTS
from orexis.core.horn.notation import Notation, NoteView
from orexis.core.horn.setup import Horn, Setup
from orexis.core.judging.comparison import worth_comparing
from orexis.core.judging.ear import Rated, Rating
from orexis.core.judging.gate import Rule, Verdict
from orexis.core.judging.marks import Mark, marks
from orexis.core.judging.ribbon import Ribbon, ribbon_of
from orexis.core.judging.words import MeasureLine, Said, measure_lines, say, tone_sentence
from orexis.core.listening.notes.events import Events
from orexis.core.listening.notes.tone import Baseline, ToneWord
from orexis.core.listening.tracking.frames import HOP_S
from orexis.core.session.stand import Repetition
from orexis.formats.analysis import events_document, frames_document
from orexis.formats.analysis_reading import events_of, frames_of
from orexis.formats.audio import flac_from_pcm
from orexis.store import kept, takes
from orexis.store.models import Pin, Player, Take
from orexis.store.pins import pins_of
from orexis.store.players import notation_of
from orexis.store.takes import Circumstances, alike, measures_of, note_of, passed_before, tone_of


@dataclass(frozen=True, slots=True)
class ToldTake:
    """A take as it is told in a list: what was played, how its player names notes, the gate's
    verdict, what is said of it, and what the ear said before."""

    take: Take
    title: str
    notation: Notation
    verdict: Verdict
    said: Said
    rated: Rated | None


@dataclass(frozen=True, slots=True)
class ToldTone:
    """A take's tone against the player's own: the word for it, how like the last take that
    passed it is (0 to 100), and a sentence. Without a word too little is known."""

    word: ToneWord | None
    match: int | None
    sentence: str


@dataclass(frozen=True, slots=True)
class JudgedTake:
    """A take as it is shown after it was played."""

    told: ToldTake
    marks: tuple[Mark, ...]
    tone: ToldTone


@dataclass(frozen=True, slots=True)
class TakePage:
    """All there is to a take: the exercise it was played to and the limit of its centre, its
    ribbon and measures, its pins, and other takes worth comparing, each with which it is."""

    judged: JudgedTake
    exercise: LongTone
    limit_cents: float
    ribbon: Ribbon
    measures: tuple[MeasureLine, ...]
    pins: list[Pin]
    others: list[tuple[str, Take]]


def keep_repetition(
    session: Session,
    repetition: Repetition,
    exercise: LongTone,
    circumstances: Circumstances,
    pcm: bytes,
) -> Take:
    """Keeps one repetition and its sound (16-bit mono PCM), or finds it when it was already
    kept before a restart."""
    return takes.save_repetition(
        session,
        repetition,
        exercise,
        circumstances,
        flac_from_pcm(pcm, circumstances.sample_rate),
        frames_document(repetition.frames),
        events_document(repetition.events),
    )


def newest_takes(
    session: Session, player_id: int, count: int, before: datetime | None = None
) -> list[ToldTake]:
    """A player's takes as they are told, newest first."""
    return [told(take) for take in kept.newest_kept(session, Take, player_id, count, before)]


def told(take: Take) -> ToldTake:
    """A take as it is told in a list."""
    notation = notation_for(take.player, take.instrument_key)
    verdict = takes.verdict_of(take)
    said = say(verdict, take.played_midi, take.asked_midi, notation, take.overruled_passed)
    rated = None if take.rating is None else Rated(Rating(take.rating), take.passed)
    return ToldTake(take, TITLE, notation, verdict, said, rated)


def judged(session: Session, take: Take) -> JudgedTake:
    """A take as it is shown after it was played."""
    mine = told(take)
    reference = take.asked_midi + take.target_cents / 100
    found = marks(_heard_in(session, take), reference, mine.notation.name, take.a4_hz)
    return JudgedTake(mine, found, _tone(session, take))


def take_page(session: Session, take: Take) -> TakePage:
    """All there is to a take."""
    mine = judged(session, take)
    exercise = exercise_of(take)
    ribbon = ribbon_of(frames_of(kept.frames_of(session, take)), exercise.target_hz)
    note = slice(round(take.note_start_s / HOP_S), round(take.note_end_s / HOP_S))
    centre = next(one for one in mine.told.verdict.results if one.rule is Rule.CENTRE)
    return TakePage(
        judged=mine,
        exercise=exercise,
        limit_cents=centre.limit,
        ribbon=ribbon,
        measures=measure_lines(measures_of(take), take.harmonicity_db, ribbon.cents[note]),
        pins=pins_of(session, take),
        others=worth_comparing(
            take,
            alike(session, take),
            day=lambda one: one.started_at.astimezone().date(),
            passed=lambda one: one.passed,
            verdict=takes.verdict_of,
        ),
    )


def exercise_of(take: Take) -> LongTone:
    """The exercise a take was played to, at the pitch that was asked for then."""
    horn = Horn(INSTRUMENTS[take.instrument_key], Setup(a4_hz=take.a4_hz))
    return LongTone(horn, take.asked_midi, take.asked_hold_s, take.target_cents)


def notation_for(player: Player, instrument_key: str) -> Notation:
    """The player's notation, or the usual one of a horn they have since changed from."""
    if player.instrument_key == instrument_key:
        return notation_of(player)
    instrument = INSTRUMENTS[instrument_key]
    return instrument.notation(NoteView(player.view), instrument.readings[0].clef)


def _heard_in(session: Session, take: Take) -> Events:
    """All that was heard in a take; of an old one only its note is known."""
    document = kept.events_of(session, take)
    return Events((note_of(take),)) if document is None else events_of(document)


def _tone(session: Session, take: Take) -> ToldTone:
    """A take's tone, against what the takes that passed before it taught."""
    passed = passed_before(session, take)
    baseline = Baseline([tone_of(one) for one in passed])
    tone = tone_of(take)
    verdict = baseline.judge(tone)
    match = baseline.match(tone, tone_of(passed[0])) if passed else None
    return ToldTone(
        word=None if verdict is None else verdict.word,
        match=None if match is None else round(match),
        sentence=tone_sentence(verdict, match, baseline.count),
    )
