"""Takes: kept as they are played, and read back as they were judged."""

import json
import uuid
from collections.abc import Sequence
from dataclasses import asdict, dataclass, replace
from datetime import datetime
from hashlib import sha256
from typing import Any

from sqlalchemy import ColumnElement, func, or_, select
from sqlalchemy.orm import Session, joinedload

from orexis.core.exercises.task import Task
from orexis.core.horn.pitch import hz_from_midi
from orexis.core.horn.setup import Horn
from orexis.core.judging.ear import Rated, Rating
from orexis.core.judging.matching import Answer
from orexis.core.listening.notes.events import Note
from orexis.core.listening.notes.measures import NoteMeasures, Shape, Vibrato
from orexis.core.listening.notes.tone import TOLD_FROM_S, Tone
from orexis.core.listening.tracking.frames import HOP_S
from orexis.core.session.stand import Attempt
from orexis.core.session.timing import Timing
from orexis.store.models import (
    Player,
    Take,
    TakeEvents,
    TakeFrames,
    TakeNote,
    TakeSound,
    TaskSnapshot,
)
from orexis.store.packed import pack

_LEARNT_FROM = 300


@dataclass(frozen=True, slots=True)
class Circumstances:
    """When, from where, on which horn, by which standard, where in its session and how in time
    an attempt was played."""

    player: Player
    session_id: str
    started_at: datetime
    source: str
    standard: str
    sample_rate: int
    horn: Horn
    place: str = ""
    set_number: int = 0
    timing: Timing | None = None


@dataclass(frozen=True, slots=True)
class TakeDocuments:
    """What is kept of a take besides its rows: its sound as FLAC, and its frames, events, task and
    verdict as documents."""

    flac: bytes
    frames: dict[str, Any]
    events: dict[str, Any]
    task: dict[str, Any]
    verdict: dict[str, Any]


def save_attempt(
    session: Session,
    attempt: Attempt,
    task: Task,
    circumstances: Circumstances,
    documents: TakeDocuments,
) -> Take:
    """Keeps one attempt, or finds it when it was already kept before a restart."""
    known = session.scalar(
        select(Take).where(
            Take.session_id == circumstances.session_id,
            Take.first_frame == attempt.frames.first,
        )
    )
    if known is not None:
        return known
    take = Take(
        id=uuid.uuid4().hex,
        player_id=circumstances.player.id,
        session_id=circumstances.session_id,
        first_frame=attempt.frames.first,
        started_at=circumstances.started_at,
        source=circumstances.source,
        instrument_key=circumstances.horn.instrument.key,
        exercise_key=task.family_key,
        a4_hz=circumstances.horn.setup.a4_hz,
        standard=circumstances.standard,
        sample_rate=circumstances.sample_rate,
        duration_s=len(attempt.frames) * HOP_S,
        sounded_s=round(attempt.events.sounding_frames * HOP_S, 2),
        judged_passed=attempt.verdict.passed,
        task_key=keep_task(session, documents.task),
        verdict=documents.verdict,
        place=circumstances.place,
        set_number=circumstances.set_number,
        timing=None if circumstances.timing is None else asdict(circumstances.timing),
        has_sounds=True,
        has_frames=True,
        has_events=True,
        notes=[
            _row(number, answer, 60 / task.score.bpm)
            for number, answer in enumerate(attempt.answers)
        ],
    )
    session.add(take)
    session.flush()
    session.add_all(
        [
            TakeSound(take_id=take.id, flac=documents.flac),
            TakeFrames(take_id=take.id, packed=pack(documents.frames)),
            TakeEvents(take_id=take.id, packed=pack(documents.events)),
        ]
    )
    return take


def keep_task(session: Session, document: dict[str, Any]) -> str:
    """Keeps a task, once however often it is played; returns its key."""
    key = task_key(document)
    if session.get(TaskSnapshot, key) is None:
        session.add(TaskSnapshot(key=key, document=document))
        session.flush()
    return key


def task_key(document: dict[str, Any]) -> str:
    """The key of a task: the same for two that say the same."""
    said = json.dumps(document, sort_keys=True, ensure_ascii=False)
    return sha256(said.encode()).hexdigest()[:32]


def _row(number: int, answer: Answer, beat_s: float) -> TakeNote:
    """The row of one note that was asked for, at `beat_s` seconds a beat."""
    asked, heard = answer.note, answer.heard
    row = TakeNote(
        number=number,
        step=answer.at.step,
        time=answer.at.time,
        on=asked.on,
        asked_midi=asked.midi,
        asked_s=float(asked.beats) * beat_s,
        target_cents=answer.target_cents,
        length_name=asked.length_name,
        partial=asked.partial,
        spoke=answer.spoke,
    )
    if heard is not None:
        measures = asdict(heard.measures)
        row.played_midi = heard.midi
        row.start_s, row.end_s = heard.start_s, heard.end_s
        row.centre_cents = answer.off_cents
        row.harmonicity_db, row.brightness = heard.harmonicity_db, heard.brightness
        row.cracked_from_midi = heard.cracked_from_midi
        del measures["centre_cents"]
        row.spread_cents, row.level_db = measures.pop("spread_cents"), measures.pop("level_db")
        row.hold_s, row.rise_s = measures.pop("hold_s"), measures.pop("rise_s")
        row.measures = measures
    return row


def measures_of(row: TakeNote) -> NoteMeasures | None:
    """What was measured of a note, its centre against its target; `None` where nothing sounded."""
    if row.measures is None or row.centre_cents is None:
        return None
    kept = dict(row.measures)
    vibrato, shape, within = kept.pop("vibrato", None), kept.pop("shape"), kept.pop("in_slot", None)
    measures = NoteMeasures(
        centre_cents=row.centre_cents,
        spread_cents=row.spread_cents or 0.0,
        level_db=row.level_db or 0.0,
        hold_s=row.hold_s or 0.0,
        rise_s=row.rise_s or 0.0,
        vibrato=vibrato and Vibrato(**vibrato),
        shape=Shape(shape),
        **kept,
    )
    return measures if within is None else replace(measures, in_slot=tuple(within))


def note_of(row: TakeNote, a4_hz: float) -> Note | None:
    """The note that was heard; its centre is against the nearest note, as ever."""
    measures = measures_of(row)
    if measures is None or row.played_midi is None:
        return None
    off_cents = 100 * (row.played_midi - row.asked_midi) - row.target_cents
    centre_cents = measures.centre_cents - off_cents
    return Note(
        first=round((row.start_s or 0.0) / HOP_S),
        last=round((row.end_s or 0.0) / HOP_S),
        f0_hz=hz_from_midi(row.played_midi + centre_cents / 100, a4_hz),
        midi=row.played_midi,
        measures=replace(measures, centre_cents=centre_cents),
        harmonicity_db=row.harmonicity_db or 0.0,
        brightness=row.brightness or 0.0,
        cracked_from_midi=row.cracked_from_midi,
    )


def tone_of(take: Take) -> Tone | None:
    """The tone of the longest note that spoke for long enough to tell it, if one did."""
    told = [row for row in take.notes if row.spoke and row.length_s >= TOLD_FROM_S]
    if not told:
        return None
    return _tone(max(told, key=lambda row: row.length_s))


def _tone(row: TakeNote) -> Tone:
    return Tone(
        row.played_midi or row.asked_midi,
        row.level_db or 0.0,
        row.harmonicity_db or 0.0,
        row.brightness or 0.0,
        row.centre_cents or 0.0,
        row.spread_cents or 0.0,
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


def takes_before(session: Session, take: Take, count: int) -> list[Take]:
    """The takes of the same exercise right before one in its session, newest first."""
    query = (
        select(Take)
        .where(
            Take.session_id == take.session_id,
            Take.exercise_key == take.exercise_key,
            Take.first_frame < take.first_frame,
            Take.deleted_at.is_(None),
        )
        .order_by(Take.first_frame.desc())
        .limit(count)
    )
    return list(session.scalars(query))


def judged_until(session: Session, session_id: str) -> int:
    """The frame up to which a session's sound has been judged: the end of its last take."""
    ends = session.execute(
        select(Take.first_frame, Take.duration_s).where(Take.session_id == session_id)
    )
    return max((first + round(seconds / HOP_S) for first, seconds in ends), default=0)


def softest_level(session: Session, session_id: str) -> float | None:
    """The level in dB of the softest note heard in a session's takes; `None` without one."""
    return session.scalar(
        select(func.min(TakeNote.level_db)).join(Take).where(Take.session_id == session_id)
    )


def passed_tones(
    session: Session, player: Player, source: str, before: Take | None = None
) -> list[Tone]:
    """The tones of the notes that have passed on the horn a player plays now, newest first: what
    their own tone is learnt from. With a take, those before it on the horn it was played on."""
    instrument_key = player.instrument_key if before is None else before.instrument_key
    query = (
        select(TakeNote)
        .join(Take, Take.id == TakeNote.take_id)
        .where(
            *_passed(player.id, instrument_key, source),
            TakeNote.spoke == True,  # noqa: E712 - a column is compared in the file
            TakeNote.end_s - TakeNote.start_s >= TOLD_FROM_S,
        )
    )
    if before is not None:
        query = query.where(Take.started_at < before.started_at)
    newest = query.order_by(Take.started_at.desc(), TakeNote.number.desc()).limit(_LEARNT_FROM)
    return [_tone(row) for row in session.scalars(newest)]


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
    """The highest note (sounding MIDI) that was played on the horn in a take that counts as passed
    on the player's present one."""
    passed = _passed(player.id, player.instrument_key, "microphone")
    # From the highest down, by the index of what was asked, since the first that passed will do.
    theirs = select(Take.id).where(Take.id == TakeNote.take_id, *passed).exists()
    query = (
        select(TakeNote.asked_midi)
        .where(theirs, TakeNote.on == "horn")
        .order_by(TakeNote.asked_midi.desc())
        .limit(1)
    )
    return session.scalar(query)


def alike(session: Session, take: Take) -> list[Take]:
    """The takes of the same exercise and the same notes on the same horn that can be heard, and
    this one, oldest first."""
    heard = select(TakeSound.take_id)
    found = session.scalars(
        select(Take)
        .where(
            Take.player_id == take.player_id,
            Take.instrument_key == take.instrument_key,
            Take.exercise_key == take.exercise_key,
            Take.deleted_at.is_(None),
            or_(Take.id == take.id, Take.id.in_(heard)),
        )
        .order_by(Take.started_at, Take.first_frame)
        .options(joinedload(Take.player))
    )
    asked = _asked(take.notes)
    return [take for take in found if _asked(take.notes) == asked]


def _asked(notes: Sequence[TakeNote]) -> list[int]:
    return [row.asked_midi for row in notes]
