"""Slurs: from slot to slot of one length, on the air alone."""

from collections.abc import Iterator
from dataclasses import replace

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
from orexis.core.exercises.slurring import (
    CONNECTED,
    numbers_of,
    pyramid,
    pyramid_breaths,
    pyramid_path,
    slots_of,
    slurred,
    up_and_down,
)
from orexis.core.exercises.writer import Writer
from orexis.core.parameter import Choice, Parameter
from orexis.core.score.steps import Articulation, Breath, Score, Step

_LONGEST_PATTERN = 40
_WAYS = (
    Choice("both", "up and back down"),
    Choice("up", "low to high"),
    Choice("down", "high to low"),
)
_GROWTH = (
    Choice("level", "level"),
    Choice("grow", "growing with height"),
    Choice("open-close", "loud low, soft high"),
)


def _start(writer: Writer) -> Parameter:
    return writer.slot_number("slot", "from partial", 3)


def _slot_parameters(writer: Writer) -> tuple[Parameter, ...]:
    return (
        writer.length(),
        _start(writer),
        Parameter("slots", "partials", "", 2, 7, 1, usual=2.0),
        writer.beats(2),
        writer.times(3),
        Parameter("dynamics", "dynamics", choices=_GROWTH),
        Parameter("way", "way", choices=_WAYS),
    )


def _in_its_way(given: ParameterValues) -> list[int]:
    """The slots of a slur, low to high, high to low, or there and back."""
    start, count = given.whole("slot"), given.whole("slots")
    up = list(range(start, start + count))
    return {"both": up_and_down(start, count), "up": up, "down": up[::-1]}[given.word("way")]


def _slot_slur(writer: Writer, given: ParameterValues) -> Score:
    beats = given.beats("beats")
    partials = _in_its_way(given)
    slots = slots_of(writer, given.word("length"), partials)
    notes = slurred(writer, slots, beats, 2 * beats, given.word("dynamics"))
    return Score((*notes, Breath()), times=given.whole("times"))


def _through_parameters(writer: Writer) -> tuple[Parameter, ...]:
    slots = Parameter("slots", "partials", "", 2, 5, 1, usual=2.0)
    return _start(writer), slots, writer.beats(1), writer.tempo(72)


def _through(writer: Writer, given: ParameterValues) -> Score:
    beats = given.beats("beats")
    partials = up_and_down(given.whole("slot"), given.whole("slots"))
    steps: list[Step] = []
    for length in writer.lengths:
        reached = {slot.partial for slot in writer.slots(length.name)}
        if not set(partials) <= reached:
            break
        slots = slots_of(writer, length.name, partials)
        steps += [*slurred(writer, slots, beats, 2 * beats), Breath()]
    if not steps:
        slots_of(writer, writer.lengths[0].name, partials)
    return Score(tuple(steps), tempo_bpm=given.number("tempo"))


def _pattern_parameters(writer: Writer) -> tuple[Parameter, ...]:
    pattern = Parameter("pattern", "partials in turn", longest=_LONGEST_PATTERN, usual="3 4 5 4 3")
    return pattern, writer.length(), writer.beats(1), writer.times(3)


def _pattern(writer: Writer, given: ParameterValues) -> Score:
    beats = given.beats("beats")
    slots = slots_of(writer, given.word("length"), numbers_of(given.word("pattern")))
    notes = slurred(writer, slots, beats, 2 * beats)
    return Score((*notes, Breath()), times=given.whole("times"))


def _pyramid_parameters(writer: Writer) -> tuple[Parameter, ...]:
    top = Parameter("slots", "partials at most", "", 3, 9, 1, usual=5.0)
    from_slot, breaths = writer.slot_number("slot", "from partial", 2, 6), pyramid_breaths()
    return writer.length(), from_slot, top, writer.beats(0.5), breaths


def _skip_parameters(writer: Writer) -> tuple[Parameter, ...]:
    ways = (Choice("down", "high to low"), Choice("up", "low to high"))
    first = (Choice("tongued-first", "tongued first"), Choice("slurred", "slurred"))
    return (
        writer.length(),
        writer.slot_number("slot", "lower partial", 3),
        Parameter("skips", "partials skipped", "", 1, 3, 1, usual=1.0),
        Parameter("way", "way", choices=ways),
        Parameter("first", "first", choices=first),
        writer.beats(2),
        writer.times(3),
    )


def _skip(writer: Writer, given: ParameterValues) -> Score:
    low, beats = given.whole("slot"), given.beats("beats")
    high = low + given.whole("skips") + 1
    there = {slot.partial for slot in writer.slots(given.word("length"))}
    if high not in there:
        raise ExerciseRefusedError(
            f"From partial {low} there is none to skip to: here the highest is {max(there)}. "
            f"Start from partial {max(there) - given.whole('skips') - 1} or lower."
        )
    order = [low, high, low] if given.word("way") == "up" else [high, low, high]
    slots = slots_of(writer, given.word("length"), order)
    notes = slurred(writer, slots, beats, 2 * beats)
    steps: list[Step] = []
    if given.word("first") == "tongued-first":
        steps += [replace(note, articulation=Articulation.TONGUED) for note in notes]
        steps.append(Breath())
    return Score((*steps, *notes, Breath()), times=given.whole("times"))


def _shaped_parameters(writer: Writer) -> tuple[Parameter, ...]:
    shapes = (_GROWTH[2], _GROWTH[1])
    return (
        writer.length(),
        _start(writer),
        Parameter("slots", "partials", "", 2, 7, 1, usual=3.0),
        Parameter("dynamics", "shape", choices=shapes),
        writer.beats(2),
        writer.times(3),
        Parameter("way", "way", choices=_WAYS),
    )


def _slot_path(writer: Writer) -> Iterator[Values]:
    """The next pair of partials, more of them, shorter notes, then down."""
    yield {"way": "both", "beats": 2.0, "slots": 2.0}
    for slot in (2, 3, 4):
        yield {"slot": float(slot)}
    for slots in range(3, 8):
        yield {"slot": 2.0 if slots > 4 else 3.0, "slots": float(slots)}
    for beats in (1.5, 1.0, 0.5):
        yield {"beats": beats}
    yield {"way": "down"}


def _through_path(writer: Writer) -> Iterator[Values]:
    """Quicker, then one partial more, and quicker again."""
    yield {}
    for slots in range(2, 6):
        for tempo in (66, 72, 78, 84, 90):
            yield {
                "slot": 3.0 if slots < 4 else 2.0,
                "slots": float(slots),
                "tempo": float(tempo),
            }


def _skip_path(writer: Writer) -> Iterator[Values]:
    """Slurred at once, down and up, from the next partial, over two of them, shorter."""
    yield {"slot": 3.0, "skips": 1.0, "beats": 2.0, "way": "down"}
    yield {"first": "tongued-first"}
    yield {"first": "slurred"}
    yield {"way": "up"}
    yield {"slot": 4.0, "way": "down"}
    yield {"way": "up"}
    yield {"slot": 2.0, "skips": 2.0, "way": "down"}
    yield {"way": "up"}
    yield {"slot": 3.0, "way": "down"}
    yield {"way": "up"}
    for beats in (1.5, 1.0, 0.5):
        yield {"beats": beats}


def _shaped_path(writer: Writer) -> Iterator[Values]:
    """More notes, shorter ones, then one way by itself."""
    yield {"slot": 3.0, "beats": 2.0, "way": "both"}
    for slots in range(2, 8):
        yield {"slot": 2.0 if slots > 5 else 3.0, "slots": float(slots)}
    for beats in (1.5, 1.0):
        yield {"beats": beats}
    yield {"way": "down"}


_SLUR_WORDS = FamilyWords(
    why="You change the note with the air, not with the hand.",
    listen="No gap, no partial in between, and a sound that does not fade before the change.",
    wrong="There is a gap, a partial in between sounds, or you push the note with pressure.",
    remedy="Blow through the change: a little more air right before it, with the chin flat.",
)

_LOUDNESS = {
    ("dynamics-up", key): Answer({"dynamics": key}, said=f"Going up: {said}.")
    for key, said in (("grow", "grow"), ("open-close", "loud low, soft high"), ("level", "level"))
}
_TONGUED_FIRST = {("starts", "tongued"): Answer({"first": "tongued-first"})}


FAMILIES = (
    Family(
        "lip-slur",
        "Lip slur",
        Group.SLURS,
        _slot_parameters,
        _slot_slur,
        CONNECTED,
        _SLUR_WORDS,
        leads_to=("through-the-fingerings", "pyramid"),
        falls_back_to=("slur-shape",),
        practised=PracticeRules(
            follow=AttemptOrder.LENGTHS,
            turn=1,
            path=_slot_path,
            in_first_weeks=1,
            in_first_weeks_set={"slot": 2.0},
            answers=_LOUDNESS,
        ),
    ),
    Family(
        "through-the-fingerings",
        "Through the fingerings or positions",
        Group.SLURS,
        _through_parameters,
        _through,
        (*CONNECTED, Aim.SAME_SOUND),
        FamilyWords(
            why="You play the same slur on every fingering or position, so that none of them "
            "is a weak one.",
            listen="The last one should sound as open as the first.",
            wrong="The long ones are stuffy and late.",
            remedy="Use more air on the long ones, and keep the beat.",
        ),
        leads_to=("pyramid",),
        falls_back_to=("lip-slur",),
        practised=PracticeRules(
            follow=AttemptOrder.BREATHS,
            turn=2,
            path=_through_path,
            reason="The same slur on every fingering or position, without a reset.",
            tells=ProgressMeasure.LENGTHS,
        ),
    ),
    Family(
        "partial-pattern",
        "Pattern of partials",
        Group.SLURS,
        _pattern_parameters,
        _pattern,
        (*CONNECTED, Aim.ONE_BREATH, Aim.EVEN),
        _SLUR_WORDS,
        leads_to=("pyramid",),
        falls_back_to=("lip-slur",),
    ),
    Family(
        "pyramid",
        "Slur pyramid",
        Group.SLURS,
        _pyramid_parameters,
        pyramid,
        (*CONNECTED, Aim.ONE_BREATH, Aim.SAME_SOUND),
        FamilyWords(
            why="You find out how high you come from the bottom without resetting the embouchure.",
            listen="The bottom note should be round every time you come back to it.",
            wrong="You reset the lips before the top, or the bottom note turns rough.",
            remedy="Go one partial less high, and slower. What counts is the highest one you "
            "reach without a reset.",
        ),
        leads_to=("light-hold-pyramid", "skip-slur"),
        falls_back_to=("lip-slur",),
        version=2,
        practised=PracticeRules(
            follow=AttemptOrder.GROW,
            turn=3,
            path=pyramid_path,
            reason="One partial more each round, without resetting the embouchure.",
            tells=ProgressMeasure.PYRAMID_TOP,
        ),
    ),
    Family(
        "skip-slur",
        "Skip slur",
        Group.SLURS,
        _skip_parameters,
        _skip,
        CONNECTED,
        FamilyWords(
            why="You cross a partial without touching it, which is the fastest change the "
            "lips make.",
            listen="Nothing should sound between the two notes.",
            wrong="The partial in between sounds, or you leave a gap to avoid it.",
            remedy="Tongue it once to hear both notes, then play the same without the tongue.",
        ),
        leads_to=("shaped-slur",),
        falls_back_to=("lip-slur",),
        practised=PracticeRules(
            follow=AttemptOrder.LENGTHS,
            turn=4,
            path=_skip_path,
            answers=_TONGUED_FIRST,
            reason="From high to low first, with nothing sounding in between.",
            tells=ProgressMeasure.SKIPS,
        ),
    ),
    Family(
        "shaped-slur",
        "Shaped slur",
        Group.SLURS,
        _shaped_parameters,
        _slot_slur,
        (*CONNECTED, Aim.SHAPE),
        FamilyWords(
            why="Loud low and soft high lets the lips close on the way up; growing lets the "
            "air lead.",
            listen="Follow the shape from the first note to the last.",
            wrong="The top note sticks out, or does not sound.",
            remedy="Try half of the shape first. Teachers differ here, so keep the way that "
            "works for you.",
        ),
        falls_back_to=("lip-slur",),
        practised=PracticeRules(
            follow=AttemptOrder.LENGTHS,
            turn=5,
            path=_shaped_path,
            answers={**_LOUDNESS, ("dynamics-up", "level"): Answer(left_out=True)},
            reason="A slur that gets louder and softer as it is written.",
        ),
    ),
)
