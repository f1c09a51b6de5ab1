"""Slurs an octave down, on a trigger or the fourth valve."""

from collections.abc import Iterator
from dataclasses import replace

from orexis.core.exercises.family import (
    ExerciseRefusedError,
    Family,
    FamilyWords,
    Group,
    ParameterValues,
)
from orexis.core.exercises.practised import AttemptOrder, PracticeRules, Values
from orexis.core.exercises.slurring import CONNECTED, slots_of, slurred, up_and_down
from orexis.core.exercises.writer import Writer
from orexis.core.horn.tube import Length
from orexis.core.horn.ways import ways
from orexis.core.parameter import Parameter
from orexis.core.score.steps import Breath, Play, Score

_FOURTH = 4


def _octave_parameters(writer: Writer) -> tuple[Parameter, ...]:
    return (
        writer.length(),
        writer.slot_number("slot", "from partial", 3, 6),
        Parameter("slots", "partials", "", 2, 5, 1, usual=2.0),
        writer.beats(2),
        writer.times(3),
    )


def _adds_tube(length: Length) -> bool:
    """Whether a length has a trigger or a fourth valve in it."""
    return bool(length.triggers) or _FOURTH in length.valves


def _octave_down(writer: Writer, given: ParameterValues) -> Score:
    """A slur on a length as it is an octave lower, each note on the shortest tube with a trigger or
    the fourth valve that has it, else where it usually is."""
    if not any(length.learned and _adds_tube(length) for length in writer.horn.lengths):
        raise ExerciseRefusedError(
            f"{writer.instrument.name} has neither trigger nor fourth valve to go an octave down "
            "with. Take two partials from the lowest one instead."
        )
    beats = given.beats("beats")
    partials = up_and_down(given.whole("slot"), given.whole("slots"))
    above = slots_of(writer, given.word("length"), partials)
    notes = [_on_added_tube(writer, note) for note in slurred(writer, above, beats, 2 * beats)]
    return Score((*notes, Breath()), times=given.whole("times"))


def _on_added_tube(writer: Writer, above: Play) -> Play:
    midi = above.midi - 12
    lowest = writer.instrument.lowest_midi
    if midi < lowest:
        raise ExerciseRefusedError(
            f"An octave under {writer.name(above.midi)} lies below the horn's lowest note, "
            f"{writer.name(lowest)}. Start from a higher partial."
        )
    found = [
        way
        for way in ways(writer.horn, midi)
        if way.usable and way.length.learned and _adds_tube(way.length)
    ]
    way = min(found, key=lambda way: way.length.ratio, default=None)
    if way is None:
        usual = writer.play(midi, above.beats)
        return replace(above, midi=midi, length_name=usual.length_name, partial=usual.partial)
    return replace(above, midi=midi, length_name=way.length.name, partial=way.partial)


def _octave_path(writer: Writer) -> Iterator[Values]:
    """From a lower partial, more of them, then shorter notes."""
    yield {"beats": 2.0, "slots": 2.0}
    for slot in (4, 3):
        yield {"slot": float(slot)}
    for slots in (3, 4, 5):
        yield {"slots": float(slots)}
    for beats in (1.5, 1.0):
        yield {"beats": beats}


FAMILIES = (
    Family(
        "octave-down",
        "Slurs an octave down",
        Group.SLURS,
        _octave_parameters,
        _octave_down,
        CONNECTED,
        FamilyWords(
            why="You play the same slurs on the long tube, with slow lips and much air.",
            listen="An open sound down there, no wider than above.",
            wrong="The notes are wide, fuzzy and late.",
            remedy="Seal the corners, and begin with two notes.",
        ),
        falls_back_to=("lip-slur",),
        version=2,
        practised=PracticeRules(
            follow=AttemptOrder.LENGTHS,
            turn=7,
            path=_octave_path,
            reason="The same slurs an octave lower, on the added tube.",
        ),
    ),
)
