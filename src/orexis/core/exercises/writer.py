"""The writer: what families write their steps with, for one player's horn and reach."""

from dataclasses import dataclass, replace
from fractions import Fraction
from typing import Any

from orexis.core.horn.instruments import Instrument
from orexis.core.horn.notation import Notation, note_name
from orexis.core.horn.setup import Horn
from orexis.core.horn.slurs import lengths_in_turn, note_of
from orexis.core.horn.tube import Length, Slot
from orexis.core.horn.ways import Way, standard_slot, ways
from orexis.core.parameter import Choice, Parameter
from orexis.core.score.steps import Articulation, Glide, Play, PlayedOn

_COMFORTABLE_ABOVE = 14
_MOST_BEATS = 12.0
_SLOWEST_BPM, _FASTEST_BPM = 30.0, 240.0


HAND_KEY, USUAL_HAND = "hand", "usual"
_USUAL_HAND = Choice(USUAL_HAND, "the usual one", unsaid=True)
TUNED_KEY = "tuning"
"""What the parameter is called that says what the notes of an exercise are in tune with."""
AS_THE_HORN, PURE, EQUAL_STEPS = "horn", "pure", "equal"
_IN_TUNE_WITH = (
    Choice(AS_THE_HORN, "your horn's own tuning", unsaid=True),
    Choice(PURE, "pure intervals on its tonic"),
    Choice(EQUAL_STEPS, "equal temperament"),
)
_MOUTHPIECE = Choice(PlayedOn.MOUTHPIECE.value, "mouthpiece")


def _slot_of(way: Way) -> tuple[str, int]:
    return way.length.name, way.partial


def _in(
    slot: tuple[str, int] | None, midi: int, beats: float | Fraction, how: dict[str, Any]
) -> Play:
    """A note in a slot, by its length's name and its partial, or in none."""
    length_name, partial = slot or (None, None)
    return Play(midi, Fraction(beats), length_name=length_name, partial=partial, **how)


def _tube_then_triggers(way: Way) -> tuple[float, int]:
    return round(way.length.ratio, 4), -(way.length.position or 0)


@dataclass(frozen=True, slots=True)
class Reach:
    """How far a player comes: the lowest note above the pedals, an easy one, and the highest
    that is comfortable (sounding)."""

    low: int
    easy: int
    high: int

    @staticmethod
    def usual(instrument: Instrument) -> "Reach":
        """What may be expected of a player one knows nothing of."""
        high = min(instrument.start_midi + _COMFORTABLE_ABOVE, instrument.normal_high)
        return Reach(instrument.normal_low, instrument.start_midi, high)

    def with_passed(self, highest_midi: int | None) -> "Reach":
        """The same, as high as the highest note that passed where that is higher."""
        return self if highest_midi is None else replace(self, high=max(self.high, highest_midi))


@dataclass(frozen=True)
class Writer:
    """Writes notes for a horn."""

    horn: Horn
    reach: Reach
    notation: Notation | None = None
    """How the player names notes; `None` as they sound."""

    @property
    def instrument(self) -> Instrument:
        """What kind of horn it is."""
        return self.horn.instrument

    @property
    def lengths(self) -> tuple[Length, ...]:
        """The lengths exercises go through, shortest first."""
        return lengths_in_turn(self.horn)

    def name(self, midi: int) -> str:
        """A sounding note's name, as the player has it."""
        return note_name(midi) if self.notation is None else self.notation.name(midi)

    def has(self, midi: int) -> bool:
        """Whether the horn has a note in its chart, in the range that can be asked of it."""
        inside = self.instrument.lowest_midi <= midi <= self.instrument.highest_midi
        return inside and standard_slot(self.horn, midi) is not None

    @property
    def notes(self) -> tuple[int, ...]:
        """Every note (sounding MIDI) that the horn has, lowest first."""
        span = range(self.instrument.lowest_midi, self.instrument.highest_midi + 1)
        return tuple(midi for midi in span if self.has(midi))

    def slots(self, length_name: str) -> tuple[Slot, ...]:
        """The slots of a length that lie in the horn's range, lowest first."""
        low, high = self.instrument.lowest_midi, self.instrument.highest_midi
        found = self.horn.slots[length_name]
        return tuple(slot for slot in found if low <= note_of(self.horn, slot) <= high)

    def play(self, midi: int, beats: float | Fraction = 1, **how: Any) -> Play:
        """A note in its usual slot."""
        return _in(standard_slot(self.horn, midi), midi, beats, how)

    def play_longest(self, midi: int, beats: float | Fraction = 1, **how: Any) -> Play:
        """A note on the longest tube that reaches it as low as it can be had there."""
        found = [way for way in ways(self.horn, midi) if way.usable and way.length.learned]
        lowest = min((way.partial for way in found), default=0)
        on_it = [way for way in found if way.partial == lowest]
        # Of tubes as long as each other, that with the most of it in triggers: the slide is in.
        longest = max(on_it, key=_tube_then_triggers, default=None)
        slot = standard_slot(self.horn, midi) if longest is None else _slot_of(longest)
        return _in(slot, midi, beats, how)

    def way_on(self, hand: str, midi: int) -> Way | None:
        """The way to play a note with a fingering or in a position, by the length's name; `None`
        where it cannot be had there."""
        found = (way for way in ways(self.horn, midi) if way.usable)
        return next((way for way in found if way.length.name == hand), None)

    def play_by(self, way: Way, beats: float | Fraction = 1, **how: Any) -> Play:
        """A note in a way of one's own."""
        return _in(_slot_of(way), way.midi, beats, how)

    def slot(self, slot: Slot, beats: float | Fraction = 1, **how: Any) -> Play:
        """One slot of a length, as the note it is written."""
        midi = note_of(self.horn, slot)
        return Play(
            midi, Fraction(beats), length_name=slot.length.name, partial=slot.partial, **how
        )

    def buzz(
        self,
        midi: int,
        beats: float | Fraction = 1,
        on: PlayedOn = PlayedOn.MOUTHPIECE,
        **how: Any,
    ) -> Play:
        """A note on the mouthpiece, alone or in the leadpipe."""
        return Play(midi, Fraction(beats), on=on, **how)

    def slurred(self, midi: int, beats: float | Fraction = 1, **how: Any) -> Play:
        """A note in its usual slot, slurred to."""
        return self.play(midi, beats, articulation=Articulation.SLURRED, **how)

    def glide(
        self, to_midi: int, beats: float | Fraction = 1, on: PlayedOn = PlayedOn.HORN
    ) -> Glide:
        """A glide to a note."""
        return Glide(to_midi, Fraction(beats), on)

    # What many families let a player set.

    def note(self, key: str, label: str, usual: int, least: int, most: int) -> Parameter:
        """A note to choose between two others, `usual` brought in between them."""
        usual = min(max(usual, least), most)
        return Parameter(
            key, label, is_note=True, least=least, most=most, step=1, usual=float(usual)
        )

    def beats(self, usual: float, label: str = "beats a note", key: str = "beats") -> Parameter:
        """How many beats something lasts."""
        return Parameter(key, label, "", 0.5, _MOST_BEATS, 0.5, usual=usual)

    def tempo(self, usual: float) -> Parameter:
        """Beats a minute."""
        return Parameter("tempo", "beats a minute", "", _SLOWEST_BPM, _FASTEST_BPM, 1, usual=usual)

    def times(self, usual: int) -> Parameter:
        """The parameter that says how many times an exercise is played."""
        return Parameter("times", "repetitions", "", 1, 40, 1, usual=float(usual))

    def length(self) -> Parameter:
        """One of the lengths exercises go through."""
        choices = tuple(Choice(length.name, length.hand) for length in self.lengths)
        return Parameter("length", "length", choices=choices)

    def buzzed_on(self, *others: Choice) -> tuple[Parameter, ...]:
        """What a buzz is played on, where there is something to choose: the mouthpiece alone, in
        the leadpipe where the horn has one, or `others`."""
        leadpipe = (Choice(PlayedOn.LEADPIPE.value, "leadpipe, slide out"),)
        choices = (_MOUTHPIECE, *(leadpipe if self.instrument.leadpipe else ()), *others)
        return (Parameter("on", "on", choices=choices),) if len(choices) > 1 else ()

    def tuned(self) -> Parameter:
        """What its notes are in tune with."""
        return Parameter(TUNED_KEY, "in tune with", choices=_IN_TUNE_WITH)

    def hand(self) -> Parameter:
        """Which fingering or position a note is played in: the usual one, or any there is."""
        lengths = [length for length in self.horn.lengths if length.learned]
        return Parameter(
            HAND_KEY,
            "position" if self.instrument.is_slide else "fingering",
            choices=(_USUAL_HAND, *(Choice(length.name, length.hand) for length in lengths)),
        )

    def slot_number(self, key: str, label: str, usual: int, most: int = 10) -> Parameter:
        """Which slot of a length."""
        least = 1 if self.instrument.true_pedals else 2
        return Parameter(key, label, "", least, most, 1, usual=float(usual))
