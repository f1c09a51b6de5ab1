"""Tasks and verdicts as JSON and back: what is kept with a take, so that it is shown and judged as
it was."""

from fractions import Fraction
from typing import Any

from orexis.core.exercises.book import current_key
from orexis.core.exercises.family import Aim, ParameterValues
from orexis.core.exercises.task import Ending, Task
from orexis.core.judging.attempts import AimResult, SilentNote, Verdict
from orexis.core.judging.matching import Place
from orexis.core.judging.mismatch import Mismatch, MismatchKind
from orexis.core.score.steps import (
    Articulation,
    Bend,
    Breath,
    BreathKind,
    Dynamic,
    Glide,
    Play,
    PlayedOn,
    Rest,
    Role,
    Score,
    Step,
)

Kept = dict[str, Any]


def task_document(task: Task) -> Kept:
    """A task, whole."""
    return {
        "family": task.family_key,
        "version": task.version,
        "values": dict(task.given.values),
        "title": task.title,
        "setting": task.setting,
        "score": score_document(task.score),
        "aims": [aim.value for aim in task.aims],
        "ending": {"silence_s": task.ending.silence_s, "done_s": task.ending.done_s},
    }


def task_of(kept: Kept) -> Task:
    """The task of a document. Raises `KeyError` or `ValueError` for one of another form."""
    ending = kept["ending"]
    return Task(
        family_key=current_key(kept["family"]),
        version=kept["version"],
        given=ParameterValues(kept["values"]),
        title=kept["title"],
        setting=kept["setting"],
        score=score_of(kept["score"]),
        aims=tuple(Aim(aim) for aim in kept["aims"]),
        ending=Ending(ending["silence_s"], ending["done_s"]),
    )


def score_document(score: Score) -> Kept:
    """A score, whole."""
    return {
        "steps": [step_document(step) for step in score.steps],
        "tempo_bpm": score.tempo_bpm,
        "beats_in_bar": score.beats_in_bar,
        "times": score.times,
        "tonic": score.tonic,
    }


def score_of(kept: Kept) -> Score:
    """The score of a document."""
    return Score(
        steps=tuple(_step(step) for step in kept["steps"]),
        tempo_bpm=kept["tempo_bpm"],
        beats_in_bar=kept["beats_in_bar"],
        times=kept["times"],
        tonic=kept["tonic"],
    )


def step_document(step: Step) -> Kept:
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


def _step(kept: Kept) -> Step:
    match kept["kind"]:
        case "play":
            grows_to = kept["grows_to"]
            return Play(
                midi=kept["midi"],
                beats=_beats(kept),
                articulation=Articulation(kept["articulation"]),
                length_name=kept["length"],
                partial=kept["partial"],
                dynamic=Dynamic(kept["dynamic"]),
                grows_to=None if grows_to is None else Dynamic(grows_to),
                on=PlayedOn(kept["on"]),
                role=Role(kept["role"]),
                as_long_as_good=kept["as_long_as_good"],
            )
        case "glide":
            return Glide(kept["to_midi"], _beats(kept), PlayedOn(kept["on"]))
        case "bend":
            return Bend(kept["cents"], _beats(kept))
        case "rest":
            return Rest(_beats(kept), kept["words"])
        case "breath":
            return Breath(BreathKind(kept["breath"]))
        case kind:
            raise ValueError(f"There is no step of kind {kind}.")


def _beats(kept: Kept) -> Fraction:
    return Fraction(kept["beats"]).limit_denominator(48)


def verdict_document(verdict: Verdict) -> Kept:
    """A verdict, whole."""
    return {
        "results": [
            {
                "aim": result.aim.value,
                "measured": result.measured,
                "limit": result.limit,
                "passed": result.passed,
                "at": _place_document(result.at),
                "missed": [_place_document(place) for place in result.missed],
                "right": result.right,
                "chances": result.chances,
                "untold": result.untold,
                "word": result.word,
            }
            for result in verdict.results
        ],
        "silent": [
            {"at": _place_document(note.at), "heard_midi": note.heard_midi}
            for note in verdict.silent
        ],
        "mismatch": verdict.mismatch
        and {
            "kind": verdict.mismatch.kind.value,
            "semitones": verdict.mismatch.semitones,
            "at": _place_document(verdict.mismatch.at),
        },
    }


def verdict_of(kept: Kept) -> Verdict:
    """The verdict of a document."""
    return Verdict(
        tuple(
            AimResult(
                aim=Aim(result["aim"]),
                measured=result["measured"],
                limit=result["limit"],
                passed=result["passed"],
                at=None if result["at"] is None else Place(*result["at"]),
                missed=tuple(Place(*place) for place in result["missed"]),
                right=result["right"],
                chances=result["chances"],
                untold=result["untold"],
                word=result.get("word", ""),
            )
            for result in kept["results"]
        ),
        tuple(SilentNote(Place(*one["at"]), one["heard_midi"]) for one in kept["silent"]),
        _mismatch_of(kept.get("mismatch")),
    )


def _mismatch_of(kept: Kept | None) -> Mismatch | None:
    if kept is None:
        return None
    at = None if kept["at"] is None else Place(*kept["at"])
    return Mismatch(MismatchKind(kept["kind"]), kept["semitones"], at)


def _place_document(place: Place | None) -> list[int] | None:
    return None if place is None else [place.step, place.time]
