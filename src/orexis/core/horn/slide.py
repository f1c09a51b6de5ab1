"""The slide: positions, how far out each is, triggers, and where the slide ends.

Position p lowers by 100·(p − 1) cents: extension e = Lx/2·(2^((p − 1)/12) − 1), with Lx the
open length and any trigger tubing. So positions lie farther apart with a trigger, and those
beyond the slide's reach do not exist.
"""

from collections.abc import Sequence
from dataclasses import dataclass

from orexis.core.horn.tube import Length

SLIDE_REACH = 1.09
"""How far a slide goes, as a multiple of the open horn's seventh position."""

LAST_POSITION = 7


@dataclass(frozen=True, slots=True)
class Trigger:
    """One trigger, or two used together: names, how far they lower the horn in cents, and how
    much less readily players reach for them than for a position."""

    names: tuple[str, ...]
    cents: float
    effort: float


NO_TRIGGER = Trigger((), 0.0, 0.0)
F_TRIGGER = Trigger(("F",), 500.0, 4.5)
G_FLAT_TRIGGER = Trigger(("G♭",), 400.0, 5.0)
G_TRIGGER = Trigger(("G",), 300.0, 5.0)
F_AND_G_FLAT = Trigger(("F", "G♭"), 800.0, 7.0)
F_AND_G = Trigger(("F", "G"), 700.0, 7.0)


@dataclass(frozen=True, slots=True)
class Slide:
    """The slide of a trombone and its triggers, each alone and together."""

    triggers: tuple[Trigger, ...] = ()


def seventh_mm(open_m: float) -> float:
    """Extension in mm of the open horn's seventh position."""
    return 1000 * open_m / 2 * (2 ** ((LAST_POSITION - 1) / 12) - 1)


def slide_lengths(
    slide: Slide,
    open_m: float,
    trigger_cents: Sequence[float] = (),
    reach: float = SLIDE_REACH,
    main_pull_mm: float = 0.0,
) -> tuple[Length, ...]:
    """Positions one to seven without and with each trigger, in that order.

    `trigger_cents` tunes the triggers in the order of `slide.triggers` (missing ones as made).
    Positions past `reach` times the open seventh are given with `reaches` false, so that one can
    be told why they will not do.
    """
    main_m = 2 * main_pull_mm / 1000
    furthest_mm = reach * seventh_mm(open_m)
    lengths: list[Length] = []
    for index, trigger in enumerate((NO_TRIGGER, *slide.triggers), start=-1):
        cents = trigger_cents[index] if 0 <= index < len(trigger_cents) else trigger.cents
        base_m = open_m * 2 ** (cents / 1200) + main_m
        for position in range(1, LAST_POSITION + 1):
            stretch = 2 ** ((position - 1) / 12)
            extension_mm = 1000 * base_m / 2 * (stretch - 1)
            lengths.append(
                Length(
                    name="+".join((*trigger.names, str(position))),
                    hand=_hand(trigger.names, position),
                    ratio=base_m * stretch / open_m,
                    effort=position + trigger.effort,
                    position=position,
                    triggers=trigger.names,
                    extension_mm=extension_mm,
                    reaches=extension_mm <= furthest_mm,
                )
            )
    return tuple(lengths)


def _hand(triggers: tuple[str, ...], position: int) -> str:
    words = f"position {position}"
    if not triggers:
        return words
    return f"{' and '.join(triggers)} trigger{'s' if len(triggers) > 1 else ''}, {words}"
