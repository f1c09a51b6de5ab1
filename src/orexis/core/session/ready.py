"""Sessions that are ready to be played, for any horn."""

from dataclasses import dataclass

from orexis.core.exercises.family import ExerciseRefusedError
from orexis.core.exercises.writer import Writer
from orexis.core.session.building import Setting, block_of


@dataclass(frozen=True, slots=True)
class Ready:
    """A session by its name: what it is for, and its exercises in order."""

    key: str
    title: str
    why: str
    settings: tuple[Setting, ...]


_BREATH = Setting("breath", {"times": 2.0}, {})
_IN_TIME = {"metronome": "on"}

READY = (
    Ready(
        "warm-up",
        "Warm-up",
        "Breath, buzz, low notes and easy slurs: the lips wake up without work.",
        (
            _BREATH,
            Setting("first-buzz", {"step": "2", "times": 2.0}, _IN_TIME),
            Setting("low-long-tones", {"notes": 5.0, "hold_s": 4.0}, {}),
            Setting("slot-slur", {"slots": 2.0, "beats": 1.0}, {**_IN_TIME, "bpm": 66.0}),
        ),
    ),
    Ready(
        "higher",
        "A step higher",
        "One rung at a time from a note that is safe, with the low note between.",
        (
            Setting("long-tone", {"hold_s": 3.0}, {"needed": 2.0}),
            Setting("glide-ladder", {}, {}),
            Setting("chromatic-ladder", {}, {}),
            Setting("low-long-tones", {"notes": 3.0}, {}, "Low and easy, to come down again."),
        ),
    ),
    Ready(
        "pedals",
        "Pedal sets",
        "Breath starts in sets, with the set of the notes above them.",
        (
            Setting("pedal-arpeggio", {"times": 2.0}, {}),
            Setting("pedal-sets", {}, {"sets": 2.0}),
        ),
    ),
    Ready(
        "everything",
        "A bit of everything",
        "In the order of a day: breath, buzz, long tones, slurs, intervals, low, music.",
        (
            _BREATH,
            Setting("siren", {"times": 2.0}, {}),
            Setting("low-long-tones", {}, {}),
            Setting("slot-slur", {}, {}),
            Setting("pyramid", {}, {}),
            Setting("interval-rhythms", {}, {}),
            Setting("chained-intervals", {}, {}),
            Setting("melody", {}, {}),
        ),
    ),
)


def ready_for(writer: Writer) -> list[tuple[Ready, float]]:
    """What there is for a horn, each with about how long it takes (s). What the horn cannot do is
    left out; a slide glides where valves slur."""
    found: list[tuple[Ready, float]] = []
    for one in READY:
        there: list[Setting] = []
        seconds = 0.0
        for setting in one.settings:
            if setting.family == "chromatic-ladder" and writer.instrument.is_slide:
                continue
            try:
                block = block_of(setting.family, writer, setting.values, setting.way)
            except ExerciseRefusedError:
                continue
            there.append(setting)
            seconds += block.seconds
        found.append((Ready(one.key, one.title, one.why, tuple(there)), seconds))
    return found
