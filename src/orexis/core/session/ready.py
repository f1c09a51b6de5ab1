"""Sessions that are ready to be played, for any horn."""

from collections.abc import Callable
from dataclasses import dataclass, replace

from orexis.core.exercises.family import ExerciseRefusedError
from orexis.core.exercises.writer import Writer
from orexis.core.session.building import Setting, block_of


@dataclass(frozen=True, slots=True)
class ReadySession:
    """A session by its name: what it is for, and its exercises in order, those that depend on the
    horn last."""

    key: str
    title: str
    why: str
    settings: tuple[Setting, ...]
    on_a_horn: Callable[[Writer], tuple[Setting, ...]] | None = None


_PEDALS, _REST_BETWEEN_S = 3, 600.0
_THEN_REST = (
    "Two sets on one pedal, then ten minutes of rest. You can leave the Stand meanwhile; the time "
    "counts as rest."
)


def _pedals_apart(writer: Writer) -> tuple[Setting, ...]:
    """Sets on the highest pedal and those below it, with a long rest between."""
    highest, way = writer.instrument.fundamental_midi, {"sets": 2.0}
    values = [{"pedal_midi": float(highest - by), "starts": 10.0} for by in range(_PEDALS)]
    resting = {**way, "block_rest_s": _REST_BETWEEN_S}
    *before, last = values
    return (
        *(Setting("pedal-sets", each, resting, _THEN_REST) for each in before),
        Setting("pedal-sets", last, way),
    )


_BREATH = Setting("breath", {"times": 2.0}, {})
_IN_TIME = {"metronome": "on"}

READY = (
    ReadySession(
        "warm-up",
        "Warm-up",
        "Breath, buzz, low notes and easy slurs: the lips wake up without work.",
        (
            _BREATH,
            Setting("first-buzz", {"step": "2", "times": 2.0}, _IN_TIME),
            Setting("low-long-tones", {"notes": 5.0, "hold_s": 4.0}, {}),
            Setting("lip-slur", {"slots": 2.0, "beats": 1.0}, {**_IN_TIME, "bpm": 66.0}),
        ),
    ),
    ReadySession(
        "higher",
        "A step higher",
        "One step at a time from a safe note, with the low note between.",
        (
            Setting("long-tone", {"hold_s": 3.0}, {"needed": 2.0}),
            Setting("glide-ladder", {}, {}),
            Setting("chromatic-ladder", {}, {}),
            Setting("low-long-tones", {"notes": 3.0}, {}, "Easy low notes to relax the lips."),
        ),
    ),
    ReadySession(
        "pedals",
        "Pedal sets",
        "Air attacks in sets, with the embouchure of the notes above them.",
        (
            Setting("pedal-arpeggio", {"times": 2.0}, {}),
            Setting("pedal-sets", {}, {"sets": 2.0}),
        ),
    ),
    ReadySession(
        "pedal-notes",
        "Three pedals, long rests",
        "Easy pedals first, then sets on three of them with ten minutes of rest between.",
        (Setting("easy-pedals", {}, {}),),
        _pedals_apart,
    ),
    ReadySession(
        "everything",
        "A bit of everything",
        "In the order of a day: breath, buzz, long tones, slurs, intervals, low, music.",
        (
            _BREATH,
            Setting("siren", {"times": 2.0}, {}),
            Setting("low-long-tones", {}, {}),
            Setting("lip-slur", {}, {}),
            Setting("pyramid", {}, {}),
            Setting("interval-rhythms", {}, {}),
            Setting("chained-intervals", {}, {}),
            Setting("melody", {}, {}),
        ),
    ),
)


def ready_for(writer: Writer) -> list[ReadySession]:
    """What there is for a horn. What the horn cannot do is left out; a slide glides where valves
    slur."""
    found: list[ReadySession] = []
    for session in READY:
        own = session.on_a_horn(writer) if session.on_a_horn else ()
        settings = tuple(each for each in session.settings + own if _can_be(each, writer))
        found.append(replace(session, settings=settings, on_a_horn=None))
    return found


def _can_be(setting: Setting, writer: Writer) -> bool:
    if setting.family == "chromatic-ladder" and writer.instrument.is_slide:
        return False
    try:
        block_of(setting.family, writer, setting.values, setting.way)
    except ExerciseRefusedError:
        return False
    return True
