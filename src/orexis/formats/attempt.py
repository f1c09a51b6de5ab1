"""The verdict on an attempt at an exercise, as part of the analysis document."""

from collections.abc import Callable
from typing import Any

from orexis.core.exercises.task import Task
from orexis.core.judging.aims import RULES
from orexis.core.judging.attempt_words import said_of
from orexis.core.judging.attempts import Verdict


def attempt_document(task: Task, verdict: Verdict, name: Callable[[int], str]) -> dict[str, Any]:
    """A verdict: whether it passed, its words, and every aim with its number, limit and place."""
    said = said_of(task, verdict, name)
    return {
        "family": task.family_key,
        "parameters": dict(task.given.values),
        "passed": verdict.passed,
        "headline": said.headline,
        "change": said.change,
        "aims": [
            {
                "aim": result.aim.value,
                "measured": round(result.measured, 3),
                "limit": result.limit,
                "unit": RULES[result.aim].unit,
                "passed": result.passed,
                "step": result.at and result.at.step,
                "time": result.at and result.at.time,
                "right": result.right,
                "chances": result.chances,
                "untold": result.untold,
            }
            for result in verdict.results
        ],
    }
