"""Takes: kept as they are played, listed, overruled, deleted and brought back."""

import json
import uuid
import zlib
from dataclasses import asdict, dataclass
from datetime import UTC, datetime, timedelta
from typing import Any

from sqlalchemy import delete, select
from sqlalchemy.orm import Session, joinedload

from orexis.core.coaching.ear import Heard, Rating
from orexis.core.coaching.gate import Rule, RuleResult, Verdict
from orexis.core.coaching.stand import Repetition
from orexis.core.exercises.longtone import LONG_TONE, LongTone
from orexis.core.listening.frames import HOP_S
from orexis.core.listening.measures import NoteMeasures, Shape, Vibrato
from orexis.store.models import Player, Take, TakeFrames, TakeSound

KEPT_AFTER_DELETION = timedelta(days=7)


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
        passed=repetition.verdict.passed,
        target_cents=exercise.target_cents,
        length_name=exercise.way.length.name if exercise.way else None,
        cracked_from_midi=note.cracked_from_midi,
        rise_s=measures.rise_s,
        shape=measures.shape,
    )
    session.add(take)
    session.flush()
    packed = zlib.compress(json.dumps(frames, separators=(",", ":")).encode())
    session.add_all(
        [TakeSound(take_id=take.id, flac=flac), TakeFrames(take_id=take.id, packed=packed)]
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


def heard_takes(session: Session, player_id: int) -> list[Heard]:
    """What a player's ear and the gate said of each take that was rated, newest first."""
    rows = session.execute(
        select(Take.rating, Take.passed)
        .where(Take.player_id == player_id, Take.rating.is_not(None), Take.deleted_at.is_(None))
        .order_by(Take.started_at.desc())
    )
    return [Heard(Rating(rating), passed) for rating, passed in rows if rating is not None]


def verdict_of(take: Take) -> Verdict:
    """The verdict as it was given."""
    return Verdict(
        tuple(
            RuleResult(Rule(kept["rule"]), kept["measured"], kept["limit"], kept["passed"])
            for kept in take.rule_results
        )
    )


def find_take(session: Session, take_id: str) -> Take | None:
    """A take that has not been deleted, with its player."""
    take = session.get(Take, take_id, options=[joinedload(Take.player)])
    return None if take is None or take.deleted_at is not None else take


def newest_takes(
    session: Session, player_id: int, count: int, before: datetime | None = None
) -> list[Take]:
    """A player's takes, newest first, at most `count`, all from before a time if given."""
    query = (
        select(Take)
        .where(Take.player_id == player_id, Take.deleted_at.is_(None))
        .order_by(Take.started_at.desc(), Take.first_frame.desc())
        .limit(count)
        .options(joinedload(Take.player))
    )
    if before is not None:
        query = query.where(Take.started_at < before)
    return list(session.scalars(query))


def sound_of(session: Session, take_id: str) -> bytes:
    """A take's FLAC file."""
    return session.get_one(TakeSound, take_id).flac


def frames_of(session: Session, take_id: str) -> dict[str, Any]:
    """A take's frames, as in the analysis document."""
    frames: dict[str, Any] = json.loads(
        zlib.decompress(session.get_one(TakeFrames, take_id).packed)
    )
    return frames


def delete_take(take: Take) -> None:
    """Takes it off the record; `restore_take` brings it back for seven days."""
    take.deleted_at = datetime.now(UTC)


def restore_take(session: Session, take_id: str) -> Take | None:
    """Undoes a deletion; `None` when the take is gone for good."""
    take = session.get(Take, take_id, options=[joinedload(Take.player)])
    if take is not None:
        take.deleted_at = None
    return take


def purge_deleted(session: Session, now: datetime) -> None:
    """Removes for good what was deleted more than seven days ago."""
    session.execute(delete(Take).where(Take.deleted_at < now - KEPT_AFTER_DELETION))
