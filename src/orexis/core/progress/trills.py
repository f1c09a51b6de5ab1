"""How fast a slur to a trill goes before it smears."""

from collections.abc import Sequence
from dataclasses import dataclass

from orexis.core.listening.notes.patterns import CLEAR_WITHIN_CENTS

IN_A_ROW = 8


@dataclass(frozen=True, slots=True)
class TrillNote:
    """A note of a trill: when it began (s), `None` where it did not speak, and how far off."""

    start_s: float | None
    off_cents: float | None

    @property
    def clear(self) -> bool:
        """Whether it spoke, and on its own pitch."""
        return self.off_cents is not None and abs(self.off_cents) <= CLEAR_WITHIN_CENTS


def fastest_clear(turns: Sequence[TrillNote]) -> float | None:
    """The most notes a second over eight in a row that were all clear, `None` where there were
    none."""
    rates = []
    for at in range(len(turns) - IN_A_ROW + 1):
        row = turns[at : at + IN_A_ROW]
        first, last = row[0].start_s, row[-1].start_s
        if all(turn.clear for turn in row) and first is not None and last is not None:
            rates.append((IN_A_ROW - 1) / (last - first) if last > first else 0.0)
    return max(rates, default=None)
