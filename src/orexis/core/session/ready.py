"""Sessions that are ready to be played, for any horn."""

from dataclasses import dataclass, replace

from orexis.core.exercises.family import ExerciseRefusedError
from orexis.core.exercises.writer import Writer
from orexis.core.session.building import Setting, block_of


@dataclass(frozen=True, slots=True)
class ReadySession:
    """A session by its name: what it is for, and its exercises in order."""

    key: str
    title: str
    why: str
    settings: tuple[Setting, ...]


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
    return [
        replace(session, settings=tuple(each for each in session.settings if _can_be(each, writer)))
        for session in READY
    ]


def _can_be(setting: Setting, writer: Writer) -> bool:
    if setting.family == "chromatic-ladder" and writer.instrument.is_slide:
        return False
    try:
        block_of(setting.family, writer, setting.values, setting.way)
    except ExerciseRefusedError:
        return False
    return True
