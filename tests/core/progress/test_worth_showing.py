"""Which takes a report shows."""

from datetime import datetime, timedelta

from orexis.core.progress.worth_showing import TakeCandidate, best_of, worst_of

NOW = datetime(2026, 11, 27, 18).astimezone()


def shown(name: str, exercise: str, *, missed: int = 0, off: float | None = 1.0) -> TakeCandidate:
    hours = int(name[1:])
    return TakeCandidate(name, NOW + timedelta(hours=hours), exercise, missed == 0, missed, off)


def test_the_best_are_the_nearest_that_passed_one_of_an_exercise() -> None:
    takes = [
        shown("a1", "long-tone", off=0.9),
        shown("a2", "long-tone", off=0.4),
        shown("a3", "lip-slur", off=0.5),
        shown("a4", "lip-slur", off=0.5),
        shown("a5", "siren", off=None),
        shown("a6", "glide", off=0.1, missed=1),
        shown("a7", "pedal", off=0.6),
        shown("a8", "fifths", off=0.7),
    ]
    # Of two as good the later; nothing that was not measured, nothing that failed; three at most.
    assert [take.take_id for take in best_of(takes)] == ["a2", "a4", "a7"]


def test_the_worst_missed_most_then_lay_farthest_off() -> None:
    takes = [
        shown("a1", "long-tone", missed=1, off=9.0),
        shown("a2", "lip-slur", missed=3, off=1.0),
        shown("a3", "siren", missed=1, off=2.0),
        shown("a4", "long-tone", missed=1, off=9.0),
        shown("a5", "glide"),
    ]
    assert [take.take_id for take in worst_of(takes)] == ["a2", "a4", "a3"]
    assert worst_of([shown("a5", "glide")]) == []
