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

from orexis.core.exercises.book import ONE_NOTE, ONE_NOTE_KEY, find_family, task_of
from orexis.core.exercises.family import Values
from orexis.core.exercises.task import Task
from orexis.core.exercises.writer import Reach, Writer
from orexis.core.horn.instruments import INSTRUMENTS
from orexis.core.horn.notation import Clef, NoteView
from orexis.core.horn.setup import Horn
from orexis.core.horn.ways import slots_beside
from orexis.core.judging.gate import GateLevel
from orexis.core.session.log import Entry
from orexis.core.session.plan import Block, Counts, Follow, Plan, Rung
from orexis.core.session.stand import Attempt, Stand
from orexis.formats.audio import floats_from_pcm, pcm_from_floats
from orexis.practice.kept_sessions import judged_entry, new_session, write_log
from orexis.practice.takes import keep_attempt
from orexis.standin.performance import perform
from orexis.standin.profiles import PROFILES, Skilled
from orexis.standin.reading import as_played, voice_of
from orexis.standin.score import Score, ScoreNote, Siren, only_where_they_show
from orexis.store.models import Player
from orexis.store.players import PlayerDetails, add_player, all_players
from orexis.store.takes import Circumstances

_RATE = 48_000
_TITLE = "After the rehearsal"


@dataclass(frozen=True, slots=True)
class _Also:
    """What else a player practises: a family, what it is set to, and on which days."""

    family: str
    values: Values
    days_back: tuple[int, ...]


@dataclass(frozen=True, slots=True)
class _Habit:
    """How a player practises: who they are, how well they play, the notes (sounding) they hold, for
    how long and on which days, and what they play after that."""

    details: PlayerDetails
    notes: tuple[int, ...]
    hold_s: float
    skilled: Skilled
    days_back: tuple[int, ...]
    also: _Also


_BAND = (
    _Habit(
        PlayerDetails("Maren", "tenor-horn-eb", NoteView.WRITTEN, Clef.TREBLE),
        (58, 63, 61, 56),
        4.0,
        Skilled.COMING_BACK,
        (12, 9, 6, 4, 3, 1, 0),
        _Also("slot-slur", {"slots": 3, "times": 3}, (4, 1, 0)),
    ),
    _Habit(
        PlayerDetails("Jory", "tuba-eb-4v-comp", NoteView.SOUNDING, Clef.BASS),
        (39, 34, 27, 32),
        5.0,
        Skilled.LOW_REGISTER,
        (11, 8, 5, 2, 1),
        _Also("chained-intervals", {}, (5, 1)),
    ),
    _Habit(
        PlayerDetails("Pia", "cornet-bb", NoteView.WRITTEN, Clef.TREBLE, gate_level=GateLevel.KIND),
        (58, 60, 62, 65),
        2.0,
        Skilled.BEGINNER,
        (7, 6, 3, 2, 0),
        _Also("slot-slur", {"times": 3}, (2, 0)),
    ),
    _Habit(
        PlayerDetails(
            "Osk", "trombone-bass", NoteView.SOUNDING, Clef.BASS, gate_level=GateLevel.STRICT
        ),
        (46, 41, 36, 34),
        6.0,
        Skilled.EXPERIENCED,
        (10, 7, 5, 4, 1, 0),
        _Also("expanding-glide", {}, (4, 0)),
    ),
)


def fill(session: Session, now: datetime) -> bool:
    """Adds the band and its takes of the last days before `now`; false when they are there."""
    if all_players(session):
        return False
    evenings = [_Evening(habit, *played) for habit in _BAND for played in _played(habit)]
    # Playing and listening is most of the work, and each evening stands alone.
    with ProcessPoolExecutor(mp_context=get_context("spawn")) as pool:
        heard = pool.map(_hear, evenings)
        players = {habit.details.name: add_player(session, habit.details) for habit in _BAND}
        for evening, sounds in zip(evenings, heard, strict=True):
            at_six = (now - timedelta(days=evening.days_back)).replace(hour=18, minute=10, second=0)
            at = min(at_six, now) - timedelta(minutes=20)
            if evening.family != ONE_NOTE:
                at += timedelta(minutes=8)
            _keep(session, players[evening.habit.details.name], evening, sounds, at)
    return True


def _played(habit: _Habit) -> Iterator[tuple[str, Values, int]]:
    """What a player practises: family, values and how many days ago."""
    for days_back in habit.days_back:
        note = float(habit.notes[days_back % len(habit.notes)])
        yield ONE_NOTE, {ONE_NOTE_KEY: note, "hold_s": habit.hold_s}, days_back
    for days_back in habit.also.days_back:
        yield habit.also.family, habit.also.values, days_back


@dataclass(frozen=True, slots=True)
class _Evening:
    """One session: whose it is, what is practised in it, and how many days ago."""

    habit: _Habit
    family: str
    values: Values
    days_back: int

    @property
    def horn(self) -> Horn:
        """The horn it is played on."""
        return Horn(INSTRUMENTS[self.habit.details.instrument_key])

    @property
    def task(self) -> Task:
        """What is practised, on that horn."""
        writer = Writer(self.horn, Reach.usual(self.horn.instrument))
        return task_of(find_family(self.family), writer, self.values)


@dataclass(frozen=True, slots=True)
class _Sounds:
    """What was played in one session, and what was heard in it."""

    session_id: str
    pcm: bytes
    attempts: list[Attempt]


def _hear(evening: _Evening) -> _Sounds:
    """Plays one session's tries and listens to them."""
    name, task, horn = evening.habit.details.name, evening.task, evening.horn
    also = "" if evening.family == ONE_NOTE else f" {evening.family}"
    random = np.random.default_rng(crc32(f"{name} {evening.days_back}{also}".encode()))
    session_id = random.bytes(16).hex()
    voice = voice_of(task.score, horn.instrument)
    stand = Stand(task, horn, evening.habit.details.gate_level, _RATE)
    pause = bytes(round(task.ending.silence_s * _RATE) * 2)
    pcm = b"".join(
        pcm_from_floats(perform(tried, voice, _RATE, seed=seed).samples) + pause
        for seed, tried in enumerate(_tries(evening, random), start=evening.days_back * 100)
    )
    heard = stand.feed(floats_from_pcm(pcm))
    return _Sounds(session_id, pcm, heard.attempts + stand.finish().attempts)


def _keep(
    session: Session, player: Player, evening: _Evening, sounds: _Sounds, at: datetime
) -> None:
    """Keeps a session, its log and its takes; it began at a time."""
    hop_bytes, task, horn = 2 * _RATE // 100, evening.task, evening.horn
    family = find_family(task.family_key)
    block = Block(
        title=task.title,
        why=family.words.why,
        group=family.group,
        follow=Follow.REPEAT,
        rungs=(Rung("", task.once),),
        needed=len(sounds.attempts),
        counts=Counts.PLAYED,
    )
    kept = new_session(
        session, player, horn, sounds.session_id, Plan(_TITLE, (block,)), at, _RATE, "stand-in"
    )
    entries: list[Entry] = []
    for number, attempt in enumerate(sounds.attempts, start=1):
        first, count = attempt.frames.first, len(attempt.frames)
        sound = sounds.pcm[first * hop_bytes : (first + count) * hop_bytes]
        circumstances = Circumstances(
            player,
            sounds.session_id,
            at + timedelta(seconds=first / 100),
            "stand-in",
            player.gate_level,
            _RATE,
            horn,
            place=f"try {number}",
        )
        take = keep_attempt(session, attempt, task, circumstances, sound)
        entries.append(judged_entry(attempt, take, _RATE))
    write_log(session, kept, entries)


def _tries(evening: _Evening, random: np.random.Generator) -> Iterator[Score]:
    """Three to five tries at an exercise; a note that does not speak at all is none."""
    habit, horn = evening.habit, evening.horn
    profile, start_midi = PROFILES[habit.skilled], horn.instrument.start_midi
    written = as_played(evening.task.once.score, reference=False)
    played_s = 0.0
    for tries in range(int(random.integers(3, 6))):
        tried: list[ScoreNote | Siren] = []
        for bare in written:
            if isinstance(bare, Siren):
                tried.append(bare)
                continue
            if len(written) == 1:
                bare = replace(bare, seconds=habit.hold_s * random.uniform(0.88, 1.4))
            slots = slots_beside(horn, round(bare.midi))
            note = profile.note(
                bare, start_midi, random, played_s=played_s, tries=tries, slots=slots
            )
            played_s += note.seconds
            tried.append(replace(note, faults=replace(note.faults, missed=False)))
        yield only_where_they_show(tuple(tried))
