"""Valves: which combinations a horn has, how long each makes it, and what pulling a slide does.

Each valve alone is tuned to its interval and adds v = 2^(s/12) − 1 of the open tube. Together
they fall short, so combinations are sharp by 1200·log2(2^(s/12)/(1 + Σv)). On a compensating
horn the other loops grow by (1 + v) when the last valve is down, v being that valve's own: a
second way through their extra tubing. A fifth valve is a flat whole tone, by default just so
flat that 4 and 5 together make a fifth.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import combinations
from math import log2

from orexis.core.horn.tube import Length, extra_length_mm

_FLAT_WHOLE_TONE_CENTS = 1200 * log2(1 + 2 ** (7 / 12) - 2 ** (5 / 12))
VALVE_CENTS = (200.0, 100.0, 300.0, 500.0, _FLAT_WHOLE_TONE_CENTS)
"""How far each valve alone lowers the horn, first valve first."""

_LEARNED_THREE = ("0", "2", "1", "12", "23")
_LEARNED = {
    (3, False): (*_LEARNED_THREE, "13", "123"),
    (3, True): (*_LEARNED_THREE, "13", "123"),
    (4, False): (*_LEARNED_THREE, "4", "24", "14", "234", "134", "1234"),
    (4, True): (*_LEARNED_THREE, "4", "24", "14", "124", "234", "134", "1234"),
    (5, False): (*_LEARNED_THREE, "4", "24", "45", "234", "1245", "2345", "12345"),
}
"""The combinations of the fingering chart, a half step lower each time. Without compensation the
fourth valve's combinations run sharp, so from the second half of the octave down each does the
work of the half step above its sum."""

_LOW_COMBINATION_EFFORT = 1.5


@dataclass(frozen=True, slots=True)
class ValveSet:
    """The valves of one side of a horn. `side_semitones` is how much higher than the horn's open
    fundamental the side stands, and `thumb` whether the thumb valve turns to it."""

    count: int
    compensating: bool = False
    side_semitones: int = 0
    thumb: bool = False


def valve_lengths(
    valves: ValveSet,
    open_m: float,
    cents: Sequence[float] = (),
    pulls_mm: Sequence[float] = (),
    main_pull_mm: float = 0.0,
) -> tuple[Length, ...]:
    """All combinations of a set of valves, shortest first.

    `open_m` is the open horn's length; `cents` how far each valve alone lowers it and
    `pulls_mm` how far its slide is pulled (missing ones as made, pushed in); `main_pull_mm` is
    the pull of the main slide, which counts for every combination.
    """
    side = 2 ** (-valves.side_semitones / 12)
    side_m = open_m * side
    added = {
        valve: _loop(valve, cents) + 2 * _at(pulls_mm, valve) / (1000 * side_m)
        for valve in range(1, valves.count + 1)
    }
    main = 2 * main_pull_mm / (1000 * open_m)
    made = [
        _length(valves, pressed, side * (1 + _tubing(valves, pressed, added)) + main)
        for count in range(valves.count + 1)
        for pressed in combinations(range(1, valves.count + 1), count)
    ]
    return tuple(sorted(made, key=lambda length: length.ratio))


def slide_to_pull(pressed: Sequence[int]) -> int | None:
    """The valve whose slide brings a combination down: the third's when it is down, else the
    first's, else the one there is; `None` for the open horn."""
    for valve in (3, 1, *pressed):
        if valve in pressed:
            return valve
    return None


def pull_mm(tube_m: float, cents: float) -> float:
    """How far to pull a slide to bring a tube of `tube_m` down by `cents`: half the tube that is
    wanted, since a slide has two legs."""
    return extra_length_mm(tube_m, cents) / 2


def _at(values: Sequence[float], valve: int) -> float:
    return values[valve - 1] if valve <= len(values) else 0.0


def _loop(valve: int, cents: Sequence[float]) -> float:
    lowers = cents[valve - 1] if valve <= len(cents) else VALVE_CENTS[valve - 1]
    return float(2 ** (lowers / 1200) - 1)


def _tubing(valves: ValveSet, pressed: tuple[int, ...], added: dict[int, float]) -> float:
    """Tubing of a combination as a share of its side's open tube."""
    last = valves.count
    if not (valves.compensating and last in pressed):
        return sum(added[valve] for valve in pressed)
    others = sum(added[valve] for valve in pressed if valve != last)
    return added[last] + others * (1 + added[last])


def _length(valves: ValveSet, pressed: tuple[int, ...], ratio: float) -> Length:
    name = "".join(map(str, pressed)) or "0"
    learned = _LEARNED[valves.count, valves.compensating]
    effort = None
    if name in learned:
        drop = learned.index(name)
        effort = drop + (_LOW_COMBINATION_EFFORT if drop >= 5 else 0)
    words = _hand(pressed)
    return Length(
        name=f"T{name}" if valves.thumb else name,
        hand=f"thumb, {words}" if valves.thumb else words,
        ratio=ratio,
        effort=effort,
        valves=pressed,
        valve_count=valves.count,
        thumb=valves.thumb,
    )


def _hand(pressed: tuple[int, ...]) -> str:
    if not pressed:
        return "open"
    if len(pressed) == 1:
        return f"valve {pressed[0]}"
    return f"valves {', '.join(map(str, pressed[:-1]))} and {pressed[-1]}"
