"""Free playing as it is told when it is over; truths by arithmetic."""

from dataclasses import replace

import numpy as np
import pytest

from orexis.core.horn.instruments import INSTRUMENTS
from orexis.core.listening.notes.events import Note, Passage
from orexis.core.listening.notes.measures import NoteMeasures
from orexis.core.listening.onsets import Beats, against_a_metronome, by_themselves
from orexis.core.listening.sitting import sitting_of

CLEAN = NoteMeasures(0, 2, 0, 0, 0.1, 0, 1.0, None, -20, 0)


def passage(*notes: tuple[int, float, float, float], level_db: float = -20.0) -> Passage:
    """A passage of notes given as pitch, start, length in seconds and cents."""
    found = tuple(
        Note(
            round(100 * start_s),
            round(100 * (start_s + seconds)),
            233.0,
            midi,
            replace(CLEAN, centre_cents=cents, hold_s=seconds, level_db=level_db),
            25,
            2,
        )
        for midi, start_s, seconds, cents in notes
    )
    return Passage(found[0].first, found[-1].last, found, (), (), ())


class TestWhatWasPlayed:
    def test_each_notes_tuning_is_told_with_its_spread_and_time(self) -> None:
        heard = [passage(*((58, 2.0 * place, 1.0, 4.0 * place) for place in range(5)))]
        sitting = sitting_of(heard, 20.0)
        (habit,) = sitting.notes
        assert (habit.midi, habit.times, habit.cents, habit.seconds) == (58, 5, 8.0, 5.0)
        # 0, 4, 8, 12 and 16: half of 13.44 − 2.56.
        assert habit.spread_cents == pytest.approx(5.44)
        assert (sitting.duration_s, sitting.playing_s, sitting.unsure_s) == (20.0, 5.0, 0.0)

    def test_the_longest_hold_is_named(self) -> None:
        sitting = sitting_of([passage((58, 0, 1, 0), (60, 1, 6.5, 0)), passage((62, 9, 2, 0))], 12)
        assert sitting.longest_hold is not None
        assert (sitting.longest_hold.midi, sitting.longest_hold.measures.hold_s) == (60, 6.5)

    def test_seconds_go_by_the_registers_of_the_horn(self) -> None:
        heard = [passage((34, 0, 1, 0), (42, 1, 2, 0), (53, 3, 3, 0), (69, 6, 4, 0))]
        trombone = sitting_of(heard, 12, instrument=INSTRUMENTS["trombone-tenor"])
        assert sum(trombone.by_register.values()) == pytest.approx(10)
        assert trombone.by_register["low"] >= 3
        assert trombone.by_register["high"] >= 4
        assert set(sitting_of(heard, 12).by_register) == {"low", "middle", "high"}

    def test_what_is_far_softer_may_be_somebody_elses_and_is_not_counted(self) -> None:
        mine = [passage((58, 2.0 * place, 1.5, 2.0)) for place in range(6)]
        theirs = passage((65, 20.0, 2.0, 30.0), level_db=-37.0)
        hum = passage((31, 24.0, 5.0, 0.0), level_db=-58.0)
        sitting = sitting_of([*mine, theirs, hum], 30.0, room_db=-60.0)
        assert [note.midi for note in sitting.notes] == [58]
        assert (sitting.playing_s, sitting.unsure_s) == (9.0, 2.0)

    def test_nothing_heard_is_nothing_told(self) -> None:
        sitting = sitting_of([], 5.0)
        assert (sitting.notes, sitting.longest_hold, sitting.onsets) == ((), None, None)
        assert sitting.by_register == {"low": 0.0, "middle": 0.0, "high": 0.0}


class TestOnsets:
    @pytest.mark.parametrize("parts", [1, 2, 3, 4])
    def test_against_a_metronome_late_is_positive(self, parts: int) -> None:
        grid_s = 60 / 80 / parts
        late_s = np.resize([0.025, 0.015], 24)
        onsets = against_a_metronome(grid_s * np.arange(24) + late_s, Beats.steady(80, 24 * grid_s))
        assert onsets is not None
        assert onsets.mean_ms == pytest.approx(20)
        assert onsets.spread_ms == pytest.approx(5)

    @pytest.mark.parametrize("bpm", [54.0, 76.0, 92.0, 120.0, 138.0])
    def test_the_tempo_of_beats_and_halves_is_that_of_the_beats(self, bpm: float) -> None:
        random = np.random.default_rng(3)
        beats = np.cumsum(np.resize([1, 0.5, 0.5, 1, 1, 2, 1], 40))
        onsets = by_themselves(60 / bpm * beats + random.normal(0, 0.012, 40))
        assert onsets is not None
        assert onsets.tempo_bpm == pytest.approx(bpm, rel=0.02)
        assert (onsets.count, onsets.mean_ms, onsets.spread_ms) == (40, None, None)

    def test_of_too_few_none_is_told(self) -> None:
        assert by_themselves(np.array([0.0, 0.5])) is None
        assert against_a_metronome(np.empty(0), Beats.steady(80, 5)) is None
