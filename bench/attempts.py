"""Every family of exercises by every fault it watches for, in rooms: is it failed, for that reason
and at that spot? And every family twice in a row on the Stand: are there two attempts, and do both
pass?

The stand-in player plays each family on three horns, well and with one fault at a time, with lips
that start, hold and stop as lips do, in rooms with noise and a tail. Passed: a good rendering meets
every aim. Found: the fault's own aim is missed, and where the aim has places, at a note that was
spoiled. Invented: an aim is missed though it was played well. Wanted: 98 % passed, 98 % found and
at most 1 % invented. On the Stand, half a second after each repetition, the next begins: wanted are
two passed attempts, every note of them followed, in 98 % of the families.
"""

from collections import defaultdict
from collections.abc import Iterator, Sequence
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, field, replace
from functools import partial
from multiprocessing import get_context

import numpy as np

from bench.goals import at_least, at_most
from orexis.core.exercises.book import FAMILIES, task_of
from orexis.core.exercises.family import Aim, ExerciseRefusedError, Family
from orexis.core.exercises.task import Task
from orexis.core.exercises.writer import Reach, Writer
from orexis.core.horn.instruments import INSTRUMENTS
from orexis.core.horn.setup import Horn
from orexis.core.horn.ways import slots_beside
from orexis.core.judging.attempts import Verdict, judge
from orexis.core.judging.matching import MatchedAttempt, asked_of, lay_beside
from orexis.core.judging.standard import Standard
from orexis.core.listening.analysis import analyse
from orexis.core.listening.notes.tone import Tone
from orexis.core.session.stand import Attempt, Stand
from orexis.standin.lips import HUMAN_LIPS
from orexis.standin.performance import perform
from orexis.standin.player import Skill, played_with
from orexis.standin.reading import as_played, voice_of
from orexis.standin.room import ROOMS, heard_in
from orexis.standin.score import Score, ScoreNote
from orexis.standin.spoiling import spoiled

RATE, SEED = 22_050, 3
HORNS = ("cornet-bb", "trombone-tenor", "tuba-eb")
_IN = ("practice", "lively")
_STANDS_IN = "practice"
_CHUNK, _FOLLOWED = 1024, 0.95
_FEWER = {"times": 1.0, "starts": 4.0, "rungs": 2.0, "rows": 1.0}


@dataclass(frozen=True, slots=True)
class Outcome:
    """How one family went on one horn in one room: aims missed though it was played well, of how
    many, and for each fault whether it was found, and whether where it was."""

    family: str
    horn: str
    room: str
    invented: tuple[str, ...]
    aims: int
    found: dict[Aim, bool] = field(default_factory=dict)
    placed: dict[Aim, bool] = field(default_factory=dict)


def writer_of(instrument: str) -> Writer:
    """A writer for a horn as made."""
    kind = INSTRUMENTS[instrument]
    return Writer(Horn(kind), Reach.usual(kind))


def once(family: Family, writer: Writer) -> Task | None:
    """A family as it is usual, few times; `None` where the horn cannot, or nothing sounds."""
    try:
        usual = task_of(family, writer, {})
        fewer = {key: value for key, value in _FEWER.items() if key in usual.given.values}
        task = task_of(family, writer, fewer)
    except ExerciseRefusedError:
        return None
    return task if task.score.notes else None


def sound_of(task: Task, score: Score, writer: Writer, room: str) -> np.ndarray:
    """A score as the stand-in plays it in a room."""
    voice = voice_of(task.score, writer.instrument)
    played = perform(score, voice, RATE, seed=SEED, lips=HUMAN_LIPS).samples
    return heard_in(ROOMS[room], played, RATE, seed=4)


def seen(
    task: Task, score: Score, writer: Writer, room: str, passed: Sequence[Tone] = ()
) -> MatchedAttempt:
    """What is heard of a score beside a task; `passed` are the tones of notes passed before."""
    sound = sound_of(task, score, writer, room)
    chunks = [sound[at : at + RATE] for at in range(0, len(sound), RATE)]
    heard = analyse(chunks, RATE, slots_beside=partial(slots_beside, writer.horn))
    return lay_beside(task, heard.events, writer.horn, passed)


def tones_of(attempt: MatchedAttempt) -> list[Tone]:
    """What was learnt of a player's tone from an attempt played often."""
    tones = [answer.tone for answer in attempt.answers]
    return 6 * [tone for tone in tones if tone is not None]


def outcome_of(family: Family, horn: str, room: str) -> Outcome | None:
    """How a family goes on a horn in a room, well played and with each fault."""
    writer = writer_of(horn)
    task = once(family, writer)
    if task is None:
        return None
    played = as_played(task.score, reference=False)
    first = seen(task, played, writer, room)
    passed = tones_of(first)
    well = judge(replace(first, passed=passed), Standard.NORMAL)
    outcome = Outcome(
        family.key,
        horn,
        room,
        tuple(result.aim.value for result in well.results if not result.passed),
        len(well.results),
    )
    for aim in dict.fromkeys((*family.aims, *(result.aim for result in well.results))):
        score = spoiled(played, aim, partial(slots_beside, writer.horn))
        if score is None:
            continue
        verdict = judge(seen(task, score, writer, room, passed), Standard.NORMAL)
        outcome.found[aim] = any(
            result.aim is aim and not result.passed for result in verdict.results
        )
        where = _where(verdict, aim)
        if outcome.found[aim] and where is not None:
            outcome.placed[aim] = where in _asked_at(task, _spoiled_steps(played, score))
    return outcome


def _where(verdict: Verdict, aim: Aim) -> int | None:
    return next(
        (result.at.step for result in verdict.results if result.aim is aim and result.at), None
    )


def _asked_at(task: Task, steps: set[int | None]) -> set[int]:
    """The steps under which what is played at some others is asked for: what only goes on belongs
    to the note before."""
    starts = sorted({note.at.step for note in asked_of(task.once.score)})
    return {
        max((start for start in starts if start <= step), default=step)
        for step in steps
        if step is not None
    }


def _spoiled_steps(well: Score, spoiled_: Score) -> set[int | None]:
    """The written steps whose notes are not played as they were, or are reached another way; what
    has no step of its own, as a bend, is the note's before it."""
    as_it_was = {id(part) for part in well}
    changed: set[int | None] = set()
    before: int | None = None
    for place, part in enumerate(spoiled_):
        if isinstance(part, ScoreNote) and part.step is not None:
            before = part.step
        if id(part) in as_it_was or not isinstance(part, ScoreNote):
            continue
        near = spoiled_[place : place + 2]
        changed |= {
            before,
            *(score_note.step for score_note in near if isinstance(score_note, ScoreNote)),
        }
    return changed


def passes_on_the_stand(task: Task, writer: Writer, room: str) -> bool:
    """Whether two repetitions, well played, are two attempts that pass, followed note by note."""
    stand = Stand(task, writer.horn, Standard.NORMAL, RATE)
    score = played_with(Skill(holds_percent=100), task.once.score, writer.horn)
    voice = voice_of(task.score, writer.instrument)
    played = perform(score, voice, RATE, seed=5, lips=HUMAN_LIPS).samples
    once = np.concatenate((played, np.zeros(RATE // 2)))
    twice = heard_in(ROOMS[room], np.concatenate((once, once)), RATE, seed=6)
    attempts: list[Attempt] = []
    reached: set[int] = set()
    for at in range(0, len(twice), _CHUNK):
        followed = stand.feed(twice[at : at + _CHUNK])
        attempts += followed.attempts
        glimpse = followed.glimpse
        if glimpse is not None and glimpse.reached is not None:
            reached.add(glimpse.reached.step)
    # What is quicker than a glimpse is passed over.
    asked = {answer.at.step for attempt in attempts for answer in attempt.answers}
    seen = len(reached & asked) >= _FOLLOWED * len(asked)
    return len(attempts) == 2 and all(attempt.verdict.passed for attempt in attempts) and seen


def _stands(family: Family, horn: str, room: str) -> bool | None:
    writer = writer_of(horn)
    task = once(family, writer)
    return None if task is None else passes_on_the_stand(task, writer, room)


def _each() -> Iterator[tuple[str, str, str]]:
    for key in FAMILIES:
        for horn in HORNS:
            for room in _IN:
                yield key, horn, room


def _one(case: tuple[str, str, str]) -> tuple[Outcome | None, bool | None]:
    key, horn, room = case
    stands = _stands(FAMILIES[key], horn, room) if room == _STANDS_IN else None
    return outcome_of(FAMILIES[key], horn, room), stands


def main() -> None:
    """Prints what was found of each fault and what was invented, by room."""
    cases = list(_each())
    with ProcessPoolExecutor(mp_context=get_context("spawn")) as pool:
        results = list(zip(cases, pool.map(_one, cases, chunksize=6), strict=True))
    print(f"Attempts: {len(FAMILIES)} families on {', '.join(HORNS)} in {', '.join(_IN)}")
    for room in _IN:
        here = [
            outcome
            for (_, _, where), (outcome, _) in results
            if outcome is not None and where == room
        ]
        _tell(room, here)
        stood = [
            (key, horn, stands)
            for (key, horn, where), (_, stands) in results
            if where == room and stands is not None
        ]
        for key, horn, stands in stood:
            if not stands:
                print(f"  {key} on {horn} does not pass on the Stand")
        if stood:
            share = 100 * sum(stands for _, _, stands in stood) / len(stood)
            at_least(f"{room}: families passed on the Stand, %", share, 98.0)


def _tell(room: str, outcomes: Sequence[Outcome]) -> None:
    """One room's table: a line a family with something wrong, then a line an aim."""
    found: dict[Aim, list[bool]] = defaultdict(list)
    placed: dict[Aim, list[bool]] = defaultdict(list)
    print(f"In {room}")
    for outcome in outcomes:
        said = [f"invented {aim}" for aim in outcome.invented]
        said += [f"{aim.value} not found" for aim, ok in outcome.found.items() if not ok]
        said += [f"{aim.value} elsewhere" for aim, ok in outcome.placed.items() if not ok]
        if said:
            print(f"  {outcome.family} on {outcome.horn}: {', '.join(said)}")
        for aim, ok in outcome.found.items():
            found[aim].append(ok)
        for aim, ok in outcome.placed.items():
            placed[aim].append(ok)
    print(f"  {'aim':<14}{'found %':>9}{'of':>5}{'there %':>9}")
    for aim, marks in found.items():
        there = placed[aim]
        share = 100 * sum(marks) / len(marks)
        where = f"{100 * sum(there) / len(there):>9.1f}" if there else ""
        print(f"  {aim.value:<14}{share:>9.1f}{len(marks):>5}{where}")
        at_least(f"{room}: {aim.value} found, %", share, 98.0)
    spots = [ok for marks in placed.values() for ok in marks]
    at_least(f"{room}: at the right spot, %", 100 * sum(spots) / len(spots), 98.0)
    good = 100 * sum(not outcome.invented for outcome in outcomes) / len(outcomes)
    at_least(f"{room}: good renderings passed, %", good, 98.0)
    wrong = (
        100
        * sum(len(outcome.invented) for outcome in outcomes)
        / sum(outcome.aims for outcome in outcomes)
    )
    at_most(f"{room}: aims invented, %", wrong, 1.0)
