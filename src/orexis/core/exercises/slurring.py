"""How slurs are written, for all that are made of them: slots of a length on one breath, patterns
and pyramids."""

from collections.abc import Iterator, Sequence
from dataclasses import replace
from fractions import Fraction

from orexis.core.exercises.family import Aim, ExerciseRefusedError, ParameterValues
from orexis.core.exercises.practised import Values
from orexis.core.exercises.writer import Writer
from orexis.core.horn.tube import Slot
from orexis.core.parameter import Choice, Parameter
from orexis.core.score.steps import Articulation, Breath, Dynamic, Play, Score, Step

CONNECTED = (Aim.GAP, Aim.TOUCHED, Aim.FLIPPED, Aim.WANING, Aim.SPOKE)
"""What counts in everything that is slurred from slot to slot."""

_MOST_IN_A_BREATH = 32
_ROUNDS = (
    Choice("rounds", "a breath before each round"),
    Choice("one", "all rounds on one breath"),
)


def slots_of(writer: Writer, length_name: str, partials: Sequence[int]) -> list[Slot]:
    """The slots of a length. Raises `ExerciseRefusedError` for one out of the horn's range."""
    there = {slot.partial: slot for slot in writer.slots(length_name)}
    missing = [partial for partial in partials if partial not in there]
    if missing:
        raise ExerciseRefusedError(
            f"This fingering or position has no partial {missing[0]} to ask for; "
            f"it has {min(there)} to {max(there)}."
        )
    return [there[partial] for partial in partials]


def slurred(
    writer: Writer,
    slots: Sequence[Slot],
    beats: Fraction,
    last_beats: Fraction,
    growth: str = "level",
) -> list[Play]:
    """Slots on one breath: the first tongued, the rest slurred, the last one longer."""
    notes = [writer.slot(slot, beats, articulation=Articulation.SLURRED) for slot in slots]
    low, high = min(note.midi for note in notes), max(note.midi for note in notes)
    notes = [
        replace(note, dynamic=_loudness((note.midi - low) / max(high - low, 1), growth))
        for note in notes
    ]
    notes[0] = replace(notes[0], articulation=Articulation.TONGUED)
    notes[-1] = replace(notes[-1], beats=last_beats)
    return notes


def _loudness(share: float, growth: str) -> Dynamic:
    if growth == "level":
        return Dynamic.MF
    loud = share if growth == "grow" else 1 - share
    return (Dynamic.P, Dynamic.MP, Dynamic.MF, Dynamic.F)[min(int(4 * loud), 3)]


def up_and_down(start: int, count: int) -> list[int]:
    """So many slots from one up, and back."""
    up = list(range(start, start + count))
    return up + up[-2::-1]


def numbers_of(text: str) -> list[int]:
    """Slots typed in a row. Raises `ExerciseRefusedError`."""
    words = text.replace(",", " ").replace("-", " ").split()
    if not all(word.isdigit() and int(word) > 0 for word in words):
        raise ExerciseRefusedError(f"Type partials as numbers in a row: 3 4 5 4 3, not “{text}”.")
    numbers = [int(word) for word in words]
    if not 2 <= len(numbers) <= _MOST_IN_A_BREATH:
        raise ExerciseRefusedError(f"A pattern has 2 to {_MOST_IN_A_BREATH} partials.")
    return numbers


def pyramid_breaths() -> Parameter:
    """Whether each round of a pyramid is begun on a fresh breath."""
    return Parameter("breaths", "breaths", choices=_ROUNDS)


def pyramid(writer: Writer, given: ParameterValues) -> Score:
    """Three slots up and back to the bottom, then one slot more each round: from the bottom on a
    fresh breath, or all on one. Only the first note of a breath is tongued."""
    beats, bottom = given.beats("beats"), given.whole("slot")
    rounds = [up_and_down(bottom, count) for count in range(3, given.whole("slots") + 1)]
    if given.word("breaths") == "one":
        # The bottom note one is back on is the one the next round starts from.
        rounds = [[bottom, *(slot for row in rounds for slot in row[1:])]]
    steps: list[Step] = []
    for row in rounds:
        slots = slots_of(writer, given.word("length"), row)
        steps += [*slurred(writer, slots, beats, 3 * beats), Breath()]
    return Score(tuple(steps))


def pyramid_path(writer: Writer) -> Iterator[Values]:
    """One partial more, then the same from the next length."""
    lengths = [length.name for length in writer.lengths]
    yield {"slot": 2.0, "length": lengths[0]}
    for slots in range(3, 10):
        yield {"slots": float(slots)}
    for length in lengths[1:]:
        yield {"length": length}
