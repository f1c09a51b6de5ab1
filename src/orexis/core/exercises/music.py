"""Music: a melody in the register being built. The tunes are our own, for the harbour band."""

from collections.abc import Iterator
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
from orexis.core.score.steps import Breath, Score, Step

_Q, _H, _D, _W = Fraction(1), Fraction(2), Fraction(3), Fraction(4)
_E = Fraction(1, 2)
_DQ = Fraction(3, 2)

# Half steps above the tune's lowest tonic, and beats; `None` is a breath.
_Tune = tuple[tuple[int, Fraction] | None, ...]
_TUNES: dict[str, tuple[str, int, _Tune]] = {
    "lamp-is-lit": (
        "The Lamp Is Lit",
        4,
        (
            *((0, _H), (4, _Q), (5, _Q), (7, _D), (5, _Q), (4, _H), (2, _H), (0, _W), None),
            *((7, _H), (9, _Q), (7, _Q), (5, _D), (4, _Q), (2, _H), (4, _H), (0, _W)),
        ),
    ),
    "slack-water": (
        "Slack Water",
        3,
        (
            *((7, _H), (5, _Q), (4, _H), (2, _Q), (4, _D), (0, _D), None),
            *((2, _H), (4, _Q), (5, _H), (9, _Q), (7, _D), (7, _D), None),
            *((9, _H), (7, _Q), (5, _H), (4, _Q), (2, _D), (0, _D)),
        ),
    ),
    "ropewalk": (
        "Ropewalk",
        2,
        (
            *((0, _E), (2, _E), (4, _E), (5, _E), (7, _Q), (4, _Q), (5, _Q), (2, _Q), (4, _H)),
            None,
            *((7, _E), (5, _E), (4, _E), (2, _E), (4, _Q), (0, _Q), (2, _Q), (2, _Q), (0, _H)),
        ),
    ),
    "long-jetty": (
        "The Long Jetty",
        4,
        (
            *((0, _W), (7, _W), (5, _H), (4, _H), (2, _W), None),
            *((4, _W), (9, _W), (7, _H), (5, _H), (4, _W), None),
            *((7, _W), (12, _W), (11, _H), (9, _H), (7, _H), (2, _H), (0, _W)),
        ),
    ),
    "gulls": (
        "Gulls",
        3,
        (
            *((0, _Q), (4, _Q), (7, _Q), (12, _H), (11, _Q), (9, _Q), (7, _Q), (5, _Q), (4, _D)),
            None,
            *((2, _Q), (5, _Q), (9, _Q), (7, _H), (5, _Q), (4, _Q), (2, _Q), (-1, _Q), (0, _D)),
        ),
    ),
    "keepers-walk": (
        "The Keeper's Walk",
        4,
        (
            *((0, _DQ), (2, _E), (4, _Q), (7, _Q), (5, _DQ), (4, _E), (2, _H), None),
            *((4, _DQ), (5, _E), (7, _Q), (9, _Q), (7, _D), (4, _Q), None),
            *((5, _DQ), (7, _E), (9, _Q), (5, _Q), (4, _DQ), (2, _E), (0, _H)),
        ),
    ),
}
_SMALL_TUNES: dict[str, tuple[str, int, _Tune]] = {
    "low-tide": (
        "Low Tide",
        4,
        (
            *((0, _H), (2, _Q), (4, _Q), (5, _D), (4, _Q), (2, _H), (4, _Q), (2, _Q), (0, _W)),
            None,
            *((5, _H), (4, _Q), (2, _Q), (4, _D), (2, _Q), (0, _H), (2, _H), (0, _W)),
        ),
    ),
    "three-buoys": (
        "Three Buoys",
        3,
        (
            *((0, _H), (2, _Q), (3, _D), (2, _H), (0, _Q), (2, _D), None),
            *((3, _H), (2, _Q), (0, _D), (2, _H), (2, _Q), (0, _D)),
        ),
    ),
    "fog-signal": (
        "Fog Signal",
        4,
        (
            *((0, _D), (0, _Q), (0, _W), None),
            *((0, _Q), (0, _Q), (0, _H), (0, _W), None),
            *((0, _E), (0, _E), (0, _Q), (0, _H), (0, _W)),
        ),
    ),
}
"""Tunes of few notes, for days that have room for no more."""
_EVERY_TUNE = _TUNES | _SMALL_TUNES


def _parameters(writer: Writer) -> tuple[Parameter, ...]:
    tunes = tuple(Choice(key, title) for key, (title, _, _) in _EVERY_TUNE.items())
    low, high = writer.instrument.lowest_midi + 1, writer.instrument.highest_midi - 12
    return (
        Parameter("tune", "tune", choices=tunes),
        writer.note("from_midi", "on", writer.reach.easy - 5, low, high),
        Parameter("octaves", "moved by", "octaves", -2, 2, 1, above="up", below="down", usual=0.0),
        writer.tempo(84),
        writer.tuned(),
    )


def _write(writer: Writer, given: ParameterValues) -> Score:
    _, bar, tune = _EVERY_TUNE[given.word("tune")]
    tonic = given.whole("from_midi") + 12 * given.whole("octaves")
    degrees = [note[0] for note in tune if note]
    low, high = tonic + min(degrees), tonic + max(degrees)
    lowest, highest = writer.instrument.lowest_midi, writer.instrument.highest_midi
    if low < lowest or high > highest:
        raise ExerciseRefusedError(
            f"Here the tune goes from {writer.name(low)} to {writer.name(high)}, and the horn from "
            f"{writer.name(lowest)} to {writer.name(highest)}. Move it by fewer octaves."
        )
    steps: list[Step] = [
        Breath() if note is None else writer.play(tonic + note[0], note[1]) for note in tune
    ]
    return Score(tuple(steps), beats_in_bar=bar, tempo_bpm=given.number("tempo"), tonic=tonic % 12)


def _tune_of_the_day(writer: Writer, day: int) -> Values:
    """The tune whose turn it is, as high as is comfortable and no higher."""
    tune = list(_TUNES)[day % len(_TUNES)]
    degrees = [note[0] for note in _TUNES[tune][2] if note]
    usual = next(
        parameter for parameter in _parameters(writer) if parameter.key == "from_midi"
    ).usual
    tonic = round(float(usual or 0))
    low, high = tonic + min(degrees), tonic + max(degrees)
    down = max(min(high - writer.reach.high, low - writer.reach.low), 0)
    return {"tune": tune, "from_midi": float(tonic - down)}


def _melody_path(writer: Writer) -> Iterator[Values]:
    """Slower first, then in time, then on the next note up."""
    low, high = writer.instrument.lowest_midi + 1, writer.instrument.highest_midi - 12
    yield {}
    for tempo in (72, 84):
        yield {"tempo": float(tempo)}
    for midi in range(max(writer.reach.easy - 7, low), high + 1):
        yield {"from_midi": float(midi)}


FAMILIES = (
    Family(
        "melody",
        "Melody",
        Group.MUSIC,
        _parameters,
        _write,
        (Aim.SPOKE, Aim.CENTRE, Aim.SAME_SOUND),
        FamilyWords(
            why="You own a register when you can make music in it.",
            listen="Listen to the sound and the line, not to how high it is.",
            wrong="You play note by note, each one for itself.",
            remedy="Sing it first, then play it an octave nearer to home.",
        ),
        falls_back_to=("two-octave-scale", "couplets"),
        practised=PracticeRules(
            turn=1, planned=_tune_of_the_day, path=_melody_path, narrowed_by="tune"
        ),
    ),
)
