"""Pedals: partial 1 with the normal set, and double pedals to recover."""

from collections.abc import Iterator
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
from orexis.core.exercises.practised import (
    Answer,
    AttemptOrder,
    PracticeRules,
    ProgressMeasure,
    Values,
)
from orexis.core.exercises.writer import Writer
from orexis.core.horn.pitch import hz_from_midi
from orexis.core.parameter import Choice, Parameter
from orexis.core.score.steps import Articulation, Breath, Dynamic, Play, Rest, Score, Step

_TUBES = (Choice("longest", "longest that reaches it"), Choice("usual", "as usual"))
_INTO = (Choice("started", "air attacks"), Choice("slurred", "slurred from the pedal"))
_LOWEST_HEARD_HZ = 26.0
_AIMS = (Aim.SPEAKS, Aim.HELD, Aim.STEADY, Aim.SAME_SOUND, Aim.GAP)
_REMEDY = "Keep the embouchure, keep the tongue low, get louder going down, and hold the last note."
_CAUTION = "Stop when a note needs another embouchure. Stop at once for pain."


def _pedal(writer: Writer) -> int:
    """The highest pedal: the open horn's fundamental."""
    return writer.instrument.fundamental_midi


def _which(writer: Writer, key: str = "pedal_midi") -> Parameter:
    lowest = writer.instrument.lowest_midi
    return writer.note(key, "pedal", _pedal(writer), lowest, _pedal(writer) + 1)


def _tube(writer: Writer) -> Parameter:
    return Parameter("tube", "tube", choices=_TUBES)


def _low_play(
    writer: Writer, given: ParameterValues, midi: int, beats: float | Fraction, **how: object
) -> Play:
    if given.values.get("tube") == "longest":
        return writer.play_longest(midi, beats, **how)
    return writer.play(midi, beats, **how)


def _arpeggio_parameters(writer: Writer) -> tuple[Parameter, ...]:
    return _which(writer), _tube(writer), writer.beats(2), writer.times(3)


def _arpeggio(writer: Writer, given: ParameterValues) -> Score:
    pedal, beats = given.whole("pedal_midi"), given.number("beats")
    steps: list[Step] = []
    # Fifth, third, root and fifth of the octave above, then the pedal.
    for place, above in enumerate((24, 19, 16, 12, 7, 0)):
        last = above == 0
        start = Articulation.SLURRED if place else Articulation.TONGUED
        length = 3 * beats if last else beats
        note = _low_play(
            writer, given, pedal + above, length, articulation=start, as_long_as_good=last
        )
        steps.append(note)
    return Score((*steps, Breath()), times=given.whole("times"))


def _chromatic_parameters(writer: Writer) -> tuple[Parameter, ...]:
    above = Parameter("above", "from so far above", "half steps", 2, 12, 1, usual=7.0)
    return _which(writer), above, _tube(writer), writer.beats(2)


def _chromatic(writer: Writer, given: ParameterValues) -> Score:
    pedal, beats = given.whole("pedal_midi"), given.number("beats")
    steps: list[Step] = []
    # Three valves leave a hole between the lowest note and the pedal; it is stepped over.
    there = [above for above in range(given.whole("above"), -1, -1) if writer.has(pedal + above)]
    if len(there) < 2:
        raise ExerciseRefusedError(
            f"The horn has no note up to {counted(given.whole('above'), 'half step')} above "
            f"{writer.name(pedal)}. Start farther above it."
        )
    for above in there:
        start = Articulation.SLURRED if steps else Articulation.TONGUED
        length = 4 * beats if above == 0 else beats
        note = _low_play(
            writer, given, pedal + above, length, articulation=start, as_long_as_good=above == 0
        )
        steps.append(note)
    return Score((*steps, Breath()))


def _sets_parameters(writer: Writer) -> tuple[Parameter, ...]:
    return (
        _which(writer),
        Parameter("starts", "air attacks", "", 4, 20, 1, usual=20.0),
        _tube(writer),
        writer.beats(6, "beats held"),
    )


def _sets(writer: Writer, given: ParameterValues) -> Score:
    pedal, beats = given.whole("pedal_midi"), given.number("beats")
    starts = given.whole("starts")
    steps: list[Step] = []
    for turn in range(starts):
        # Louder through the second half of a set.
        loud = Dynamic.MF if turn < starts / 2 else Dynamic.F
        note = _low_play(
            writer,
            given,
            pedal,
            beats,
            articulation=Articulation.BREATH,
            dynamic=loud,
            as_long_as_good=True,
        )
        steps += [note, Breath()]
    return Score(tuple(steps))


def _easy_parameters(writer: Writer) -> tuple[Parameter, ...]:
    notes = Parameter("notes", "pedals", "", 1, 6, 1, usual=3.0)
    return _which(writer), notes, _tube(writer), writer.beats(2)


def _easy(writer: Writer, given: ParameterValues) -> Score:
    pedal, beats, count = given.whole("pedal_midi"), given.number("beats"), given.whole("notes")
    lowest = writer.instrument.lowest_midi
    if pedal - count + 1 < lowest:
        raise ExerciseRefusedError(
            f"{counted(count, 'pedal')} from {writer.name(pedal)} down end below the horn's lowest "
            f"note, {writer.name(lowest)}. Take fewer."
        )
    steps: list[Step] = []
    for low in range(pedal, pedal - count, -1):
        above = writer.play(low + 12, beats, dynamic=Dynamic.MP)
        slurred = {"articulation": Articulation.SLURRED, "dynamic": Dynamic.MP}
        steps += [above, _low_play(writer, given, low, 2 * beats, **slurred), Breath()]
    return Score(tuple(steps))


def _double_parameters(writer: Writer) -> tuple[Parameter, ...]:
    glided = (Choice("glided", "glided from the pedal"),)
    how = Parameter("how", "how", choices=(*_INTO, *(glided if writer.instrument.is_slide else ())))
    return _which(writer), how, writer.beats(2), writer.times(4)


def _double(writer: Writer, given: ParameterValues) -> Score:
    pedal, beats, how = given.whole("pedal_midi"), given.beats("beats"), given.word("how")
    low = pedal - 12
    if hz_from_midi(low) < _LOWEST_HEARD_HZ:
        raise ExerciseRefusedError(
            f"{writer.name(low)}, an octave under this pedal, lies below what can be heard as a "
            "pitch. Take pedal air attacks instead, loose and soft."
        )
    rest, loose = Rest(beats, "loose"), Dynamic.P
    if how == "started":
        steps: tuple[Step, ...] = (Play(low, beats, Articulation.BREATH, dynamic=loose), rest)
    else:
        first = _low_play(
            writer, given, pedal, beats, articulation=Articulation.BREATH, dynamic=loose
        )
        last = Play(low, beats, Articulation.SLURRED, dynamic=loose)
        between = (writer.glide(low, beats),) if how == "glided" else ()
        steps = (first, *between, last, rest)
    return Score(steps, times=given.whole("times"))


_LOWEST_PEDAL = 6
"""Half steps under the highest pedal: as far down as the valves or the slide go."""


def _lower_pedals(writer: Writer) -> Iterator[Values]:
    """The next lower pedal each time."""
    yield {}
    for by in range(_LOWEST_PEDAL + 1):
        yield {"pedal_midi": float(_pedal(writer) - by)}


def _chromatic_path(writer: Writer) -> Iterator[Values]:
    """From farther above, then to the next lower pedal."""
    yield {"pedal_midi": float(_pedal(writer))}
    for above in (4, 5, 7, 9, 12):
        yield {"above": float(above)}
    yield from _lower_pedals(writer)


def _sets_path(writer: Writer) -> Iterator[Values]:
    """Held longer, then the next lower pedal."""
    yield {"pedal_midi": float(_pedal(writer))}
    for beats in (4.0, 6.0, 8.0):
        yield {"beats": beats}
    yield from _lower_pedals(writer)


_STRENGTH = {("pedals", "loosening"): Answer(left_out=True)}


FAMILIES = (
    Family(
        "easy-pedals",
        "Easy pedals",
        Group.PEDALS,
        _easy_parameters,
        _easy,
        (Aim.SPEAKS, Aim.GAP),
        FamilyWords(
            why="A few soft pedals, slurred from an octave above, warm your lips up for more.",
            listen="The pedal should speak without a jolt, as soft as the note above it.",
            wrong="The lips open at once, and only air comes.",
            remedy="Play them softer and shorter, and begin on the highest pedal.",
            caution=_CAUTION,
        ),
        leads_to=("pedal-arpeggio", "pedal-sets"),
        falls_back_to=("couplets",),
        practised=PracticeRules(follow=AttemptOrder.BREATHS, path=_lower_pedals, answers=_STRENGTH),
    ),
    Family(
        "pedal-arpeggio",
        "Arpeggio to the pedal",
        Group.PEDALS,
        _arpeggio_parameters,
        _arpeggio,
        _AIMS,
        FamilyWords(
            why="You play the pedal with the embouchure of the notes above it.",
            listen="No seam on the way down, and a last note that is full and held.",
            wrong="The lips roll out, and the last note is cut off.",
            remedy=_REMEDY,
            caution=_CAUTION,
        ),
        leads_to=("pedal-sets",),
        falls_back_to=("chained-intervals",),
        practised=PracticeRules(turn=1, path=_lower_pedals, answers=_STRENGTH),
    ),
    Family(
        "pedal-chromatic",
        "Half steps to the pedal",
        Group.PEDALS,
        _chromatic_parameters,
        _chromatic,
        _AIMS,
        FamilyWords(
            why="You go down step by step, so that nothing has to shift.",
            listen="Notice where the embouchure wants to shift, and stop above that note.",
            wrong="You feel a jolt, then a loose, wide note.",
            remedy=_REMEDY,
            caution=_CAUTION,
        ),
        leads_to=("pedal-sets",),
        falls_back_to=("couplets",),
        practised=PracticeRules(turn=2, path=_chromatic_path, answers=_STRENGTH),
    ),
    Family(
        "pedal-sets",
        "Pedal air attacks",
        Group.PEDALS,
        _sets_parameters,
        _sets,
        (Aim.SPEAKS, Aim.HELD, Aim.STEADY),
        FamilyWords(
            why="Air attacks on a pedal build strength with your normal embouchure.",
            listen="Each note should start on the air alone.",
            wrong="The note starts late, or from rolled-out lips.",
            remedy="Take the highest pedal that speaks without a shift. Rest three to five "
            "minutes between sets.",
            caution=_CAUTION,
        ),
        falls_back_to=("pedal-arpeggio",),
        practised=PracticeRules(
            follow=AttemptOrder.SETS,
            turn=3,
            tells=ProgressMeasure.HOLDS,
            path=_sets_path,
            answers={**_STRENGTH, ("starts", "breath"): Answer(first=True)},
            reason="Air attacks, each held as long as it is good.",
        ),
    ),
    Family(
        "double-pedals",
        "Double pedals",
        Group.PEDALS,
        _double_parameters,
        _double,
        (Aim.SPOKE,),
        FamilyWords(
            why="Loose, low notes let the lips recover at the end of the day or when they are "
            "tired.",
            listen="Loose lips and a slow flutter.",
            wrong="You work at it.",
            remedy="Keep it short and loose, or leave it.",
            caution="For recovery only.",
        ),
        falls_back_to=("pedal-sets",),
        lips_alone=True,
        practised=PracticeRules(
            warm_down=1,
            recovers=True,
            path=_lower_pedals,
            coming_down_reason="Loose and short, to let the lips recover.",
        ),
    ),
)
