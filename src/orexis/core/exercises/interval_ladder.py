"""Intervals from one note, wider with each breath: by half steps or through a scale."""

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

_WIDEST = 24
_WAYS = (Choice("up", "up"), Choice("down", "down"))


def _parameters(writer: Writer) -> tuple[Parameter, ...]:
    low, high = writer.instrument.lowest_midi, writer.instrument.highest_midi
    return (
        writer.note("from_midi", "from", writer.reach.easy, low, high),
        Parameter("widest", "up to", "half steps", 1, _WIDEST, 1, usual=7.0),
        Parameter("way", "way", choices=_WAYS),
        Parameter("by", "by", choices=BY),
        Parameter("how", "how", choices=STARTS),
        writer.beats(1),
        writer.tuned(),
    )


def _write(writer: Writer, given: ParameterValues) -> Score:
    start, beats = given.whole("from_midi"), given.beats("beats")
    down = given.word("way") == "down"
    how = Articulation.TONGUED if given.word("how") == "tongued" else Articulation.SLURRED
    intervals = distances(given.word("by"), given.whole("widest"), down=down)
    if not intervals:
        raise ExerciseRefusedError("The scale has no interval as narrow. Go up to two half steps.")
    far = start - intervals[-1] if down else start + intervals[-1]
    low, high = writer.instrument.lowest_midi, writer.instrument.highest_midi
    if not low <= far <= high:
        raise ExerciseRefusedError(
            f"This goes to {writer.name(far)}, and the horn from {writer.name(low)} to "
            f"{writer.name(high)}. Take a smaller widest interval, or start nearer the middle."
        )
    steps: list[Step] = []
    for interval in intervals:
        there = start - interval if down else start + interval
        steps += [
            writer.play(start, beats),
            writer.play(there, beats, articulation=how),
            writer.play(start, 2 * beats, articulation=how),
            Breath(),
        ]
    return Score(tuple(steps))


def _path(writer: Writer) -> Iterator[Values]:
    """A half step wider each time, to an octave; then through the scale, then down."""
    yield {"from_midi": float(writer.reach.easy), "by": "half-steps", "way": "up"}
    for widest in range(4, 13):
        yield {"widest": float(widest)}
    yield {"by": "major"}
    yield {"way": "down"}
    yield {"by": "half-steps"}


FAMILIES = (
    Family(
        "interval-ladder",
        "Interval ladder",
        Group.INTERVALS,
        _parameters,
        _write,
        (Aim.SPOKE, Aim.CENTRE, Aim.GAP, Aim.TOUCHED, Aim.FLIPPED, Aim.SAME_SOUND),
        FamilyWords(
            why="From one note you go to each wider interval in turn, until wide ones feel close.",
            listen="Come back to the first note just as you left it.",
            wrong="The wide intervals get louder or thinner, or the first note comes back sharp.",
            remedy="Stop at the widest interval that is easy, sing the next one, then play it.",
        ),
        leads_to=("interval-rhythms", "next-note"),
        falls_back_to=("buzz-then-play",),
        practised=PracticeRules(
            follow=AttemptOrder.BREATHS,
            path=_path,
            answers={("starts", "tongued"): Answer({"how": "tongued"})},
            reason="Each interval from the same note, a little wider every time.",
        ),
    ),
)
