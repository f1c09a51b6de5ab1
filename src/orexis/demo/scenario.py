"""Fills a data file with the demo scenario.

An amateur band prepares the centenary of the harbour lighthouse. Its players' takes are played
by the stand-in player and heard, judged and kept by the same code as anybody's.
"""

from collections.abc import Iterator, Sequence
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from multiprocessing import get_context
from zlib import crc32

import numpy as np
from sqlalchemy.orm import Session

from orexis.core.coach.following import Following
from orexis.core.exercises.book import ONE_NOTE, ONE_NOTE_KEY, find_family, task_of
from orexis.core.exercises.practised import AttemptOrder, Values
from orexis.core.exercises.task import Task
from orexis.core.exercises.writer import Reach, Writer
from orexis.core.horn.instruments import INSTRUMENTS
from orexis.core.horn.setup import Horn
from orexis.core.horn.ways import slots_beside
from orexis.core.session.log import Entry
from orexis.core.session.plan import Block, Counts, Plan, Rung
from orexis.core.session.stand import Attempt, Stand
from orexis.demo.band import BAND, Member, events_on
from orexis.demo.elsewhere import bring
from orexis.demo.history import base_of, keep, practised
from orexis.formats.audio import floats_from_pcm, pcm_from_floats
from orexis.practice.kept_sessions import judged_entry, new_session, write_log
from orexis.practice.takes import keep_attempt
from orexis.standin.performance import perform
from orexis.standin.profiles import PROFILES
from orexis.standin.reading import as_played, voice_of
from orexis.standin.score import Score, ScoreNote, Siren, only_where_they_show
from orexis.store.coaching import add_event, keep_about, keep_approaches, keep_following
from orexis.store.models import Player
from orexis.store.players import add_player, all_players
from orexis.store.takes import Circumstances

_RATE = 24_000
"""Half of what a microphone has: the demo's sound is to stay small."""
_TITLE = "After the rehearsal"
_RECENT_DAYS = 12


def fill(session: Session, now: datetime, band: Sequence[Member] = BAND) -> bool:
    """Adds the band, its last ten weeks and some takes with their sound; false when it is there."""
    if all_players(session):
        return False
    evenings = [_Evening(member, *played) for member in band for played in _played(member)]
    # Playing and listening is most of the work, and each evening and each player stands alone.
    with ProcessPoolExecutor(mp_context=get_context("spawn")) as pool:
        weeks = [pool.submit(practised, member, now) for member in band]
        heard = pool.map(_hear, evenings)
        players = {member.details.name: _joins(session, member, now) for member in band}
        for member, found in zip(band, weeks, strict=True):
            keep(session, players[member.details.name].id, found.result())
        for evening, sounds in zip(evenings, heard, strict=True):
            at_six = (now - timedelta(days=evening.days_back)).replace(hour=18, minute=10, second=0)
            at = min(at_six, now) - timedelta(minutes=20)
            if evening.family != ONE_NOTE:
                at += timedelta(minutes=8)
            _keep(session, players[evening.member.details.name], evening, sounds, at)
        for member in band:
            if member.has_teacher:
                bring(session, players[member.details.name], now)
    return True


def _joins(session: Session, member: Member, now: datetime) -> Player:
    """A member of the band, and what they have told the coach."""
    player, today = add_player(session, member.details), now.date()
    keep_about(session, player.id, member.about)
    keep_approaches(session, player.id, member.approaches)
    base = base_of(member.details.instrument_key)
    for key, back in member.programmes:
        since = today - timedelta(days=back)
        keep_following(session, player.id, Following(key, since, base))
    for event in events_on(today):
        add_event(session, player.id, event)
    return player


def _played(member: Member) -> Iterator[tuple[str, Values, int]]:
    """What a player practises: family, values and how many days ago."""
    for days_back in member.days_back:
        note = float(member.notes[days_back % len(member.notes)])
        yield ONE_NOTE, {ONE_NOTE_KEY: note, "hold_s": member.hold_s}, days_back
    for days_back in member.also.days_back:
        yield member.also.family, member.also.values, days_back


@dataclass(frozen=True, slots=True)
class _Evening:
    """One session: whose it is, what is practised in it, and how many days ago."""

    member: Member
    family: str
    values: Values
    days_back: int

    @property
    def horn(self) -> Horn:
        """The horn it is played on."""
        return Horn(INSTRUMENTS[self.member.details.instrument_key])

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
    """Plays one session's attempts and listens to them."""
    name, task, horn = evening.member.details.name, evening.task, evening.horn
    also = "" if evening.family == ONE_NOTE else f" {evening.family}"
    random = np.random.default_rng(crc32(f"{name} {evening.days_back}{also}".encode()))
    session_id = random.bytes(16).hex()
    voice = voice_of(task.score, horn.instrument)
    stand = Stand(task, horn, evening.member.details.standard, _RATE)
    pause = bytes(round(task.ending.silence_s * _RATE) * 2)
    pcm = b"".join(
        pcm_from_floats(perform(tried, voice, _RATE, seed=seed).samples) + pause
        for seed, tried in enumerate(_attempts(evening, random), start=evening.days_back * 100)
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
        follow=AttemptOrder.REPEAT,
        rungs=(Rung("", task.once),),
        needed=len(sounds.attempts),
        counts=Counts.PLAYED,
    )
    kept = new_session(
        session, player, horn, sounds.session_id, Plan(_TITLE, (block,)), at, _RATE, "microphone"
    )
    entries: list[Entry] = []
    for number, attempt in enumerate(sounds.attempts, start=1):
        first, count = attempt.frames.first, len(attempt.frames)
        sound = sounds.pcm[first * hop_bytes : (first + count) * hop_bytes]
        circumstances = Circumstances(
            player,
            sounds.session_id,
            at + timedelta(seconds=first / 100),
            "microphone",
            player.standard,
            _RATE,
            horn,
            place=f"attempt {number}",
        )
        take = keep_attempt(session, attempt, task, circumstances, sound)
        entries.append(judged_entry(attempt, take, _RATE))
    write_log(session, kept, entries)


def _attempts(evening: _Evening, random: np.random.Generator) -> Iterator[Score]:
    """Two or three attempts at an exercise, one where it is long ago; a note that does not speak at
    all is none."""
    member, horn = evening.member, evening.horn
    profile, start_midi = PROFILES[member.skilled], horn.instrument.start_midi
    written = as_played(evening.task.once.score, reference=False)
    played_s = 0.0
    count = int(random.integers(2, 4)) if evening.days_back <= _RECENT_DAYS else 1
    for attempts in range(count):
        tried: list[ScoreNote | Siren] = []
        for bare in written:
            if isinstance(bare, Siren):
                tried.append(bare)
                continue
            if len(written) == 1:
                bare = replace(bare, seconds=member.hold_s * random.uniform(0.88, 1.4))
            slots = slots_beside(horn, round(bare.midi))
            note = profile.note(
                bare, start_midi, random, played_s=played_s, attempts=attempts, slots=slots
            )
            played_s += note.seconds
            tried.append(replace(note, faults=replace(note.faults, missed=False)))
        yield only_where_they_show(tuple(tried))
