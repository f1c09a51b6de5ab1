"""A metronome by itself, and what is told of notes against it."""

from itertools import islice

import numpy as np
import pytest

from orexis.core.horn.drone import Drone
from orexis.core.horn.tuning import Temperament
from orexis.core.listening.onsets import against_a_metronome
from orexis.core.score.pulse import Click, Pulse, beats_from, read_bars
from orexis.core.session.free_log import (
    DroneSounded,
    PulseGiven,
    SpotMarked,
    beats_given,
    drone_at_end,
)

RATE = 48_000


class TestPulse:
    def test_a_bar_is_counted_in_and_its_last_beat_says_to_breathe(self) -> None:
        beats = list(islice(beats_from(Pulse(60, ((3,),))), 4))
        assert [beat.at_s for beat in beats] == [-3, -2, -1, 0]
        assert [beat.bar for beat in beats] == [-1, -1, -1, 0]
        assert [beat.words for beat in beats] == ["", "", "breathe", ""]

    def test_groups_of_five_are_heard(self) -> None:
        beats = list(islice(beats_from(Pulse(120, ((3, 2),)), 0), 5))
        assert [beat.click for beat in beats] == [
            Click.BAR, Click.BEAT, Click.BEAT, Click.GROUP, Click.BEAT
        ]  # fmt: skip
        assert [beat.at_s for beat in beats] == [0, 0.5, 1, 1.5, 2]

    def test_bars_come_in_turn(self) -> None:
        beats = list(islice(beats_from(Pulse(60, ((3,), (4,))), 0), 10))
        assert [beat.number for beat in beats] == [1, 2, 3, 1, 2, 3, 4, 1, 2, 3]
        assert [beat.bar for beat in beats] == [0, 0, 0, 1, 1, 1, 1, 2, 2, 2]

    def test_parts_divide_a_beat_evenly(self) -> None:
        beats = list(islice(beats_from(Pulse(60, ((1,),), parts=4), 0), 5))
        assert [beat.at_s for beat in beats] == [0, 0.25, 0.5, 0.75, 1]
        assert [beat.click for beat in beats[1:4]] == [Click.PART] * 3

    def test_two_bars_play_and_one_is_silent(self) -> None:
        pulse = Pulse(sounding_bars=2, silent_bars=1)
        assert [pulse.is_silent(bar) for bar in range(-1, 7)] == [
            False, False, False, True, False, False, True, False
        ]  # fmt: skip

    def test_the_tempo_grows_every_two_bars_up_to_the_highest(self) -> None:
        pulse = Pulse(60, ((4,),), growth_bpm=20, growth_bars=2, highest_bpm=90)
        assert [pulse.bpm_at(bar) for bar in range(6)] == [60, 60, 80, 80, 90, 90]
        starts_s = [beat.at_s for beat in islice(beats_from(pulse, 0), 17) if beat.number == 1]
        assert starts_s == pytest.approx([0, 4, 8, 11, 14])

    def test_a_later_bar_begins_where_it_does_counted_through(self) -> None:
        pulse = Pulse(90, ((3, 2), (4,)), parts=2, growth_bpm=6, growth_bars=3)
        through = [beat for beat in islice(beats_from(pulse), 120) if beat.bar >= 5]
        assert list(islice(beats_from(pulse, 5), 20)) == through[:20]


class TestWritingBars:
    @pytest.mark.parametrize(
        ("text", "bars"),
        [("4", ((4,),)), ("3+2", ((3, 2),)), ("2 + 2 + 3, 4", ((2, 2, 3), (4,)))],
    )
    def test_bars_are_read(self, text: str, bars: tuple[tuple[int, ...], ...]) -> None:
        assert read_bars(text) == bars

    @pytest.mark.parametrize(
        "text", ["", "4/4", "0", "3 + 0", "17", "4, ", "9 + 9", "-3", "1," * 9]
    )
    def test_what_is_no_bar_is_said(self, text: str) -> None:
        with pytest.raises(ValueError, match=r"bar has 1 to 16 beats|Write the beats"):
            read_bars(text)


class TestWhatALogGives:
    def test_beats_end_where_the_metronome_was_stopped(self) -> None:
        log = (
            PulseGiven(RATE, Pulse(60, parts=2)),
            SpotMarked(2 * RATE),
            PulseGiven(4 * RATE, None),
            PulseGiven(10 * RATE, Pulse(120)),
        )
        beats = beats_given(log, RATE, 11)
        assert beats is not None
        assert list(beats.at_s) == [1, 2, 3, 10, 10.5]
        assert beats_given(log[1:3], RATE, 11) is None

    def test_the_drone_is_the_last_that_was_begun(self) -> None:
        log = (DroneSounded(0, Drone(46)), SpotMarked(3), DroneSounded(9, Drone(48)))
        assert drone_at_end(log) == Drone(48)
        assert drone_at_end((*log, DroneSounded(12, None))) is None


class TestSilentBars:
    def test_whoever_rushes_in_silence_comes_back_early(self) -> None:
        # Bars of four at 60, two heard and two silent, twice: every note 10 ms late, but in silence
        # each one comes 20 ms sooner than the one before.
        log = (PulseGiven(0, Pulse(60, sounding_bars=2, silent_bars=2)),)
        beats = beats_given(log, RATE, 32)
        assert beats is not None
        late_s = np.full(32, 0.010)
        for first in (8, 24):
            late_s[first : first + 8] -= 0.020 * np.arange(1, 9)
        late_s[16] = 0.010 - 0.170
        onsets = against_a_metronome(np.arange(32) + late_s, beats)
        assert onsets is not None
        assert onsets.after_silence is not None
        assert onsets.after_silence.times == 1
        assert onsets.after_silence.late_ms == pytest.approx(-170, abs=1)

    def test_without_a_measured_delay_the_spread_alone_is_told(self) -> None:
        beats = beats_given((PulseGiven(0, Pulse(60)),), RATE, 20)
        assert beats is not None
        onsets = against_a_metronome(np.arange(1, 19) + np.resize([0.2, 0.22], 18), beats, None)
        assert onsets is not None
        assert onsets.mean_ms is None
        assert onsets.spread_ms == pytest.approx(10)
        measured = against_a_metronome(
            np.arange(1, 19) + np.resize([0.2, 0.22], 18), beats, latency_s=0.2
        )
        assert measured is not None
        assert measured.mean_ms == pytest.approx(10)

    def test_as_the_tempo_grows_notes_are_held_against_their_own_beat(self) -> None:
        pulse = Pulse(60, ((2,),), growth_bpm=60, growth_bars=1, highest_bpm=180)
        beats = beats_given((PulseGiven(0, pulse),), RATE, 8)
        assert beats is not None
        assert list(beats.at_s[:6]) == pytest.approx([0, 1, 2, 2.5, 3, 3 + 1 / 3])
        onsets = against_a_metronome(beats.at_s + 0.015, beats)
        assert onsets is not None
        assert onsets.mean_ms == pytest.approx(15)
        assert onsets.spread_ms == pytest.approx(0, abs=1e-6)


class TestDrone:
    def test_a_pure_fifth_sounds_with_it(self) -> None:
        assert Drone(57).hz(440) == pytest.approx((220,))
        assert Drone(57, fifth=True).hz(440) == pytest.approx((220, 330))

    def test_a_major_third_is_in_tune_where_it_is_pure(self) -> None:
        pure, equal = Drone(58), Drone(58, temperament=Temperament.EQUAL)
        assert pure.interval(62) == pure.interval(74) == "a major third above the drone"
        assert pure.offset_cents(62) == pytest.approx(-13.7, abs=0.05)
        assert pure.offset_cents(53) == pytest.approx(2.0, abs=0.05)
        assert equal.offset_cents(62) == 0
