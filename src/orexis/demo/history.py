"""Ten weeks of a player's practice as light rows: what the simulated body played, without sound."""

from collections import Counter
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from datetime import datetime, time, timedelta
from hashlib import sha256
from typing import Any

import numpy as np
from sqlalchemy import insert
from sqlalchemy.orm import Session

from orexis.core.coach.day import TITLE
from orexis.core.coach.following import Following
from orexis.core.coach.history import NoteRow, PastAttempt
from orexis.core.exercises.family import Aim
from orexis.core.exercises.task import Task
from orexis.core.exercises.writer import Reach, Writer
from orexis.core.horn.instruments import INSTRUMENTS
from orexis.core.horn.setup import Horn
from orexis.core.horn.ways import standard_way
from orexis.core.judging.aims import RULES, limit_of
from orexis.core.judging.attempts import AimResult, SilentNote, Verdict
from orexis.core.judging.matching import Place
from orexis.core.listening.notes.measures import Shape
from orexis.core.score.steps import Play, PlayedOn, Role
from orexis.core.session.plan import Plan, SessionKind
from orexis.core.session.state import End
from orexis.demo.band import WEEKS, Member, events_on
from orexis.formats.horn_setup import setup_document
from orexis.formats.session import entry_document, kind_of, plan_document
from orexis.formats.task import task_document, verdict_document
from orexis.practice.kept_sessions import exercise_result_documents
from orexis.practice.practising import RATE, PlayedAttempt
from orexis.practice.simulation import SimulatedDay, SimulatedPlayer, simulate
from orexis.store.models import (
    Hurt,
    PracticeSession,
    SessionEntry,
    Take,
    TakeNote,
    TaskSnapshot,
)
from orexis.store.takes import task_key

_BEGINS = time(17, 5)
_SEED = 11
_GOOD, _BAD = 0.6, 1.4
_MOST = 0.9
_HELD_OF_ASKED, _FADES = (1.0, 1.5), 0.98
_TOLD_AIMS = 2
_WENT_WRONG = (Aim.CENTRE, Aim.STEADY, Aim.START, Aim.TOUCHED, Aim.GAP, Aim.SPOKE, Aim.HELD)
_BETWEEN = (Aim.TOUCHED, Aim.GAP)
_CLEARED_AFTER = timedelta(days=3)

Row = dict[str, Any]


@dataclass(slots=True)
class Rows:
    """Rows of every table, without the player they belong to."""

    tasks: dict[str, Row] = field(default_factory=dict)
    sessions: list[Row] = field(default_factory=list)
    entries: list[Row] = field(default_factory=list)
    takes: list[Row] = field(default_factory=list)
    notes: list[Row] = field(default_factory=list)
    hurts: list[Row] = field(default_factory=list)
    _keys: dict[int, tuple[str, Task]] = field(default_factory=dict)

    def key_of(self, task: Task) -> str:
        """The key of a task, which is kept once."""
        if id(task) not in self._keys:
            document = task_document(task.once)
            key = task_key(document)
            self.tasks[key] = {"key": key, "document": document}
            # With the task, so that no other one comes to lie at its address.
            self._keys[id(task)] = key, task
        return self._keys[id(task)][0]

    def forget_tasks(self) -> None:
        """Lets go of what is no row."""
        self._keys.clear()


def practised(member: Member, now: datetime) -> Rows:
    """What a member of the band has played up to yesterday, as rows."""
    today = now.date()
    horn = Horn(INSTRUMENTS[member.details.instrument_key])
    start = today - timedelta(weeks=WEEKS)
    player = SimulatedPlayer(
        member.about,
        Writer(horn, Reach.usual(horn.instrument)),
        member.details.standard,
        member.approaches,
        tuple(
            Following(key, today - timedelta(days=back), base_of(horn.instrument.key))
            for key, back in member.programmes
        ),
        events_on(today),
    )
    simulation = simulate(player, start, WEEKS, seed=_SEED, habits=member.habits_on(today))
    rows = Rows()
    for day in simulation.days:
        if day.played is not None:
            _add(rows, day, horn, member, now, (day.day - start) / timedelta(weeks=WEEKS))
    rows.forget_tasks()
    return rows


def base_of(instrument_key: str) -> int:
    """The note that programmes going up begin from."""
    instrument = INSTRUMENTS[instrument_key]
    return max(Reach.usual(instrument).high - 2, instrument.start_midi)


def keep(session: Session, player_id: int, rows: Rows) -> None:
    """Keeps rows for a player."""
    known = {key for (key,) in session.query(TaskSnapshot.key).all()}
    tasks = [row for key, row in rows.tasks.items() if key not in known]
    for table, found in (
        (TaskSnapshot, tasks),
        (PracticeSession, [{**row, "player_id": player_id} for row in rows.sessions]),
        (SessionEntry, rows.entries),
        (Take, [{**row, "player_id": player_id} for row in rows.takes]),
        (TakeNote, rows.notes),
        (Hurt, [{**row, "player_id": player_id} for row in rows.hurts]),
    ):
        if found:
            session.execute(insert(table), found)


def _add(
    rows: Rows, day: SimulatedDay, horn: Horn, member: Member, now: datetime, done: float
) -> None:
    """Adds a day, when so much of the time had gone by, 0 to 1."""
    assert day.played is not None
    played = day.played
    began = datetime.combine(day.day, _BEGINS, now.tzinfo)
    session_id = sha256(f"{member.details.name} {day.day}".encode()).hexdigest()[:32]
    last = played.log[-1].sample if played.log else 0
    ended_at = began + timedelta(seconds=last / RATE)
    ended = played.state.ended
    rows.sessions.append(
        {
            "id": session_id,
            "started_at": began,
            "title": TITLE,
            "kind": SessionKind.PLAN,
            "source": "microphone",
            "sample_rate": RATE,
            "instrument_key": horn.instrument.key,
            "standard": member.details.standard.value,
            "plan": plan_document(Plan(TITLE, played.state.blocks)),
            "setup": setup_document(horn.setup),
            "latency_s": None,
            "drone_hz": None,
            "heard_until": last,
            "ended": None if ended is None else ended.value,
            "ended_at": ended_at,
            "results": exercise_result_documents(played.state),
            "note": "",
        }
    )
    rows.entries += [
        {
            "session_id": session_id,
            "number": number,
            "sample": entry.sample,
            "kind": kind_of(entry),
            "content": entry_document(entry),
        }
        for number, entry in enumerate(played.log)
    ]
    played_of_set: Counter[int] = Counter()
    for attempt in played.attempts:
        lies = _lies(attempt.past, attempt.task, horn, attempt.entry.take_id, done)
        _add_take(rows, session_id, began, attempt, horn, lies, played_of_set[attempt.set_number])
        played_of_set[attempt.set_number] += 1
    if ended is End.HURT:
        cleared = ended_at + _CLEARED_AFTER
        rows.hurts.append(
            {
                "at": ended_at,
                "session_id": session_id,
                "cleared_at": cleared if cleared < now else None,
            }
        )


def _add_take(
    rows: Rows,
    session_id: str,
    began: datetime,
    attempt: PlayedAttempt,
    horn: Horn,
    lies: Sequence[float],
    before: int,
) -> None:
    """Adds a take, of which so many in its set were played `before`."""
    tried, entry, task = attempt.past, attempt.entry, attempt.task
    key, verdict = rows.key_of(task), _verdict(tried, task, lies, _holds(entry.take_id, before))
    first_s = max(entry.sample / RATE - entry.seconds, 0.0)
    rows.takes.append(
        {
            "id": entry.take_id,
            "session_id": session_id,
            "first_frame": round(100 * first_s),
            "started_at": began + timedelta(seconds=first_s),
            "source": "microphone",
            "instrument_key": horn.instrument.key,
            "exercise_key": tried.family,
            "a4_hz": horn.setup.a4_hz,
            "standard": tried.level.value,
            "sample_rate": RATE,
            "duration_s": entry.seconds,
            "sounded_s": round(sum(row.sounded_s for row in tried.notes), 2),
            "judged_passed": tried.passed,
            "set_number": attempt.set_number,
            "task_key": key,
            "verdict": verdict_document(verdict),
        }
    )
    rows.notes += _notes(entry.take_id, tried, task, verdict, lies)


def _lies(tried: PastAttempt, task: Task, horn: Horn, take_id: str, done: float) -> list[float]:
    """Where each note of an attempt lay, in cents: mostly where the horn puts it, which an ear that
    has learnt draws nearer to where it should be, and within what the standard allows; of an
    attempt that failed for its centre, the first that spoke lay outside."""
    random = np.random.default_rng(int(take_id[:8], 16))
    limit = limit_of(Aim.CENTRE, tried.level, task)
    follows, uneven = 0.9 - 0.6 * done, 5.0 - 2.0 * done
    ways = [standard_way(horn, row.asked_midi) if row.on_horn else None for row in tried.notes]
    cents = [follows * (way.cents if way else 0.0) + random.normal(0.0, uneven) for way in ways]
    lies = [round(float(np.clip(one, -_MOST * limit, _MOST * limit)), 1) for one in cents]
    if _went_wrong(tried, task) is Aim.CENTRE:
        lies[_first_spoken(tried)] = round(_BAD * limit, 1)
    return lies


def _first_spoken(tried: PastAttempt) -> int:
    return next((at for at, note in enumerate(tried.notes) if note.spoke), 0)


def _went_wrong(tried: PastAttempt, task: Task) -> Aim | None:
    """What an attempt may have failed for: that a note did not speak, or what goes wrong
    first."""
    if tried.passed:
        return None
    silent = any(not note.spoke for note, _ in zip(tried.notes, _asked(task), strict=False))
    likely = (Aim.SPEAKS, Aim.SPOKE, *_WENT_WRONG) if silent else _WENT_WRONG
    return next((aim for aim in likely if aim in task.aims), task.aims[0])


def _asked(task: Task) -> list[tuple[int, Play]]:
    return [
        (place, step)
        for place, step in enumerate(task.score.steps)
        if isinstance(step, Play) and step.role is not Role.REFERENCE
    ]


def _holds(take_id: str, before: int) -> float:
    """How long a good note is held, as a multiple of what is asked; less and less in a set."""
    random = np.random.default_rng([int(take_id[:8], 16), 1])
    return max(random.uniform(*_HELD_OF_ASKED) * _FADES**before, 1.0)


def _verdict(tried: PastAttempt, task: Task, lies: Sequence[float], holds: float) -> Verdict:
    """What may have been said of an attempt, whose good notes were held for a multiple of what is
    asked."""
    asked = _asked(task)
    spoke = [at for at, note in enumerate(tried.notes[: len(asked)]) if note.spoke]
    farthest = max(spoke, key=lambda at: abs(lies[at]), default=0)
    wrong = _went_wrong(tried, task)
    results: list[AimResult] = []
    for aim in task.aims[:_TOLD_AIMS] + ((wrong,) if wrong in task.aims[_TOLD_AIMS:] else ()):
        limit, met = limit_of(aim, tried.level, task), aim is not wrong
        centre = aim is Aim.CENTRE
        measured = lies[farthest] if centre else _measured(aim, limit, met=met)
        if aim is Aim.HELD and met:
            measured = round(holds * limit, 2)
        # What lies between two notes is told at the second of them.
        at = farthest if centre else int(aim in _BETWEEN and len(asked) > 1)
        results.append(AimResult(aim, measured, limit, met, Place(asked[at][0])))
    silent = [
        SilentNote(Place(step))
        for (step, _), note in zip(asked, tried.notes, strict=False)
        if not note.spoke
    ]
    return Verdict(tuple(results), () if tried.passed else tuple(silent))


def _measured(aim: Aim, limit: float, *, met: bool) -> float:
    """A value well on one side of a limit."""
    factor = _GOOD if met is not RULES[aim].least else _BAD
    return round(limit * factor, 2)


def _notes(
    take_id: str, tried: PastAttempt, task: Task, verdict: Verdict, lies: Sequence[float]
) -> Iterator[Row]:
    """The notes of a take; the first one that spoke is the one the verdict speaks of."""
    at_s, told = 0.0, {result.aim: result.measured for result in verdict.results}
    for number, ((step, play), note) in enumerate(zip(_asked(task), tried.notes, strict=False)):
        yield {
            "take_id": take_id,
            "number": number,
            "step": step,
            "time": 0,
            "on": PlayedOn.HORN.value if note.on_horn else PlayedOn.MOUTHPIECE.value,
            "asked_midi": note.asked_midi,
            "target_cents": 0.0,
            "length_name": play.length_name,
            "partial": play.partial,
            "spoke": note.spoke,
            **(_heard(note, at_s, lies[number], told) if note.spoke else _NOTHING),
        }
        if note.spoke:
            told = {}
        at_s += note.sounded_s


_NOTHING: Row = dict.fromkeys(
    (
        *("played_midi", "start_s", "end_s", "centre_cents", "spread_cents", "level_db"),
        *("hold_s", "rise_s"),
        *("harmonicity_db", "brightness", "cracked_from_midi", "measures"),
    )
)


def _heard(note: NoteRow, at_s: float, lies_cents: float, told: dict[Aim, float]) -> Row:
    spread = told.get(Aim.STEADY, round(note.spread_cents or 0.0, 2))
    return {
        "played_midi": note.sounded_midi,
        "start_s": round(at_s, 2),
        "end_s": round(at_s + note.sounded_s, 2),
        "centre_cents": lies_cents,
        "spread_cents": spread,
        "level_db": note.level_db,
        "hold_s": told.get(Aim.HELD, round(note.held_s, 2)),
        "rise_s": round(note.rise_s or 0.0, 3),
        "harmonicity_db": 22.0,
        "brightness": 3.0,
        "cracked_from_midi": None,
        # What is not said of a note is as it is where nothing is to be said.
        "measures": {
            "drift_cents_per_s": 0.0,
            "scoop_cents": told.get(Aim.START, 0.0),
            "settle_s": 0.0,
            "sag_cents": told.get(Aim.END, 0.0),
            "vibrato": None,
            "level_change_db": 0.0,
            "shape": Shape.STEADY.value,
        },
    }
