"""The exercise document: what an exercise is on a horn, as JSON."""

from typing import Any

from orexis.core.exercises.family import Task
from orexis.core.score.steps import Bend, Breath, Glide, Play, Rest, Step

SCHEMA = "orexis.exercise/1"


def exercise_document(task: Task) -> dict[str, Any]:
    """A task as the exercise document."""
    words = task.family.words
    return {
        "schema": SCHEMA,
        "family": task.family.key,
        "title": task.title,
        "parameters": dict(task.given.values),
        "score": [step_document(step) for step in task.score.steps],
        "tempo_bpm": task.score.tempo_bpm,
        "beats_in_bar": task.score.beats_in_bar,
        "times": task.score.times,
        "aims": {aim.name.lower(): aim.value for aim in task.aims},
        "words": {
            "why": words.why,
            "listen": words.listen,
            "wrong": words.wrong,
            "remedy": words.remedy,
            "caution": words.caution,
        },
    }


def step_document(step: Step) -> dict[str, Any]:
    """One step: its kind and what it holds."""
    match step:
        case Play():
            return {
                "kind": "play",
                "midi": step.midi,
                "beats": float(step.beats),
                "articulation": step.articulation.value,
                "length": step.length_name,
                "partial": step.partial,
                "dynamic": step.dynamic.value,
                "grows_to": step.grows_to and step.grows_to.value,
                "on": step.on.value,
                "role": step.role.value,
                "as_long_as_good": step.as_long_as_good,
            }
        case Glide():
            return {
                "kind": "glide",
                "to_midi": step.to_midi,
                "beats": float(step.beats),
                "on": step.on.value,
            }
        case Bend():
            return {"kind": "bend", "cents": step.cents, "beats": float(step.beats)}
        case Rest():
            return {"kind": "rest", "beats": float(step.beats), "words": step.words}
        case Breath():
            return {"kind": "breath", "breath": step.kind.value}
