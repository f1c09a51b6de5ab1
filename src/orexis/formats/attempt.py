"""The verdict on an attempt at an exercise, as part of the analysis document."""

from collections.abc import Callable, Sequence
from typing import Any

from orexis.core.exercises.task import Task
from orexis.core.horn.setup import Horn
from orexis.core.judging.aims import RULES
from orexis.core.judging.attempt_words import said_of
from orexis.core.judging.attempts import Verdict
from orexis.core.judging.holds import SetOfHolds, held_in
from orexis.core.judging.matching import Answer, Place
from orexis.core.judging.standard import Standard


def attempt_document(
    task: Task,
    verdict: Verdict,
    name: Callable[[int], str],
    level: Standard,
    answers: Sequence[Answer] = (),
    horn: Horn | None = None,
) -> dict[str, Any]:
    """A verdict at a standard: whether it passed, its words, what is wrong with the whole attempt,
    every aim with its number, limit and places, how long notes were held, and every note asked for
    with what was heard of it."""
    said = said_of(task, verdict, name, horn=horn)
    mismatch = verdict.mismatch
    return {
        "family": task.family_key,
        "parameters": dict(task.given.values),
        "level": level.value,
        "passed": verdict.passed,
        "headline": said.headline,
        "change": said.change,
        "mismatch": mismatch
        and {"kind": mismatch.kind.value, "semitones": mismatch.semitones, **_place(mismatch.at)},
        "aims": [
            {
                "aim": result.aim.value,
                "measured": round(result.measured, 3),
                "limit": result.limit,
                "unit": RULES[result.aim].unit,
                "passed": result.passed,
                **_place(result.at),
                "places": [_place(place) for place in result.missed],
                "right": result.right,
                "chances": result.chances,
                "untold": result.untold,
                "word": result.word,
            }
            for result in verdict.results
        ],
        "holds": _holds(held_in(task, answers)),
        "notes": [_note(answer) for answer in answers],
    }


def _place(at: Place | None) -> dict[str, int | None]:
    if at is None:
        return {"step": None, "time": None}
    return {"step": at.step, "time": at.time}


def _holds(holds: SetOfHolds | None) -> dict[str, Any] | None:
    """How long the notes were held that were to last as long as they are good."""
    if holds is None:
        return None
    halves_s, line_s = holds.halves_s, holds.line_s
    return {
        "held_s": [round(hold.seconds, 2) for hold in holds.holds],
        "typical_s": round(holds.typical_s, 2),
        "longest_s": round(holds.longest_s, 2),
        "halves_s": halves_s and [round(seconds, 2) for seconds in halves_s],
        "line_s": line_s and [round(seconds, 2) for seconds in line_s],
    }


def _note(answer: Answer) -> dict[str, Any]:
    """A note that was asked for: where it stands, whether it sounded, and what was heard there."""
    heard = answer.heard
    return {
        **_place(answer.at),
        "midi": answer.note.midi,
        "spoke": answer.spoke,
        "heard": heard
        and {
            "midi": heard.midi,
            "off_cents": round(answer.off_cents, 2),
            "start_s": round(heard.start_s, 3),
            "end_s": round(heard.end_s, 3),
        },
    }
