"""How near the written limit each rule cuts: what lies right at the normal limit, at a low, a
middle and a high note of three horns in two rooms, against what was made. Wanted: within a tenth of
the limit everywhere.

A note lies 15 cents off or is held for 3 s, of two slurred notes silence parts them, or a slot
between them speaks for 45 ms. The truth is what the stand-in was told to play; of a gap, whose
edges the lips round, how long its sound lies 15 dB under its loud part before it goes into the
room.
"""

from collections import defaultdict
from collections.abc import Callable, Iterator
from concurrent.futures import ProcessPoolExecutor
from dataclasses import replace
from itertools import product
from multiprocessing import get_context

import numpy as np

from bench.attempts import HORNS, RATE, SEED, seen, writer_of
from bench.goals import at_least
from orexis.core.exercises.book import FAMILIES, task_of
from orexis.core.exercises.family import Aim
from orexis.core.exercises.task import Task
from orexis.core.exercises.writer import Writer
from orexis.core.horn.pitch import hz_from_midi
from orexis.core.judging.attempts import judge
from orexis.core.judging.standard import Standard
from orexis.core.listening.notes.contour import ROOM_DB
from orexis.core.score.steps import Score as Written
from orexis.standin.lips import HUMAN_LIPS
from orexis.standin.performance import perform
from orexis.standin.reading import as_played, voice_of
from orexis.standin.score import Change, Faults, Score, ScoreNote, Siren, Touched

_ROOMS = ("practice", "lively")
_REGISTERS = (0.1, 0.5, 0.9)
"""Where in what players of a horn have, from its lowest to its highest note."""
_CENTRE_CENTS, _HELD_S, _GAP_S, _TOUCHED_S = 15.0, 3.0, 0.06, 0.045
_ALLOWED = 0.1
_APART = 7
_Made = tuple[Task, Score, float]


def _long_tone(writer: Writer, midi: int) -> Task:
    return task_of(FAMILIES["long-tone"], writer, {"from_midi": float(midi), "hold_s": _HELD_S})


def _slurred(writer: Writer, midi: int) -> Task:
    """Two notes a fifth apart, the upper one slurred to."""
    start = min(midi, writer.instrument.highest_midi - _APART)
    score = Written((writer.play(start, 2), writer.slurred(start + _APART, 2)))
    return replace(_long_tone(writer, start), score=score, aims=(Aim.GAP, Aim.TOUCHED, Aim.FLIPPED))


def _with(task: Task, place: int, change: Callable[[ScoreNote], ScoreNote]) -> Score:
    notes = [part for part in as_played(task.score) if not isinstance(part, Siren)]
    notes[place] = change(notes[place])
    return tuple(notes)


def _off_centre(writer: Writer, midi: int) -> _Made:
    task = _long_tone(writer, midi)
    off = Faults(centre_cents=_CENTRE_CENTS)
    return task, _with(task, 0, lambda note: replace(note, faults=off)), _CENTRE_CENTS


def _held(writer: Writer, midi: int) -> _Made:
    task = _long_tone(writer, midi)
    return task, _with(task, 0, lambda note: replace(note, seconds=_HELD_S)), _HELD_S


def _gap(writer: Writer, midi: int) -> _Made:
    task = _slurred(writer, midi)
    parted = Change("slur", gap_s=_GAP_S)
    score = _with(task, 1, lambda note: replace(note, reached=parted))
    return task, score, _silent_ms(task, score, writer)


def _silent_ms(task: Task, score: Score, writer: Writer) -> float:
    """How long, in ms, the sound lies far under its loud part between two notes, by the largest
    sample of each period."""
    voice = voice_of(task.score, writer.instrument)
    played = perform(score, voice, RATE, seed=SEED, lips=HUMAN_LIPS)
    period = round(RATE / hz_from_midi(task.score.pitches[0])) + 1
    sound, step = np.abs(played.samples), period // 4 + 1
    loud = np.array([sound[at : at + period].max() for at in range(0, len(sound), step)])
    loud_db = 20 * np.log10(loud + 1e-9)
    notes = played.truth["notes"]
    middles = slice(*(round((note["start_s"] + note["end_s"]) / 2 * RATE / step) for note in notes))
    quiet = loud_db[middles] < np.percentile(loud_db, 90) - ROOM_DB
    return 1000 * float(quiet.sum()) * step / RATE


def _touched(writer: Writer, midi: int) -> _Made:
    task = _slurred(writer, midi)
    between = task.score.pitches[0] + _APART // 2
    touching = Change("slur", touched=(Touched(between, _TOUCHED_S),))
    return task, _with(task, 1, lambda note: replace(note, reached=touching)), 1000 * _TOUCHED_S


_CUTS = {
    Aim.CENTRE: _off_centre,
    Aim.HELD: _held,
    Aim.GAP: _gap,
    Aim.TOUCHED: _touched,
}


def _off(case: tuple[Aim, str, float, str]) -> float | None:
    """How far from what was made a rule measures, as a share of it; `None` where it heard none."""
    aim, horn, share, room = case
    writer = writer_of(horn)
    low, high = writer.instrument.normal_low, writer.instrument.normal_high
    task, score, made = _CUTS[aim](writer, round(low + share * (high - low)))
    verdict = judge(seen(task, score, writer, room), Standard.NORMAL)
    found = next(result for result in verdict.results if result.aim is aim)
    return None if found.untold else abs(found.measured) / made - 1


def _cases() -> Iterator[tuple[Aim, str, float, str]]:
    yield from product(_CUTS, HORNS, _REGISTERS, _ROOMS)


def main() -> None:
    """Prints how far each rule is from what was made, by horn and register, and room."""
    print("Limits: how far from what was made each rule measures, % of the limit")
    cases = list(_cases())
    with ProcessPoolExecutor(mp_context=get_context("spawn")) as pool:
        found = list(zip(cases, pool.map(_off, cases, chunksize=4), strict=True))
    for aim, room in product(_CUTS, _ROOMS):
        row = [_said(off) for (one, _, _, where), off in found if one is aim and where == room]
        print(f"  {aim.value:<9}{room:<10}{''.join(row)}")
    within: defaultdict[Aim, list[bool]] = defaultdict(list)
    for (aim, *_), off in found:
        within[aim].append(off is not None and abs(off) <= _ALLOWED)
    for aim, good in within.items():
        at_least(f"{aim.value} within a tenth, %", 100 * sum(good) / len(good), 100)


def _said(off: float | None) -> str:
    return f"{'none' if off is None else f'{100 * off:+.0f}':>7}"


if __name__ == "__main__":
    main()
