"""Intervals: heard, buzzed, played, varied, bent."""

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
from orexis.core.exercises.practised import PracticeRules, Values
from orexis.core.exercises.writer import Writer
from orexis.core.parameter import Choice, Parameter
from orexis.core.score.steps import Articulation, Bend, Breath, PlayedOn, Rest, Score, Step

_WIDEST = 12
_SLURRED_AIMS = (Aim.GAP, Aim.TOUCHED, Aim.FLIPPED, Aim.SAME_SOUND, Aim.END)


def _parameters(writer: Writer) -> tuple[Parameter, ...]:
    low, high = writer.instrument.lowest_midi, writer.instrument.highest_midi
    return (
        writer.note("from_midi", "from", writer.reach.easy, low, high),
        Parameter(
            "semitones",
            "interval",
            "half steps",
            -_WIDEST,
            _WIDEST,
            1,
            above="up",
            below="down",
            usual=4.0,
        ),
    )


def _both(writer: Writer, given: ParameterValues) -> tuple[int, int]:
    start, interval = given.whole("from_midi"), given.whole("semitones")
    if interval == 0:
        raise ExerciseRefusedError("An interval needs a distance: one half step or more.")
    end = start + interval
    low, high = writer.instrument.lowest_midi, writer.instrument.highest_midi
    if not low <= end <= high:
        raise ExerciseRefusedError(
            f"{writer.name(end)} is not on this horn, which goes from {writer.name(low)} to "
            f"{writer.name(high)}. Take a smaller interval, or start nearer the middle."
        )
    return start, end


def _buzz_parameters(writer: Writer) -> tuple[Parameter, ...]:
    how_often = writer.beats(2), writer.times(3), writer.tempo(60)
    return (*_parameters(writer), *writer.buzzed_on(), *how_often)


def _buzz_then_play(writer: Writer, given: ParameterValues) -> Score:
    start, end = _both(writer, given)
    beats = given.beats("beats")
    steps: tuple[Step, ...] = (
        *(writer.buzz(midi, beats, given.played_on) for midi in (start, end, start)),
        Rest(beats, "to the horn"),
        writer.play(start, beats),
        writer.slurred(end, beats),
        writer.slurred(start, 2 * beats),
        Breath(),
    )
    return Score(steps, tempo_bpm=given.number("tempo"), times=given.whole("times"))


_RHYTHMS: dict[str, tuple[str, tuple[Fraction, ...]]] = {
    "even": ("even", (Fraction(1),) * 4),
    "long-short": ("long, short", (Fraction(3, 2), Fraction(1, 2)) * 2),
    "short-long": ("short, long", (Fraction(1, 2), Fraction(3, 2)) * 2),
    "triplets": ("in threes", (Fraction(2, 3),) * 6),
}


def _rhythm_parameters(writer: Writer) -> tuple[Parameter, ...]:
    choices = tuple(Choice(key, words) for key, (words, _) in _RHYTHMS.items())
    rhythm = Parameter("rhythm", "rhythm", choices=choices)
    return (*_parameters(writer), rhythm, writer.times(3), writer.tempo(72))


def _rhythms(writer: Writer, given: ParameterValues) -> Score:
    pair = _both(writer, given)
    lengths = _RHYTHMS[given.word("rhythm")][1]
    notes: list[Step] = [
        writer.slurred(pair[place % 2], beats) if place else writer.play(pair[0], beats)
        for place, beats in enumerate(lengths)
    ]
    notes += [writer.slurred(pair[len(lengths) % 2], 4), Breath()]
    return Score(tuple(notes), tempo_bpm=given.number("tempo"), times=given.whole("times"))


def _bend_parameters(writer: Writer) -> tuple[Parameter, ...]:
    depth = (Choice("half", "a half step"), Choice("whole", "a whole step"))
    return (
        *_parameters(writer),
        Parameter("bend", "bend", choices=depth),
        *writer.buzzed_on(Choice(PlayedOn.HORN.value, "horn, down only")),
        writer.times(3),
    )


def _bend(writer: Writer, given: ParameterValues) -> Score:
    start, end = _both(writer, given)
    towards = 1 if end > start else -1
    on = given.played_on
    if on is PlayedOn.HORN and towards > 0:
        raise ExerciseRefusedError(
            "On the horn a note bends down only. Take an interval down, or bend on the mouthpiece."
        )
    cents = 100.0 * towards * (2 if given.word("bend") == "whole" else 1)
    # The next note's fingering is held from the start.
    ahead = replace(writer.play(end, 2), midi=start, on=on)
    to_the_horn = (Breath(),) if on is PlayedOn.HORN else (Rest(Fraction(2), "to the horn"),)
    steps: tuple[Step, ...] = (
        ahead,
        Bend(cents, Fraction(4)),
        replace(ahead, articulation=Articulation.SLURRED),
        *to_the_horn,
        writer.play(start, 2),
        writer.slurred(end, 4),
        Breath(),
    )
    return Score(steps, times=given.whole("times"))


def _wider(writer: Writer) -> Iterator[Values]:
    """A half step wider each time, from a whole step to an octave, then down."""
    yield {"from_midi": float(writer.reach.easy)}
    for semitones in range(2, _WIDEST + 1):
        yield {"semitones": float(semitones)}
    for semitones in range(3, _WIDEST + 1):
        yield {"semitones": -float(semitones)}


def _rhythm_path(writer: Writer) -> Iterator[Values]:
    """Another rhythm, then a half step wider."""
    yield {"from_midi": float(writer.reach.easy)}
    for semitones in range(2, _WIDEST + 1):
        for rhythm in _RHYTHMS:
            yield {"semitones": float(semitones), "rhythm": rhythm}


def _bend_path(writer: Writer) -> Iterator[Values]:
    """The next note farther away, then bent by a whole step."""
    yield {"from_midi": float(writer.reach.easy), "on": "mouthpiece"}
    for bend in ("half", "whole"):
        for semitones in (2, 4, 5, 7, 9, 12):
            yield {"semitones": float(semitones), "bend": bend}


FAMILIES = (
    Family(
        "buzz-then-play",
        "Buzz it, play it",
        Group.INTERVALS,
        _buzz_parameters,
        _buzz_then_play,
        _SLURRED_AIMS,
        FamilyWords(
            why="What your lips can do alone, the horn only has to answer.",
            listen="The last note should be as good as the first.",
            wrong="The notes feel too far apart, or you throw the last one away.",
            remedy="Sing through the interval, and make the last note the best.",
        ),
        leads_to=("interval-rhythms",),
        falls_back_to=("interval-buzz",),
        practised=PracticeRules(turn=1, path=_wider),
    ),
    Family(
        "interval-rhythms",
        "Interval in rhythms",
        Group.INTERVALS,
        _rhythm_parameters,
        _rhythms,
        (*_SLURRED_AIMS, Aim.EVEN),
        FamilyWords(
            why="Another rhythm makes the same interval new again.",
            listen="Listen for the beat, and for the last note.",
            wrong="You overshoot the note, or leave a space before it.",
            remedy="Sing through it, and play it slower.",
        ),
        leads_to=("bend",),
        falls_back_to=("buzz-then-play",),
        practised=PracticeRules(turn=2, path=_rhythm_path),
    ),
    Family(
        "bend",
        "Fingered-ahead bend",
        Group.INTERVALS,
        _bend_parameters,
        _bend,
        (Aim.BENT, Aim.CAME_BACK, Aim.WANING, Aim.GAP),
        FamilyWords(
            why="Bend a half step towards the next note, then play the interval as if it were "
            "that near.",
            listen="The sound stays as it is while you bend, and the note comes all the way back.",
            wrong="The sound fades or opens up, or the note does not come back.",
            remedy="Make a smaller bend, focus inward and keep the jaw quiet. Bend a whole step "
            "before you try an octave.",
        ),
        version=2,
        falls_back_to=("finding-the-centre",),
        practised=PracticeRules(
            turn=3,
            path=_bend_path,
            reason="Bend the note and bring it back, so that the next one feels near.",
        ),
    ),
)
