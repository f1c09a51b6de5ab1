"""Scales and arpeggios: any key, mode, octaves and direction."""

from collections.abc import Iterator, Sequence
from fractions import Fraction
from types import MappingProxyType

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
from orexis.core.score.steps import Articulation, Breath, Play, Score, Step

MAJOR = (0, 2, 4, 5, 7, 9, 11)
MAJOR_TRIAD = (0, 4, 7)
_MODES: MappingProxyType[str, tuple[str, tuple[int, ...], tuple[int, ...]]] = MappingProxyType(
    {
        "major": ("major", MAJOR, MAJOR),
        "natural-minor": ("natural minor", (0, 2, 3, 5, 7, 8, 10), (0, 2, 3, 5, 7, 8, 10)),
        "harmonic-minor": ("harmonic minor", (0, 2, 3, 5, 7, 8, 11), (0, 2, 3, 5, 7, 8, 11)),
        "melodic-minor": ("melodic minor", (0, 2, 3, 5, 7, 9, 11), (0, 2, 3, 5, 7, 8, 10)),
        "dorian": ("dorian", (0, 2, 3, 5, 7, 9, 10), (0, 2, 3, 5, 7, 9, 10)),
        "mixolydian": ("mixolydian", (0, 2, 4, 5, 7, 9, 10), (0, 2, 4, 5, 7, 9, 10)),
        "chromatic": ("chromatic", tuple(range(12)), tuple(range(12))),
        "whole-tone": ("whole tone", (0, 2, 4, 6, 8, 10), (0, 2, 4, 6, 8, 10)),
        "major-arpeggio": ("major arpeggio", MAJOR_TRIAD, MAJOR_TRIAD),
        "minor-arpeggio": ("minor arpeggio", (0, 3, 7), (0, 3, 7)),
        "dominant-seventh": ("dominant seventh", (0, 4, 7, 10), (0, 4, 7, 10)),
        "diminished-seventh": ("diminished seventh", (0, 3, 6, 9), (0, 3, 6, 9)),
    }
)
"""Each mode's name, and its degrees in half steps from the root going up and coming down."""

_WAYS = (
    Choice("up-down", "up and down"),
    Choice("up", "up"),
    Choice("down", "down"),
    Choice("down-up", "down and up"),
    Choice("top-first", "top octave first"),
)
_TURNS = (Choice("octave", "at the octave"), Choice("ninth", "a step beyond it"))
_EACH = (
    Choice("half-up", "a half step higher"),
    Choice("half-down", "a half step lower"),
    Choice("whole-up", "a whole step higher"),
    Choice("whole-down", "a whole step lower"),
)
_BY = {"half-up": 1, "half-down": -1, "whole-up": 2, "whole-down": -2}
_ARTICULATIONS = (
    Choice("slurred", "slurred"),
    Choice("tongued", "tongued"),
    Choice("tenuto", "tenuto, tongued"),
    Choice("two-two", "two slurred, two tongued"),
)
_BREATHS = (Choice("scale", "after each scale"), Choice("octave", "after each octave"))


STARTS = (Choice("slurred", "slurred"), Choice("tongued", "tongued"))
"""How the second note of a pair begins."""
BY = (
    Choice("half-steps", "half steps"),
    Choice("major", "the major scale"),
    Choice("minor", "the minor scale"),
)
_DEGREES = {"half-steps": tuple(range(12)), "major": MAJOR, "minor": _MODES["natural-minor"][1]}


def distances(by: str, widest: int, *, down: bool = False) -> list[int]:
    """The intervals from a note, in half steps, up to the widest, one after the other by half steps
    or through the scale of that note (`BY`), upward or `down`."""
    degrees = _DEGREES[by]
    if down:
        degrees = tuple(sorted(-degree % 12 for degree in degrees))
    octaves = range(widest // 12 + 1)
    found = (12 * octave + degree for octave in octaves for degree in degrees)
    return [interval for interval in found if 0 < interval <= widest]


def scale_up(root: int, degrees: Sequence[int], octaves: int) -> list[int]:
    """The notes (MIDI) of a scale from its root up to the root `octaves` above."""
    return [root + 12 * octave + degree for octave in range(octaves) for degree in degrees] + [
        root + 12 * octaves
    ]


def _parameters(writer: Writer) -> tuple[Parameter, ...]:
    low, high = writer.instrument.lowest_midi, writer.instrument.highest_midi
    usual = max(writer.reach.easy - 7, writer.reach.low)
    modes = tuple(Choice(key, words) for key, (words, _, _) in _MODES.items())
    return (
        writer.note("from_midi", "from", usual, low, high - 12),
        Parameter("mode", "scale", choices=modes),
        Parameter("octaves", "octaves", "", 1, 3, 1, usual=1.0),
        Parameter("way", "way", choices=_WAYS),
        Parameter("turn", "turn", choices=_TURNS),
        Parameter("rows", "scales", "", 1, 12, 1, usual=3.0),
        Parameter("each", "each one", choices=_EACH),
        Parameter("how", "how", choices=_ARTICULATIONS),
        Parameter("breaths", "breaths", choices=_BREATHS),
        writer.beats(0.5),
        writer.tempo(72),
        writer.tuned(),
    )


def _write(writer: Writer, given: ParameterValues) -> Score:
    rows, octaves = given.whole("rows"), given.whole("octaves")
    by = _BY[given.word("each")]
    lines = [
        _line(given.word("mode"), given.whole("from_midi") + by * row, octaves, given)
        for row in range(rows)
    ]
    _on_the_horn(writer, [midi for line in lines for midi in line])
    beats, steps = given.beats("beats"), list[Step]()
    for line in lines:
        breaths = _breathes(line, given)
        for place, midi in enumerate(line):
            last = place == len(line) - 1
            first = place == 0 or place - 1 in breaths
            steps.append(_note(writer, midi, 4 * beats if last else beats, place, first, given))
            if place in breaths:
                steps.append(Breath())
    root = given.whole("from_midi") % 12
    tonic = root if given.word("mode") in ("major", "major-arpeggio") and rows == 1 else None
    return Score(tuple(steps), tempo_bpm=given.number("tempo"), tonic=tonic)


def _line(mode: str, root: int, octaves: int, given: ParameterValues) -> list[int]:
    """One scale, in its way and with its turn."""
    _, rising, falling = _MODES[mode]
    up, down = scale_up(root, rising, octaves), scale_up(root, falling, octaves)[::-1]
    turn: list[int] = []
    if given.word("turn") == "ninth":
        turn = [up[-1] + (rising[1] if len(rising) > 1 else 2), up[-1]]
    match given.word("way"):
        case "up":
            return up + turn
        case "down":
            return down
        case "down-up":
            return down + up[1:]
        case "top-first":
            top = [midi for midi in up if midi >= root + 12 * (octaves - 1)]
            return top + turn + down[1:]
        case _:
            return up + turn + down[1:]


def _breathes(line: Sequence[int], given: ParameterValues) -> set[int]:
    """After which notes of a scale one breathes: the last, or each root as well."""
    last = len(line) - 1
    if given.word("breaths") == "scale":
        return {last}
    roots = {place for place in range(1, last) if (line[place] - line[0]) % 12 == 0}
    return {*roots, last}


def _note(
    writer: Writer, midi: int, beats: Fraction, place: int, first: bool, given: ParameterValues
) -> Play:
    how = given.word("how")
    slurred = not first and (how == "slurred" or (how == "two-two" and place % 4 == 1))
    if slurred:
        return writer.slurred(midi, beats)
    begun = Articulation.TENUTO if how == "tenuto" else Articulation.TONGUED
    return writer.play(midi, beats, articulation=begun)


def _on_the_horn(writer: Writer, midis: Sequence[int]) -> None:
    lowest, highest = writer.instrument.lowest_midi, writer.instrument.highest_midi
    if min(midis) < lowest or max(midis) > highest:
        raise ExerciseRefusedError(
            f"This goes from {writer.name(min(midis))} to {writer.name(max(midis))}, and the horn "
            f"from {writer.name(lowest)} to {writer.name(highest)}. Take fewer octaves or scales, "
            "or start elsewhere."
        )


_FIFTH = 7


def _key_of_the_day(writer: Writer, day: int) -> Values:
    """A key for each day, by fifths, as low as the reach begins or up to an octave higher."""
    lowest = writer.reach.low
    return {"from_midi": float(lowest + day * _FIFTH % 12), "rows": 1.0}


def _scales_path(writer: Writer) -> Iterator[Values]:
    """Quicker, then the next mode, then over two octaves."""
    yield {}
    for octaves in (1, 2):
        for mode in _MODES:
            for tempo in (60, 66, 72, 78):
                yield {"octaves": float(octaves), "mode": mode, "tempo": float(tempo)}


FAMILIES = (
    Family(
        "scales-and-arpeggios",
        "Scales",
        Group.INTERVALS,
        _parameters,
        _write,
        (Aim.SPOKE, Aim.CENTRE, Aim.GAP, Aim.EVEN, Aim.SAME_SOUND),
        FamilyWords(
            why="Scales in every key put every note under your fingers and into your ear.",
            listen="Each note in tune with the one before, all of them with one sound.",
            wrong="The notes are uneven, or some of them stick out of the line.",
            remedy="Play it slower, and only as many octaves as stay even.",
        ),
        leads_to=("two-octave-scale", "low-scales"),
        falls_back_to=("interval-rhythms",),
        practised=PracticeRules(
            turn=4,
            planned=_key_of_the_day,
            path=_scales_path,
            reason="A key a day, every note with the same sound.",
        ),
    ),
)
