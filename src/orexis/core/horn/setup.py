"""A player's horn: an instrument as it is built, pulled, tuned and known by its player."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cached_property
from math import ceil, floor, log2
from types import MappingProxyType

from orexis.core.horn.instruments import Instrument
from orexis.core.horn.pitch import A4_HIGHEST_HZ, A4_HZ, A4_LOWEST_HZ, hz_from_midi
from orexis.core.horn.slide import SLIDE_REACH, Slide, seventh_mm, slide_lengths
from orexis.core.horn.tube import (
    COLDEST_C,
    HIGHEST_PARTIAL,
    TEMPERATURE_C,
    WARMEST_C,
    Length,
    Slot,
    open_length_m,
    speed_of_sound_m_s,
)
from orexis.core.horn.tuning import EQUAL, Temperament, Tuning
from orexis.core.horn.valves import VALVE_CENTS, valve_lengths
from orexis.core.parameter import Choice, Parameter

_NEAR_ON_VALVES, _NEAR_ON_A_SLIDE = 0.65, 0.5
"""Slots that lie within so many semitones of a note are ways to play it, or told as such. On a
slide one farther off is another position's."""

_FURTHEST_OWN_CENTS = 250.0
LONGEST_PULL_MM = 150.0
SHORTEST_REACH, LONGEST_REACH = 0.7, 1.4
SETTINGS = {
    "f1_hz": "its lowest resonance",
    "main_pull_mm": "main slide pulled",
    "temperature_c": "air",
    "slide_reach": "slide reach",
    "valve_cents": "valve {} lowers",
    "valve_pull_mm": "valve {} slide pulled",
    "trigger_cents": "trigger {} lowers",
}
"""How each part of a setup is called; those that are many are counted from 1."""

_OWN_CENTS = 100.0
"""How far a valve or trigger may differ from what its horn has as made."""

_PRIOR_TAKES = 4
"""Takes that the model is worth: after as many, a measured tendency counts half."""


@dataclass(frozen=True, slots=True)
class Tendency:
    """Where one player's note lies on one length: median cents from equal temperament and the
    number of takes it comes from."""

    cents: float
    takes: int

    def with_model(self, model_cents: float) -> float:
        """What to expect: the model at first, the measurement as takes accumulate."""
        weight = self.takes / (self.takes + _PRIOR_TAKES)
        return model_cents + weight * (self.cents - model_cents)


@dataclass(frozen=True, slots=True)
class Setup:
    """How a player's horn differs from the one in the catalogue, and what it is tuned to.

    `f1_hz`: its own open fundamental (`None`: as A4 says). `main_pull_mm`, `valve_pull_mm`:
    how far slides are pulled from where it is in tune. `valve_cents`, `trigger_cents`: how far
    each valve or trigger alone lowers it (empty: as made). `slide_reach`: as a multiple of the
    open seventh position. `tendencies`: measured, by length name and sounding MIDI number.
    """

    a4_hz: float = A4_HZ
    temperature_c: float = TEMPERATURE_C
    tuning: Tuning = EQUAL
    f1_hz: float | None = None
    main_pull_mm: float = 0.0
    valve_cents: tuple[float, ...] = ()
    valve_pull_mm: tuple[float, ...] = ()
    trigger_cents: tuple[float, ...] = ()
    slide_reach: float = SLIDE_REACH
    tendencies: Mapping[tuple[str, int], Tendency] = field(
        default_factory=lambda: MappingProxyType({}), hash=False
    )


class SetupRefusedError(ValueError):
    """A horn that cannot be as it is described; the message says what to change."""


@dataclass(frozen=True)
class Horn:
    """An instrument with its setup: its lengths and where their slots sound.

    Raises `SetupRefusedError` for a setup that no such instrument can have.
    """

    instrument: Instrument
    setup: Setup = Setup()

    def __post_init__(self) -> None:
        setup, name = self.setup, self.instrument.name
        if setup.tuning.temperament is Temperament.SCALE and setup.tuning.scale is None:
            raise SetupRefusedError("Choose a scale file (.scl) first, or another tuning.")
        _within("A4", setup.a4_hz, A4_LOWEST_HZ, A4_HIGHEST_HZ, "Hz")
        _within("the temperature", setup.temperature_c, COLDEST_C, WARMEST_C, "°C")
        _within("the main slide's pull", setup.main_pull_mm, 0, LONGEST_PULL_MM, "mm")
        _within(
            "the slide's reach",
            setup.slide_reach,
            SHORTEST_REACH,
            LONGEST_REACH,
            "× the open seventh",
        )
        if setup.f1_hz is not None:
            _within("the open horn's pitch", setup.f1_hz, *self._f1_bounds_hz, "Hz")
        for pull in setup.valve_pull_mm:
            _within("a valve slide's pull", pull, 0, LONGEST_PULL_MM, "mm")
        made = self.as_made_cents
        own = setup.trigger_cents if self.instrument.is_slide else setup.valve_cents
        if len(own) > len(made) or len(setup.valve_pull_mm) > len(made):
            raise SetupRefusedError(f"{name} has only {len(made)} of those lengths to set.")
        for usual_cents, cents in zip(made, own, strict=False):
            _within(
                "a valve or trigger",
                cents,
                usual_cents - _OWN_CENTS,
                usual_cents + _OWN_CENTS,
                "cents",
            )

    @property
    def as_made_cents(self) -> tuple[float, ...]:
        """How far each valve (or each trigger, then both together) lowers a horn as made."""
        mechanism = self.instrument.mechanism
        if isinstance(mechanism, Slide):
            return tuple(trigger.cents for trigger in mechanism.triggers)
        return VALVE_CENTS[: mechanism[0].count]

    @property
    def part_names(self) -> tuple[str, ...]:
        """What `as_made_cents` belong to: "valve 1" and on, or "F trigger" and on."""
        mechanism = self.instrument.mechanism
        if isinstance(mechanism, Slide):
            return tuple(
                f"{' and '.join(trigger.names)} trigger{'s' if len(trigger.names) > 1 else ''}"
                for trigger in mechanism.triggers
            )
        return tuple(f"valve {valve}" for valve in range(1, mechanism[0].count + 1))

    @property
    def _usual_f1_hz(self) -> float:
        return hz_from_midi(self.instrument.fundamental_midi, self.setup.a4_hz)

    @property
    def _f1_bounds_hz(self) -> tuple[float, float]:
        far = 2 ** (_FURTHEST_OWN_CENTS / 1200)
        return self._usual_f1_hz / far, self._usual_f1_hz * far

    @property
    def parameters(self) -> tuple[Parameter, ...]:
        """What a player can set of this horn, and within which bounds."""
        lowest_hz, highest_hz = (round(hz, 2) for hz in self._f1_bounds_hz)
        resonance, main_pull, air, *_ = (name.capitalize() for name in SETTINGS.values())
        reach = Parameter(
            "slide_reach",
            f"{SETTINGS['slide_reach'].capitalize()}, × the open seventh position",
            least=SHORTEST_REACH,
            most=LONGEST_REACH,
            step=0.01,
        )
        parts = zip(self.part_names, self.as_made_cents, strict=True)
        return (
            Parameter("f1_hz", resonance, "Hz", lowest_hz, highest_hz, 0.01),
            Parameter("main_pull_mm", main_pull, "mm", 0, LONGEST_PULL_MM, 0.5),
            Parameter("temperature_c", air, "°C", COLDEST_C, WARMEST_C, 0.5),
            *((reach,) if self.instrument.is_slide else ()),
            *(
                Parameter(
                    f"cents.{place}",
                    f"{name} lowers",
                    "cents",
                    round(cents - _OWN_CENTS, 1),
                    round(cents + _OWN_CENTS, 1),
                    0.1,
                )
                for place, (name, cents) in enumerate(parts)
            ),
            *(
                Parameter(f"pull.{place}", f"{name} slide pulled", "mm", 0, LONGEST_PULL_MM, 0.5)
                for place, name in enumerate(() if self.instrument.is_slide else self.part_names)
            ),
            Parameter(
                "temperament",
                "Targets",
                choices=(
                    Choice(Temperament.EQUAL, "equal"),
                    Choice(Temperament.JUST, "just, over a drone"),
                    Choice(Temperament.SCALE, "from a scale file"),
                ),
            ),
            Parameter("tonic", "Drone, or the scale's first note"),
        )

    @property
    def f1_hz(self) -> float:
        """Fundamental of the open horn with its main slide in, in Hz."""
        return self.setup.f1_hz or self._usual_f1_hz

    @cached_property
    def open_m(self) -> float:
        """Acoustic length of the open horn with its main slide in, in metres."""
        return open_length_m(self.f1_hz, self.setup.temperature_c)

    @cached_property
    def offset_cents(self) -> float:
        """How far the open horn, pulled as it is, stands from nominal."""
        pulled = 1 + 2 * self.setup.main_pull_mm / (1000 * self.open_m)
        return 1200 * log2(self.f1_hz / self._usual_f1_hz / pulled)

    @property
    def cold_cents(self) -> float:
        """How far air of this temperature puts a horn that is in tune at the usual one."""
        usual = speed_of_sound_m_s(TEMPERATURE_C)
        return 1200 * log2(speed_of_sound_m_s(self.setup.temperature_c) / usual)

    @property
    def furthest_mm(self) -> float:
        """How far the slide goes out, in mm."""
        return self.setup.slide_reach * seventh_mm(self.open_m)

    @cached_property
    def lengths(self) -> tuple[Length, ...]:
        """All lengths: valves shortest first (side by side on a double horn), positions in
        order without and with each trigger."""
        setup, mechanism = self.setup, self.instrument.mechanism
        if isinstance(mechanism, Slide):
            return slide_lengths(
                mechanism, self.open_m, setup.trigger_cents, setup.slide_reach, setup.main_pull_mm
            )
        return tuple(
            length
            for side in mechanism
            for length in valve_lengths(
                side, self.open_m, setup.valve_cents, setup.valve_pull_mm, setup.main_pull_mm
            )
        )

    @cached_property
    def _by_name(self) -> dict[str, Length]:
        return {length.name: length for length in self.lengths}

    def length(self, name: str) -> Length:
        """The length of a name. Raises `ValueError` that lists the names."""
        tidy = name.strip().upper().replace("GB", "G♭").replace("OPEN", "0") or "0"
        if tidy in self._by_name:
            return self._by_name[tidy]
        names = ", ".join(self._by_name)
        raise ValueError(f"{self.instrument.name} has no length {name}. Use one of: {names}.")

    @cached_property
    def slots(self) -> dict[str, tuple[Slot, ...]]:
        """The slots of every length by its name, partial 1 first."""
        base = self.instrument.fundamental_midi + 12 * log2(self.f1_hz / self._usual_f1_hz)
        partials = [12 * log2(partial) for partial in range(1, HIGHEST_PARTIAL + 1)]
        found: dict[str, tuple[Slot, ...]] = {}
        for length in self.lengths:
            lowest = base - 12 * log2(length.ratio)
            found[length.name] = tuple(
                Slot(length, n, lowest + above) for n, above in enumerate(partials, start=1)
            )
        return found

    @cached_property
    def _near(self) -> dict[int, list[Slot]]:
        near: dict[int, list[Slot]] = {}
        far = _NEAR_ON_A_SLIDE if self.instrument.is_slide else _NEAR_ON_VALVES
        for slots in self.slots.values():
            for slot in slots:
                own = slot.pitch - self.offset_cents / 100
                for midi in range(ceil(own - far), floor(own + far) + 1):
                    near.setdefault(midi, []).append(slot)
        return near

    def slots_near(self, midi: int) -> list[Slot]:
        """The slots near a note, apart from how the horn as a whole is tuned."""
        return self._near.get(midi, [])

    def slot(self, length_name: str, partial: int) -> Slot:
        """One slot. Raises `KeyError` or `IndexError` when there is none."""
        return self.slots[length_name][partial - 1]

    def slide_marks(self, length: Length) -> tuple[float, ...]:
        """Where the positions lie that the slide reaches with a length's trigger, as shares of
        how far it goes; none without a slide."""
        return tuple(
            other.extension_mm / self.furthest_mm
            for other in self.lengths
            if other.extension_mm is not None
            and other.reaches
            and other.triggers == length.triggers
        )

    def tube_m(self, length: Length) -> float:
        """Acoustic length in metres with a length in hand."""
        return self.open_m * length.ratio

    def target_hz(self, midi: int) -> float:
        """Where a sounding note should be, by the player's A4 and tuning."""
        return hz_from_midi(midi + self.setup.tuning.offset_cents(midi) / 100, self.setup.a4_hz)


def _within(what: str, value: float, lowest: float, highest: float, unit: str) -> None:
    if not lowest <= value <= highest:
        raise SetupRefusedError(
            f"Set {what} between {lowest:.4g} and {highest:.4g} {unit}, not {value:.4g}."
        )
