"""Where in a part one is: truths by how the playing was put together."""

from fractions import Fraction

import numpy as np
import pytest

from orexis.core.judging.following import WrittenNote
from orexis.core.judging.part_place import PartPlace, PartRun, runs_of
from orexis.core.listening.notes.events import Note
from tests.core.test_following import note

BEAT_S = 0.5
# Five bars of quarters that are not alike.
PITCHES = (60, 62, 64, 65, 67, 65, 64, 62, 60, 64, 67, 72, 71, 69, 67, 65, 64, 62, 60, 60)
_LAST = len(PITCHES) - 1


def part_of(pitches: tuple[int, ...] = PITCHES) -> list[WrittenNote]:
    return [
        WrittenNote(1 + place // 4, 1.0 + place % 4, midi, Fraction(place), Fraction(1))
        for place, midi in enumerate(pitches)
    ]


def played(*midis: int, pause_before: tuple[int, ...] = ()) -> list[Note]:
    """Quarters in tempo, each 5 cents sharp, with two seconds of silence before some."""
    heard: list[Note] = []
    at_s = 0.0
    for number, midi in enumerate(midis):
        at_s += 2.0 if number in pause_before else 0.0
        heard.append(note(midi, at_s, 0.9 * BEAT_S, 5.0))
        at_s += BEAT_S
    return heard


def _last_of(place: PartPlace) -> int | None:
    """The written note that was reached."""
    run = place.run()
    return None if run is None else run.last_written


def test_a_part_played_through_is_one_run() -> None:
    assert runs_of(part_of(), played(*PITCHES)) == [PartRun(0, _LAST, 0, _LAST)]


@pytest.mark.parametrize("pause", [(7,), ()], ids=["after a pause", "at once"])
def test_who_stops_and_goes_back_to_a_bar_begins_another_run(pause: tuple[int, ...]) -> None:
    # To the third note of bar 2, then from bar 2 on.
    heard = played(*PITCHES[:7], *PITCHES[4:12], pause_before=pause)
    assert runs_of(part_of(), heard) == [PartRun(0, 6, 0, 6), PartRun(4, 11, 7, 14)]


def test_a_bar_again_and_again_is_a_run_each_time() -> None:
    heard = played(*(3 * PITCHES[8:12]), *PITCHES[12:])
    runs = runs_of(part_of(), heard)
    assert [(run.first_written, run.last_written) for run in runs] == [(8, 11), (8, 11), (8, _LAST)]


def test_twice_through_is_two_runs_though_the_last_note_is_also_the_first() -> None:
    runs = runs_of(part_of(), played(*PITCHES, *PITCHES))
    assert [(run.first_written, run.last_written) for run in runs] == 2 * [(0, _LAST)]


@pytest.mark.parametrize(
    "heard",
    [
        (*PITCHES[:8], 66, *PITCHES[9:]),
        (*PITCHES[:8], *PITCHES[9:]),
        (*PITCHES[:8], 61, *PITCHES[8:]),
    ],
    ids=["another note", "a note left out", "a note too many"],
)
def test_a_wrong_note_ends_no_run(heard: tuple[int, ...]) -> None:
    assert len(runs_of(part_of(), played(*heard))) == 1


def test_what_is_played_before_is_none_of_the_part() -> None:
    (run,) = runs_of(part_of(), played(50, 51, 52, 53, *PITCHES))
    assert run == PartRun(0, _LAST, 4, 4 + _LAST)


def test_other_music_is_nowhere() -> None:
    place = PartPlace(part_of())
    for heard in played(50, 49, 51, 54, 80, 81, 49, 50):
        place.step(heard)
        assert place.run() is None
    assert place.runs() == []


def test_while_it_is_played_the_place_is_the_last_note() -> None:
    place = PartPlace(part_of())
    reached: list[int | None] = []
    for heard in played(*PITCHES):
        place.step(heard)
        reached.append(_last_of(place))
    # Two notes are too few to know.
    assert reached == [None, None, *range(2, len(PITCHES))]


def test_a_copy_goes_on_by_itself() -> None:
    place = PartPlace(part_of())
    for heard in played(*PITCHES[:6]):
        place.step(heard)
    ahead = place.copied()
    ahead.step(played(PITCHES[6])[0])
    assert (_last_of(place), _last_of(ahead)) == (5, 6)


def test_practising_at_random_is_found_again() -> None:
    """Two hundred times some bars of a part of forty, from a bar's beginning, each with a pause of
    up to two seconds before it, one note in twelve wrong."""
    random = np.random.default_rng(5)
    pitches = tuple(int(one) for one in 60 + np.cumsum(random.integers(-3, 4, 160)) % 17)
    part, truths, heard = part_of(pitches), list[tuple[int, int]](), list[Note]()
    at_s = 0.0
    for _ in range(200):
        first = 4 * int(random.integers(0, 36))
        last = min(first + int(random.integers(5, 30)), 159)
        truths.append((first, last))
        at_s += float(random.uniform(0.0, 2.0))
        for midi in pitches[first : last + 1]:
            wrong = int(random.integers(1, 3)) if random.random() < 1 / 12 else 0
            heard.append(note(midi + wrong, at_s, 0.4))
            at_s += 0.45
    runs = runs_of(part, heard)
    found = sum(
        any(
            abs(run.first_written - first) <= 2 and abs(run.last_written - last) <= 2
            for run in runs
        )
        for first, last in truths
    )
    assert found >= 180


def test_the_last_note_belongs_to_the_part_though_the_one_before_it_was_left_out() -> None:
    heard = played(*PITCHES[:6], PITCHES[7])
    assert runs_of(part_of(PITCHES[:8]), heard) == [PartRun(0, 7, 0, 6)]


def test_the_end_of_a_long_run_is_told_by_itself() -> None:
    place = PartPlace(part_of())
    for heard in played(*PITCHES):
        place.step(heard)
    run = place.run(most_written=8)
    assert run == PartRun(_LAST - 7, _LAST, _LAST - 7, _LAST)
