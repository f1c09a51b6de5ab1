"""Every family by what must be done in it, played without: is it failed?

The stand-in player plays each family on three horns in a room, as well as it can but for one thing
that the exercise is there for. Wanted: 98 % are not passed. *Alike* is asked only of what watches
for it.
"""

from collections import defaultdict
from concurrent.futures import ProcessPoolExecutor
from multiprocessing import get_context

from bench.attempts import once, seen, writer_of
from bench.goals import at_least
from orexis.core.exercises.book import FAMILIES
from orexis.core.exercises.family import Aim
from orexis.core.exercises.task import Task
from orexis.core.exercises.writer import Writer
from orexis.core.judging.attempts import judge
from orexis.core.judging.matching import asked_of
from orexis.core.judging.standard import Standard
from orexis.standin.reading import as_played
from orexis.standin.without import WITHOUT, played_without

HORNS = ("cornet-bb", "trombone-tenor", "tuba-eb")
_ROOM = "practice"
_ALIKE = frozenset({Aim.SAME_SOUND, Aim.ENDS_ALIKE})


def failed_without(key: str, horn: str) -> dict[str, bool]:
    """For each thing that must be done, whether a family is failed when it is not."""
    family, writer = FAMILIES[key], writer_of(horn)
    task = once(family, writer)
    if task is None:
        return {}
    played = as_played(task.score, reference=False)
    found: dict[str, bool] = {}
    for what in WITHOUT:
        if not _asks(task, writer, what):
            continue
        score = played_without(what, task.score, played)
        if score is not None:
            verdict = judge(seen(task, score, writer, _ROOM), Standard.NORMAL)
            found[what] = not verdict.passed
    return found


def _asks(task: Task, writer: Writer, what: str) -> bool:
    """Whether an exercise is there for something: a siren is in no key, a slide that moves takes
    its time, and loudness counts where it is watched for."""
    lengths = {note.length_name for note in task.score.notes}
    slides = writer.instrument.is_slide and len(lengths) > 1
    return {
        "alike": bool(_ALIKE & set(task.aims)),
        "the dynamics": Aim.SHAPE in task.aims,
        "the key": bool(asked_of(task.score)),
        "at once": not slides,
        # Where it stays after a bend is not told from the bend.
        "long enough": Aim.BENT not in task.aims,
    }.get(what, True)


def _one(case: tuple[str, str]) -> dict[str, bool]:
    return failed_without(*case)


def main() -> None:
    """Prints a line a family: + where it is failed without, - where it passes, a mark a horn."""
    cases = [(key, horn) for key in FAMILIES for horn in HORNS]
    with ProcessPoolExecutor(mp_context=get_context("spawn")) as pool:
        results = dict(zip(cases, pool.map(_one, cases, chunksize=3), strict=True))
    print(f"Without: {len(FAMILIES)} families on {', '.join(HORNS)}")
    failed: dict[str, list[bool]] = defaultdict(list)
    for key in FAMILIES:
        marks: dict[str, str] = defaultdict(str)
        for horn in HORNS:
            for what, ok in results[key, horn].items():
                marks[what] += "+" if ok else "-"
                failed[what].append(ok)
        print(f"{key:<22}{'  '.join(f'{what} {said}' for what, said in marks.items())}")
    for what, outcomes in failed.items():
        share = 100 * sum(outcomes) / len(outcomes)
        at_least(f"not passed without {what} ({len(outcomes)}), %", share, 98.0)
