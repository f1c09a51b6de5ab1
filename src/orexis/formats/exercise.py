"""The exercise document: what an exercise is on a horn, as JSON."""

from typing import Any

from orexis.core.exercises.family import FamilyWords
from orexis.core.exercises.task import Task
from orexis.core.judging.aim_words import WORDS
from orexis.formats.task import step_document

SCHEMA = "orexis.exercise/1"


def exercise_document(task: Task, words: FamilyWords) -> dict[str, Any]:
    """A task as the exercise document, with the words of its family."""
    return {
        "schema": SCHEMA,
        "family": task.family_key,
        "title": task.title,
        "parameters": dict(task.given.values),
        "score": [step_document(step) for step in task.score.steps],
        "tempo_bpm": task.score.tempo_bpm,
        "beats_in_bar": task.score.beats_in_bar,
        "times": task.score.times,
        "aims": {aim.value: WORDS[aim].counts for aim in task.aims},
        "words": {
            "why": words.why,
            "listen": words.listen,
            "wrong": words.wrong,
            "remedy": words.remedy,
            "caution": words.caution,
        },
    }
