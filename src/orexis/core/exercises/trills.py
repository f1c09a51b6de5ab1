"""Trills: a slow slur made quick."""

from collections.abc import Iterator
from dataclasses import replace
from fractions import Fraction

from orexis.core.exercises.family import (
    Aim,
    ExerciseRefusedError,
    Family,
    FamilyWords,
    Group,
    ParameterValues,
)
from orexis.core.exercises.practised import AttemptOrder, PracticeRules, ProgressMeasure, Values
from orexis.core.exercises.slurring import slots_of
from orexis.core.exercises.writer import Writer
from orexis.core.horn.slurs import same_pitch_pairs
from orexis.core.parameter import Choice, Parameter
from orexis.core.score.steps import Articulation, Breath, Play, Score, Step


def _accelerating_parameters(writer: Writer) -> tuple[Parameter, ...]:
    first = (Choice("slots", "lip trill"), Choice("same-pitch", "same note, two fingerings"))
    return (
        writer.length(),
        writer.slot_number("slot", "lower partial", 4),
        Parameter("kind", "of", choices=first),
        writer.tempo(60),
    )


def _accelerating(writer: Writer, given: ParameterValues) -> Score:
    slots = slots_of(writer, given.word("length"), [given.whole("slot"), given.whole("slot") + 1])
    pair = [writer.slot(slot) for slot in slots]
    if given.word("kind") == "same-pitch":
        pairs = same_pitch_pairs(writer.horn, pair[0].midi)
        if not pairs:
            raise ExerciseRefusedError(
                f"Only one fingering or position gives {writer.name(pair[0].midi)}. "
                "Take a higher partial."
            )
        pair = [
            Play(pairs[0].first.midi, Fraction(1), length_name=way.length.name, partial=way.partial)
            for way in (pairs[0].first, pairs[0].second)
        ]
    steps: list[Step] = []
    # A bar each of beats, halves of a beat, thirds and quarters; then the note it came from.
    for parts in (1, 2, 3, 4):
        for turn in range(4 * parts):
            note = pair[turn % 2]
            start = Articulation.SLURRED if steps else Articulation.TONGUED
            steps.append(replace(note, beats=Fraction(1, parts), articulation=start))
    steps.append(replace(pair[0], beats=Fraction(4), articulation=Articulation.SLURRED))
    return Score((*steps, Breath()), tempo_bpm=given.number("tempo"))


def _trill_path(writer: Writer) -> Iterator[Values]:
    """Quicker, then the next pair of partials."""
    yield {"kind": "slots"}
    for slot in (4, 5, 6, 7):
        for tempo in (54, 60, 66, 72, 78):
            yield {"slot": float(slot), "tempo": float(tempo)}


FAMILIES = (
    Family(
        "accelerating-slur",
        "Slur to trill",
        Group.SLURS,
        _accelerating_parameters,
        _accelerating,
        (Aim.CLEAR, Aim.EVEN, Aim.SPOKE, Aim.GAP),
        FamilyWords(
            why="A trill is a slow slur that gets quicker, and nothing else.",
            listen="Both notes should sound, at every speed.",
            wrong="One of the two notes is only brushed, and the trill is smeared.",
            remedy="Halve the speed, let each note lock, then go faster.",
        ),
        falls_back_to=("lip-slur",),
        practised=PracticeRules(
            follow=AttemptOrder.LENGTHS,
            turn=6,
            path=_trill_path,
            reason="Slow first, then two, three and four times as fast.",
            tells=ProgressMeasure.TRILL_SPEED,
        ),
    ),
)
