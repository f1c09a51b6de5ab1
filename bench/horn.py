"""How long the horn's answers take: a whole chart (wanted: under 10 ms), one note (under 1 ms)."""

import time
from collections.abc import Callable

from bench.goals import at_most
from orexis.core.horn.instruments import INSTRUMENTS
from orexis.core.horn.setup import Horn
from orexis.core.horn.ways import chart, ways

_ROUNDS = 20


def _best_ms(work: Callable[[], object]) -> float:
    """The fastest of some rounds, in ms: the one least disturbed by the machine."""
    rounds = []
    for _ in range(_ROUNDS):
        started = time.perf_counter()
        work()
        rounds.append(time.perf_counter() - started)
    return 1000 * min(rounds)


def main() -> None:
    """Prints the table: each chart with its horn built anew, and its slowest note."""
    print("Horn: whole chart (horn built anew) and slowest single note, ms, best of 20 rounds")
    print(f"{'instrument':<24}{'lengths':>8}{'chart':>10}{'note':>10}")
    slowest_chart = slowest_note = 0.0
    for key, instrument in INSTRUMENTS.items():
        horn = Horn(instrument)
        chart_ms = _best_ms(lambda instrument=instrument: chart(Horn(instrument)))  # type: ignore[misc]
        note_ms = max(
            _best_ms(lambda horn=horn, note=note: ways(horn, note))  # type: ignore[misc]
            for note in range(instrument.lowest_midi, instrument.highest_midi + 1)
        )
        slowest_chart, slowest_note = max(slowest_chart, chart_ms), max(slowest_note, note_ms)
        print(f"{key:<24}{len(horn.lengths):>8}{chart_ms:>10.2f}{note_ms:>10.3f}")
    print(f"{'slowest':<24}{'':>8}{slowest_chart:>10.2f}{slowest_note:>10.3f}")
    at_most("slowest chart, ms", slowest_chart, 10.0)
    at_most("slowest note, ms", slowest_note, 1.0)
