"""Fills a data file with the demo scenario.

An amateur band prepares the centenary of the harbour lighthouse. Its players' takes are played
by the stand-in player and heard, judged and kept by the same code as anybody's.
"""

from collections.abc import Iterator
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from multiprocessing import get_context
from zlib import crc32

import numpy as np
from sqlalchemy.orm import Session

from orexis.core.exercises.longtone import LongTone
from orexis.core.horn.instruments import INSTRUMENTS
from orexis.core.horn.notation import Clef, NoteView
from orexis.core.horn.setup import Horn
from orexis.core.horn.ways import slots_beside
from orexis.core.judging.gate import DEFAULT_LIMITS, GateLevel
from orexis.core.session.stand import Repetition, Stand
from orexis.formats.audio import floats_from_pcm, pcm_from_floats
from orexis.practice.takes import keep_repetition
from orexis.standin.performance import perform
from orexis.standin.profiles import PROFILES, Skilled
from orexis.standin.score import ScoreNote
from orexis.standin.tone import timbre_of
from orexis.store.models import Player
from orexis.store.players import PlayerDetails, add_player, all_players
from orexis.store.takes import Circumstances

_RATE = 48_000


@dataclass(frozen=True, slots=True)
class _Habit:
    """How a player practises: who they are, how well they play, their notes (sounding), how long
    they hold them, and on which days."""

    details: PlayerDetails
    notes: tuple[int, ...]
    hold_s: float
    skilled: Skilled
    days_back: tuple[int, ...]


_BAND = (
    _Habit(
        PlayerDetails("Maren", "tenor-horn-eb", NoteView.WRITTEN, Clef.TREBLE),
        (58, 63, 61, 56),
        4.0,
        Skilled.COMING_BACK,
        (12, 9, 6, 4, 3, 1, 0),
    ),
    _Habit(
        PlayerDetails("Jory", "tuba-eb-4v-comp", NoteView.SOUNDING, Clef.BASS),
        (39, 34, 27, 32),
        5.0,
        Skilled.LOW_REGISTER,
        (11, 8, 5, 2, 1),
    ),
    _Habit(
        PlayerDetails("Pia", "cornet-bb", NoteView.WRITTEN, Clef.TREBLE, gate_level=GateLevel.KIND),
        (58, 60, 62, 65),
        2.0,
        Skilled.BEGINNER,
        (7, 6, 3, 2, 0),
    ),
    _Habit(
        PlayerDetails(
            "Osk", "trombone-bass", NoteView.SOUNDING, Clef.BASS, gate_level=GateLevel.STRICT
        ),
        (46, 41, 36, 34),
        6.0,
        Skilled.EXPERIENCED,
        (10, 7, 5, 4, 1, 0),
    ),
)


def fill(session: Session, now: datetime) -> bool:
    """Adds the band and its takes of the last days before `now`; false when they are there."""
    if all_players(session):
        return False
    evenings = [(habit, day) for habit in _BAND for day in habit.days_back]
    # Playing and listening is most of the work, and each evening stands alone.
    with ProcessPoolExecutor(mp_context=get_context("spawn")) as pool:
        heard = pool.map(_hear, *zip(*evenings, strict=True))
        players = {habit.details.name: add_player(session, habit.details) for habit in _BAND}
        for (habit, day), evening in zip(evenings, heard, strict=True):
            at_six = (now - timedelta(days=day)).replace(hour=18, minute=10, second=0)
            at = min(at_six, now) - timedelta(minutes=20)
            player = players[habit.details.name]
            _keep(session, player, evening, _exercise(habit, day), at)
    return True


@dataclass(frozen=True, slots=True)
class _Evening:
    """What was played in one session, and what was heard in it."""

    session_id: str
    pcm: bytes
    repetitions: list[Repetition]


def _hear(habit: _Habit, days_back: int) -> _Evening:
    """Plays one evening's tries and listens to them."""
    random = np.random.default_rng(crc32(f"{habit.details.name} {days_back}".encode()))
    session_id = random.bytes(16).hex()
    exercise = _exercise(habit, days_back)
    timbre = timbre_of(exercise.instrument.fundamental_midi)
    stand = Stand(exercise, DEFAULT_LIMITS[habit.details.gate_level], _RATE)
    pcm = b"".join(
        pcm_from_floats(perform((note,), timbre, _RATE, seed=seed).samples)
        for seed, note in enumerate(_tries(habit, exercise, random), start=days_back * 100)
    )
    heard = stand.feed(floats_from_pcm(pcm))
    return _Evening(session_id, pcm, heard.repetitions + stand.finish().repetitions)


def _exercise(habit: _Habit, days_back: int) -> LongTone:
    """What a player works on that evening."""
    note = habit.notes[days_back % len(habit.notes)]
    return LongTone(Horn(INSTRUMENTS[habit.details.instrument_key]), note, habit.hold_s)


def _keep(
    session: Session,
    player: Player,
    evening: _Evening,
    exercise: LongTone,
    at: datetime,
) -> None:
    """Keeps an evening's takes; it began at a time."""
    hop_bytes = 2 * _RATE // 100
    for repetition in evening.repetitions:
        first, count = repetition.frames.first, len(repetition.frames)
        sound = evening.pcm[first * hop_bytes : (first + count) * hop_bytes]
        started_at = at + timedelta(seconds=first / 100)
        circumstances = Circumstances(
            player, evening.session_id, started_at, "stand-in", player.gate_level, _RATE
        )
        keep_repetition(session, repetition, exercise, circumstances, sound)


def _tries(habit: _Habit, exercise: LongTone, random: np.random.Generator) -> Iterator[ScoreNote]:
    """Three to five tries at a note; one that does not speak at all is no try."""
    profile, start_midi = PROFILES[habit.skilled], exercise.instrument.start_midi
    slots = slots_beside(exercise.horn, exercise.midi)
    played_s = 0.0
    for tries in range(int(random.integers(3, 6))):
        bare = ScoreNote(exercise.midi, habit.hold_s * random.uniform(0.8, 1.3))
        note = profile.note(bare, start_midi, random, played_s=played_s, tries=tries, slots=slots)
        played_s += note.seconds
        yield replace(note, faults=replace(note.faults, missed=False))
