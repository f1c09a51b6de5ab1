"""What the horn does, said in the player's words and note names."""

from collections.abc import Callable, Sequence

from orexis.core.counting import counted
from orexis.core.horn.glides import GlidePlan, GlideStop
from orexis.core.horn.notation import Notation
from orexis.core.horn.setup import Horn, Tendency
from orexis.core.horn.slurs import LipTrill, SamePitch, Slur
from orexis.core.horn.tube import Length
from orexis.core.horn.ways import ChartLine, Pedal, Way

_WORTH_SAYING_CENTS = 5.0
_WORTH_SAYING_MM = 1.0
_NAMED = ("zero", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine")
_ORDINALS = (
    "pedal",
    *("second", "third", "fourth", "fifth", "sixth", "seventh", "eighth"),
    *("ninth", "tenth", "eleventh", "twelfth", "thirteenth", "fourteenth"),
    *("fifteenth", "sixteenth"),
)


def slot_words(partial: int) -> str:
    """Which partial it is: "pedal", "fourth partial"."""
    ordinal = _ORDINALS[partial - 1]
    return ordinal if partial == 1 else f"{ordinal} partial"


def tuned_words(cents: float) -> str:
    """How far a pitch lies off: "12 cents flat", "in tune"."""
    whole = round(cents)
    if whole == 0:
        return "in tune"
    return f"{counted(abs(whole), 'cent')} {'sharp' if whole > 0 else 'flat'}"


def from_to_words(lowest: int, highest: int, name: Callable[[int], str]) -> str:
    """From which note to which something goes: "C4 to G5", "C4"."""
    return name(lowest) if lowest == highest else f"{name(lowest)} to {name(highest)}"


def measured_words(model_cents: float, tendency: Tendency) -> str:
    """What the model and the player's own takes say of a note."""
    takes = counted(tendency.takes, "take")
    played = f"You: {tuned_words(tendency.cents)} in {takes}."
    return f"The tubes alone: {tuned_words(model_cents)}. {played}"


def pedal_words(line: ChartLine) -> str:
    """What holds a pedal, in a sentence; nothing of other notes."""
    match line.pedal:
        case Pedal.TRUE:
            return "A true pedal: the horn resonates here."
        case Pedal.LIP_LED if line.standard:
            return "A lip-led pedal: the lips hold it, and its slot is wide."
        case Pedal.LIP_LED:
            return "No slot here: the lips lead it alone."
        case None:
            return ""


def correction_words(way: Way) -> str:
    """What brings a way in tune, in one sentence; "" when nothing is wanted or will do."""
    if not way.usable:
        return ""
    if way.pull is not None and abs(way.expected_cents) >= _WORTH_SAYING_CENTS:
        ordinal = ("first", "second", "third", "fourth", "fifth")[way.pull.valve - 1]
        fingers = way.length.name
        return f"On {fingers}, pull the {ordinal} slide {way.pull.mm:.0f} mm."
    if way.correction_mm is not None and abs(way.correction_mm) >= _WORTH_SAYING_MM:
        direction = "out" if way.correction_mm > 0 else "in"
        return f"On {way.length.name}, {abs(way.correction_mm):.0f} mm {direction}."
    return ""


def length_words(length: Length) -> str:
    """A length within a sentence: "open", "1 3", "position 3"."""
    if length.position is not None:
        return length.hand
    return f"thumb {_fingers(length)}" if length.thumb else _fingers(length)


def finger_words(length: Length) -> str:
    """A fingering or position in its shortest form: "open", "1 3", "T 1 2", "F 3"."""
    if length.position is not None:
        return " ".join((*length.triggers, str(length.position)))
    return f"T {_fingers(length)}" if length.thumb else _fingers(length)


def slur_words(slur: Slur, notation: Notation) -> str:
    """How a slur goes, in one or two sentences."""
    start, end = notation.name(slur.from_midi), notation.name(slur.to_midi)
    if slur.same_length:
        best = slur.same_length[0]
        where = length_words(best.length)
        if best.start.partial == best.end.partial:
            return f"{start} and {end} are one slot on {where}."
        slots = sorted((best.start.partial, best.end.partial))
        both = f"Both on {where}, partials {slots[0]} and {slots[1]}."
        if not best.skips:
            return f"{both} Neighbours: nothing lies between."
        between = _listed([notation.name(slot.midi) for slot in best.between])
        lie = "lies" if len(best.between) == 1 else "lie"
        return f"{both} {between} {lie} between: a skip slur."
    if slur.nearest:
        best_change = slur.nearest[0]
        first, second = length_words(best_change.start.length), length_words(best_change.end.length)
        return f"No length has both. The smallest change: {start} on {first}, {end} on {second}."
    without = _listed([notation.name(midi) for midi in slur.without])
    return f"This horn has no slot for {without}: there the lips lead alone."


def glide_words(horn: Horn, plan: GlidePlan, notation: Notation) -> str:
    """How a glide goes, or why not and what is nearest."""
    if not horn.instrument.is_slide:
        steps = [length_words(way.length) if way else "no slot" for way in plan.instead]
        return f"Valves step, they do not glide. Slur the half steps: {', '.join(steps)}."
    if plan.stop is not None:
        return glide_stop_words(plan.stop, notation)
    said = []
    for glide in plan.route:
        start, end = glide.start.length, glide.end.length
        moved = glide.start.slide_mm - glide.end.slide_mm
        way = "in" if moved > 0 else "out"
        said.append(
            f"{notation.name(glide.start.midi)} on {start.hand}, {slot_words(glide.partial)}: "
            f"move {abs(moved):.0f} mm {way} to {notation.name(glide.end.midi)} on {end.hand}."
        )
    return " ".join(said)


def glide_stop_words(stop: GlideStop, notation: Notation) -> str:
    """Why a glide is not there, and the nearest that is."""
    name = notation.name(stop.midi)
    direction = "up" if stop.semitones > 0 else "down"
    asked = _half_steps(stop.semitones)
    said = f"No length lets you glide {asked} {direction} from {name} on one slot."
    if stop.farthest:
        said += f" From there {_half_steps(stop.farthest)} {_go(stop.farthest)}."
    if stop.nearest_midi is not None and stop.nearest_midi != stop.midi:
        said += f" The nearest note for {asked} {direction} is {notation.name(stop.nearest_midi)}."
    elif stop.nearest_midi is None:
        said += " A slide is six half steps long."
    return said


def cold_words(horn: Horn) -> str:
    """What cold or warm air does to the horn as a whole; "" when it is as usual."""
    cents = horn.cold_cents
    if abs(cents) < _WORTH_SAYING_CENTS:
        return ""
    direction = "flat" if cents < 0 else "sharp"
    move = "push the main slide in" if cents < 0 else "pull the main slide"
    return (
        f"At {horn.setup.temperature_c:g} °C a horn stands about {abs(cents):.0f} cents "
        f"{direction} until it is warm: blow it warm, then {move}."
    )


def trill_words(trill: LipTrill, notation: Notation) -> str:
    """A lip trill: where, up to what, and how wide."""
    return (
        f"{length_words(trill.lower.length)}, partials {trill.lower.partial} and "
        f"{trill.upper.partial}: up to {notation.name(trill.upper.midi)}, "
        f"{trill.interval_cents:.0f} cents"
    )


def same_pitch_words(pair: SamePitch) -> str:
    """Two lengths for one note, and how far apart they lie."""
    first, second = length_words(pair.first.length), length_words(pair.second.length)
    if not round(pair.mismatch_cents):
        return f"{first} and {second}: the same"
    return f"{first} and {second}: the second is {tuned_words(pair.mismatch_cents)}"


def _fingers(length: Length) -> str:
    return " ".join(map(str, length.valves)) or "open"


def _half_steps(semitones: int) -> str:
    count = abs(semitones)
    number = _NAMED[count] if count < len(_NAMED) else str(count)
    return f"{number} half step{'' if count == 1 else 's'}"


def _go(semitones: int) -> str:
    return "goes" if abs(semitones) == 1 else "go"


def _listed(names: Sequence[str]) -> str:
    if len(names) < 2:
        return "".join(names)
    return f"{', '.join(names[:-1])} and {names[-1]}"
