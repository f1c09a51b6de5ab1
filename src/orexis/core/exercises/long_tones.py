"""Long tones: low and easy first, then outward."""

from collections.abc import Callable, Iterator
from fractions import Fraction
from functools import partial

from orexis.core.counting import listed
from orexis.core.exercises.family import (
    Aim,
    ExerciseRefusedError,
    Family,
    FamilyWords,
    Group,
    ParameterValues,
)
from orexis.core.exercises.practised import AttemptOrder, PracticeRules, Values
from orexis.core.exercises.writer import HAND_KEY, USUAL_HAND, Writer
from orexis.core.horn.ways import ways
from orexis.core.parameter import Choice, Parameter
from orexis.core.score.steps import Articulation, Bend, Breath, Dynamic, Play, Score, Step

_SHORTEST_HOLD_S, _LONGEST_HOLD_S = 1.0, 60.0
_TONE = (Aim.CENTRE, Aim.STEADY, Aim.START, Aim.END, Aim.HELD, Aim.SPEAKS)
_PUSH_CENTS = 25.0
_WAYS = (Choice("down", "down"), Choice("up", "up"), Choice("outward", "outward from the first"))
_SHAPES: dict[str, tuple[str, tuple[tuple[Dynamic, Dynamic | None], ...]]] = {
    "pp": ("very soft", ((Dynamic.PP, None),)),
    "p": ("soft", ((Dynamic.P, None),)),
    "mf": ("in between", ((Dynamic.MF, None),)),
    "f": ("loud", ((Dynamic.F, None),)),
    "ff": ("very loud", ((Dynamic.FF, None),)),
    "crescendo": ("growing", ((Dynamic.PP, Dynamic.FF),)),
    "diminuendo": ("fading", ((Dynamic.FF, Dynamic.PP),)),
    "swell": ("growing and fading", ((Dynamic.P, Dynamic.F), (Dynamic.F, Dynamic.P))),
    "all": (
        "one after the other",
        tuple(
            (dynamic, None)
            for dynamic in (Dynamic.PP, Dynamic.P, Dynamic.MF, Dynamic.F, Dynamic.FF)
        ),
    ),
}


def _range(writer: Writer) -> tuple[int, int]:
    return writer.instrument.lowest_midi, writer.instrument.highest_midi


def _hold(usual: float) -> Parameter:
    return Parameter("hold_s", "hold", "s", _SHORTEST_HOLD_S, _LONGEST_HOLD_S, 1, usual=usual)


def _tone_parameters(writer: Writer) -> tuple[Parameter, ...]:
    note = writer.note("from_midi", "note", writer.reach.easy, *_range(writer))
    return note, _hold(4), writer.times(1), writer.hand()


def _in_hand(writer: Writer, given: ParameterValues) -> Callable[..., Play]:
    """What writes the one note of an exercise, in the fingering or position that is set. Raises
    `ExerciseRefusedError` where it cannot be had there."""
    midi, hand = given.whole("from_midi"), given.word(HAND_KEY)
    if hand == USUAL_HAND:
        return partial(writer.play, midi)
    way = writer.way_on(hand, midi)
    if way is None:
        there = [way.length.hand for way in ways(writer.horn, midi) if way.usable]
        raise ExerciseRefusedError(
            f"{writer.name(midi)} cannot be had there. It can with {listed(there)}."
        )
    return partial(writer.play_by, way)


def _tone(writer: Writer, given: ParameterValues) -> Score:
    note = _in_hand(writer, given)(Fraction(given.whole("hold_s")))
    return Score((note, Breath()), times=given.whole("times"))


def _low_parameters(writer: Writer) -> tuple[Parameter, ...]:
    note = writer.note("from_midi", "from", writer.reach.easy, *_range(writer))
    notes = Parameter("notes", "notes", "", 2, 12, 1, usual=7.0)
    return note, notes, _hold(6), Parameter("way", "way", choices=_WAYS)


def _low(writer: Writer, given: ParameterValues) -> Score:
    start, count = given.whole("from_midi"), given.whole("notes")
    lowest, highest = _range(writer)
    midis = {
        "down": [start - place for place in range(count)],
        "up": [start + place for place in range(count)],
        # Below and above in turn, a half step farther each time.
        "outward": [start + (place + 1) // 2 * (-1 if place % 2 else 1) for place in range(count)],
    }[given.word("way")]
    if min(midis) < lowest:
        raise ExerciseRefusedError(
            f"{count} half steps down from {writer.name(start)} end below the horn's lowest note, "
            f"{writer.name(lowest)}. Take {start - lowest + 1} notes, or start higher."
        )
    if max(midis) > highest:
        raise ExerciseRefusedError(
            f"This goes above the horn's highest note, {writer.name(highest)}. Take fewer notes, "
            "or start lower."
        )
    steps: list[Step] = []
    for midi in midis:
        steps += [writer.play(midi, given.whole("hold_s"), as_long_as_good=True), Breath()]
    return Score(tuple(steps))


def _dynamics_parameters(writer: Writer) -> tuple[Parameter, ...]:
    choices = tuple(Choice(key, words) for key, (words, _) in _SHAPES.items())
    note = writer.note("from_midi", "note", writer.reach.easy, *_range(writer))
    shape = Parameter("shape", "dynamic", choices=choices, usual="all")
    return shape, note, _hold(6), writer.hand()


def _dynamics(writer: Writer, given: ParameterValues) -> Score:
    play, hold = _in_hand(writer, given), Fraction(given.whole("hold_s"))
    shape = given.word("shape")
    steps: list[Step] = []
    for dynamic, grows_to in _SHAPES[shape][1]:
        goes_on = shape == "swell" and steps
        start = Articulation.SLURRED if goes_on else Articulation.TONGUED
        note = play(hold, articulation=start, dynamic=dynamic, grows_to=grows_to)
        steps += [note] if shape == "swell" else [note, Breath()]
    return Score(tuple(steps))


def _centre_parameters(writer: Writer) -> tuple[Parameter, ...]:
    note = writer.note("from_midi", "note", writer.reach.easy, *_range(writer))
    cents = Parameter("push_cents", "above and below", "cents", 10, 60, 5, usual=_PUSH_CENTS)
    return note, cents, _hold(4), writer.times(3), writer.hand()


def _centre(writer: Writer, given: ParameterValues) -> Score:
    play, cents, hold = _in_hand(writer, given), given.number("push_cents"), given.whole("hold_s")
    steps: tuple[Step, ...] = (
        play(2),
        Bend(cents, Fraction(2)),
        Bend(-cents, Fraction(2)),
        play(hold, articulation=Articulation.SLURRED, as_long_as_good=True),
        Breath(),
    )
    return Score(steps, times=given.whole("times"))


def _easy_note(writer: Writer, day: int) -> Values:
    return {"from_midi": float(writer.reach.easy), "hold_s": 4.0}


_HOLDS_S = (4.0, 6.0, 8.0, 10.0, 12.0)
_OUTWARD = (0, 1, -1, 2, -2, 3, -3, 4, -4, 5, -5, 6, -6, 7)
"""Half steps from the easy note, in the order they are taken in."""


def _low_path(writer: Writer) -> Iterator[Values]:
    """A half step lower at the bottom each time, and longer; then outward, longer, and from other
    notes."""
    yield {"from_midi": float(writer.reach.easy), "hold_s": 6.0, "way": "down"}
    for notes in range(3, 13):
        yield {"notes": float(notes)}
    for hold_s in _HOLDS_S[2:]:
        yield {"hold_s": hold_s}
    for notes in range(3, 13):
        yield {"way": "outward", "hold_s": 6.0, "notes": float(notes)}
    for hold_s in _HOLDS_S[2:]:
        yield {"hold_s": hold_s}
    for by in _OUTWARD[1:]:
        yield {"from_midi": float(writer.reach.easy + by)}


def _tone_path(writer: Writer) -> Iterator[Values]:
    """Other notes outward from the easy one, then longer."""
    yield {"hold_s": 4.0}
    for by in _OUTWARD:
        yield {"from_midi": float(writer.reach.easy + by)}
    for hold_s in _HOLDS_S[1:]:
        yield {"hold_s": hold_s}


def _dynamics_path(writer: Writer) -> Iterator[Values]:
    """Wider dynamics on the easy note, then all of them on other notes."""
    yield {"from_midi": float(writer.reach.easy), "hold_s": 6.0}
    for shape in ("swell", "all", "crescendo", "diminuendo"):
        yield {"shape": shape}
    yield {"shape": "all", "from_midi": float(writer.reach.easy + 2)}
    for by in (-2, 4, -4, 5, -5, 7):
        yield {"from_midi": float(writer.reach.easy + by)}


def _centre_path(writer: Writer) -> Iterator[Values]:
    """Other notes outward, then pushed less far, which is finer."""
    yield {"push_cents": _PUSH_CENTS}
    for by in (0, 2, -2, 4, -4, 5, -5, 7):
        yield {"from_midi": float(writer.reach.easy + by)}
    for cents in (20.0, 15.0, 10.0):
        yield {"push_cents": cents}


FAMILIES = (
    Family(
        "low-long-tones",
        "Low long tones",
        Group.LONG,
        _low_parameters,
        _low,
        _TONE,
        FamilyWords(
            why="Low, easy notes wake the lips up without work.",
            listen="The note should be as full at the end as at the start.",
            wrong="The note shakes near the end, and the pitch falls.",
            remedy="Stop, breathe and play it again. Keep the air as fast at the end as at the "
            "start.",
        ),
        leads_to=("long-tone", "lip-slur"),
        falls_back_to=("sustained-buzz",),
        practised=PracticeRules(
            follow=AttemptOrder.BREATHS,
            turn=1,
            in_first_weeks=2,
            descends=True,
            warm_down=2,
            path=_low_path,
            coming_down={"notes": 4.0, "hold_s": 4.0},
            coming_down_reason="Easy low notes to relax the lips.",
        ),
    ),
    Family(
        "long-tone",
        "Long tone",
        Group.LONG,
        _tone_parameters,
        _tone,
        (*_TONE, Aim.TONE, Aim.LEVEL),
        FamilyWords(
            why="One note, held as long as it is steady, tells you how everything else will sound.",
            listen="Sit in the middle of the slot, with a sound that does not change.",
            wrong="The note shakes near the end, or the pitch falls as the air runs out.",
            remedy="Stop, breathe and play it again. Spend the air as if it sped up towards the "
            "end.",
        ),
        leads_to=("dynamics", "finding-the-centre"),
        falls_back_to=("low-long-tones",),
        lips_alone=True,
        practised=PracticeRules(in_first_weeks=1, planned=_easy_note, path=_tone_path),
    ),
    Family(
        "dynamics",
        "Five dynamics",
        Group.LONG,
        _dynamics_parameters,
        _dynamics,
        (Aim.CENTRE, Aim.STEADY, Aim.SHAPE, Aim.SPEAKS),
        FamilyWords(
            why="A note should be in tune whether you play it soft or loud.",
            listen="Listen to the pitch while the sound grows and fades.",
            wrong="The note goes flat or sharp as it gets louder or softer.",
            remedy="Use a smaller range first, from p to mf, then widen it.",
        ),
        falls_back_to=("long-tone",),
        practised=PracticeRules(
            follow=AttemptOrder.BREATHS,
            turn=3,
            path=_dynamics_path,
            reason="In tune at every dynamic, soft and loud.",
        ),
    ),
    Family(
        "finding-the-centre",
        "Finding the centre",
        Group.LONG,
        _centre_parameters,
        _centre,
        (Aim.CENTRE, Aim.BENT, Aim.CAME_BACK),
        FamilyWords(
            why="You learn where the middle of a slot is by feeling both of its edges.",
            listen="Find the spot where the sound clears, and stay there.",
            wrong="The note is squeezed and sharp, or loose, flat and wobbling.",
            remedy="If it is sharp, let it settle down into the note. If it is flat, focus it up "
            "a little.",
        ),
        leads_to=("bend",),
        falls_back_to=("long-tone",),
        practised=PracticeRules(
            turn=2,
            path=_centre_path,
            reason="A little sharp, a little flat, then where the sound clears.",
        ),
    ),
)
