"""High: one step further, with the sound of the step before."""

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
from orexis.core.exercises.ladders import CAUTION, reachable, top_of, up_from
from orexis.core.exercises.practised import Answer, AttemptOrder, PracticeRules, Values
from orexis.core.exercises.scales import MAJOR, MAJOR_TRIAD, scale_up
from orexis.core.exercises.slurring import pyramid, pyramid_breaths, pyramid_path
from orexis.core.exercises.writer import Writer
from orexis.core.parameter import Choice, Parameter
from orexis.core.score.steps import (
    Articulation,
    Breath,
    BreathKind,
    Dynamic,
    Play,
    Rest,
    Role,
    Score,
    Step,
)

_HEAVY_FAMILIES = ("Baritones and euphoniums", "Tubas")


def _re_centre(writer: Writer) -> Play:
    """The easy low note between attempts, started with air."""
    return replace(
        writer.play(writer.reach.easy, 2), articulation=Articulation.BREATH, role=Role.RE_CENTRE
    )


def _triads_parameters(writer: Writer) -> tuple[Parameter, ...]:
    rungs = Parameter("rungs", "triads", "", 1, 8, 1, usual=3.0)
    return up_from(writer, writer.reach.high - 10, 8), rungs


def _triads(writer: Writer, given: ParameterValues) -> Score:
    start, rungs = given.whole("from_midi"), given.whole("rungs")
    reachable(writer, start + rungs - 1 + 7, "Take fewer triads, or start lower.")
    steps: list[Step] = []
    for rung in range(rungs):
        root = start + rung
        steps += [
            writer.play(root, 1, dynamic=Dynamic.MP),
            writer.slurred(root + 4, 1, dynamic=Dynamic.MF),
            writer.slurred(root + 7, 4, dynamic=Dynamic.F),
            Breath(),
            _re_centre(writer),
            Breath(),
        ]
    return Score(tuple(steps))


_VARIANTS = (
    Choice("up", "up"),
    Choice("up-down", "up and down"),
    Choice("arpeggio", "arpeggio"),
    Choice("third-octave", "with a third octave"),
    Choice("top-first", "top octave first"),
)


def _scale_parameters(writer: Writer) -> tuple[Parameter, ...]:
    low, most = writer.instrument.lowest_midi, top_of(writer) - 24
    return (
        writer.note("from_midi", "from", max(writer.reach.high - 24, writer.reach.low), low, most),
        Parameter("variant", "way", choices=_VARIANTS),
        writer.beats(1),
        writer.tuned(),
    )


def _two_octaves(writer: Writer, given: ParameterValues) -> Score:
    start, beats, variant = given.whole("from_midi"), given.beats("beats"), given.word("variant")
    octaves = 3 if variant == "third-octave" else 2
    reachable(writer, start + 12 * octaves, "Start lower, or take two octaves.")
    up = scale_up(start, MAJOR_TRIAD if variant == "arpeggio" else MAJOR, octaves)
    rows = [up]
    if variant == "up-down":
        rows = [up + up[-2::-1]]
    elif variant == "top-first":
        rows = [[midi for midi in up if midi >= start + 12], up]
    steps: list[Step] = []
    for row in rows:
        for place, midi in enumerate(row):
            share = (midi - start) / (12 * octaves)
            loud = (Dynamic.MP, Dynamic.MF, Dynamic.F)[min(int(3 * share), 2)]
            length = 4 * beats if place == len(row) - 1 else beats
            how = Articulation.SLURRED if place else Articulation.TONGUED
            steps.append(writer.play(midi, length, articulation=how, dynamic=loud))
        steps.append(Breath())
    return Score(tuple(steps), tonic=start % 12)


def _next_parameters(writer: Writer) -> tuple[Parameter, ...]:
    steps = Parameter("semitones", "step", "half steps", 1, 2, 1, usual=1.0)
    return up_from(writer, writer.reach.high, 2), steps, writer.beats(2), writer.times(3)


def _next_note(writer: Writer, given: ParameterValues) -> Score:
    start, beats = given.whole("from_midi"), given.beats("beats")
    there = start + given.whole("semitones")
    reachable(writer, there, "Start lower.")
    steps: tuple[Step, ...] = (
        writer.play(start, beats),
        writer.slurred(there, beats),
        writer.slurred(start, 2 * beats),
        Breath(),
    )
    return Score(steps, times=given.whole("times"))


def _corners_parameters(writer: Writer) -> tuple[Parameter, ...]:
    rows = Parameter("rows", "scales", "", 1, 8, 1, usual=4.0)
    return up_from(writer, writer.reach.easy, 12), rows, writer.tempo(80), writer.tuned()


def _corners(writer: Writer, given: ParameterValues) -> Score:
    start, rows = given.whole("from_midi"), given.whole("rows")
    reachable(writer, start + rows - 1 + 7, "Take fewer scales, or start lower.")
    half = Fraction(1, 2)
    steps: list[Step] = []
    for row in range(rows):
        scale = (0, 2, 4, 5, 7, 5, 4, 2)
        for place, degree in enumerate(scale):
            midi = start + row + degree
            steps.append(writer.slurred(midi, half) if place else writer.play(midi, half))
        steps += [
            writer.slurred(start + row, 4),
            Breath(BreathKind.NOSE),
            Rest(Fraction(4), "in through the nose; the corners stay"),
        ]
    return Score(tuple(steps), tempo_bpm=given.number("tempo"))


def _light_parameters(writer: Writer) -> tuple[Parameter, ...]:
    top = Parameter("slots", "partials at most", "", 3, 8, 1, usual=4.0)
    from_slot, breaths = writer.slot_number("slot", "from partial", 2, 6), pyramid_breaths()
    return writer.length(), from_slot, top, writer.beats(0.5), breaths


def _light_hold(writer: Writer, given: ParameterValues) -> Score:
    if writer.instrument.family in _HEAVY_FAMILIES:
        raise ExerciseRefusedError(
            f"{writer.instrument.name} is too heavy to lie on an open hand. "
            "Take the slur pyramid, and press as little as you can."
        )
    return pyramid(writer, given)


def _cold_parameters(writer: Writer) -> tuple[Parameter, ...]:
    picks = Parameter("picks", "picks", "", 1, 8, 1, usual=3.0)
    apart = Parameter("apart", "apart", "half steps", 1, 12, 1, usual=5.0)
    return up_from(writer, writer.reach.high, 0), picks, apart, writer.beats(3)


def _cold(writer: Writer, given: ParameterValues) -> Score:
    top, beats = given.whole("from_midi"), given.beats("beats")
    easy = writer.reach.easy
    steps: list[Step] = []
    for pick in range(given.whole("picks")):
        # Down from the top, folded back above the easy note.
        midi = top - (given.whole("apart") * pick) % max(top - easy + 1, 1)
        steps += [Rest(beats, "silence"), writer.play(midi, beats), Breath()]
    return Score(tuple(steps))


def _corners_planned(writer: Writer, day: int) -> Values:
    return {"from_midi": float(max(writer.reach.easy, writer.reach.high - 11))}


def _corners_path(writer: Writer) -> Iterator[Values]:
    """More scales, then quicker."""
    yield {"tempo": 80.0}
    for rows in range(2, 9):
        yield {"rows": float(rows)}
    for tempo in (86, 92, 98, 104):
        yield {"tempo": float(tempo)}


FAMILIES = (
    Family(
        "rising-triads",
        "Rising triads",
        Group.HIGH,
        _triads_parameters,
        _triads,
        (Aim.GAP, Aim.SPOKE, Aim.SHAPE, Aim.HELD),
        FamilyWords(
            why="You play short, short, long and growing, a half step higher each time.",
            listen="The top note grows out of the ones below it, and the low note in between is "
            "round.",
            wrong="The top note is pinched, or the low note comes back ragged.",
            remedy="Play the low note up to three times until it is round. If it does not come "
            "back, that is all for today.",
            caution=CAUTION,
        ),
        falls_back_to=("chromatic-ladder",),
        practised=PracticeRules(
            follow=AttemptOrder.LADDER, turn=3, climbs=True, alone={"rungs": 1.0}
        ),
    ),
    Family(
        "two-octave-scale",
        "Two-octave scale",
        Group.HIGH,
        _scale_parameters,
        _two_octaves,
        (Aim.GAP, Aim.SPOKE, Aim.ONE_BREATH, Aim.SHAPE, Aim.CENTRE),
        FamilyWords(
            why="A high note is safe when it grows out of the low note you started on.",
            listen="A firm bottom note, slurred and growing to the top.",
            wrong="The top is thin, or pushed.",
            remedy="Start a half step lower, and grow sooner.",
            caution=CAUTION,
        ),
        falls_back_to=("rising-triads",),
        practised=PracticeRules(follow=AttemptOrder.LADDER, turn=4, climbs=True, whole_line=True),
    ),
    Family(
        "next-note",
        "Next note",
        Group.HIGH,
        _next_parameters,
        _next_note,
        (Aim.GAP, Aim.FLIPPED, Aim.HELD),
        FamilyWords(
            why="You go from your comfortable high note to its neighbour and back.",
            listen="Nothing should change but the pitch.",
            wrong="You play the top note like a feat of strength.",
            remedy="Make it music: shape the line, and add vibrato at the end.",
            caution=CAUTION,
        ),
        leads_to=("chromatic-ladder", "glide-ladder"),
        falls_back_to=("pyramid",),
        practised=PracticeRules(follow=AttemptOrder.LADDER, turn=5, climbs=True, in_steps=True),
    ),
    Family(
        "engaged-corners",
        "Engaged corners",
        Group.HIGH,
        _corners_parameters,
        _corners,
        (Aim.GAP, Aim.EVEN, Aim.SPOKE, Aim.CENTRE),
        FamilyWords(
            why="Breathing through the nose, with one bar in between, keeps the corners engaged.",
            listen="The first note after the rest should start as if there had been no rest.",
            wrong="The corners open with the breath.",
            remedy="Take smaller breaths through the nose, and play fewer scales.",
            caution=CAUTION,
        ),
        falls_back_to=("two-octave-scale",),
        practised=PracticeRules(
            follow=AttemptOrder.BREATHS,
            turn=6,
            planned=_corners_planned,
            path=_corners_path,
            reason="Breathing through the nose keeps the corners engaged.",
        ),
    ),
    Family(
        "light-hold-pyramid",
        "Light-hold pyramid",
        Group.HIGH,
        _light_parameters,
        _light_hold,
        (Aim.GAP, Aim.FLIPPED, Aim.SPOKE, Aim.ONE_BREATH),
        FamilyWords(
            why="With the horn lying on an open hand you cannot press.",
            listen="Listen for the highest note that the air alone brings.",
            wrong="The hand closes for the top note.",
            remedy="Go one partial less high, and leave the horn where it lies.",
            caution="Sit, and keep the other hand ready to catch the horn.",
        ),
        falls_back_to=("pyramid",),
        practised=PracticeRules(
            follow=AttemptOrder.GROW,
            turn=7,
            path=pyramid_path,
            answers={
                ("pressure", "zero"): Answer(first=True),
                ("pressure", "some"): Answer(left_out=True),
            },
            reason="With the horn on an open hand you cannot press.",
        ),
    ),
    Family(
        "cold-picks",
        "Cold picks",
        Group.COLD,
        _cold_parameters,
        _cold,
        (Aim.CENTRE, Aim.START, Aim.SPEAKS),
        FamilyWords(
            why="A note is yours when you can start it from silence.",
            listen="Listen to the very start of the note.",
            wrong="The note cracks, or you slide into it.",
            remedy="Hear the note, breathe with it, then play.",
            caution=CAUTION,
        ),
        falls_back_to=("next-note",),
        practised=PracticeRules(follow=AttemptOrder.BREATHS, from_silence=True),
    ),
)
