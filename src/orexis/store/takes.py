"""Takes: kept as they are played, and read back as they were judged."""

import uuid
from dataclasses import asdict, dataclass, replace
from datetime import datetime
from typing import Any

from sqlalchemy import ColumnElement, func, select
from sqlalchemy.orm import Session, joinedload

from orexis.core.exercises.longtone import LONG_TONE, LongTone
from orexis.core.horn.pitch import hz_from_midi
from orexis.core.judging.ear import Rated, Rating
from orexis.core.judging.gate import Rule, RuleResult, Verdict
from orexis.core.listening.notes.events import Note
from orexis.core.listening.notes.measures import NoteMeasures, Shape, Vibrato
from orexis.core.listening.notes.tone import Tone
from orexis.core.listening.tracking.frames import HOP_S
from orexis.core.session.stand import Repetition
from orexis.store.models import Player, Take, TakeEvents, TakeFrames, TakeSound
from orexis.store.packed import pack

_LEARNT_FROM = 300


@dataclass(frozen=True, slots=True)
class Circumstances:
    """When, from where and under which gate a repetition was played."""

    player: Player
    session_id: str
    started_at: datetime
    source: str
    gate_level: str
    sample_rate: int


def save_repetition(
    session: Session,
    repetition: Repetition,
    exercise: LongTone,
    circumstances: Circumstances,
    flac: bytes,
    frames: dict[str, Any],
    events: dict[str, Any],
) -> Take:
    """Keeps one repetition, or finds it when it was already kept before a restart."""
    known = session.scalar(
        select(Take).where(
            Take.session_id == circumstances.session_id,
            Take.first_frame == repetition.frames.first,
        )
    )
    if known is not None:
        return known
    measures, note = repetition.measures, repetition.note
    vibrato = measures.vibrato
    origin = repetition.frames.first
    take = Take(
        id=uuid.uuid4().hex,
        player_id=circumstances.player.id,
        session_id=circumstances.session_id,
        first_frame=origin,
        started_at=circumstances.started_at,
        source=circumstances.source,
        instrument_key=exercise.instrument.key,
        exercise_key=LONG_TONE,
        asked_midi=exercise.midi,
        asked_hold_s=exercise.hold_s,
        a4_hz=exercise.a4_hz,
        gate_level=circumstances.gate_level,
        sample_rate=circumstances.sample_rate,
        duration_s=len(repetition.frames) * HOP_S,
        note_start_s=(note.first - origin) * HOP_S,
        note_end_s=(note.last - origin) * HOP_S,
        played_midi=note.midi,
        centre_cents=measures.centre_cents,
        spread_cents=measures.spread_cents,
        drift_cents_per_s=measures.drift_cents_per_s,
        scoop_cents=measures.scoop_cents,
        settle_s=measures.settle_s,
        sag_cents=measures.sag_cents,
        hold_s=measures.hold_s,
        vibrato_rate_hz=vibrato.rate_hz if vibrato else None,
        vibrato_extent_cents=vibrato.extent_cents if vibrato else None,
        level_db=measures.level_db,
        level_change_db=measures.level_change_db,
        harmonicity_db=note.harmonicity_db,
        brightness=note.brightness,
        rule_results=[asdict(result) for result in repetition.verdict.results],
        gate_passed=repetition.verdict.passed,
        target_cents=exercise.target_cents,
        length_name=exercise.way.length.name if exercise.way else None,
        cracked_from_midi=note.cracked_from_midi,
        rise_s=measures.rise_s,
        shape=measures.shape,
    )
    session.add(take)
    session.flush()
    session.add_all(
        [
            TakeSound(take_id=take.id, flac=flac),
            TakeFrames(take_id=take.id, packed=pack(frames)),
            TakeEvents(take_id=take.id, packed=pack(events)),
        ]
    )
    return take


def measures_of(take: Take) -> NoteMeasures:
    """The measures as they were taken; centre against the note asked for."""
    vibrato = None
    if take.vibrato_rate_hz is not None and take.vibrato_extent_cents is not None:
        vibrato = Vibrato(take.vibrato_rate_hz, take.vibrato_extent_cents)
    return NoteMeasures(
        centre_cents=take.centre_cents,
        spread_cents=take.spread_cents,
        drift_cents_per_s=take.drift_cents_per_s,
        scoop_cents=take.scoop_cents,
        settle_s=take.settle_s,
        sag_cents=take.sag_cents,
        hold_s=take.hold_s,
        vibrato=vibrato,
        level_db=take.level_db,
        level_change_db=take.level_change_db,
        rise_s=take.rise_s or 0.0,
        shape=Shape(take.shape) if take.shape else Shape.STEADY,
    )


def rated_takes(session: Session, player_id: int) -> list[Rated]:
    """What a player's ear said of each take that was rated, and whether it passed, newest
    first."""
    rows = session.execute(
        select(Take.rating, Take.passed)
        .where(Take.player_id == player_id, Take.rating.is_not(None), Take.deleted_at.is_(None))
        .order_by(Take.started_at.desc())
    )
    return [Rated(Rating(rating), passed) for rating, passed in rows if rating is not None]


def judged_until(session: Session, session_id: str) -> int:
    """The frame up to which a session's sound has been judged: the end of its last take."""
    ends = session.execute(
        select(Take.first_frame, Take.duration_s).where(Take.session_id == session_id)
    )
    return max((first + round(seconds / HOP_S) for first, seconds in ends), default=0)


def verdict_of(take: Take) -> Verdict:
    """The gate's verdict as it was given."""
    return Verdict(
        tuple(
            RuleResult(
                Rule(kept["rule"]),
                kept["measured"],
                kept["limit"],
                kept["passed"],
                kept.get("untold", ""),
            )
            for kept in take.rule_results
        )
    )


def note_of(take: Take) -> Note:
    """The note a take was judged by; its centre is against the nearest note, as ever."""
    measures = measures_of(take)
    off_cents = 100 * (take.played_midi - take.asked_midi) - take.target_cents
    centre_cents = measures.centre_cents - off_cents
    return Note(
        first=round(take.note_start_s / HOP_S),
        last=round(take.note_end_s / HOP_S),
        f0_hz=hz_from_midi(take.played_midi + centre_cents / 100, take.a4_hz),
        midi=take.played_midi,
        measures=replace(measures, centre_cents=centre_cents),
        harmonicity_db=take.harmonicity_db,
        brightness=take.brightness,
        cracked_from_midi=take.cracked_from_midi,
    )


def tone_of(take: Take) -> Tone:
    """The tone of the note a take was judged by."""
    return Tone(
        take.played_midi,
        take.level_db,
        take.harmonicity_db,
        take.brightness,
        take.centre_cents,
        take.spread_cents,
    )


def passed_before(session: Session, take: Take) -> list[Take]:
    """The takes that passed before one, on the same horn and from the same source, newest
    first: what the player's own tone is learnt from."""
    query = select(Take).where(
        *_passed(take.player_id, take.instrument_key, take.source),
        Take.started_at < take.started_at,
    )
    return list(session.scalars(query.order_by(Take.started_at.desc()).limit(_LEARNT_FROM)))


def passed_tones(session: Session, player: Player, source: str) -> list[Tone]:
    """The tones of the takes that have passed on the horn a player plays now, newest first."""
    query = select(
        Take.played_midi,
        Take.level_db,
        Take.harmonicity_db,
        Take.brightness,
        Take.centre_cents,
        Take.spread_cents,
    ).where(*_passed(player.id, player.instrument_key, source))
    rows = session.execute(query.order_by(Take.started_at.desc()).limit(_LEARNT_FROM))
    return [Tone(*row) for row in rows]


def _passed(player_id: int, instrument_key: str, source: str) -> tuple[ColumnElement[bool], ...]:
    """What holds of a player's takes that passed. The stand-in player's are not their lips."""
    return (
        Take.player_id == player_id,
        Take.instrument_key == instrument_key,
        Take.source == source,
        Take.deleted_at.is_(None),
        Take.passed == True,  # noqa: E712 - a column is compared in the file
    )


def highest_passed(session: Session, player: Player) -> int | None:
    """The highest note (sounding MIDI) that counts as passed on the player's present horn."""
    passed = _passed(player.id, player.instrument_key, "microphone")
    return session.scalar(select(func.max(Take.asked_midi)).where(*passed))


def alike(session: Session, take: Take) -> list[Take]:
    """All takes of the same exercise and note on the same horn, this one too, oldest first."""
    return list(
        session.scalars(
            select(Take)
            .where(
                Take.player_id == take.player_id,
                Take.instrument_key == take.instrument_key,
                Take.exercise_key == take.exercise_key,
                Take.asked_midi == take.asked_midi,
                Take.deleted_at.is_(None),
            )
            .order_by(Take.started_at, Take.first_frame)
            .options(joinedload(Take.player))
        )
    )
