"""The instruments Orexis knows: fundamental, readings, range, valves or slide."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field, replace
from difflib import get_close_matches
from types import MappingProxyType

from orexis.core.horn.notation import Clef, Notation, NoteView, Reading
from orexis.core.horn.slide import (
    F_AND_G,
    F_AND_G_FLAT,
    F_TRIGGER,
    G_FLAT_TRIGGER,
    G_TRIGGER,
    Slide,
)
from orexis.core.horn.valves import ValveSet

Mechanism = Slide | tuple[ValveSet, ...]

_VALVE_PARTIALS = {7: None, 9: 3.5, 11: None, 13: None, 14: None, 15: 5.0}
_SLIDE_PARTIALS = {7: 1.5, 9: 2.5, 11: None, 13: None, 14: None, 15: 5.0}
_B_FLAT_SIDE_PARTIALS = _VALVE_PARTIALS | {5: 3.5, 9: 0.0, 10: 3.5}


@dataclass(frozen=True, slots=True)
class Instrument:
    """One kind of brass instrument.

    `fundamental_midi` is the nominal first partial of the open horn (the F side of a double
    horn). `lowest_midi` to `highest_midi` is all that can be asked of it, pedals included, and
    `normal_low` to `normal_high` what parts are written in (all sounding);
    `start_midi` is a low, easy one. `true_pedals` says
    that partial 1 resonates; where it does not, the lips alone lead it. `leadpipe` says that the
    mouthpiece can be played in its leadpipe alone, with the slide out. `partial_effort` tells
    how unwillingly players use a partial (`None`: not in the chart), by side.
    """

    key: str
    name: str
    family: str
    fundamental_midi: int
    readings: tuple[Reading, ...]
    mechanism: Mechanism
    normal_low: int
    normal_high: int
    start_midi: int
    lowest_midi: int
    highest_midi: int
    true_pedals: bool = True
    leadpipe: bool = False
    thumb_from_midi: int | None = None
    partial_effort: Mapping[int, float | None] = field(
        default_factory=lambda: MappingProxyType(_VALVE_PARTIALS), hash=False
    )
    thumb_partial_effort: Mapping[int, float | None] = field(
        default_factory=lambda: MappingProxyType(_B_FLAT_SIDE_PARTIALS), hash=False
    )

    @property
    def is_slide(self) -> bool:
        """Whether it has a slide instead of valves."""
        return isinstance(self.mechanism, Slide)

    def reading(self, clef: Clef) -> Reading:
        """The reading in a clef. Raises `ValueError` when parts are not written so."""
        for reading in self.readings:
            if reading.clef is clef:
                return reading
        raise ValueError(f"Parts for {self.name} are not written in {clef.value} clef.")

    @property
    def transposed_reading(self) -> Reading:
        """The treble reading where there is one, else the usual one."""
        trebles = (reading for reading in self.readings if reading.clef is Clef.TREBLE)
        return next(trebles, self.readings[0])

    def notation(self, view: NoteView, clef: Clef) -> Notation:
        """How a player who reads this clef names notes. Raises `ValueError` as `reading`."""
        return Notation(reading=self.reading(clef), view=view)


_BASS = Reading(Clef.BASS, 0)
_TENOR = Reading(Clef.TENOR, 0)
_ALTO = Reading(Clef.ALTO, 0)


def _treble(shift_semitones: int) -> Reading:
    return Reading(Clef.TREBLE, shift_semitones)


def _valved(
    key: str,
    name: str,
    family: str,
    fundamental_midi: int,
    readings: tuple[Reading, ...],
    valves: ValveSet,
    *,
    true_pedals: bool = True,
    leadpipe: bool = False,
    top: int = 40,
    start: int = 19,
) -> Instrument:
    """A horn with one set of valves; its range is counted from the fundamental. Parts go down
    to the longest tube on partial 2 and up to `top` semitones; pedals lie below."""
    lowest_valve = {3: 6, 4: 11 if valves.compensating else 10, 5: 11}[valves.count]
    return Instrument(
        key=key,
        name=name,
        family=family,
        fundamental_midi=fundamental_midi,
        readings=readings,
        mechanism=(valves,),
        normal_low=fundamental_midi + 12 - lowest_valve,
        normal_high=fundamental_midi + (36 if top > 36 else top),
        start_midi=fundamental_midi + start,
        lowest_midi=fundamental_midi - lowest_valve,
        highest_midi=fundamental_midi + top,
        true_pedals=true_pedals,
        leadpipe=leadpipe,
    )


def _small(key: str, name: str, fundamental_midi: int, shift: int) -> Instrument:
    """Trumpets, cornets and the flugelhorn: treble clef, pedals led by the lips."""
    family = "Trumpets and cornets"
    readings = (_treble(shift),)
    valves = ValveSet(3)
    return _valved(
        *(key, name, family, fundamental_midi, readings, valves),
        true_pedals=False,
        leadpipe=True,
        top=43,
    )


def _slide(
    key: str,
    name: str,
    fundamental_midi: int,
    readings: tuple[Reading, ...],
    slide: Slide,
    start: int = 19,
) -> Instrument:
    longest = max((round(trigger.cents / 100) for trigger in slide.triggers), default=0)
    lowest = {0: 6, 5: 10, 7: 11, 8: 12}[longest]
    return Instrument(
        key=key,
        name=name,
        family="Trombones",
        fundamental_midi=fundamental_midi,
        readings=readings,
        mechanism=slide,
        normal_low=fundamental_midi + 12 - min(lowest, 11),
        normal_high=fundamental_midi + 36,
        start_midi=fundamental_midi + start,
        lowest_midi=fundamental_midi - lowest,
        highest_midi=fundamental_midi + 43,
        leadpipe=True,
        partial_effort=MappingProxyType(_SLIDE_PARTIALS),
    )


def _horn(key: str, name: str, fundamental_midi: int, sides: tuple[ValveSet, ...]) -> Instrument:
    double = len(sides) > 1
    f_side = fundamental_midi == _F_1
    top = 48 if f_side else 43
    partials = _VALVE_PARTIALS if f_side else _B_FLAT_SIDE_PARTIALS
    return Instrument(
        key=key,
        name=name,
        family="Horns",
        fundamental_midi=fundamental_midi,
        readings=(_treble(7), _BASS),
        mechanism=sides,
        normal_low=fundamental_midi + 6,
        normal_high=_F_1 + 48,
        start_midi=_F_1 + 31 - 7,
        lowest_midi=fundamental_midi - 6,
        highest_midi=fundamental_midi + top,
        leadpipe=True,
        # Written G♯4 and up are played on the B♭ side.
        thumb_from_midi=61 if double else None,
        partial_effort=MappingProxyType(partials),
    )


_E_FLAT_3, _C_3, _B_FLAT_2, _F_2, _E_FLAT_2 = 51, 48, 46, 41, 39
_B_FLAT_1, _F_1, _E_FLAT_1, _C_1, _B_FLAT_0 = 34, 29, 27, 24, 22
_TENOR_HORNS, _EUPHONIUMS, _TUBAS = "Tenor horns", "Baritones and euphoniums", "Tubas"
_B_FLAT_BARITONE = (_treble(14), _BASS)
_B_FLAT_EUPHONIUM = (_BASS, _treble(14))
_B_FLAT_TROMBONE = (_BASS, _TENOR, _treble(14))
_B_FLAT_BASS_TROMBONE = (_BASS, _treble(14))
_E_FLAT_TUBA, _B_FLAT_TUBA = (_BASS, _treble(21)), (_BASS, _treble(26))

_FOUR, _FOUR_COMPENSATING = ValveSet(4), ValveSet(4, compensating=True)
_THREE, _THREE_COMPENSATING = ValveSet(3), ValveSet(3, compensating=True)
_FIVE = ValveSet(5)
_BRASS_BAND_VALVES = (_THREE, _THREE_COMPENSATING, _FOUR, _FOUR_COMPENSATING)
_COUNTS = {3: "three", 4: "four", 5: "five"}


def _tenor_horn(
    key: str, name: str, fundamental_midi: int, shift: int, *, leadpipe: bool = False
) -> Instrument:
    readings = (_treble(shift),)
    return _valved(key, name, _TENOR_HORNS, fundamental_midi, readings, _THREE, leadpipe=leadpipe)


def _euphonium(key: str, name: str, valves: ValveSet) -> Instrument:
    return _valved(key, name, _EUPHONIUMS, _B_FLAT_1, _B_FLAT_EUPHONIUM, valves)


def _tubas(
    letter: str,
    fundamental_midi: int,
    readings: tuple[Reading, ...],
    sets: tuple[ValveSet, ...],
) -> Iterator[Instrument]:
    """Tubas of one pitch; the first set of valves is the one a plain key stands for."""
    pitch = letter[0].upper() + ("♭" if letter[1:] == "b" else "")
    for valves in sets:
        count = "" if valves.count == sets[0].count else f"-{valves.count}v"
        words = f"Tuba in {pitch}, {_COUNTS[valves.count]} valves"
        yield _valved(
            f"tuba-{letter}{count}{'-comp' if valves.compensating else ''}",
            f"{words}, compensating" if valves.compensating else words,
            _TUBAS,
            fundamental_midi,
            readings,
            valves,
            top=36,
            start=12,
        )


_CATALOGUE = (
    _small("trumpet-bb", "Trumpet in B♭", _B_FLAT_2, 2),
    _small("trumpet-c", "Trumpet in C", _C_3, 0),
    _small("cornet-bb", "Cornet in B♭", _B_FLAT_2, 2),
    _small("soprano-cornet-eb", "Soprano cornet in E♭", _E_FLAT_3, -3),
    _small("flugelhorn-bb", "Flugelhorn in B♭", _B_FLAT_2, 2),
    _tenor_horn("tenor-horn-eb", "Tenor horn in E♭", _E_FLAT_2, 9),
    _tenor_horn("mellophone-f", "Mellophone in F", _F_2, 7, leadpipe=True),
    _horn("horn-f", "Double horn in F and B♭", _F_1, (_THREE, ValveSet(3, False, 5, thumb=True))),
    _horn("horn-f-single", "Single horn in F", _F_1, (_THREE,)),
    _horn("horn-bb-single", "Single horn in B♭, read in F", _B_FLAT_1, (_THREE,)),
    _euphonium("baritone-bb", "Baritone in B♭", _THREE),
    _euphonium("baritone-bb-comp", "Baritone in B♭, compensating", _THREE_COMPENSATING),
    _euphonium("euphonium-bb", "Euphonium in B♭, three valves", _THREE),
    _euphonium(
        "euphonium-bb-comp", "Euphonium in B♭, three valves, compensating", _THREE_COMPENSATING
    ),
    _euphonium("euphonium-bb-4v", "Euphonium in B♭, four valves", _FOUR),
    _euphonium(
        "euphonium-bb-4v-comp", "Euphonium in B♭, four valves, compensating", _FOUR_COMPENSATING
    ),
    _slide("trombone-alto", "Alto trombone in E♭", _E_FLAT_2, (_ALTO,), Slide()),
    _slide("trombone-tenor", "Tenor trombone in B♭", _B_FLAT_1, _B_FLAT_TROMBONE, Slide()),
    _slide(
        "trombone-tenor-f",
        "Tenor trombone in B♭ and F",
        _B_FLAT_1,
        _B_FLAT_TROMBONE,
        Slide((F_TRIGGER,)),
    ),
    _slide(
        "trombone-bass",
        "Bass trombone in B♭, F and G♭",
        _B_FLAT_1,
        _B_FLAT_BASS_TROMBONE,
        Slide((F_TRIGGER, G_FLAT_TRIGGER, F_AND_G_FLAT)),
        start=12,
    ),
    _slide(
        "trombone-bass-g",
        "Bass trombone in B♭, F and G",
        _B_FLAT_1,
        _B_FLAT_BASS_TROMBONE,
        Slide((F_TRIGGER, G_TRIGGER, F_AND_G)),
        start=12,
    ),
    *_tubas("f", _F_1, (_BASS,), (_FOUR, _FIVE)),
    *_tubas("eb", _E_FLAT_1, _E_FLAT_TUBA, _BRASS_BAND_VALVES),
    *_tubas("c", _C_1, (_BASS,), (_FOUR, _FIVE)),
    *_tubas("bb", _B_FLAT_0, _B_FLAT_TUBA, _BRASS_BAND_VALVES),
)

INSTRUMENTS = MappingProxyType({instrument.key: instrument for instrument in _CATALOGUE})

_OTHER_NAMES = {
    "cornet-eb": "soprano-cornet-eb",
    "alto-horn-eb": "tenor-horn-eb",
    "horn": "horn-f",
    "horn-f-double": "horn-f",
    "trombone-bass-f-gb": "trombone-bass",
    "trombone-bass-f-g": "trombone-bass-g",
}
"""Other keys players may try, and what is meant; a number of valves that an instrument has
anyway may be said too (`tuba-f-4v`, `cornet-bb-3v`, `tuba-eb-3v-comp`)."""


def find_instrument(key: str) -> Instrument:
    """The instrument of a key. Raises `ValueError` that names the nearest keys."""
    tidy = key.strip().lower().replace("_", "-")
    candidates = (tidy, _OTHER_NAMES.get(tidy, ""))
    for candidate in candidates:
        if candidate in INSTRUMENTS:
            return INSTRUMENTS[candidate]
    for suffix, count in (("-3v", 3), ("-4v", 4)):
        plain = INSTRUMENTS.get(tidy.replace(suffix, "", 1)) if suffix in tidy else None
        if plain is not None and plain.mechanism in (
            (replace(_THREE, count=count),),
            (replace(_THREE_COMPENSATING, count=count),),
        ):
            return plain
    near = get_close_matches(tidy, INSTRUMENTS, n=3)
    hint = f"Did you mean {' or '.join(near)}?" if near else "See `orexis horn list`."
    raise ValueError(f"There is no instrument {key}. {hint}")
