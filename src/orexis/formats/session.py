"""A session's plan and log as JSON and back: kept, so that it is taken up and told as it was."""

from collections.abc import Callable
from dataclasses import asdict
from typing import Any

from orexis.core.exercises.family import Group
from orexis.core.exercises.practised import AttemptOrder
from orexis.core.judging.standard import Standard
from orexis.core.listening.notes.tone import Tone
from orexis.core.session.log import (
    AttemptJudged,
    AttemptUnheard,
    ButtonPressed,
    Disturbed,
    Entry,
    ExercisePut,
    HelpAsked,
    Overruled,
    Press,
    SessionResumed,
    SoundLost,
    TimeUp,
    Tired,
    Tuned,
)
from orexis.core.session.metronome import Metronome
from orexis.core.session.plan import (
    AfterFail,
    AfterFails,
    BeforeAttempt,
    Block,
    Counts,
    Plan,
    Rests,
    Rung,
    SessionKind,
)
from orexis.core.session.state import BlockEnd, ExerciseResult
from orexis.formats.task import task_document, task_of

Kept = dict[str, Any]


def plan_document(plan: Plan) -> Kept:
    """A plan, whole."""
    blocks = [block_document(block) for block in plan.blocks]
    return {"title": plan.title, "kind": plan.kind.value, "blocks": blocks}


def plan_of(kept: Kept) -> Plan:
    """The plan of a document. Raises `LookupError`, `TypeError` or `ValueError` for one of another
    form."""
    title, blocks = kept["title"], tuple(block_of(block) for block in kept["blocks"])
    # The kind of an older one stands beside it.
    return Plan(title, blocks, SessionKind(kept["kind"]) if "kind" in kept else SessionKind.PLAN)


def block_document(block: Block) -> Kept:
    """A block, whole."""
    metronome = block.metronome
    return {
        "title": block.title,
        "why": block.why,
        "group": block.group.value,
        "follow": block.follow.value,
        "rungs": [
            {
                "name": rung.name,
                "task": task_document(rung.task),
                "rest_s": rung.rest_s,
                "words": rung.words,
            }
            for rung in block.rungs
        ],
        "needed": block.needed,
        "counts": block.counts.value,
        "after_fail": block.after_fail.value,
        "most_fails": block.most_fails,
        "ends_well": block.ends_well,
        "reaches": block.reaches,
        "checks": block.checks,
        "enough": block.enough.value,
        "sets": block.sets,
        "rests": asdict(block.rests),
        "probe": block.probe and task_document(block.probe),
        "metronome": metronome and {**asdict(metronome), "accents": list(metronome.accents)},
        "before": block.before.value,
        "open": block.open,
        "within_s": block.within_s,
    }


def block_of(kept: Kept) -> Block:
    """The block of a document."""
    metronome = kept["metronome"]
    return Block(
        title=kept["title"],
        why=kept["why"],
        group=Group(kept["group"]),
        follow=AttemptOrder(kept["follow"]),
        rungs=tuple(
            Rung(rung["name"], task_of(rung["task"]), rung["rest_s"], rung["words"])
            for rung in kept["rungs"]
        ),
        needed=kept["needed"],
        counts=Counts(kept["counts"]),
        after_fail=AfterFail(kept["after_fail"]),
        most_fails=kept["most_fails"],
        ends_well=kept.get("ends_well", False),
        reaches=kept.get("reaches", False),
        checks=kept.get("checks", False),
        enough=AfterFails(kept["enough"]),
        sets=kept["sets"],
        rests=Rests(**_as_named_now(kept["rests"])),
        probe=None if kept["probe"] is None else task_of(kept["probe"]),
        metronome=None
        if metronome is None
        else Metronome(**{**metronome, "accents": tuple(metronome["accents"])}),
        before=BeforeAttempt(kept["before"]),
        open=kept["open"],
        within_s=kept.get("within_s"),
    )


_KINDS: dict[str, type[Entry]] = {
    "judged": AttemptJudged,
    "time-up": TimeUp,
    "pressed": ButtonPressed,
    "overruled": Overruled,
    "put": ExercisePut,
    "helped": HelpAsked,
    "tuned": Tuned,
    "disturbed": Disturbed,
    "sound-lost": SoundLost,
    "unheard": AttemptUnheard,
    "resumed": SessionResumed,
    "tired": Tired,
}
_NAMES = {kind: name for name, kind in _KINDS.items()}
_READ: dict[str, Callable[[Any], Any]] = {
    "press": Press,
    "level": Standard,
    "block": block_of,
    "signs": tuple,
    "tone": lambda kept: None if kept is None else Tone(**kept),
}
"""How the values that are no plain ones are read, by their names."""


def kind_of(entry: Entry) -> str:
    """What kind of entry it is."""
    return _NAMES[type(entry)]


def entry_document(entry: Entry) -> Kept:
    """What an entry says, beside its kind and its sample."""
    if isinstance(entry, ExercisePut | HelpAsked):
        return {"block": block_document(entry.block)}
    kept = asdict(entry)
    del kept["sample"]
    return kept


def entry_of(kind: str, sample: int, kept: Kept) -> Entry:
    """The entry of a document. Raises `LookupError`, `TypeError` or `ValueError`."""
    values: Kept = {key: _READ[key](one) if key in _READ else one for key, one in kept.items()}
    return _KINDS[kind](sample=sample, **values)


def exercise_result_document(result: ExerciseResult) -> Kept:
    """How an exercise of a session result."""
    return {**asdict(result), "group": result.group.value, "close": result.close.value}


_FORMER_NAMES = {"try_s": "attempt_s", "tries": "attempts"}
"""What values were called once, in documents of that time."""


def _as_named_now(kept: Kept) -> Kept:
    return {_FORMER_NAMES.get(name, name): value for name, value in kept.items()}


def exercise_result_of(kept: Kept) -> ExerciseResult:
    """How an exercise went, of a document."""
    kept = _as_named_now(kept)
    return ExerciseResult(
        **{**kept, "group": Group(kept["group"]), "close": BlockEnd(kept["close"])}
    )
