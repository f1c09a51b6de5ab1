"""Low: the same sound and the same set, a step lower each time."""

from collections.abc import Iterator

from orexis.core.exercises.family import (
    Aim,
    ExerciseRefusedError,
    Family,
    FamilyWords,
    Group,
    ParameterValues,
)
from orexis.core.exercises.practised import Answer, AttemptOrder, PracticeRules, Values
from orexis.core.exercises.scales import BY, STARTS, distances
from orexis.core.exercises.writer import Writer
from orexis.core.parameter import Choice, Parameter
from orexis.core.score.steps import Articulation, Breath, Score, Step

_ONE_SET = (Aim.SPOKE, Aim.ONE_BREATH, Aim.SAME_SOUND)
_HOW = (Choice("slurred", "slurred"), Choice("tenuto", "tenuto, tongued"))
_REMEDY = "Seal the corners, begin higher, and play fewer notes on one breath."


def _from(writer: Writer, usual: int) -> Parameter:
    low, high = writer.instrument.lowest_midi, writer.instrument.highest_midi
    return writer.note("from_midi", "from", usual, low, high)


def _above(writer: Writer, semitones: int) -> int:
    """The easy note, or one high enough to go down so far without pedals."""
    return max(writer.reach.easy, writer.reach.low + semitones)


def _lowest(writer: Writer, midi: int, ask: str) -> None:
    lowest = writer.instrument.lowest_midi
    if midi < lowest:
        raise ExerciseRefusedError(
            f"This goes down to {writer.name(midi)}, and the horn to {writer.name(lowest)}. {ask}"
        )


def _chained_parameters(writer: Writer) -> tuple[Parameter, ...]:
    return (
        _from(writer, _above(writer, 6)),
        Parameter("semitones", "interval", "half steps", 1, 12, 1, usual=1.0),
        Parameter("notes", "notes", "", 5, 8, 1, usual=5.0),
        Parameter("rows", "rows", "", 1, 8, 1, usual=3.0),
        Parameter("how", "how", choices=_HOW),
        writer.beats(1),
    )


def _chained(writer: Writer, given: ParameterValues) -> Score:
    start, interval = given.whole("from_midi"), given.whole("semitones")
    count, rows, beats = given.whole("notes"), given.whole("rows"), given.beats("beats")
    _lowest(
        writer,
        start - interval * (count - 1) - (rows - 1),
        "Take a smaller interval, fewer notes or rows, or start higher.",
    )
    tenuto = given.word("how") == "tenuto"
    steps: list[Step] = []
    for row in range(rows):
        for place in range(count):
            midi = start - row - interval * place
            last = place == count - 1
            start_with = Articulation.TENUTO if tenuto else Articulation.SLURRED
            steps.append(
                writer.play(
                    midi,
                    3 * beats if last else beats,
                    articulation=start_with if place else Articulation.TONGUED,
                )
            )
        steps.append(Breath())
    return Score(tuple(steps))


def _scales_parameters(writer: Writer) -> tuple[Parameter, ...]:
    how = (Choice("slurred", "slurred"), Choice("glided", "glided"))
    return (
        _from(writer, _above(writer, 9)),
        Parameter("rows", "scales", "", 1, 8, 1, usual=3.0),
        Parameter("how", "how", choices=how),
        writer.beats(1),
        writer.tuned(),
    )


def _scales(writer: Writer, given: ParameterValues) -> Score:
    start, rows, beats = given.whole("from_midi"), given.whole("rows"), given.beats("beats")
    _lowest(writer, start - 7 - (rows - 1), "Take fewer scales, or start higher.")
    glided = given.word("how") == "glided"
    if glided and not writer.instrument.is_slide:
        raise ExerciseRefusedError("Only a slide can glide a scale; take it slurred.")
    steps: list[Step] = []
    for row in range(rows):
        # The upper five notes of a scale, down and back.
        down = [start - row - step for step in (0, 2, 3, 5, 7, 5, 3, 2, 0)]
        for place, midi in enumerate(down):
            if glided and place:
                steps.append(writer.glide(midi, beats / 2))
            length = 2 * beats if place == len(down) - 1 else beats
            length = length / 2 if glided and place else length
            note = writer.slurred(midi, length) if place else writer.play(midi, length)
            steps.append(note)
        steps.append(Breath())
    return Score(tuple(steps))


def _couplets_parameters(writer: Writer) -> tuple[Parameter, ...]:
    return (
        _from(writer, _above(writer, 7)),
        Parameter("widest", "down to", "half steps", 1, 12, 1, usual=7.0),
        Parameter("by", "by", choices=BY),
        Parameter("how", "how", choices=STARTS),
        writer.beats(2),
    )


def _couplets(writer: Writer, given: ParameterValues) -> Score:
    start, widest, beats = given.whole("from_midi"), given.whole("widest"), given.beats("beats")
    _lowest(writer, start - widest, "Take a smaller distance, or start higher.")
    steps: list[Step] = []
    how = Articulation.TONGUED if given.word("how") == "tongued" else Articulation.SLURRED
    for distance in distances(given.word("by"), widest, down=True):
        lower = writer.play(start - distance, 2 * beats, articulation=how)
        steps += [writer.play(start, beats), lower, Breath()]
    return Score(tuple(steps))


_AIR = {("low-air", "faster"): Answer({"beats": 0.5})}
_TENUTO = {("starts", "tongued"): Answer({"how": "tenuto"})}


def _chains_planned(writer: Writer, day: int) -> Values:
    return {"beats": 1.5}


def _scales_planned(writer: Writer, day: int) -> Values:
    return {"beats": 1.5}


def _chains_path(writer: Writer) -> Iterator[Values]:
    """A half step lower, more notes, then the next wider interval, and tongued in the end."""
    yield {"how": "slurred"}
    for rows in (2, 3, 4):
        yield {"semitones": 1.0, "notes": 5.0, "rows": float(rows)}
    for notes in (6, 7, 8):
        yield {"notes": float(notes)}
    for semitones in range(2, 13):
        for notes in (5, 6, 7, 8):
            yield {"semitones": float(semitones), "notes": float(notes), "rows": 3.0}
    yield {"how": "tenuto"}


def _low_scales_path(writer: Writer) -> Iterator[Values]:
    """One scale more, a half step lower."""
    yield {}
    for rows in range(2, 9):
        yield {"rows": float(rows)}


def _couplets_path(writer: Writer) -> Iterator[Values]:
    """A half step farther down, then from notes that are lower by one, and tongued in the end."""
    yield {}
    for widest in range(4, 13):
        yield {"widest": float(widest)}
    for by in range(1, 6):
        yield {"from_midi": float(_above(writer, 7) - by)}
    yield {"how": "tongued"}


FAMILIES = (
    Family(
        "chained-intervals",
        "Chained intervals",
        Group.LOW,
        _chained_parameters,
        _chained,
        (*_ONE_SET, Aim.GAP),
        FamilyWords(
            why="You go down one interval after another without shifting the embouchure.",
            listen="The last note should sound like the first.",
            wrong="You feel a jolt where the embouchure shifts, or air leaks at the corners and "
            "the low note gets wide.",
            remedy=_REMEDY,
        ),
        leads_to=("low-scales", "pedal-arpeggio"),
        falls_back_to=("low-long-tones",),
        practised=PracticeRules(
            follow=AttemptOrder.BREATHS,
            turn=1,
            planned=_chains_planned,
            path=_chains_path,
            answers={**_AIR, **_TENUTO},
        ),
    ),
    Family(
        "low-scales",
        "Scales, each a step lower",
        Group.LOW,
        _scales_parameters,
        _scales,
        (*_ONE_SET, Aim.GAP, Aim.CENTRE),
        FamilyWords(
            why="The low register grows by a half step at a time.",
            listen="There should be no seam between the notes.",
            wrong="The sound is fuzzy, with air at the corners.",
            remedy=_REMEDY,
        ),
        leads_to=("pedal-chromatic",),
        falls_back_to=("chained-intervals",),
        practised=PracticeRules(
            follow=AttemptOrder.BREATHS,
            turn=2,
            planned=_scales_planned,
            path=_low_scales_path,
            answers=_AIR,
        ),
    ),
    Family(
        "couplets",
        "Couplets",
        Group.LOW,
        _couplets_parameters,
        _couplets,
        (*_ONE_SET, Aim.GAP),
        FamilyWords(
            why="From one good note you go to each lower one in turn.",
            listen="The lower note should begin like the upper one.",
            wrong="The lower note opens with a jolt, or spreads.",
            remedy=_REMEDY,
        ),
        leads_to=("pedal-arpeggio",),
        falls_back_to=("chained-intervals",),
        practised=PracticeRules(
            follow=AttemptOrder.BREATHS,
            turn=3,
            path=_couplets_path,
            answers={("starts", "tongued"): Answer({"how": "tongued"})},
        ),
    ),
)
