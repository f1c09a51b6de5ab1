"""An exercise as a block of a session: its rungs, and what is usual of how they go on."""

from collections.abc import Mapping
from dataclasses import dataclass, replace

from orexis.core.exercises.book import ONE_NOTE, find_family, task_of
from orexis.core.exercises.family import (
    WORKS,
    Aim,
    ExerciseRefusedError,
    Family,
    Group,
    ParameterValues,
    checked,
)
from orexis.core.exercises.practised import AttemptOrder, Value, Values
from orexis.core.exercises.task import Task
from orexis.core.exercises.writer import Writer
from orexis.core.parameter import Choice, Parameter
from orexis.core.score.steps import Articulation, Breath, Role
from orexis.core.session.metronome import Metronome
from orexis.core.session.plan import (
    AfterFail,
    AfterFails,
    BeforeAttempt,
    Block,
    Counts,
    Rests,
)
from orexis.core.session.rungs import MOST_RUNGS, growing, rungs_of

_FREE = frozenset({Group.LOW, Group.PEDALS, Group.HIGH})
"""What is practised without a metronome, unless the player says otherwise."""

_FOLLOWS = {
    AttemptOrder.REPEAT: "again until it is good",
    AttemptOrder.LADDER: "a step further each time",
    AttemptOrder.LENGTHS: "through the fingerings or positions",
    AttemptOrder.GROW: "growing",
    AttemptOrder.BREATHS: "breath by breath",
    AttemptOrder.SETS: "in sets, each start counted",
}
_OFF, _ON = Choice("off", "off"), Choice("on", "on")
_UP, _DOWN = Choice("up", "up"), Choice("down", "down")
_BEFORE = (
    Choice(BeforeAttempt.NOTHING.value, "nothing"),
    Choice(BeforeAttempt.HEAR.value, "hear it first"),
    Choice(BeforeAttempt.SING.value, "sing it first"),
    Choice(BeforeAttempt.FINGER.value, "finger it first"),
)
_AFTER_FAIL = {
    AfterFail.BACK: "one step back, and earn it again",
    AfterFail.AGAIN: "once more",
}


def follows_of(family: Family, writer: Writer) -> tuple[AttemptOrder, ...]:
    """How attempts at an exercise can follow each other, what is usual first."""
    parameters = family.parameters(writer)
    if family.group is Group.BREATH:
        # It goes by time, and there is nothing to judge.
        return (AttemptOrder.REPEAT,)
    possible = [AttemptOrder.REPEAT]
    usual = family.practised.follow
    if _note_of(parameters) is not None and usual is not AttemptOrder.SETS:
        possible.append(AttemptOrder.LADDER)
    if any(parameter.key == "length" for parameter in parameters):
        possible.append(AttemptOrder.LENGTHS)
    if growing(parameters) is not None:
        possible.append(AttemptOrder.GROW)
    possible += [AttemptOrder.BREATHS, AttemptOrder.SETS]
    return (usual, *(follow for follow in possible if follow is not usual))


def ways_of(
    family: Family, writer: Writer, follow: AttemptOrder | None = None
) -> tuple[Parameter, ...]:
    """What can be set of a block of an exercise beside the exercise itself."""
    choices = follows_of(family, writer)
    follow = follow or choices[0]
    works, group = family.group in WORKS, family.group
    climbs = follow in (AttemptOrder.LADDER, AttemptOrder.GROW)
    times = next(
        (parameter for parameter in family.parameters(writer) if parameter.key == "times"), None
    )
    usual_times = float(times.usual or 1) if times and follow is AttemptOrder.REPEAT else 1.0
    in_time = group not in _FREE and any(
        parameter.key == "tempo" for parameter in family.parameters(writer)
    )
    fails = 3.0 if climbs else 4.0
    goes_down = group in (Group.LOW, Group.PEDALS, Group.LONG)
    return (
        Parameter(
            "follow",
            "how attempts follow",
            choices=tuple(Choice(follow.value, _FOLLOWS[follow]) for follow in choices),
            usual=follow.value,
        ),
        Parameter(
            "steps", "steps go", choices=(_UP, _DOWN), usual=(_DOWN if goes_down else _UP).value
        ),
        Parameter("rungs", "steps at most", "", 1, MOST_RUNGS, 1, usual=8.0),
        Parameter("needed", "good ones a step", "", 1, 40, 1, usual=usual_times),
        Parameter("fails", "misses that end a step", "", 1, 40, 1, usual=fails),
        Parameter(
            "after_fail",
            "after a miss",
            choices=tuple(
                Choice(after_fail.value, words) for after_fail, words in _AFTER_FAIL.items()
            ),
            usual=(AfterFail.BACK if follow is AttemptOrder.LADDER else AfterFail.AGAIN).value,
        ),
        Parameter(
            "ends_well", "end on a good one", choices=(_ON, _OFF), usual="on" if climbs else "off"
        ),
        Parameter(
            "reaches", "one step beyond the top, at the end", choices=(_OFF, _ON), usual="off"
        ),
        Parameter("sets", "sets", "", 1, 5, 1, usual=2.0 if follow is AttemptOrder.SETS else 1.0),
        Parameter("minutes", "minutes at most, 0 for no limit", "min", 0, 60, 0.5, usual=0.0),
        Parameter("rest_s", "rest after an attempt", "s", 0, 120, 5, usual=0.0),
        Parameter(
            "as_played",
            "rest as long as you played",
            choices=(_OFF, _ON),
            usual="on" if works and follow is not AttemptOrder.SETS else "off",
        ),
        Parameter("set_rest_s", "rest between sets", "s", 10, 600, 10, usual=240.0),
        Parameter("block_rest_s", "rest after it", "s", 0, 900, 10, usual=60.0 if works else 0.0),
        Parameter(
            "probe",
            "low note between attempts",
            choices=(_OFF, _ON),
            usual="on" if group is Group.HIGH and follow is AttemptOrder.LADDER else "off",
        ),
        writer.note(
            "low_midi",
            "the low note",
            writer.reach.easy,
            writer.instrument.lowest_midi,
            writer.instrument.highest_midi,
        ),
        Parameter("metronome", "metronome", choices=(_OFF, _ON), usual="on" if in_time else "off"),
        Parameter("parts", "clicks per beat", "", 1, 4, 1, usual=1.0),
        Parameter("bpm", "beats a minute where it is free", "", 30, 240, 1, usual=60.0),
        Parameter("ramp_bpm", "faster or slower by the end", "", -60, 60, 2, usual=0.0),
        Parameter(
            "before", "before the first attempt", choices=_BEFORE, usual=BeforeAttempt.NOTHING.value
        ),
    )


def block_of(
    family_key: str,
    writer: Writer,
    values: Values,
    way: Values | None = None,
    why: str = "",
    *,
    open_ended: bool = False,
) -> Block:
    """The block of an exercise on a horn; what is not set is as usual. One that is `open_ended`
    goes on for as long as the player likes.

    Raises `ExerciseRefusedError` with the reason and the nearest that can be.
    """
    family = find_family(family_key)
    settings = _settings(family, writer, way or {})
    follow = AttemptOrder(settings.word("follow"))
    if follow not in follows_of(family, writer):
        raise ExerciseRefusedError(f"{family.title} cannot go on “{_FOLLOWS[follow]}”.")
    if follow is AttemptOrder.LADDER and any(
        parameter.key == "rungs" for parameter in family.parameters(writer)
    ):
        # The ladder is the session's; the family writes one step of it.
        values = {**values, "rungs": 1.0}
    task = task_of(family, writer, values)
    down = settings.word("steps") == _DOWN.value
    rungs = rungs_of(follow, family, writer, task, settings.whole("rungs"), down=down)
    needed = settings.whole("needed")
    if not task.score.pitches:
        needed = 1
    elif follow is AttemptOrder.REPEAT and "needed" not in (way or {}):
        needed = task.score.times
    climbs = follow in (AttemptOrder.LADDER, AttemptOrder.GROW)
    probes = settings.word("probe") == "on"
    metronome = None
    if settings.word("metronome") == "on" and task.score.pitches:
        metronome = _metronome(settings, task)
    return Block(
        title=family.title,
        why=why or family.words.why,
        group=family.group,
        follow=follow,
        rungs=rungs,
        needed=needed,
        counts=Counts.PLAYED if follow is AttemptOrder.SETS else Counts.PASSED,
        after_fail=AfterFail(settings.word("after_fail")),
        most_fails=settings.whole("fails"),
        enough=AfterFails.END if climbs else AfterFails.ON,
        sets=settings.whole("sets"),
        rests=Rests(
            settings.number("rest_s"),
            settings.word("as_played") == "on",
            settings.number("set_rest_s"),
            settings.number("block_rest_s"),
        ),
        probe=easy_low_note(writer, settings.number("low_midi")) if probes else None,
        metronome=metronome,
        before=BeforeAttempt(settings.word("before")),
        open=open_ended,
        within_s=60 * settings.number("minutes") or None,
        ends_well=climbs and settings.word("ends_well") == "on" and settings.whole("fails") > 1,
        reaches=climbs and settings.word("reaches") == "on" and len(rungs) > 1,
    )


def _settings(family: Family, writer: Writer, way: Values) -> ParameterValues:
    """How a block goes on, whole."""
    if way.get("after_fail") == AfterFail.BEYOND:
        # As it was set before reaching beyond followed a good note.
        way = {**way, "after_fail": AfterFail.AGAIN.value, "reaches": "on"}
    asked = way.get("follow")
    follow = next((follow for follow in AttemptOrder if follow.value == asked), None)
    parameters = {parameter.key: parameter for parameter in ways_of(family, writer, follow)}
    for key in way:
        if key not in parameters:
            raise ExerciseRefusedError(
                f"A session has no {key} to set; it has {_list(parameters)}."
            )
    found: dict[str, Value] = {}
    for key, parameter in parameters.items():
        found[key] = checked(writer, parameter, way[key]) if key in way else parameter.usual or 0.0
    return ParameterValues(found)


def _list(parameters: Mapping[str, Parameter]) -> str:
    return ", ".join(parameters)


def _metronome(settings: ParameterValues, task: Task) -> Metronome:
    bpm = task.score.tempo_bpm or settings.number("bpm")
    change = settings.number("ramp_bpm")
    return Metronome(
        parts=settings.whole("parts"),
        bpm=bpm,
        ramp_to_bpm=bpm + change if change else None,
    )


def easy_low_note(writer: Writer, midi: float | None = None) -> Task:
    """The easy low note (or another that is as easy to the player), started with an air attack."""
    from_midi = float(writer.reach.easy) if midi is None else midi
    task = task_of(find_family(ONE_NOTE), writer, {"from_midi": from_midi, "hold_s": 1.0})
    (note,) = task.score.notes
    low = replace(note, articulation=Articulation.BREATH, role=Role.RE_CENTRE)
    return replace(
        task,
        title="Low note",
        score=replace(task.score, steps=(low, Breath())),
        aims=(Aim.CENTRE, Aim.START, Aim.SPEAKS, Aim.TONE),
    )


def _note_of(parameters: tuple[Parameter, ...]) -> Parameter | None:
    return next((parameter for parameter in parameters if parameter.is_note), None)


@dataclass(frozen=True, slots=True)
class Setting:
    """An exercise of a plan as it is set: a family, its values, and how its attempts follow each
    other."""

    family: str
    values: Values
    way: Values
    why: str = ""
