"""Ladders: up by a step from a note that is safe, by glides on a slide and by slurs on valves."""

from collections.abc import Iterator
from dataclasses import replace
from fractions import Fraction

from orexis.core.counting import counted
from orexis.core.exercises.family import (
    Aim,
    ExerciseRefusedError,
    Family,
    FamilyWords,
    Group,
    ParameterValues,
)
from orexis.core.exercises.practised import AttemptOrder, PracticeRules, Values
from orexis.core.exercises.writer import Writer
from orexis.core.horn.glides import glides
from orexis.core.parameter import Parameter
from orexis.core.score.steps import Articulation, Breath, Play, Score, Step

CAUTION = "Stop for today when a note will not lock. Stop at once for pain."
"""What goes with all work above what is safe."""

_REMEDY = "Use more air from low in the body and grow on the way up, or stop for today."


def top_of(writer: Writer) -> int:
    """The highest note that can be asked of the horn."""
    return writer.instrument.highest_midi


def up_from(writer: Writer, usual: int, below_top: int = 1) -> Parameter:
    """The note to go up from, at least so far below the highest."""
    low = writer.instrument.normal_low
    return writer.note("from_midi", "from", usual, low, top_of(writer) - below_top)


def reachable(writer: Writer, midi: int, ask: str) -> None:
    """Refuses to go above the horn; `ask` says what to do instead."""
    if midi > top_of(writer):
        raise ExerciseRefusedError(
            f"This goes up to {writer.name(midi)}, and the horn to {writer.name(top_of(writer))}. "
            f"{ask}"
        )


def _glide_pair(writer: Writer, start: int, semitones: int, beats: Fraction) -> list[Step]:
    """A note, a glide up and the note it ends on, with one sound. On a slide from the alternate
    that is far enough out."""
    there = glides(writer.horn, start, semitones)
    if not there:
        farthest = max((k for k in range(1, 7) if glides(writer.horn, start, k)), default=0)
        nearest = (
            f"From {writer.name(start)} it can make {farthest}."
            if farthest
            else f"No glide starts on {writer.name(start)}; choose a note nearby."
        )
        raise ExerciseRefusedError(
            f"The slide cannot glide {counted(semitones, 'half step')} up from "
            f"{writer.name(start)}. {nearest}"
        )
    first, last = there[0].start, there[0].end
    low = writer.slot(first.slot, beats)
    high = writer.slot(last.slot, 2 * beats, articulation=Articulation.SLURRED)
    return [
        replace(low, midi=start),
        writer.glide(start + semitones, beats),
        replace(high, midi=start + semitones),
    ]


def _slide_only(writer: Writer) -> None:
    if not writer.instrument.is_slide:
        raise ExerciseRefusedError(
            "Valves cannot glide. Take the chromatic ladder: the same steps, slurred."
        )


def _ladder_parameters(writer: Writer) -> tuple[Parameter, ...]:
    rungs = Parameter("rungs", "rungs", "", 1, 8, 1, usual=4.0)
    return up_from(writer, writer.reach.high - 5), rungs, writer.beats(2)


def _glide_ladder(writer: Writer, given: ParameterValues) -> Score:
    _slide_only(writer)
    start, rungs, beats = given.whole("from_midi"), given.whole("rungs"), given.beats("beats")
    reachable(writer, start + rungs, "Take fewer steps, or start lower.")
    steps: list[Step] = []
    for rung in range(rungs):
        steps += [*_glide_pair(writer, start + rung, 1, beats), Breath()]
    return Score(tuple(steps))


def _expanding_parameters(writer: Writer) -> tuple[Parameter, ...]:
    widest = Parameter("widest", "up to", "half steps", 1, 6, 1, usual=4.0)
    return up_from(writer, writer.reach.high - 7), widest, writer.beats(2)


def _expanding(writer: Writer, given: ParameterValues) -> Score:
    _slide_only(writer)
    start, widest, beats = given.whole("from_midi"), given.whole("widest"), given.beats("beats")
    reachable(writer, start + widest, "Take a smaller widest glide, or start lower.")
    steps: list[Step] = []
    for semitones in range(1, widest + 1):
        up = _glide_pair(writer, start, semitones, beats)
        first = up[0]
        back: list[Step] = [writer.glide(start, beats)]
        if isinstance(first, Play):
            back.append(replace(first, articulation=Articulation.SLURRED))
        steps += [*up, *back, Breath()]
    return Score(tuple(steps))


def _chromatic_ladder(writer: Writer, given: ParameterValues) -> Score:
    start, rungs, beats = given.whole("from_midi"), given.whole("rungs"), given.beats("beats")
    reachable(writer, start + rungs, "Take fewer steps, or start lower.")
    steps: list[Step] = []
    for rung in range(rungs):
        steps += [
            writer.play(start + rung, beats),
            writer.slurred(start + rung + 1, 2 * beats),
            Breath(),
        ]
    return Score(tuple(steps))


def _expanding_path(writer: Writer) -> Iterator[Values]:
    """A half step farther each time."""
    yield {}
    for widest in range(2, 7):
        yield {"widest": float(widest)}


FAMILIES = (
    Family(
        "glide-ladder",
        "Glide ladder",
        Group.HIGH,
        _ladder_parameters,
        _glide_ladder,
        (Aim.NO_CATCH, Aim.ENDS_ALIKE, Aim.SAME_SOUND),
        FamilyWords(
            why="The next note is only a half step along the slide.",
            listen="Both notes should have one sound.",
            wrong="A note catches on the way, or the end is weaker than the start.",
            remedy="Go slower on a new breath, with the same air, and let only the slide move.",
            caution=CAUTION,
        ),
        leads_to=("expanding-glide",),
        falls_back_to=("next-note",),
        practised=PracticeRules(
            follow=AttemptOrder.LADDER, turn=1, climbs=True, in_steps=True, alone={"rungs": 1.0}
        ),
    ),
    Family(
        "expanding-glide",
        "Expanding glide",
        Group.HIGH,
        _expanding_parameters,
        _expanding,
        (Aim.NO_CATCH, Aim.ENDS_ALIKE, Aim.SAME_SOUND),
        FamilyWords(
            why="You start from the outer position and go a half step farther each time, and back.",
            listen="The end should be as full as the start.",
            wrong="A note catches on the way, or the end thins out.",
            remedy="Go slower, and take a new breath for each.",
            caution=CAUTION,
        ),
        falls_back_to=("glide-ladder",),
        practised=PracticeRules(
            follow=AttemptOrder.BREATHS,
            turn=8,
            path=_expanding_path,
            reason="From the outer position a little farther each time.",
        ),
    ),
    Family(
        "chromatic-ladder",
        "Chromatic ladder",
        Group.HIGH,
        _ladder_parameters,
        _chromatic_ladder,
        (Aim.GAP, Aim.FLIPPED, Aim.SAME_SOUND, Aim.HELD),
        FamilyWords(
            why="You go a half step further from a note that is safe.",
            listen="Both notes should have one sound.",
            wrong="The upper note will not lock, or sounds thin.",
            remedy=_REMEDY,
            caution=CAUTION,
        ),
        leads_to=("rising-triads",),
        falls_back_to=("next-note",),
        practised=PracticeRules(
            follow=AttemptOrder.LADDER, turn=2, climbs=True, in_steps=True, alone={"rungs": 1.0}
        ),
    ),
)
